import type { Contract, TunnelPage } from "../api";
import { Stroke } from "../parts/Stroke";

/** A's subnets down, B's across; each cell says what the two ends have for that pair, and names what is missing. */
export function PairGrid({ t }: { t: TunnelPage }) {
  if (t.pairs.length === 0)
    return <p className="empty">No subnet pair is agreed for this tunnel yet. Plan a change to add one.</p>;
  const as = [...new Map(t.pairs.map((p) => [p.a, p.aName]))];
  const bs = [...new Map(t.pairs.map((p) => [p.b, p.bName]))];
  return (
    <table className="grid">
      <thead>
        <tr>
          <th />
          {bs.map(([b, name]) => (
            <th key={b}>
              <code className="b">{b}</code> {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {as.map(([a, name]) => (
          <tr key={a}>
            <th scope="row">
              <code className="a">{a}</code> {name}
            </th>
            {bs.map(([b]) => {
              const pair = t.pairs.find((p) => p.a === a && p.b === b);
              return <td key={b}>{pair ? <Cell p={pair} /> : <span className="soft">not wanted</span>}</td>;
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const needs = [
  ["selector", "selector"],
  ["ruleIn", "inbound rule"],
  ["ruleOut", "outbound rule"],
  ["noNat", "no-NAT"],
  ["route", "route"],
] as const;

function Cell({ p }: { p: Contract["PairLine"] }) {
  return (
    <>
      <Stroke form={p.form} /> <span className="src">{p.form.word}</span>
      {(["A", "B"] as const).map((end) => {
        const at = end === "A" ? p.atA : p.atB;
        const said = needs.filter(([key]) => at[key] !== "not needed");
        return (
          <div key={end}>
            <b className={end.toLowerCase()}>{end}</b>{" "}
            {said.map(([key, word], i) => (
              <span key={key}>
                {i > 0 && " · "}
                {at[key] === "yes" ? (
                  word
                ) : at[key] === "no" ? (
                  <b className="stops">no {word}</b>
                ) : (
                  <span className="soft">{word} unknown</span>
                )}
              </span>
            ))}
          </div>
        );
      })}
    </>
  );
}
