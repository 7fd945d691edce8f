import { useInfiniteQuery, useMutation } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { api, unwrap } from "../service/api";
import { useMe } from "../service/session";
import { AsFile } from "../parts/AsFile";
import { day, Head, Problem, Waiting } from "../parts/Page";
import { kinds, placeOf } from "../service/recordKinds";
import { queryKeyOf } from "../service/questions";
import { Input, Select } from "../parts/controls/Input";
import { Table } from "../parts/Table";

/** So many records of a commit are named in its row. */
const named = 6;

/** Who did what, newest first: by person, customer, kind and day. */
export function HistoryRoute() {
  const [params, setParams] = useSearchParams();
  const me = useMe();
  const given = (key: string) => params.get(key) || undefined;
  const query = {
    who: given("who"),
    customer: given("customer"),
    kind: given("kind"),
    from: given("from"),
    to: given("to"),
  };
  const list = useInfiniteQuery({
    queryKey: queryKeyOf("commits", query),
    queryFn: ({ pageParam }) =>
      unwrap(api.GET("/api/v1/history", { params: { query: { ...query, before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => (page.cursor ? Number(page.cursor) : undefined),
  });
  const verify = useMutation({ mutationFn: () => unwrap(api.GET("/api/v1/history/verified")) });
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next, { replace: true });
  };
  const items = list.data?.pages.flatMap((p) => p.items) ?? [];
  const field = (key: string, label: string, hint: string, wide = false) => (
    <label key={key + (given(key) ?? "")} className={wide ? "wide" : undefined}>
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
  return (
    <>
      <Head title="History" sub="Every commit in one chain; each has a digest over the one before.">
        <AsFile path="/api/v1/history" query={query} />
        {me.data?.roles.includes("lead") && (
          <>
            <Link className="btn" to="/history/audit">
              Audit list
            </Link>
            <button onClick={() => verify.mutate()} disabled={verify.isPending}>
              {verify.isPending ? "Verifying …" : "Verify the chain"}
            </button>
          </>
        )}
      </Head>
      {verify.data && (
        <div
          className={verify.data.broken === null && verify.data.differs.length === 0 ? "notice" : "problem"}
          role="status"
        >
          {verify.data.broken === null
            ? `All ${verify.data.commits} commits are intact. The last digest is `
            : `Commit ${verify.data.broken} is broken: it was altered outside the service. The last digest is `}
          <code className="wraps">{verify.data.digest}</code>
          {verify.data.differs.length === 0
            ? ". Records, grants and people match the history."
            : ". Altered outside the history: "}
          {verify.data.differs.map((d) => (
            <div key={d}>{d}</div>
          ))}
        </div>
      )}
      {verify.error && <Problem error={verify.error} />}
      <div className="filters">
        {field("who", "Person", "tomas")}
        {field("customer", "Customer", "BRI")}
        <label>
          Kind
          <Select value={query.kind ?? ""} onChange={(e) => set("kind", e.target.value)}>
            <option value="">all</option>
            {[...kinds.map((k) => k.word), "change"].map((w) => (
              <option key={w} value={w === "platform profile" ? "platform" : w === "standing offer" ? "offer" : w}>
                {w}
              </option>
            ))}
          </Select>
        </label>
        {field("from", "From", "2026-11-01")}
        {field("to", "To (inclusive)", "2026-11-30")}
        {params.size > 0 && <button onClick={() => setParams({})}>Show all</button>}
      </div>
      {list.isPending ? (
        <Waiting what="the history" />
      ) : list.error ? (
        <Problem error={list.error} again={() => list.refetch()} />
      ) : items.length === 0 ? (
        <p className="empty">No commit matches. Remove a filter.</p>
      ) : (
        <Table>
          <thead>
            <tr>
              <th className="w60">Commit</th>
              <th className="w60">UTC</th>
              <th className="w100">Who</th>
              <th className="w260">What</th>
              <th>Records</th>
              <th className="w90">Digest</th>
            </tr>
          </thead>
          <tbody>
            {items.flatMap((c, i) => {
              const on = c.at.slice(0, 10);
              return [
                ...(i === 0 || items[i - 1].at.slice(0, 10) !== on
                  ? [
                      <tr key={on + c.number}>
                        <td colSpan={6} className="dayhead">
                          {day(c.at)}
                        </td>
                      </tr>,
                    ]
                  : []),
                <tr key={c.number}>
                  <td className="mono soft">{c.number}</td>
                  <td className="mono">{c.at.slice(11, 16)}</td>
                  <td>
                    <button className="link" onClick={() => set("who", c.who)}>
                      {c.who}
                    </button>
                  </td>
                  <td>
                    {c.what} {c.change && <Link to={`/changes/${c.change}`}>{c.change}</Link>}
                    {c.reason && <div className="src">{c.reason}</div>}
                  </td>
                  <td>
                    {c.records.slice(0, named).map((r, j) => (
                      <span key={r.kind + r.code}>
                        {j > 0 && ", "}
                        <Link
                          className="mono plain"
                          title={`${r.kind}, version ${r.version}`}
                          to={placeOf(r.kind, r.code)}
                        >
                          {r.code}
                        </Link>
                      </span>
                    ))}
                    {c.wrote > Math.min(named, c.records.length) && (
                      <span className="soft"> and {c.wrote - Math.min(named, c.records.length)} more</span>
                    )}
                  </td>
                  <td className="code" title={c.digest}>
                    {c.digest.slice(0, 8)}
                  </td>
                </tr>,
              ];
            })}
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
