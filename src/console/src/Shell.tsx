import { useQuery } from "@tanstack/react-query";
import { Suspense, useEffect, useState } from "react";
import { Link, NavLink, useLocation } from "react-router";
import { useLive } from "./live";
import { Pages } from "./Pages";
import { Broken } from "./parts/Broken";
import { late } from "./parts/late";
import { Waiting } from "./parts/Page";
import { useKey } from "./parts/useKey";
import { ask } from "./service/queries";
import { SearchField } from "./search/SearchField";

const Told = late(() => import("./parts/controls/Told"), "Told");
const Keys = late(() => import("./parts/Keys"), "Keys");

/** What stands around every page. */
export function Shell(props: { me: string; name: string; roles: string[]; signOut: () => Promise<void> }) {
  const { me, name, roles, signOut } = props;
  const [keys, setKeys] = useState(false);
  // What is told waits until then: its parts come after the page itself.
  const [settled, setSettled] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(true), 1000);
    return () => clearTimeout(timer);
  }, []);
  // Where the menu was opened: another page closes it.
  const at = useLocation();
  const [menuAt, setMenuAt] = useState<string | null>(null);
  const menu = menuAt === at.key;
  const today = useQuery(ask.today());
  useLive(me);
  useKey("?", () => setKeys(true));
  const waiting = today.data
    ? today.data.toReview.length + today.data.underWay.length + today.data.windows.length
    : undefined;
  return (
    <>
      <a className="skip" href="#main">
        Skip to the page
      </a>
      <header className="top">
        <Link className="name" to="/">
          Vellumkeep
        </Link>
        <SearchField />
        <button
          className="menu"
          aria-expanded={menu}
          aria-controls="rail"
          onClick={() => setMenuAt(menu ? null : at.key)}
        >
          Menu
        </button>
        <span className="who">
          <Link className="plain" to="/access">
            {name}, {roles.join(" and ")}
          </Link>
          <button className="link" onClick={() => void signOut()}>
            Sign out
          </button>
        </span>
      </header>
      <div className="body">
        <nav id="rail" className={menu ? "rail open" : "rail"} aria-label="Main">
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
          <NavLink to="/keys">Keys</NavLink>
          <NavLink to="/platforms">Platforms</NavLink>
          <NavLink to="/suites">Suites</NavLink>
          <NavLink to="/offers">Offers</NavLink>
          <hr />
          <NavLink to="/changes">Changes</NavLink>
          <NavLink to="/history">History</NavLink>
          <hr />
          <NavLink to="/calculations">Calculations</NavLink>
          {roles.some((r) => r !== "reader" && r !== "reviewer") && <NavLink to="/import">Import</NavLink>}
          <NavLink to="/glossary">Glossary</NavLink>
          {roles.some((r) => r !== "reader") && <NavLink to="/people">People</NavLink>}
          <button className="link" onClick={() => setKeys(true)}>
            Keyboard <kbd>?</kbd>
          </button>
        </nav>
        <main id="main" tabIndex={-1}>
          <Broken key={at.pathname}>
            <Suspense fallback={<Waiting what="this page" />}>
              <Pages />
            </Suspense>
          </Broken>
        </main>
      </div>
      <Suspense>
        {settled && <Told />}
        {keys && <Keys onLeave={() => setKeys(false)} />}
      </Suspense>
    </>
  );
}
