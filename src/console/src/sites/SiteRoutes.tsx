import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, unwrap } from "../service/api";
import { ask } from "../service/queries";
import { useEngineer } from "../service/session";
import { More, usePages } from "../parts/morePages";
import { Head, Problem, Waiting } from "../parts/Page";
import { Verdict } from "../parts/Sentence";
import { TunnelRows } from "../parts/TunnelRows";
import { RecordActs } from "../records/Acts";
import { inline, type Value } from "../records/form";
import { RecordHistory } from "../records/RecordHistory";
import { queryKeyOf } from "../service/questions";
import { Table } from "../parts/Table";

/** A site: its networks, and the tunnels of each, and at which of their ends. */
export function SiteRoute() {
  const code = useParams().code!;
  const engineer = useEngineer();
  const page = useQuery(ask.site(code));
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const s = page.data;
  return (
    <>
      <Head
        code={s.code}
        title={s.name}
        sub={
          <>
            <Link to={`/customers/${s.customer}`}>{s.customerName}</Link> · {s.timeZone}
            {s.retired && ` · retired ${s.retired}`}
          </>
        }
      >
        {engineer && s.retired === null && (
          <Link className="btn first" to={`/new/gateways?site=${s.code}`}>
            Add a gateway
          </Link>
        )}
        <RecordActs plural="sites" code={s.code} retired={s.retired !== null} />
      </Head>
      <Verdict verdict={s.verdict} />
      {s.notes && <p>{s.notes}</p>}
      <h2>Networks</h2>
      {s.networks.length === 0 ? (
        <p className="soft">No network is recorded.</p>
      ) : (
        <Table>
          <thead>
            <tr>
              <th className="w150">Prefix</th>
              <th className="w150">In tunnels</th>
              <th>Name</th>
              <th>Tunnels</th>
              <th>Test points</th>
            </tr>
          </thead>
          <tbody>
            {s.networks.map((n) => (
              <tr key={n.prefix}>
                <td className="mono">{n.prefix}</td>
                <td className="mono">{n.presentedAs ?? <span className="src">unchanged</span>}</td>
                <td>
                  {n.name}
                  {n.purpose && <div className="src">{n.purpose}</div>}
                </td>
                <td>
                  {n.carried.length === 0 && <span className="src">no tunnel</span>}
                  {n.carried.map((c) => (
                    <div key={c.tunnel + c.end}>
                      <Link className="mono plain" to={`/tunnels/${c.tunnel}`}>
                        {c.tunnel}
                      </Link>{" "}
                      <span className="src">
                        as end <b className={c.end.toLowerCase()}>{c.end}</b>
                      </span>
                    </div>
                  ))}
                </td>
                <td>
                  {n.testPoints.map((t) => (
                    <div key={t.address}>
                      <code>{t.address}</code>{" "}
                      <span className="src">
                        {[t.service, t.confirmedBy && `ask ${t.confirmedBy}`].filter(Boolean).join(", ")}
                      </span>
                    </div>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <h2>Gateways</h2>
      {s.gateways.length === 0 && <p className="soft">No gateways.</p>}
      {s.gateways.map((g) => (
        <p key={g.code} className="then">
          <Link className="mono" to={`/gateways/${g.code}`}>
            {g.code}
          </Link>{" "}
          {g.platform} <span className="src">at</span> <code>{g.outer}</code>
        </p>
      ))}
      <h2>Tunnels that end here</h2>
      {s.tunnels.length === 0 ? (
        <p className="soft">No tunnels.</p>
      ) : (
        <TunnelRows items={s.tunnels} inAll={s.tunnelsInAll} />
      )}
      <h2>History</h2>
      <RecordHistory plural="sites" code={s.code} />
    </>
  );
}

/** Standing offers: what another party asks of everybody who connects. */
export function OffersRoute() {
  const list = usePages(queryKeyOf("offers"), (cursor) =>
    unwrap(api.GET("/api/v1/offers", { params: { query: { cursor } } })),
  );
  const engineer = useEngineer();
  if (list.isPending) return <Waiting what="standing offers" />;
  if (list.error) return <Problem error={list.error} again={() => list.refetch()} />;
  return (
    <>
      <Head title="Standing offers" sub="What other parties ask of everyone who connects to them, not negotiable.">
        {engineer && (
          <Link className="btn" to="/new/offers">
            Add an offer
          </Link>
        )}
      </Head>
      {list.items.length === 0 && <p className="empty">No standing offer is recorded.</p>}
      <Table>
        <tbody>
          {list.items.map((o) => (
            <tr key={o.code}>
              <td className="mono w190">
                <Link className="plain" to={`/offers/${o.code}`}>
                  {o.code}
                </Link>
              </td>
              <td>{o.name}</td>
              <td className="soft">{o.state}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <More list={list} />
    </>
  );
}

export function OfferRoute() {
  const code = useParams().code!;
  const form = useQuery(ask.offer(code));
  if (form.isPending) return <Waiting what={code} />;
  if (form.error) return <Problem error={form.error} again={() => form.refetch()} />;
  const o = form.data.form as {
    code: string;
    name: string;
    party: string;
    identity?: string;
    subnets?: string[];
    asks?: Record<string, unknown>;
    notes?: string;
    retired?: string;
  };
  const asked = form.data.fields.find((f) => f.key === "asks")?.inside ?? [];
  return (
    <>
      <Head
        code={o.code}
        title={o.name}
        sub={
          <>
            of <Link to={`/customers/${o.party}`}>{o.party}</Link>
            {o.retired && ` · retired ${o.retired}`}
          </>
        }
      >
        <RecordActs plural="offers" code={o.code} retired={o.retired !== undefined} />
      </Head>
      <div className="facts">
        {o.identity && (
          <p>
            Sends <code>{o.identity}</code>
          </p>
        )}
        {o.subnets && (
          <p>
            Allows others to reach <code className="wraps">{o.subnets.join(", ")}</code>
          </p>
        )}
        {o.notes && <p>{o.notes}</p>}
      </div>
      <h2>What it asks of the other end</h2>
      <Table>
        <tbody>
          {Object.entries(o.asks ?? {}).map(([k, v]) => (
            <tr key={k}>
              <td className="w170">{asked.find((f) => f.key === k)?.label ?? k}</td>
              <td>
                <code className="wraps">
                  {Array.isArray(v) ? v.map((x) => inline(x as Value)).join(" · ") : inline(v as Value)}
                </code>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <h2>History</h2>
      <RecordHistory plural="offers" code={o.code} />
    </>
  );
}
