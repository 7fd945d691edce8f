import { useInfiniteQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, unwrap } from "../api";
import { useEngineer } from "../session";
import { AsFile } from "../parts/AsFile";
import { SavedFilters } from "../parts/SavedFilters";
import { AsOf, Past } from "../parts/AsOf";
import { Head, Problem, Waiting } from "../parts/Page";
import { CustomerField } from "../parts/pages";
import { TunnelRows } from "../parts/TunnelRows";

export function TunnelsRoute() {
  const [params, setParams] = useSearchParams();
  const given = (key: string) => params.get(key) || undefined;
  const query = {
    customer: given("customer"),
    state: given("state"),
    finding: given("finding"),
    severity: given("severity"),
    q: given("q"),
    asOf: given("asOf"),
  };
  const list = useInfiniteQuery({
    queryKey: ["tunnels", query],
    queryFn: ({ pageParam }) =>
      unwrap(api.GET("/api/v1/tunnels", { params: { query: { ...query, cursor: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.cursor ?? undefined,
    placeholderData: (last) => last,
  });
  const engineer = useEngineer();
  const [text, setText] = useState(query.q ?? "");
  // The list follows what is typed, a moment after the last letter.
  useEffect(() => {
    const timer = setTimeout(() => set("q", text.trim()), 250);
    return () => clearTimeout(timer);
    // Only what is typed starts the wait: the address may move meanwhile.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [text]);
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if ((next.get(key) ?? "") === value) return;
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next, { replace: true });
  };
  const items = list.data?.pages.flatMap((p) => p.items) ?? [];
  return (
    <>
      <Head
        title="Tunnels"
        sub={
          list.data
            ? `${items.length}${list.hasNextPage ? " and more" : ""}${params.size > 0 ? " that match" : ""}`
            : undefined
        }
      >
        <AsFile path="/api/v1/tunnels" query={query} />
        {engineer && (
          <Link className="btn" to="/new/tunnels">
            Add a tunnel
          </Link>
        )}
      </Head>
      <SavedFilters list="tunnels" />
      {query.asOf && <Past asOf={query.asOf} />}
      <div className="filters">
        <label className="wide">
          Words, an address or a prefix
          <input className="mono" value={text} onChange={(e) => setText(e.target.value)} placeholder="10.61.8.20" />
        </label>
        <CustomerField value={query.customer ?? ""} set={(v) => set("customer", v)} />
        <label>
          State
          <select value={query.state ?? ""} onChange={(e) => set("state", e.target.value)}>
            <option value="">all</option>
            {["planned", "building", "in service", "suspended", "retired"].map((s) => (
              <option key={s}>{s}</option>
            ))}
          </select>
        </label>
        <label>
          With a finding that
          <select value={query.severity ?? ""} onChange={(e) => set("severity", e.target.value)}>
            <option value="">any or none</option>
            {["blocks", "degrades", "risk", "note"].map((s) => (
              <option key={s} value={s}>
                {s === "risk" || s === "note" ? `is a ${s}` : s}
              </option>
            ))}
          </select>
        </label>
        <AsOf />
        {params.size > 0 && (
          <button
            onClick={() => {
              setText("");
              setParams({});
            }}
          >
            Show all
          </button>
        )}
      </div>
      {list.isPending ? (
        <Waiting what="tunnels" />
      ) : list.error ? (
        <Problem error={list.error} again={() => list.refetch()} />
      ) : items.length === 0 ? (
        <p className="empty">No tunnel matches. Remove a filter, or import a sheet.</p>
      ) : (
        <TunnelRows
          items={items}
          more={list.hasNextPage && !list.isFetchingNextPage ? list.fetchNextPage : undefined}
          query={query.asOf ? `?asOf=${query.asOf}` : ""}
        />
      )}
      {list.isFetchingNextPage && <Waiting what="more" />}
    </>
  );
}
