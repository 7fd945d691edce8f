import { useState } from "react";
import type { Contract, TunnelPage } from "../service/api";
import { Stroke } from "../parts/Stroke";
import { Table } from "../parts/Table";

type Pair = Contract["PairLine"];

/** A grid with more columns or more pairs than this is no longer read at a glance: it is grouped instead. */
const MOST_COLUMNS = 4;
const MOST_PAIRS = 40;

/** What the two ends have for each pair: as a grid while it is small, else grouped, what differs first. */
export function PairGrid({ t }: { t: TunnelPage }) {
  const as = new Map(t.pairs.map((p) => [p.a, p.aName]));
  const bs = new Map(t.pairs.map((p) => [p.b, p.bName]));
  const small = bs.size <= MOST_COLUMNS && t.pairs.length <= MOST_PAIRS;
  const [grid, setGrid] = useState(small);
  if (t.pairs.length === 0)
    return <p className="empty">No subnet pair is agreed for this tunnel yet. Plan a change to add one.</p>;
  return (
    <>
      <p className="src">
        {t.pairs.length} {t.pairs.length === 1 ? "pair" : "pairs"} of {as.size} at <b className="a">A</b> and {bs.size}{" "}
        at <b className="b">B</b> ·{" "}
        <button type="button" className="link src" onClick={() => setGrid(!grid)}>
          {grid ? "grouped" : "as a grid"}
        </button>
      </p>
      {grid ? <Grid pairs={t.pairs} as={[...as]} bs={[...bs]} /> : <Groups pairs={t.pairs} />}
    </>
  );
}

type Subnets = readonly (readonly [string, string | null])[];

/** A's subnets down, B's across; each cell says what the two ends have for that pair, and names what is missing. */
function Grid({ pairs, as, bs }: { pairs: readonly Pair[]; as: Subnets; bs: Subnets }) {
  return (
    // A wide grid moves within itself, and never lies over the findings. Who has no mouse moves it by its own focus.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex
    <div className="scrolls" role="region" aria-label="Pair grid" tabIndex={0}>
      <Table className="grid">
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
                const pair = pairs.find((p) => p.a === a && p.b === b);
                return <td key={b}>{pair ? <Cell p={pair} /> : <span className="soft">not wanted</span>}</td>;
              })}
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}

const order = ["gap", "thin", "flag", "twoHairlines", "dotted", "whole"];

/** Pairs of which both ends have the same, together: what both have is said once, and then which pairs. */
function Groups({ pairs }: { pairs: readonly Pair[] }) {
  const kind = (p: Pair) => JSON.stringify([p.form.stroke, p.form.word, p.atA, p.atB]);
  const groups = [...new Set(pairs.map(kind))]
    .map((k) => pairs.filter((p) => kind(p) === k))
    .sort((x, y) => order.indexOf(x[0].form.stroke) - order.indexOf(y[0].form.stroke) || x.length - y.length);
  return groups.map((group, i) => (
    <section key={i} className="pairgroup" aria-label={`${group.length} pairs: ${group[0].form.word}`}>
      <h3>
        {group.length} {group.length === 1 ? "pair" : "pairs"}
      </h3>
      <Cell p={group[0]} />
      <details open={i === 0 || group.length <= 6}>
        <summary className="src">Which</summary>
        <ul>
          {crossed(group).map((c) => (
            <li key={c.as[0].a}>
              {c.as.map((p, j) => (
                <span key={p.a}>
                  {j > 0 && ", "}
                  <code className="a">{p.a}</code> {p.aName}
                </span>
              ))}{" "}
              {c.as.length > 1 && c.bs.length > 1 ? "each with" : "→"}{" "}
              {c.bs.map((p, j) => (
                <span key={p.b}>
                  {j > 0 && ", "}
                  <code className="b">{p.b}</code> {p.bName}
                </span>
              ))}
            </li>
          ))}
        </ul>
      </details>
    </section>
  ));
}

/** Pairs as few crossings as there are: the subnets of A that reach the same subnets of B stand together. */
function crossed(pairs: readonly Pair[]) {
  const rows = [...new Set(pairs.map((p) => p.a))].map((a) => pairs.filter((p) => p.a === a));
  const reached = (row: readonly Pair[]) => row.map((p) => p.b).join(" ");
  return [...new Set(rows.map(reached))].map((key) => {
    const alike = rows.filter((row) => reached(row) === key);
    return { as: alike.map((row) => row[0]), bs: alike[0] };
  });
}

const needs = [
  ["selector", "selector"],
  ["ruleIn", "inbound rule"],
  ["ruleOut", "outbound rule"],
  ["noNat", "no-NAT"],
  ["route", "route"],
] as const;

function Cell({ p }: { p: Pair }) {
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
