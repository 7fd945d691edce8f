import { useState, type ReactNode } from "react";
import { Button, Label, Tag, TagGroup, TagList } from "react-aria-components";
import type { Plural } from "../../service/recordKinds";
import { Picker, type Option } from "./Picker";

/** Several records: chosen from those at hand, or found. */
export function Codes(props: {
  label: string;
  of: Plural;
  value: readonly string[];
  set: (codes: string[]) => void;
  atHand?: readonly Option[];
  help?: ReactNode;
}) {
  const { label, of, value, set, atHand = [], help } = props;
  const [added, setAdded] = useState(false);
  const offered = atHand.filter((o) => !value.includes(o.code));
  return (
    <div className="field codes">
      {value.length > 0 && (
        <TagGroup aria-label={label} onRemove={(keys) => set(value.filter((c) => !keys.has(c)))}>
          <Label>{label}</Label>
          <TagList className="chips" items={value.map((c) => ({ id: c }))}>
            {(c) => (
              <Tag textValue={c.id} className="chip">
                <code>{c.id}</code>
                <Button slot="remove" aria-label={`Remove ${c.id}`}>
                  ×
                </Button>
              </Tag>
            )}
          </TagList>
        </TagGroup>
      )}
      <Picker
        // One that was chosen leaves an empty field for the next.
        key={value.length}
        autoFocus={added}
        quiet
        of={of}
        label={value.length > 0 ? "One more" : label}
        value=""
        help={help}
        set={(code) => {
          if (code === "") return;
          setAdded(true);
          set([...new Set([...value, code])]);
        }}
      />
      {offered.length > 0 && (
        <div className="offered">
          {offered.slice(0, 12).map((o) => (
            <button key={o.code} type="button" onClick={() => set([...value, o.code])}>
              <code>{o.code}</code>
            </button>
          ))}
          {offered.length > 1 && (
            <button type="button" onClick={() => set([...value, ...offered.map((o) => o.code)])}>
              all {offered.length}
            </button>
          )}
        </div>
      )}
    </div>
  );
}
