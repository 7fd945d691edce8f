/** How somebody confirmed a value, as the record says it. */
export const hows = [
  ["read", "read from the device"],
  ["saved configuration", "in its saved configuration"],
  ["other party's sheet", "on the other party's sheet"],
  ["typed", "entered by somebody who checked the device"],
] as const;

export type ConfirmedHow = (typeof hows)[number][0];

/** How it was confirmed; when and by whom follow from who is signed in and today. */
export function HowChosen({ how, set }: { how: ConfirmedHow; set: (how: ConfirmedHow) => void }) {
  return (
    <label className="plain">
      How it was confirmed{" "}
      <select value={how} onChange={(e) => set(e.target.value as ConfirmedHow)}>
        {hows.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Whether somebody looked at a value: how, today, and who is signed in. What was confirmed before keeps its day. */
export function Confirmed(props: { value?: string; set: (value: string | undefined) => void; who: string }) {
  const { value, set, who } = props;
  const today = new Date().toISOString().slice(0, 10);
  return (
    <label className="field">
      Confirmed
      <select
        value={value?.replace(/ \d{4}-\d{2}-\d{2} by .*$/, "") ?? ""}
        onChange={(e) => set(e.target.value ? `${e.target.value} ${today} by ${who}` : undefined)}
      >
        <option value="">nobody has looked</option>
        {hows.map(([how, words]) => (
          <option key={how} value={how}>
            {words}, {value?.startsWith(`${how} `) ? value.slice(how.length + 1) : `${today} by ${who}`}
          </option>
        ))}
      </select>
    </label>
  );
}
