import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, unwrap, type Contract } from "../service/api";
import { Copy } from "../parts/controls/Copy";
import { ask } from "../service/queries";
import { Problem } from "../parts/Page";
import { kinds, placeOf } from "../service/recordKinds";
import { queryKeyOf } from "../service/questions";
import { Table } from "../parts/Table";

/** One search for everything. What is typed is looked for as it is typed; the arrows move among what was found and Enter opens it. */
export function SearchRoute() {
  const [params] = useSearchParams();
  const q = (params.get("q") ?? "").trim();
  const go = useNavigate();
  const list = useRef<HTMLDivElement>(null);
  const found = useQuery({
    ...ask.search(q),
    enabled: q !== "",
    placeholderData: (last) => last,
  });
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const links = [...(list.current?.querySelectorAll<HTMLAnchorElement>("a.hit") ?? [])];
      const at = links.indexOf(document.activeElement as HTMLAnchorElement);
      if (e.key === "ArrowDown" || e.key === "ArrowUp") {
        e.preventDefault();
        links[Math.max(0, Math.min(links.length - 1, at + (e.key === "ArrowDown" ? 1 : -1)))]?.focus();
      }
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
  useEffect(() => {
    document.title = `${q === "" ? "Search" : `Search ${q}`} · Vellumkeep`;
  }, [q]);
  if (q === "")
    return (
      <p className="empty">
        Type a code, a name, an address (what contains it), a prefix (what lies in it or around it), an identity, a
        contact, a name on a device, or the code of a finding.
        <br />
        <span className="soft">
          For example <code>creamery</code>, <code>10.61.8.20</code>, <code>10.62.0.0/16</code>,{" "}
          <code>fqdn churn.brindle.example</code>, <code>PAIR-06</code>.
        </span>
      </p>
    );
  if (found.error) return <Problem error={found.error} again={() => found.refetch()} />;
  const a = found.data;
  if (!a) return null;
  // What most people mean comes first: a tunnel before its site.
  const groups = [...kinds.filter((k) => k.word === "tunnel"), ...kinds.filter((k) => k.word !== "tunnel")]
    .map((k) => ({ ...k, hits: a.hits.filter((h) => h.kind === k.word) }))
    .filter((g) => g.hits.length > 0);
  return (
    <div ref={list}>
      <h1 className="visually-hidden">Found for {q}</h1>
      <p className="visually-hidden" role="status">
        {a.hits.length} found for {a.asked}
      </p>
      {a.finding && (
        <p className="verdict">
          <span className="mono">{a.asked.toUpperCase()}</span> is “{a.finding}”.{" "}
          <Link to={`/findings?code=${a.asked.toUpperCase()}`}>Findings with this code</Link>
        </p>
      )}
      {a.hits.length === 0 && !a.finding && (
        <p className="empty">
          Nothing fits “{a.asked}”. Words are found by their beginning; an address finds what contains it.
        </p>
      )}
      {groups.map((g) => (
        <section key={g.word}>
          <h2>{g.plural === "people" ? "People" : `${g.word[0].toUpperCase()}${g.word.slice(1)}s`}</h2>
          <Table className="hits">
            <tbody>
              {g.hits.map((h) => (
                <tr key={h.code} className="go" onClick={() => go(placeOf(h.kind, h.code))}>
                  <td className="mono">
                    <Link className="plain hit" to={placeOf(h.kind, h.code)}>
                      {h.code}
                    </Link>
                  </td>
                  <td>{h.name}</td>
                  <td className="soft">{h.customer}</td>
                  <td className="soft">{h.state}</td>
                  <td>
                    <Why h={h} />
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </section>
      ))}
      <FreeIn prefix={a.asked} />
      {a.more && <p className="soft">These are the first {a.hits.length}. Type more letters, or a longer prefix.</p>}
    </div>
  );
}

/** What is free in a prefix that was searched for: nobody uses it, and it can be copied. */
function FreeIn({ prefix }: { prefix: string }) {
  const [, address, length] = /^(\S+)\/(\d+)$/.exec(prefix) ?? [];
  const wanted = Math.max(Number(length), address?.includes(":") ? 64 : 24);
  const free = useQuery({
    queryKey: queryKeyOf("free", prefix, wanted),
    queryFn: () => unwrap(api.GET("/api/v1/addresses", { params: { query: { free: prefix, length: wanted } } })),
    enabled: address !== undefined,
    retry: false,
  });
  if (!free.data) return null;
  return (
    <section>
      <h2>Free in {prefix}</h2>
      {free.data.free.length === 0 ? (
        <p className="soft">No /{wanted} is free: something that is recorded is in each.</p>
      ) : (
        <p className="acts starts wraps">
          {free.data.free.map((p) => (
            <Copy key={p} text={p} label="free prefix" />
          ))}
        </p>
      )}
    </section>
  );
}

/** By what it was found: an address of end A or B in that end's hue. */
function Why({ h }: { h: Contract["SearchHit"] }) {
  return (
    <>
      <span className="src">{h.field}</span> <code>{h.fits}</code>
    </>
  );
}
