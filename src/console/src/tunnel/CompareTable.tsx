import type { Contract, TunnelPage } from "../api";
import { day } from "../parts/Page";
import { Stroke } from "../parts/Stroke";

type Row = Contract["CompareRow"];

export function CompareTable({ t, all, onLook }: { t: TunnelPage; all: boolean; onLook: (row: Row) => void }) {
  const rank = (r: Row) => ["gap", "thin", "flag"].indexOf(r.form.stroke);
  // The rows worth a look come first, worst first; all rows come in the order in which they are read.
  const rows = all
    ? t.rows
    : t.rows.filter((r) => r.worthALook).sort((x, y) => (rank(x) < 0 ? 9 : rank(x)) - (rank(y) < 0 ? 9 : rank(y)));
  if (rows.length === 0)
    return (
      <p className="empty">
        All {t.rows.length} rows agree. Press <kbd>v</kbd> to see them.
      </p>
    );
  return (
    <table className="compare">
      <thead>
        <tr>
          <th>
            <span className="visually-hidden">Setting</span>
          </th>
          <th className="a">A · {t.a.site}</th>
          <th>
            <span className="visually-hidden">Relation</span>
          </th>
          <th className="b">B · {t.b.site}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.key}>
            <td className="k">{r.label}</td>
            <td className="v">
              <Cell c={r.a} />
            </td>
            <td className="rel">
              {r.canBeSet ? (
                <button
                  onClick={() => onLook(r)}
                  title={`${r.form.word}${r.codes.length ? `, ${r.codes.join(", ")}` : ""}: confirm or correct`}
                  aria-label={`${r.label}: ${r.form.word}. Confirm or correct`}
                >
                  <Stroke form={r.form} />
                </button>
              ) : (
                <Stroke form={r.form} />
              )}
            </td>
            <td className="v">
              <Cell c={r.b} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Cell({ c }: { c: Contract["CompareCell"] }) {
  const source =
    c.source === "set"
      ? c.confirmedOn
        ? `set · ${c.confirmed!.split(" ")[0]} ${day(c.confirmedOn, new Date().toISOString())}`
        : "set, not confirmed"
      : c.source === "agreed"
        ? `agreed${c.via ? ` · ${c.via}` : ""}`
        : c.source;
  return (
    <>
      {c.text && (
        <span className="value">
          {c.text.split(/(?<=,) | (?=\+ )/).map((part, i) => (
            <span key={i}>{part} </span>
          ))}
        </span>
      )}{" "}
      <span className={c.text ? "src from" : "src"} title={[c.via, c.confirmed].filter(Boolean).join(", ")}>
        {c.text ? source : (c.note ?? "unknown")}
        {c.text && c.note ? ` · ${c.note}` : ""}
      </span>
    </>
  );
}
