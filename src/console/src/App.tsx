import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { Link, NavLink, Route, Routes, useNavigate } from "react-router";
import { api, Refused, told } from "./api";
import { ChangeRoute } from "./change/ChangeRoute";
import { DraftRoute } from "./change/DraftRoute";
import { ChangesRoute } from "./changes/ChangesRoute";
import { FindingsRoute } from "./findings/FindingsRoute";
import { ImportRoute } from "./imports/ImportRoute";
import { Problem, Waiting } from "./parts/Page";
import { CustomerRoute, CustomersRoute, GatewayRoute, GatewaysRoute } from "./places/PlaceRoutes";
import { PlatformRoute, PlatformsRoute, SuiteRoute, SuitesRoute } from "./platforms/PlatformRoutes";
import { SignIn } from "./signin/SignIn";
import { SumsRoute } from "./sums/SumsRoute";
import { TodayRoute } from "./today/TodayRoute";
import { TunnelRoute } from "./tunnel/TunnelRoute";
import { TunnelsRoute } from "./tunnels/TunnelsRoute";

export const useMe = () => useQuery({ queryKey: ["me"], queryFn: () => told(api.GET("/api/v1/session")), staleTime: 60_000 });

export function App() {
  const me = useMe();
  if (me.isPending) return <Waiting what="who you are" />;
  if (me.error instanceof Refused && me.error.status === 401) return <SignIn />;
  if (me.error) return <Problem error={me.error} again={() => me.refetch()} />;
  return <Shell name={me.data.display} roles={me.data.roles} />;
}

function Shell({ name, roles }: { name: string; roles: string[] }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const find = useRef<HTMLInputElement>(null);
  const today = useQuery({ queryKey: ["today"], queryFn: () => told(api.GET("/api/v1/today")) });
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && /INPUT|TEXTAREA|SELECT/.test(e.target.tagName);
      if (e.key === "/" && !typing && !e.ctrlKey && !e.metaKey) {
        e.preventDefault();
        find.current?.focus();
      }
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, []);
  const waiting = today.data ? today.data.toReview.length + today.data.underWay.length + today.data.windows.length : undefined;
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
            const q = find.current!.value.trim();
            go(q ? `/tunnels?q=${encodeURIComponent(q)}` : "/tunnels");
          }}
        >
          <input ref={find} aria-label="Find a tunnel by code, name, address or prefix" placeholder="Find a code, name, address or prefix" />
          <kbd>/</kbd>
        </form>
        <span className="who">
          {name}, {roles.join(" and ")}
          <button
            className="link"
            onClick={async () => {
              await told(api.DELETE("/api/v1/session", {}));
              queries.clear();
              location.assign("/");
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
          <NavLink to="/gateways">Gateways</NavLink>
          <hr />
          <NavLink to="/tunnels">Tunnels</NavLink>
          <NavLink to="/findings">Findings {today.data?.blocking.length ? <i>{today.data.blocking.length}</i> : null}</NavLink>
          <NavLink to="/platforms">Platforms</NavLink>
          <NavLink to="/suites">Suites</NavLink>
          <hr />
          <NavLink to="/changes">Changes</NavLink>
          <hr />
          <NavLink to="/sums">Sums</NavLink>
          <NavLink to="/import">Import</NavLink>
        </nav>
        <main>
          <Routes>
            <Route path="/" element={<TodayRoute />} />
            <Route path="/tunnels" element={<TunnelsRoute />} />
            <Route path="/tunnels/:code" element={<TunnelRoute />} />
            <Route path="/tunnels/:code/plan" element={<DraftRoute />} />
            <Route path="/findings" element={<FindingsRoute />} />
            <Route path="/customers" element={<CustomersRoute />} />
            <Route path="/customers/:code" element={<CustomerRoute />} />
            <Route path="/gateways" element={<GatewaysRoute />} />
            <Route path="/gateways/:code" element={<GatewayRoute />} />
            <Route path="/platforms" element={<PlatformsRoute />} />
            <Route path="/platforms/:code" element={<PlatformRoute />} />
            <Route path="/suites" element={<SuitesRoute />} />
            <Route path="/suites/:code" element={<SuiteRoute />} />
            <Route path="/sums" element={<SumsRoute />} />
            <Route path="/changes" element={<ChangesRoute />} />
            <Route path="/changes/:code" element={<ChangeRoute />} />
            <Route path="/import" element={<ImportRoute />} />
            <Route path="*" element={<p className="empty">There is no such page. The rail on this side leads to those there are.</p>} />
          </Routes>
        </main>
      </div>
    </>
  );
}
