import { useMemo } from "react";
import { Link, useNavigate } from "react-router";
import { api, unwrap } from "../service/api";
import { AsFile } from "../parts/AsFile";
import { AsOf, Past } from "../parts/AsOf";
import { OneOf, ShowAll, useFilter, Words } from "../parts/Filters";
import { Listed } from "../parts/Listed";
import { Head } from "../parts/Page";
import { CustomerField, usePages } from "../parts/morePages";
import { SavedFilters } from "../parts/SavedFilters";
import { useEngineer } from "../service/session";
import { ActsOnMany } from "./ActsOnMany";
import { tunnelColumns } from "./columns";
import { queryKeyOf } from "../service/questions";

export function TunnelsRoute() {
  const { of, set, params } = useFilter();
  const go = useNavigate();
  const query = {
    customer: of("customer"),
    state: of("state"),
    finding: of("finding"),
    severity: of("severity"),
    q: of("q"),
    asOf: of("asOf"),
  };
  const list = usePages(queryKeyOf("tunnels", query), (cursor) =>
    unwrap(api.GET("/api/v1/tunnels", { params: { query: { ...query, cursor } } })),
  );
  const engineer = useEngineer();
  const past = query.asOf ? `?asOf=${query.asOf}` : "";
  const columns = useMemo(() => tunnelColumns(past), [past]);
  const filtered = [...params.keys()].some((k) => k !== "sort");
  return (
    <>
      <Head title="Tunnels" sub={list.data ? `${list.count}${filtered ? " that match" : ""}` : undefined}>
        <AsFile path="/api/v1/tunnels" query={query} />
        {engineer && (
          <>
            <Link className="btn" to="/new/tunnels">
              Add a tunnel
            </Link>
            <Link className="btn first" to="/changes/new-tunnel">
              Plan a new tunnel
            </Link>
          </>
        )}
      </Head>
      <SavedFilters list="tunnels" />
      {query.asOf && <Past asOf={query.asOf} />}
      <div className="filters">
        <Words placeholder="10.61.8.20" />
        <CustomerField value={query.customer ?? ""} set={(v) => set("customer", v)} />
        <OneOf
          name="state"
          label="State"
          all="all"
          of={["planned", "building", "in service", "suspended", "retired"]}
        />
        <OneOf
          name="severity"
          label="With a finding that"
          all="any or none"
          of={["blocks", "degrades", ["risk", "is a risk"], ["note", "is a note"]]}
        />
        <AsOf />
        <ShowAll />
      </div>
      <Listed
        list={list}
        what="tunnels"
        empty={
          filtered ? (
            "No tunnel matches. Show all, or search for its address."
          ) : (
            <>
              There is no tunnel yet.{" "}
              {engineer && (
                <>
                  <Link to="/import">Import a sheet</Link>, or begin with <Link to="/new/customers">a customer</Link>,
                  its sites and their gateways; then plan the tunnel between them.
                </>
              )}
            </>
          )
        }
        columns={columns}
        keyOf={(t) => t.code}
        open={(t) => go(`/tunnels/${t.code}${past}`)}
        acts={
          engineer && !query.asOf
            ? (selected, clear) => <ActsOnMany selected={selected} query={query} clear={clear} />
            : undefined
        }
      />
    </>
  );
}
