import type { ReactNode } from "react";

export interface RowPart {
  key: string;
  label: string;
  /** The words it can be; a prefix or a text where there are none. */
  words: readonly string[];
}

export type Row = Record<string, string>;

/** Rows of a few parts each, in the order of the device: firewall rules, no-NAT rules, routes. */
export function Rows(props: {
  label: ReactNode;
  /** What one row is called: a rule, a route. */
  one: string;
  parts: readonly RowPart[];
  rows: readonly Row[];
  set: (rows: Row[]) => void;
  help?: ReactNode;
}) {
  const { label, one, parts, rows, set, help } = props;
  const put = (at: number, key: string, value: string) =>
    set(rows.map((row, i) => (i === at ? { ...row, [key]: value } : row)));
  // The next row is most often like the last one, but for what it is about.
  const next = Object.fromEntries(
    parts.map((p) => [p.key, p.words.length > 0 ? (rows.at(-1)?.[p.key] ?? p.words[0]) : ""]),
  );
  return (
    <fieldset className="field bare rows">
      <legend className="small-head">{label}</legend>
      {rows.length > 0 && (
        <table>
          <thead>
            <tr>
              {parts.map((p) => (
                <th key={p.key} scope="col">
                  {p.label}
                </th>
              ))}
              <th>
                <span className="visually-hidden">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <tr key={i}>
                {parts.map((p) => (
                  <td key={p.key}>
                    <Part part={p} name={`${one} ${i + 1}: ${p.label}`} value={row[p.key] ?? ""} put={put} at={i} />
                  </td>
                ))}
                <td>
                  <button
                    type="button"
                    className="link src"
                    aria-label={`Remove ${one} ${i + 1}`}
                    onClick={() => set(rows.filter((_, j) => j !== i))}
                  >
                    Remove
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <button type="button" className="link src" onClick={() => set([...rows, next])}>
        Add a {one}
      </button>
      {help && <span className="src"> {help}</span>}
    </fieldset>
  );
}

function Part(props: {
  part: RowPart;
  name: string;
  value: string;
  put: (at: number, key: string, value: string) => void;
  at: number;
}) {
  const { part, name, value, put, at } = props;
  if (part.words.length === 0)
    return (
      <input
        className="mono"
        aria-label={name}
        value={value}
        spellCheck={false}
        placeholder="10.61.40.0/24"
        onChange={(e) => put(at, part.key, e.target.value)}
      />
    );
  return (
    <select aria-label={name} value={value} onChange={(e) => put(at, part.key, e.target.value)}>
      {!part.words.includes(value) && <option>{value}</option>}
      {part.words.map((w) => (
        <option key={w}>{w}</option>
      ))}
    </select>
  );
}
