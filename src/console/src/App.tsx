import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Suspense, useEffect, useRef, useState } from "react";
import { Link, NavLink, useLocation, useNavigate, useSearchParams } from "react-router";
import { api, unwrap } from "./api";
import { ask } from "./queries";
import { useLive } from "./live";
import { Pages } from "./Pages";
import { Problem, Waiting } from "./parts/Page";
import { ReplacePassword } from "./people/ReplacePassword";
import { placeOf } from "./records/kinds";
import { useMe } from "./session";
import { SignIn } from "./signin/SignIn";

export function App() {
  const me = useMe();
  if (me.isPending) return <Waiting what="who you are" />;
  if (me.data === null) return <SignIn />;
  if (me.error) return <Problem error={me.error} again={() => me.refetch()} />;
  // A password that was given by somebody else opens nothing but its own replacement.
  if (me.data.mustReplacePassword)
    return (
      <main className="signin">
        <h1>Choose your own password</h1>
        <p className="soft">Somebody else set the password that you signed in with. Replace it to continue.</p>
        <ReplacePassword onDone={() => me.refetch()} />
      </main>
    );
  return <Shell me={me.data.name} name={me.data.display} roles={me.data.roles} />;
}

function Shell({ me, name, roles }: { me: string; name: string; roles: string[] }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const find = useRef<HTMLInputElement>(null);
  const at = useLocation();
  const [params] = useSearchParams();
  const searching = at.pathname === "/search";
  const [text, setText] = useState("");
  // The field follows the address while the page of the search is open, and is empty elsewhere.
  useEffect(() => {
    if (document.activeElement !== find.current) setText(searching ? (params.get("q") ?? "") : "");
  }, [searching, params]);
  const changed = useLive(me);
  const today = useQuery(ask.today());
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && /INPUT|TEXTAREA|SELECT/.test(e.target.tagName);
      if (e.key === "/" && !typing && !e.ctrlKey && !e.metaKey) {
        e.preventDefault();
        find.current?.focus();
        find.current?.select();
      }
      if (e.key === "?" && !typing) go("/glossary");
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [go]);
  /** Enter opens what is meant: the record of that code, or the only one found; otherwise the first is at hand and Enter again opens it. */
  const open = async (q: string) => {
    if (q === "") return;
    const { hits } = await unwrap(api.GET("/api/v1/search", { params: { query: { q } } }));
    const exact = hits.filter((h) => h.code.toUpperCase() === q.toUpperCase());
    const meant = exact.find((h) => h.kind === "tunnel") ?? exact[0] ?? (hits.length === 1 ? hits[0] : undefined);
    if (meant) go(placeOf(meant.kind, meant.code));
    else document.querySelector<HTMLAnchorElement>("a.hit")?.focus();
  };
  const waiting = today.data
    ? today.data.toReview.length + today.data.underWay.length + today.data.windows.length
    : undefined;
  return (
    <>
      <header className="top">
        <Link className="name" to="/">
          Vellumkeep
        </Link>
        <form
          role="search"
          onSubmit={(e) => {
            e.preventDefault();
            void open(text.trim());
          }}
        >
          <input
            ref={find}
            value={text}
            spellCheck={false}
            aria-label="Find anything: a code, name, address, prefix, identity, contact or finding"
            placeholder="Find a code, name, address, prefix, identity …"
            onChange={(e) => {
              setText(e.target.value);
              go(`/search?q=${encodeURIComponent(e.target.value)}`, { replace: searching });
            }}
          />
          <kbd>/</kbd>
        </form>
        <span className="who">
          <Link className="plain" to="/access">
            {name}, {roles.join(" and ")}
          </Link>
          <button
            className="link"
            onClick={async () => {
              await unwrap(api.DELETE("/api/v1/session", {}));
              go("/");
              queries.setQueryData(["me"], null);
              queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
            }}
          >
            Sign out
          </button>
        </span>
      </header>
      <div className="body">
        <nav className="rail" aria-label="Main">
          <NavLink to="/" end>
            Today {waiting ? <i>{waiting}</i> : null}
          </NavLink>
          <hr />
          <NavLink to="/customers">Customers</NavLink>
          <NavLink to="/sites">Sites</NavLink>
          <NavLink to="/gateways">Gateways</NavLink>
          <hr />
          <NavLink to="/tunnels">Tunnels</NavLink>
          <NavLink to="/findings">
            Findings {today.data?.blocking.length ? <i>{today.data.blocking.length}</i> : null}
          </NavLink>
          <NavLink to="/platforms">Platforms</NavLink>
          <NavLink to="/suites">Suites</NavLink>
          <NavLink to="/offers">Offers</NavLink>
          <hr />
          <NavLink to="/changes">Changes</NavLink>
          <NavLink to="/history">History</NavLink>
          <hr />
          <NavLink to="/calculations">Calculations</NavLink>
          <NavLink to="/import">Import</NavLink>
          <NavLink to="/glossary">
            Glossary <kbd>?</kbd>
          </NavLink>
          {roles.some((r) => r !== "reader") && <NavLink to="/people">People</NavLink>}
        </nav>
        <main>
          {changed && (
            <p className="changed src" role="status" key={changed.number}>
              {changed.who}, just now: {changed.what}{" "}
              {changed.records.slice(0, 3).map((r) => (
                <Link key={r.kind + r.code} className="mono" to={placeOf(r.kind, r.code)}>
                  {r.code}{" "}
                </Link>
              ))}
            </p>
          )}
          <Suspense fallback={<Waiting what="this page" />}>
            <Pages />
          </Suspense>
        </main>
      </div>
    </>
  );
}
