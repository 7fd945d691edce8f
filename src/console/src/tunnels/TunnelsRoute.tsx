import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, told } from "../api";
import { Head, Problem, Waiting } from "../parts/Page";
import { Said } from "../parts/Said";
import { Stroke } from "../parts/Stroke";

export function TunnelsRoute() {
  const [params, setParams] = useSearchParams();
  const go = useNavigate();
  const given = (key: string) => params.get(key) || undefined;
  const query = { customer: given("customer"), state: given("state"), finding: given("finding"), severity: given("severity"), q: given("q") };
  const list = useInfiniteQuery({
    queryKey: ["tunnels", query],
    queryFn: ({ pageParam }) => told(api.GET("/api/v1/tunnels", { params: { query: { ...query, cursor: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.cursor ?? undefined,
  });
  const customers = useQuery({ queryKey: ["customers"], queryFn: () => told(api.GET("/api/v1/customers")) });
  const [text, setText] = useState(query.q ?? "");
  useEffect(() => setText(query.q ?? ""), [query.q]);
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next, { replace: true });
  };
  const items = list.data?.pages.flatMap((p) => p.items) ?? [];
  return (
    <>
      <Head title="Tunnels" sub={list.data ? `${items.length}${list.hasNextPage ? " and more" : ""}${params.size > 0 ? " that fit" : ""}` : undefined} />
      <div className="filters">
        <label className="wide">
          Words, an address or a prefix
          <input
            className="mono"
            value={text}
            onChange={(e) => setText(e.target.value)}
            onBlur={() => set("q", text.trim())}
            onKeyDown={(e) => e.key === "Enter" && set("q", text.trim())}
            placeholder="10.61.8.20"
          />
        </label>
        <label>
          Customer
          <select value={query.customer ?? ""} onChange={(e) => set("customer", e.target.value)}>
            <option value="">all</option>
            {customers.data
              ?.filter((c) => c.tunnels > 0)
              .map((c) => (
                <option key={c.code} value={c.code}>
                  {c.name}
                </option>
              ))}
          </select>
        </label>
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
        {params.size > 0 && <button onClick={() => setParams({})}>Show all</button>}
      </div>
      {list.isPending ? (
        <Waiting what="tunnels" />
      ) : list.error ? (
        <Problem error={list.error} again={() => list.refetch()} />
      ) : items.length === 0 ? (
        <p className="empty">No tunnel fits. Leave out a filter, or import a keepfile.</p>
      ) : (
        <table>
          <thead>
            <tr>
              <th style={{ width: 130 }}>Tunnel</th>
              <th className="a" style={{ width: 140 }}>
                A
              </th>
              <th style={{ width: 74 }}>
                <span className="visually-hidden">How it stands</span>
              </th>
              <th className="b" style={{ width: 160 }}>
                B
              </th>
              <th>Verdict</th>
              <th style={{ width: 84 }}>State</th>
            </tr>
          </thead>
          <tbody>
            {items.map((t) => (
              <tr key={t.code} className="go" onClick={() => go(`/tunnels/${t.code}`)}>
                <td className="mono">
                  <Link className="plain" to={`/tunnels/${t.code}`}>
                    {t.code}
                  </Link>
                </td>
                <td className="a">{t.endA}</td>
                <td className="rel">
                  <Stroke form={t.form} />
                  <span className="word">{t.form.word}</span>
                </td>
                <td className="b">{t.endB}</td>
                <td>
                  {t.verdict.map((v, i) => (
                    <span key={i} className={v.tone}>
                      <Said says={v.says} />{" "}
                    </span>
                  ))}
                </td>
                <td>{t.state}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {list.hasNextPage && (
        <p>
          <button onClick={() => list.fetchNextPage()} disabled={list.isFetchingNextPage}>
            Show more
          </button>
        </p>
      )}
    </>
  );
}
