import { useState } from "react";
import { Prefixes, type Network } from "./Prefixes";

interface Side {
  site: string;
  networks: readonly Network[];
}

export interface Pair {
  a: string;
  b: string;
}

const same = (x: Pair, y: Pair) => x.a === y.a && x.b === y.b;

/** Which networks reach which: A's down, B's across, each crossing a tick. */
export function PairTicks(props: { a: Side; b: Side; pairs: readonly Pair[]; set: (pairs: Pair[]) => void }) {
  const { a, b, pairs, set } = props;
  const [more, setMore] = useState({ a: [] as string[], b: [] as string[] });
  const rows = withTyped(
    a.networks,
    more.a,
    pairs.map((p) => p.a),
  );
  const columns = withTyped(
    b.networks,
    more.b,
    pairs.map((p) => p.b),
  );
  const toggle = (pair: Pair) =>
    set(pairs.some((p) => same(p, pair)) ? pairs.filter((p) => !same(p, pair)) : [...pairs, pair]);
  const all = rows.flatMap((r) => columns.map((c) => ({ a: r.prefix, b: c.prefix })));
  return (
    <fieldset className="field bare">
      <legend className="small-head">Which networks reach which</legend>
      {rows.length > 0 && columns.length > 0 && (
        <div className="scrolls">
          <table className="grid ticks">
            <thead>
              <tr>
                <th>
                  <button
                    type="button"
                    className="link src"
                    onClick={() => set(pairs.length === all.length ? [] : all)}
                  >
                    {pairs.length === all.length ? "None" : "All"}
                  </button>
                </th>
                {columns.map((c) => (
                  <th key={c.prefix}>
                    <code className="b">{c.prefix}</code> {c.name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={r.prefix}>
                  <th scope="row">
                    <code className="a">{r.prefix}</code> {r.name}
                  </th>
                  {columns.map((c) => (
                    <td key={c.prefix}>
                      <label className="tick">
                        <input
                          type="checkbox"
                          aria-label={`${r.prefix} reaches ${c.prefix}`}
                          checked={pairs.some((p) => same(p, { a: r.prefix, b: c.prefix }))}
                          onChange={() => toggle({ a: r.prefix, b: c.prefix })}
                        />
                      </label>
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <details open={rows.length === 0 || columns.length === 0}>
        <summary className="src">Other prefixes</summary>
        <Prefixes label={`A, ${a.site}`} value={more.a} set={(typed) => setMore({ ...more, a: typed })} />
        <Prefixes label={`B, ${b.site}`} value={more.b} set={(typed) => setMore({ ...more, b: typed })} />
      </details>
    </fieldset>
  );
}

/** The site's networks, and what was typed beside them. */
function withTyped(networks: readonly Network[], typed: readonly string[], paired: readonly string[]): Network[] {
  const others = [...new Set([...typed, ...paired])].filter((p) => !networks.some((n) => n.prefix === p));
  return [...networks, ...others.map((prefix) => ({ prefix, name: "" }))];
}
