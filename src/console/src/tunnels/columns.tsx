import { Link } from "react-router";
import type { Contract } from "../service/api";
import type { Column } from "../parts/controls/List";
import { Sentence } from "../parts/Sentence";
import { Stroke } from "../parts/Stroke";

type Summary = Contract["TunnelSummary"];

const severities = ["blocks", "degrades", "risk", "note", "none"];

/** Where new keys are planned for several tunnels in one change. */
export const rekeyOf = ([first, ...others]: readonly string[]) =>
  `/tunnels/${first}/plan?${new URLSearchParams([["kind", "rekey"], ...others.map((c) => ["also", c])])}`;

/** Tunnels in a list: the two ends with the relation between them, and the verdict. */
export const tunnelColumns = (query: string): Column<Summary>[] => [
  {
    id: "code",
    head: "Tunnel",
    by: (t) => t.code,
    className: "w130",
    cell: (t) => (
      <Link className="plain mono" to={`/tunnels/${t.code}${query}`}>
        {t.code}
      </Link>
    ),
  },
  { id: "name", head: "Name", by: (t) => t.name, cell: (t) => t.name, hidden: true },
  { id: "customer", head: "Customer", by: (t) => t.customerName, cell: (t) => t.customerName, hidden: true },
  { id: "a", head: "A", by: (t) => t.endA, className: "a w140", cell: (t) => t.endA },
  {
    id: "between",
    head: "Between",
    by: (t) => severities.indexOf(t.worst),
    className: "rel",
    cell: (t) => (
      <>
        <Stroke form={t.form} />
        <span className="word">{t.form.word}</span>
      </>
    ),
  },
  { id: "b", head: "B", by: (t) => t.endB, className: "b w160", cell: (t) => t.endB },
  {
    id: "verdict",
    head: "Verdict",
    cell: (t) =>
      t.verdict.map((v, i) => (
        <span key={i} className={v.tone}>
          <Sentence says={v.says} />{" "}
        </span>
      )),
  },
  { id: "state", head: "State", by: (t) => t.state, className: "w84", cell: (t) => t.state },
];
