import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Button, ComboBox, FieldError, Input, Label, ListBox, ListBoxItem, Popover, Text } from "react-aria-components";
import { api, unwrap } from "../../api";
import type { Plural } from "../../records/kinds";

export interface Option {
  code: string;
  name: string;
  detail: string;
}

interface Common {
  label: ReactNode;
  value: string;
  set: (code: string) => void;
  help?: ReactNode;
  wrong?: string;
  placeholder?: string;
  required?: boolean;
  autoFocus?: boolean;
}

/** One of a few that are known already: a time zone, an uplink, a network. What is typed narrows them. */
export function PickOne(props: Common & { options: readonly Option[] }) {
  const [text, setText] = useState<string | null>(null);
  const words = (text ?? "").toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (o: Option) => {
    const all = `${o.code} ${o.name} ${o.detail}`.toLowerCase();
    return words.every((w) => all.includes(w));
  };
  const shown = text === null ? props.options : props.options.filter(fits);
  return <Box {...props} text={text} setText={setText} shown={shown.slice(0, 60)} waiting={false} />;
}

/** A record of a kind, found by code, name or address; a code that is pasted is taken as it is. */
export function Picker(props: Common & { of: Plural }) {
  const [text, setText] = useState<string | null>(null);
  const asked = (text ?? "").trim();
  const found = useQuery({
    queryKey: ["choices", props.of, asked],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/choices/{kind}", { params: { path: { kind: props.of }, query: { q: asked } }, signal })),
    placeholderData: (last) => last,
    staleTime: 30_000,
  });
  return <Box {...props} text={text} setText={setText} shown={found.data?.items ?? []} waiting={found.isFetching} />;
}

function Box({
  label,
  value,
  set,
  help,
  wrong,
  placeholder,
  required,
  autoFocus,
  text,
  setText,
  shown,
  waiting,
}: Common & {
  text: string | null;
  setText: (text: string | null) => void;
  shown: readonly Option[];
  waiting: boolean;
}) {
  const chosen = shown.find((o) => o.code === value);
  // A whole code that was typed or pasted is meant, whatever its case; anything else waits until one is chosen.
  const settle = () => {
    const typed = (text ?? value).trim();
    const meant = shown.find((o) => o.code.toUpperCase() === typed.toUpperCase());
    setText(null);
    if (typed !== value) set(meant?.code ?? typed);
  };
  return (
    <ComboBox
      className="field"
      menuTrigger="focus"
      allowsCustomValue
      allowsEmptyCollection
      isInvalid={!!wrong}
      isRequired={required}
      items={shown.map((o) => ({ ...o, id: o.code }))}
      inputValue={text ?? value}
      selectedKey={value || null}
      onInputChange={setText}
      onSelectionChange={(key) => {
        if (key === null) return;
        setText(null);
        set(String(key));
      }}
      onBlur={settle}
    >
      <Label>{label}</Label>
      <div className="combo">
        <Input className="mono" placeholder={placeholder} autoFocus={autoFocus} spellCheck="false" />
        <Button aria-label="Show choices">▾</Button>
      </div>
      {chosen && text === null && (chosen.name !== chosen.code || chosen.detail) && (
        <span className="src chosen">
          {[chosen.name !== chosen.code && chosen.name, chosen.detail].filter(Boolean).join(" · ")}
        </span>
      )}
      {help && (
        <Text slot="description" className="src">
          {help}
        </Text>
      )}
      {wrong && <FieldError className="wrong">{wrong}</FieldError>}
      <Popover className="choices-list" offset={2}>
        <ListBox<Option & { id: string }>
          renderEmptyState={() => <p className="src none">{waiting ? "Looking …" : "Nothing fits what is typed."}</p>}
        >
          {(o) => (
            <ListBoxItem id={o.id} textValue={o.code} className="choice">
              <code>{o.code}</code> {o.name !== o.code && o.name} <span className="src">{o.detail}</span>
            </ListBoxItem>
          )}
        </ListBox>
      </Popover>
    </ComboBox>
  );
}
