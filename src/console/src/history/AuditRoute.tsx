import { useInfiniteQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { api, unwrap } from "../service/api";
import { day, Head, Problem, Waiting } from "../parts/Page";
import { queryKeyOf } from "../service/questions";
import { Input, Select } from "../parts/controls/Input";
import { Table } from "../parts/Table";

const acts = ["sign in", "call", "export", "backup", "show key", "clock", "unlock", "give up keys"];

/** What happened at the door and around secrets, with the address that asked; for leads. */
export function AuditRoute() {
  const [params, setParams] = useSearchParams();
  const given = (key: string) => params.get(key) || undefined;
  const query = {
    who: given("who"),
    what: given("what"),
    outcome: given("outcome"),
    from: given("from"),
    to: given("to"),
  };
  const list = useInfiniteQuery({
    queryKey: queryKeyOf("audit", query),
    queryFn: ({ pageParam }) =>
      unwrap(api.GET("/api/v1/audit", { params: { query: { ...query, before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => (page.cursor ? Number(page.cursor) : undefined),
  });
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next, { replace: true });
  };
  const field = (key: string, label: string, hint: string) => (
    <label key={key + (given(key) ?? "")}>
      {label}
      <Input
        className="mono"
        defaultValue={given(key)}
        placeholder={hint}
        onBlur={(e) => set(key, e.target.value.trim())}
        onKeyDown={(e) => e.key === "Enter" && set(key, e.currentTarget.value.trim())}
      />
    </label>
  );
  const choice = (key: string, label: string, words: string[]) => (
    <label>
      {label}
      <Select value={given(key) ?? ""} onChange={(e) => set(key, e.target.value)}>
        <option value="">all</option>
        {words.map((w) => (
          <option key={w}>{w}</option>
        ))}
      </Select>
    </label>
  );
  const items = list.data?.pages.flatMap((p) => p.items) ?? [];
  return (
    <>
      <Head
        title="Audit list"
        sub={
          <>
            Sign-ins, refusals, exports, backups and keys shown, with the address that asked. What changed records is in
            the <Link to="/history">history</Link>.
          </>
        }
      />
      <div className="filters">
        {field("who", "Person", "tomas")}
        {choice("what", "Act", acts)}
        {choice("outcome", "Outcome", ["done", "refused"])}
        {field("from", "From", "2026-11-01")}
        {field("to", "To (inclusive)", "2026-11-30")}
        {params.size > 0 && <button onClick={() => setParams({})}>Show all</button>}
      </div>
      {list.isPending ? (
        <Waiting what="the audit list" />
      ) : list.error ? (
        <Problem error={list.error} again={() => list.refetch()} />
      ) : items.length === 0 ? (
        <p className="empty">No entry matches. Remove a filter.</p>
      ) : (
        <Table>
          <thead>
            <tr>
              <th>UTC</th>
              <th>Who</th>
              <th>Act</th>
              <th>Outcome</th>
              <th>About</th>
              <th>From</th>
            </tr>
          </thead>
          <tbody>
            {items.map((a, i) => (
              <tr key={a.at + i}>
                <td className="mono">
                  {day(a.at)} {a.at.slice(11, 19)}
                </td>
                <td>
                  <button className="link" onClick={() => set("who", a.who)}>
                    {a.who}
                  </button>
                </td>
                <td>{a.what}</td>
                <td className={a.outcome === "refused" ? "stops" : undefined}>{a.outcome}</td>
                <td>{a.about}</td>
                <td className="mono">{a.from}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {list.hasNextPage && (
        <p>
          <button onClick={() => list.fetchNextPage()} disabled={list.isFetchingNextPage}>
            Show older
          </button>
        </p>
      )}
    </>
  );
}
