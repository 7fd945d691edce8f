import type { ReactNode } from "react";
import { Label, Radio, RadioGroup } from "react-aria-components";

export interface Alternative<T extends string> {
  value: T;
  label: ReactNode;
  about?: ReactNode;
  disabled?: boolean;
}

/** One of a few alternatives, all in sight. */
export function Choice<T extends string>(props: {
  label: ReactNode;
  value: T;
  set: (value: T) => void;
  of: readonly Alternative<T>[];
  /** Beside each other, or one below the other with what each is about. */
  inLine?: boolean;
}) {
  const { label, value, set, of, inLine } = props;
  return (
    <RadioGroup className={`field alternatives${inLine ? " in-line" : ""}`} value={value} onChange={(v) => set(v as T)}>
      <Label>{label}</Label>
      {of.map((a) => (
        <Radio key={a.value} value={a.value} isDisabled={a.disabled} className="alternative">
          <i className="mark" aria-hidden="true" />
          <span>
            {a.label} {a.about && <span className="src">{a.about}</span>}
          </span>
        </Radio>
      ))}
    </RadioGroup>
  );
}

export type Known = "yes" | "no" | "unknown";

/** What a device can do: yes, no, or that nobody has looked. */
export function YesNo(props: { label: ReactNode; value: Known; set: (value: Known) => void }) {
  return (
    <Choice
      {...props}
      inLine
      of={[
        { value: "yes", label: "yes" },
        { value: "no", label: "no" },
        { value: "unknown", label: "unknown" },
      ]}
    />
  );
}
