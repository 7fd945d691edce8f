import { Fragment } from "react";
import type { Contract, TunnelPage } from "../service/api";
import { day } from "../parts/Page";
import { Stroke } from "../parts/Stroke";
import { CorrectForm } from "./CorrectForm";
import { SeenBar, type End, type Place, type Seen } from "./Seen";
import { Input } from "../parts/controls/Input";
import { Table } from "../parts/Table";

type Row = Contract["CompareRow"];

/** What somebody who may write does in the table: tick what they saw on the devices, and correct a value. */
export interface Hands {
  seen: Seen;
  correcting: Place | null;
  correct: (place: Place | null) => void;
}

/** Both ends, value by value, with what each is held to be and where it comes from. */
export function CompareTable({ t, all, hands }: { t: TunnelPage; all: boolean; hands?: Hands }) {
  const rank = (r: Row) => ["gap", "thin", "flag"].indexOf(r.form.stroke);
  // The rows worth a look come first, worst first; all rows come in the order in which they are read.
  const rows = all
    ? t.rows
    : t.rows.filter((r) => r.worthALook).sort((x, y) => (rank(x) < 0 ? 9 : rank(x)) - (rank(y) < 0 ? 9 : rank(y)));
  if (rows.length === 0)
    return (
      <p className="empty">
        {agreeing(t)} Press <kbd>v</kbd> to see {t.rows.length === 1 ? "it" : "them"}.
      </p>
    );
  return (
    <>
      <Table className="compare">
        <thead>
          <tr>
            <th>
              <span className="visually-hidden">Setting</span>
            </th>
            <EndHead end="A" site={t.a.site} rows={rows} hands={hands} />
            <th>
              <span className="visually-hidden">Relation</span>
            </th>
            <EndHead end="B" site={t.b.site} rows={rows} hands={hands} />
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <Fragment key={r.key}>
              <tr>
                <td className="k">{r.label}</td>
                <td className="v">
                  <Cell row={r} end="A" hands={hands} />
                </td>
                <td className="rel">
                  <Stroke form={r.form} />
                </td>
                <td className="v">
                  <Cell row={r} end="B" hands={hands} />
                </td>
              </tr>
              {hands?.correcting?.row.key === r.key && (
                <tr className="correcting">
                  <td colSpan={4}>
                    <CorrectForm t={t} place={hands.correcting} onDone={() => hands.correct(null)} />
                  </td>
                </tr>
              )}
            </Fragment>
          ))}
        </tbody>
      </Table>
      {hands && <SeenBar t={t} seen={hands.seen} />}
    </>
  );
}

/** That all rows agree, and how many of those values nobody has looked at. */
function agreeing(t: TunnelPage) {
  const open = t.rows.flatMap((r) => [r.a, r.b]).filter((c) => c.canBeConfirmed && !c.confirmed).length;
  const rows = t.rows.length === 1 ? "The one row agrees" : `All ${t.rows.length} rows agree`;
  return open === 0
    ? `${rows}, and every value was confirmed.`
    : `${rows} as recorded; ${open} ${open === 1 ? "value was" : "values were"} not confirmed on a device.`;
}

/** The site of an end, and one tick for everything in sight at that end. */
function EndHead({ end, site, rows, hands }: { end: End; site: string; rows: readonly Row[]; hands?: Hands }) {
  const keys = rows.filter((r) => cellOf(r, end).canBeConfirmed).map((r) => r.key);
  const all = keys.length > 0 && keys.every((k) => hands?.seen.has(end, k));
  return (
    <th className={end.toLowerCase()}>
      {hands && keys.length > 0 && (
        <label className="tick" title={`Seen at ${end}: all of them`}>
          <Input
            type="checkbox"
            className="inline"
            aria-label={`Seen at ${end}: all of them`}
            checked={all}
            onChange={(e) => hands.seen.put(end, keys, e.target.checked)}
          />
        </label>
      )}
      {end} · {site}
    </th>
  );
}

const cellOf = (row: Row, end: End) => (end === "A" ? row.a : row.b);

function Cell({ row, end, hands }: { row: Row; end: End; hands?: Hands }) {
  const c = cellOf(row, end);
  const source =
    c.source === "set"
      ? c.confirmedOn
        ? `set · ${c.confirmed!.split(" ")[0]} ${day(c.confirmedOn, new Date().toISOString())}`
        : "set, not confirmed"
      : c.source === "agreed"
        ? `agreed${c.via ? ` · ${c.via}` : ""}`
        : c.source;
  return (
    <div className={hands ? "seenvalue" : undefined}>
      {hands && c.canBeConfirmed && (
        <label className="tick">
          <Input
            type="checkbox"
            className="inline"
            aria-label={`${row.label}: seen at ${end}`}
            checked={hands.seen.has(end, row.key)}
            onChange={(e) => hands.seen.put(end, [row.key], e.target.checked)}
          />
        </label>
      )}
      <div>
        {c.text && (
          <span className="value">
            {c.text.split(/(?<=,) | (?=\+ )/).map((part, i) => (
              <span key={i}>{part}</span>
            ))}
          </span>
        )}{" "}
        <span className={c.text ? "src from" : "src"} title={[c.via, c.confirmed].filter(Boolean).join(", ")}>
          {c.text ? source : (c.note ?? "unknown")}
          {c.text && c.note ? ` · ${c.note}` : ""}
        </span>{" "}
        {hands && c.canBeCorrected && (
          <button
            type="button"
            className="link src"
            aria-label={`${row.label}: ${c.text ? "correct" : "enter"} at ${end}`}
            onClick={() => hands.correct({ row, end })}
          >
            {c.text ? "correct" : "enter"}
          </button>
        )}
      </div>
    </div>
  );
}
