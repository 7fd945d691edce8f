import { Link, useNavigate } from "react-router";
import { api, unwrap, type Contract } from "../service/api";
import { AsFile, SelectedAsFile } from "../parts/AsFile";
import type { Column } from "../parts/controls/List";
import { ShowAll, useFilter, Words } from "../parts/Filters";
import { Listed } from "../parts/Listed";
import { Head } from "../parts/Page";
import { usePages } from "../parts/morePages";
import { useEngineer } from "../service/session";
import { queryKeyOf } from "../service/questions";

const columns: Column<Contract["CustomerSummary"]>[] = [
  {
    id: "code",
    head: "Code",
    by: (c) => c.code,
    className: "w80",
    cell: (c) => (
      <Link className="plain mono" to={`/customers/${c.code}`}>
        {c.code}
      </Link>
    ),
  },
  { id: "name", head: "Name", by: (c) => c.name, cell: (c) => c.name },
  { id: "owner", head: "Who it is", by: (c) => c.owner, cell: (c) => c.owner },
  { id: "tunnels", head: "Tunnels", by: (c) => c.tunnels, cell: (c) => c.tunnels },
  {
    id: "blocked",
    head: "Blocked",
    by: (c) => c.blocked,
    cell: (c) => (c.blocked > 0 ? <span className="stops">{c.blocked}</span> : "0"),
  },
];

export function CustomersRoute() {
  const { of } = useFilter();
  const go = useNavigate();
  const q = of("q");
  const list = usePages(queryKeyOf("customers", q), (cursor) =>
    unwrap(api.GET("/api/v1/customers", { params: { query: { q, cursor } } })),
  );
  const engineer = useEngineer();
  return (
    <>
      <Head title="Customers" sub={list.data ? `${list.count}, including other parties` : undefined}>
        <AsFile path="/api/v1/customers" query={{ q }} />
        {engineer && (
          <Link className="btn first" to="/new/customers">
            Add a customer
          </Link>
        )}
      </Head>
      <div className="filters">
        <Words placeholder="Brindlecombe" />
        <ShowAll />
      </div>
      <Listed
        list={list}
        what="customers"
        empty={q ? "No customer matches." : "There is no customer yet. Add the first one."}
        columns={columns}
        keyOf={(c) => c.code}
        open={(c) => go(`/customers/${c.code}`)}
        acts={(selected) => (
          <SelectedAsFile path="/api/v1/customers" query={{ q }} keys={selected.map((c) => c.code)} />
        )}
      />
    </>
  );
}
