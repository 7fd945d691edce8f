import { useState } from "react";
import { Choice } from "./Choice";
import { Line } from "./Line";

export interface KeyVersionsHeld {
  /** One list for both directions, or one for each. */
  both?: readonly string[];
  send?: readonly string[];
  receive?: readonly string[];
}

const numbers = (text: string) => text.split(/[\s,;]+/).filter(Boolean);
const written = (all: readonly string[] | undefined) => (all ?? []).join(", ");

/**
 * Which versions of the pre-shared key an end holds: the same for both directions, or one for each where the device can.
 * Two stand there only while one replaces the other.
 */
export function KeyVersions(props: {
  label: string;
  held: KeyVersionsHeld;
  set: (held: KeyVersionsHeld | undefined) => void;
}) {
  const { label, held, set } = props;
  const [eachWay, setEachWay] = useState(held.send !== undefined || held.receive !== undefined);
  const put = (next: KeyVersionsHeld) => {
    const said = (Object.entries(next) as [string, readonly string[] | undefined][]).filter(([, v]) => v?.length);
    set(said.length > 0 ? Object.fromEntries(said) : undefined);
  };
  const choose = (ways: "one" | "each") => {
    setEachWay(ways === "each");
    if (ways === "each") put({ send: held.both ?? [], receive: held.both ?? [] });
    else put({ both: [...new Set([...(held.send ?? []), ...(held.receive ?? [])])] });
  };
  const one = (part: keyof KeyVersionsHeld, name: string) => (
    <Versions key={part} label={name} value={held[part]} set={(all) => put({ ...held, [part]: all })} />
  );
  return (
    <fieldset className="field bare">
      <legend className="small-head">{label}</legend>
      <Choice
        label="Used"
        inLine
        value={eachWay ? "each" : "one"}
        set={choose}
        of={[
          { value: "one", label: "the same both ways" },
          { value: "each", label: "one for each direction" },
        ]}
      />
      <div className="field pair">
        {eachWay ? [one("send", "Sends with"), one("receive", "Receives with")] : one("both", "Version")}
      </div>
    </fieldset>
  );
}

/** Version numbers as they are typed: a comma that nothing follows yet stays. */
function Versions(props: { label: string; value?: readonly string[]; set: (all: string[]) => void }) {
  const { label, value, set } = props;
  const [typed, setTyped] = useState<string>();
  const text = typed !== undefined && written(numbers(typed)) === written(value) ? typed : written(value);
  return (
    <Line
      label={label}
      value={text}
      set={(next) => {
        setTyped(next);
        set(numbers(next));
      }}
      help="a whole number; two, such as 3, 4, while one replaces the other"
    />
  );
}
