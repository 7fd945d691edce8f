import { OverTime } from "../findings/OverTime";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { ask } from "../service/queries";
import { useEngineer } from "../service/session";
import { Drawing } from "../parts/Drawing";
import { Head, Problem, Waiting } from "../parts/Page";
import { Verdict } from "../parts/Sentence";
import { TunnelRows } from "../parts/TunnelRows";
import { AddressPlan } from "./AddressPlan";
import { RecordActs } from "../records/Acts";
import { RecordHistory } from "../records/RecordHistory";
import { Table } from "../parts/Table";

/** Everything that runs through a gateway, and what its tunnels share there. */
export function GatewayRoute() {
  const code = useParams().code!;
  const engineer = useEngineer();
  const page = useQuery(ask.gateway(code));
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const g = page.data;
  return (
    <>
      <Head
        code={g.code}
        title={g.site}
        sub={
          <>
            <Link to={`/customers/${g.customerCode}`}>{g.customer}</Link> ·{" "}
            <Link to={`/sites/${g.siteCode}`}>site</Link> ·{" "}
            <Link to={`/platforms/${g.platform}`}>{g.platformName}</Link> · run by {g.runBy}
          </>
        }
      >
        {engineer && (
          <>
            <Link className="btn" to={`/gateways/${g.code}/plan`}>
              Plan a change
            </Link>
            <Link className="btn first" to={`/changes/new-tunnel?a=${g.code}`}>
              Plan a tunnel from here
            </Link>
          </>
        )}
        <RecordActs plural="gateways" code={g.code} />
      </Head>
      <Verdict verdict={g.verdict} />
      <div className="facts">
        {g.uplinks.map((u) => (
          <p key={u.label}>
            <b>{u.label}</b> <code>{u.outer}</code>
            <span className="src">
              {u.nat && ` behind ${u.nat}, ${u.onDevice} on the device`}
              {u.mtu && ` · MTU ${u.mtu}`}
            </span>
          </p>
        ))}
      </div>
      {g.held.length > 0 && (
        <>
          <h2>Shared entries</h2>
          <Table>
            <tbody>
              {g.held.map((h) => (
                <tr key={h.name}>
                  <td className="mono">{h.name}</td>
                  <td>{h.what}</td>
                  <td>
                    <code className="wraps">{h.holds}</code>
                  </td>
                  <td>
                    {h.tunnels.length === 0 ? (
                      <span className="soft">no tunnel</span>
                    ) : (
                      <>
                        shared by{" "}
                        {h.tunnels.map((t, i) => (
                          <span key={t}>
                            {i > 0 && ", "}
                            <Link className="mono" to={`/tunnels/${t}`}>
                              {t}
                            </Link>
                          </span>
                        ))}
                      </>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
      <h2>Tunnels through it</h2>
      <TunnelRows items={g.tunnels} inAll={g.tunnelsInAll} />
      {g.others > 0 && <p className="soft">{g.others} more of other customers.</p>}
      <h2>History</h2>
      <RecordHistory plural="gateways" code={g.code} />
    </>
  );
}

/** A customer: its sites and tunnels drawn, its addresses to scale, and both as lists. */
export function CustomerRoute() {
  const code = useParams().code!;
  const [params] = useSearchParams();
  const tab = params.get("tab") ?? "drawing";
  const engineer = useEngineer();
  const page = useQuery(ask.customer(code));
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const c = page.data;
  const views = [
    ["drawing", "Drawing"],
    ["tunnels", `Tunnels, ${c.tunnelsInAll}`],
    ["sites", `Sites, ${c.siteCount}`],
    ["addresses", "Address plan"],
    ["history", "History"],
  ];
  return (
    <>
      <Head code={c.code} title={c.name} sub={c.owner}>
        <a className="btn" href={`/api/v1/export?customer=${c.code}`} download={`${c.code}.yaml`}>
          Keepfile
        </a>
        {engineer && (
          <Link className="btn" to={`/new/sites?customer=${c.code}`}>
            Add a site
          </Link>
        )}
        <RecordActs plural="customers" code={c.code} />
      </Head>
      <Verdict verdict={c.verdict} />
      <nav className="tabs" aria-label="Views of the customer">
        {views.map(([key, word]) => (
          <Link
            key={key}
            to={key === "drawing" ? "?" : `?tab=${key}`}
            replace
            aria-current={tab === key ? "page" : undefined}
          >
            {word}
          </Link>
        ))}
      </nav>
      {tab === "drawing" && (
        <>
          <Drawing
            path={`/api/v1/customers/${c.code}/drawing`}
            name={`${c.code}-tunnels.svg`}
            what="sites and tunnels"
          />
          <OverTime customer={c.code} />
        </>
      )}
      {tab === "addresses" && <AddressPlan customer={c.code} />}
      {tab === "tunnels" && <TunnelRows items={c.tunnels} inAll={c.tunnelsInAll} />}
      {tab === "history" && <RecordHistory plural="customers" code={c.code} />}
      {tab === "sites" && (
        <>
          <Table>
            <tbody>
              {c.sites.map((s) => (
                <tr key={s.code}>
                  <td className="mono">
                    <Link className="plain" to={`/sites/${s.code}`}>
                      {s.code}
                    </Link>
                  </td>
                  <td>{s.name}</td>
                  <td>
                    {s.gateways.map((g, i) => (
                      <span key={g}>
                        {i > 0 && ", "}
                        <Link className="mono" to={`/gateways/${g}`}>
                          {g}
                        </Link>
                      </span>
                    ))}
                  </td>
                  <td className="mono wraps">{s.networks.join(" · ")}</td>
                  <td className="soft">{s.timeZone}</td>
                </tr>
              ))}
            </tbody>
          </Table>
          {c.sites.length < c.siteCount && (
            <p className="soft">
              {c.siteCount - c.sites.length} more stand in{" "}
              <Link to={`/sites?customer=${c.code}`}>the list of sites</Link>.
            </p>
          )}
        </>
      )}
    </>
  );
}
