import { Link, useNavigate } from "react-router";
import { api, unwrap, type Contract } from "../service/api";
import { AsFile, SelectedAsFile } from "../parts/AsFile";
import { AsOf, Past } from "../parts/AsOf";
import type { Column } from "../parts/controls/List";
import { ShowAll, useFilter, Words } from "../parts/Filters";
import { Listed } from "../parts/Listed";
import { Head } from "../parts/Page";
import { CustomerField, usePages } from "../parts/morePages";
import { useEngineer } from "../service/session";
import { queryKeyOf } from "../service/questions";

const columns: Column<Contract["RecordLine"]>[] = [
  {
    id: "code",
    head: "Site",
    by: (s) => s.code,
    className: "w170",
    cell: (s) => (
      <Link className="plain mono" to={`/sites/${s.code}`}>
        {s.code}
      </Link>
    ),
  },
  { id: "name", head: "Name", by: (s) => s.name, cell: (s) => s.name },
  { id: "state", head: "State", by: (s) => s.state ?? "", cell: (s) => s.state },
];

export function SitesRoute() {
  const { of, set } = useFilter();
  const go = useNavigate();
  const query = { q: of("q"), customer: of("customer"), asOf: of("asOf") };
  const list = usePages(queryKeyOf("sites", query), (cursor) =>
    unwrap(api.GET("/api/v1/sites", { params: { query: { ...query, cursor } } })),
  );
  const engineer = useEngineer();
  return (
    <>
      <Head title={query.customer ? `Sites of ${query.customer}` : "Sites"} sub={list.data ? list.count : undefined}>
        <AsFile path="/api/v1/sites" query={query} />
        {engineer && (
          <Link className="btn first" to={`/new/sites${query.customer ? `?customer=${query.customer}` : ""}`}>
            Add a site
          </Link>
        )}
      </Head>
      {query.asOf && <Past asOf={query.asOf} />}
      <div className="filters">
        <Words placeholder="10.61.8.0/22" />
        <CustomerField value={query.customer ?? ""} set={(v) => set("customer", v)} />
        <AsOf />
        <ShowAll />
      </div>
      <Listed
        list={list}
        what="sites"
        empty={query.q || query.customer ? "No site matches." : "There is no site yet. Add one to a customer."}
        columns={columns}
        keyOf={(s) => s.code}
        open={(s) => go(`/sites/${s.code}`)}
        acts={(selected) => <SelectedAsFile path="/api/v1/sites" query={query} keys={selected.map((s) => s.code)} />}
      />
    </>
  );
}
