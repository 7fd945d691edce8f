import { useState } from "react";
import { inline, merge, type Fields, type Value } from "./form";
import { Input } from "../parts/controls/Input";
import { Table } from "../parts/Table";

/** Two edits of one record: what only one side changed is taken over, where both did one is chosen. Nothing that was typed is lost. */
export function Merge({
  code,
  was,
  theirs,
  mine,
  who,
  onDone,
}: {
  code: string;
  was: Fields;
  theirs: Fields;
  mine: Fields;
  who: string[];
  onDone: (merged: Fields) => void;
}) {
  const [take, setTake] = useState<ReadonlySet<string>>(new Set());
  const { form, changed } = merge(was, theirs, mine, take);
  const clashes = changed.filter((m) => m.clash).length;
  const their = who.length ? who.join(" and ") : "the other";
  const said = (v?: Value) => <code>{v === undefined ? "nothing" : inline(v)}</code>;
  return (
    <section aria-label="Two edits of one record">
      <p className="verdict">
        {their} wrote {code} while you were typing.{" "}
        {clashes === 0
          ? "You altered different values: both are kept."
          : `${clashes === 1 ? "One value was" : `${clashes} values were`} altered by both: choose.`}
      </p>
      <Table className="merge">
        <thead>
          <tr>
            <th>What</th>
            <th>It was</th>
            <th>{their} wrote</th>
            <th>You typed</th>
          </tr>
        </thead>
        <tbody>
          {changed.map((m) => (
            <tr key={m.path}>
              <td className="src">{m.path}</td>
              <td className="was">{said(m.was)}</td>
              {(["theirs", "mine"] as const).map((side) => {
                const moves = JSON.stringify(m[side]) !== JSON.stringify(m.was);
                const stands = m.clash ? take.has(m.path) === (side === "theirs") : moves;
                return (
                  <td key={side} className={stands ? undefined : "was"}>
                    {m.clash ? (
                      <label>
                        <Input
                          type="radio"
                          name={m.path}
                          checked={stands}
                          onChange={() =>
                            setTake(
                              new Set(side === "theirs" ? [...take, m.path] : [...take].filter((p) => p !== m.path)),
                            )
                          }
                        />{" "}
                        {said(m[side])}
                      </label>
                    ) : moves ? (
                      said(m[side])
                    ) : (
                      <span className="src">unchanged</span>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </Table>
      <div className="acts">
        <button className="first" autoFocus onClick={() => onDone((form ?? {}) as Fields)}>
          Use these values
        </button>
      </div>
      <p className="soft">Nothing is saved yet. The form opens again with these values and shows what they do.</p>
    </section>
  );
}
