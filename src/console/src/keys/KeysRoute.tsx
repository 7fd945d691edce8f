import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import type { Contract } from "../service/api";
import { List, type Column } from "../parts/controls/List";
import { OneOf, ShowAll, useFilter } from "../parts/Filters";
import { day, Head, Problem, Waiting } from "../parts/Page";
import { ask } from "../service/queries";
import { useEngineer } from "../service/session";
import { rekeyOf } from "../tunnels/columns";
import { Input } from "../parts/controls/Input";

type Key = Contract["KeyListLine"];

const daysSince = (iso: string) => Math.floor((Date.now() - Date.parse(iso)) / 86_400_000);

const columns: Column<Key>[] = [
  {
    id: "tunnel",
    head: "Tunnel",
    by: (k) => k.tunnel,
    cell: (k) => (
      <Link className="plain mono" to={`/tunnels/${k.tunnel}`}>
        {k.tunnel}
      </Link>
    ),
  },
  { id: "version", head: "Version", by: (k) => k.version, cell: (k) => k.version },
  { id: "state", head: "State", by: (k) => k.state, cell: (k) => k.state },
  { id: "age", head: "Age", by: (k) => -Date.parse(k.madeAt), cell: (k) => `${daysSince(k.madeAt)} days` },
  {
    id: "due",
    head: "Replace by",
    by: (k) => k.due ?? "9999",
    cell: (k) => k.due && <span className={Date.parse(k.due) < Date.now() ? "stops" : undefined}>{day(k.due)}</span>,
  },
  {
    id: "bits",
    head: "Bits",
    by: (k) => k.bits,
    cell: (k) => (k.bits > 0 ? k.bits : <span className="soft">unknown</span>),
  },
  { id: "check", head: "Check code", className: "mono", cell: (k) => k.checkCode },
  { id: "made", head: "Made by", by: (k) => k.madeBy, cell: (k) => `${k.madeBy}, ${day(k.madeAt)}` },
  {
    id: "viewed",
    head: "Viewed by",
    by: (k) => k.viewedBy.length,
    cell: (k) => (k.viewedBy.length > 0 ? k.viewedBy.join(", ") : <span className="soft">nobody</span>),
  },
  {
    id: "change",
    head: "Change",
    by: (k) => k.change ?? "",
    cell: (k) =>
      k.change && (
        <Link className="mono" to={`/changes/${k.change}`}>
          {k.change}
        </Link>
      ),
  },
];

/** Every version of every key: its age, when it should be replaced, and who has viewed it. Never a key. */
export function KeysRoute() {
  const { of, set } = useFilter();
  const go = useNavigate();
  const engineer = useEngineer();
  const viewedBy = of("viewedBy");
  const state = of("state");
  const keys = useQuery(ask.keys(viewedBy));
  if (keys.isPending) return <Waiting what="keys" />;
  if (keys.error) return <Problem error={keys.error} again={() => keys.refetch()} />;
  const shown = keys.data.items.filter((k) => !state || k.state === state);
  return (
    <>
      <Head
        title="Keys"
        sub={`${shown.length}${keys.data.more ? " and more" : ""} ${shown.length === 1 ? "version" : "versions"} of pre-shared keys. A key is shown on the page of its change, with a reason.`}
      />
      <div className="filters">
        <OneOf name="state" label="State" all="all" of={["prepared", "in use", "superseded", "withdrawn"]} />
        <label>
          Viewed by
          <Input
            key={viewedBy}
            defaultValue={viewedBy ?? ""}
            placeholder="sign-in name"
            onBlur={(e) => set("viewedBy", e.target.value.trim())}
            onKeyDown={(e) => e.key === "Enter" && set("viewedBy", e.currentTarget.value.trim())}
          />
        </label>
        <ShowAll />
      </div>
      {shown.length === 0 ? (
        <p className="empty">
          {viewedBy || state
            ? "No key matches."
            : "No key is kept here yet. Plan a new key for a tunnel; it is made on the page of that change."}
        </p>
      ) : (
        <List
          name="keys"
          label="Keys"
          columns={columns}
          rows={shown}
          keyOf={(k) => `${k.tunnel} ${k.version}`}
          acts={
            engineer
              ? (selected) => {
                  const tunnels = [...new Set(selected.map((k) => k.tunnel))];
                  return (
                    <button onClick={() => go(rekeyOf(tunnels))}>
                      Plan new keys for {tunnels.length} {tunnels.length === 1 ? "tunnel" : "tunnels"}
                    </button>
                  );
                }
              : undefined
          }
        />
      )}
    </>
  );
}
