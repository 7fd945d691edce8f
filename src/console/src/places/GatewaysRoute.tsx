import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, unwrap, type Contract } from "../service/api";
import { AsFile, SelectedAsFile } from "../parts/AsFile";
import type { Column } from "../parts/controls/List";
import { ShowAll, useFilter, Words } from "../parts/Filters";
import { Listed } from "../parts/Listed";
import { Head } from "../parts/Page";
import { CustomerField, usePages } from "../parts/morePages";
import { useEngineer } from "../service/session";
import { MigrateMany } from "./MigrateMany";
import { queryKeyOf } from "../service/questions";

const columns: Column<Contract["GatewaySummary"]>[] = [
  {
    id: "code",
    head: "Gateway",
    by: (g) => g.code,
    cell: (g) => (
      <Link className="plain mono" to={`/gateways/${g.code}`}>
        {g.code}
      </Link>
    ),
  },
  { id: "site", head: "Site", by: (g) => g.site, cell: (g) => g.site },
  {
    id: "customer",
    head: "Customer",
    by: (g) => g.customer,
    cell: (g) => (
      <Link className="plain" to={`/customers/${g.customer}`}>
        {g.customer}
      </Link>
    ),
  },
  { id: "outer", head: "Outer address", by: (g) => g.outer, className: "mono", cell: (g) => g.outer },
  { id: "platform", head: "Platform", by: (g) => g.platform, cell: (g) => g.platform },
  { id: "tunnels", head: "Tunnels", by: (g) => g.tunnels, cell: (g) => g.tunnels },
  {
    id: "blocked",
    head: "Blocked",
    by: (g) => g.blocked,
    cell: (g) => (g.blocked > 0 ? <span className="stops">{g.blocked}</span> : "0"),
  },
];

export function GatewaysRoute() {
  const { of, set } = useFilter();
  const go = useNavigate();
  const query = { q: of("q"), customer: of("customer") };
  const list = usePages(queryKeyOf("gateways", query), (cursor) =>
    unwrap(api.GET("/api/v1/gateways", { params: { query: { ...query, cursor } } })),
  );
  const engineer = useEngineer();
  const [migrating, setMigrating] = useState<Contract["GatewaySummary"][] | null>(null);
  return (
    <>
      <Head title="Gateways" sub={list.data ? list.count : undefined}>
        <AsFile path="/api/v1/gateways" query={query} />
        {engineer && (
          <Link className="btn first" to="/new/gateways">
            Add a gateway
          </Link>
        )}
      </Head>
      <div className="filters">
        <Words placeholder="203.0.113.10" />
        <CustomerField value={query.customer ?? ""} set={(v) => set("customer", v)} />
        <ShowAll />
      </div>
      <Listed
        list={list}
        what="gateways"
        empty={query.q || query.customer ? "No gateway matches." : "There is no gateway yet. Add one at a site."}
        columns={columns}
        keyOf={(g) => g.code}
        open={(g) => go(`/gateways/${g.code}`)}
        acts={
          engineer
            ? (selected) => (
                <>
                  <button onClick={() => setMigrating(selected)}>Plan another platform</button>
                  <SelectedAsFile path="/api/v1/gateways" query={query} keys={selected.map((g) => g.code)} />
                </>
              )
            : undefined
        }
      />
      {migrating && <MigrateMany gateways={migrating} onDone={() => setMigrating(null)} />}
    </>
  );
}
