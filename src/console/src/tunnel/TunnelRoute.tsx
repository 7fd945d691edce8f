import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { ask } from "../service/queries";
import { useEngineer } from "../service/session";
import { Finding } from "../parts/FindingList";
import { day, Head, Problem, Waiting } from "../parts/Page";
import { AsOf, Past } from "../parts/AsOf";
import { Verdict } from "../parts/Sentence";
import { useKey } from "../parts/useKey";
import { CopyTunnel, RecordActs } from "../records/Acts";
import { RecordHistory } from "../records/RecordHistory";
import { CompareTable } from "./CompareTable";
import { Crossing } from "../drawn/Crossing";
import { PairGrid } from "./PairGrid";
import { Rehearsal, TimelineTab } from "./Rehearsal";
import { useSeen, type Place } from "./Seen";

export function TunnelRoute() {
  const code = useParams().code!;
  const [params, setParams] = useSearchParams();
  const engineer = useEngineer();
  const [correcting, correct] = useState<Place | null>(null);
  const seen = useSeen();
  const asOf = params.get("asOf") || undefined;
  const page = useQuery(ask.tunnel(code, asOf));
  const tab = params.get("tab") ?? "compare";
  const all = params.get("rows") === "all";
  const rows = () => {
    const next = new URLSearchParams(params);
    if (all) next.delete("rows");
    else next.set("rows", "all");
    setParams(next, { replace: true });
  };
  useKey("v", rows);
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const t = page.data;
  // The rehearsal and what was recorded since are of now.
  const tabs = (
    [
      ["compare", "Compare"],
      ["pairs", "Pair grid"],
      ["rehearsal", "Rehearsal"],
      ["timeline", "Timeline"],
      ["history", "History"],
    ] as const
  ).filter(([key]) => !asOf || key === "compare" || key === "pairs");
  const views = (
    <nav className="tabs" aria-label="Views of the tunnel">
      {tabs.map(([key, word]) => (
        <Link
          key={key}
          to={`?${new URLSearchParams({ ...(key === "compare" ? {} : { tab: key }), ...(asOf ? { asOf } : {}) })}`}
          replace
          aria-current={tab === key ? "page" : undefined}
        >
          {word}
        </Link>
      ))}
      {tab === "compare" && (
        <span className="right src">
          {t.rows.filter((r) => r.worthALook).length} of {t.rows.length} worth a look ·{" "}
          <button className="link src" onClick={rows}>
            {all ? "show those" : "show all"}
          </button>{" "}
          <span className="code">v</span>
        </span>
      )}
    </nav>
  );
  return (
    <>
      <Head
        code={t.code}
        title={t.name}
        sub={
          <>
            {t.customerName} · {t.state}
            {t.since && ` since ${day(t.since)}`} · {t.form}
            {t.lastChange && ` · last ${t.lastChange.what}, ${day(t.lastChange.at)}, ${t.lastChange.who}`}
          </>
        }
      >
        {!asOf && <RecordActs plural="tunnels" code={t.code} retired={t.state === "retired"} />}
        {engineer && !asOf && <CopyTunnel code={t.code} />}
        {engineer && !asOf && t.state !== "retired" && (
          <Link className="btn first" to={`/tunnels/${t.code}/plan`}>
            Plan a change
          </Link>
        )}
      </Head>
      {asOf && <Past asOf={asOf} />}
      <Verdict verdict={t.verdict} />
      {/* The ladder is the drawing of its own view, so that it stands above the fold. */}
      {tab !== "rehearsal" && <Crossing t={t} />}
      {tab === "rehearsal" && (
        <>
          {views}
          <Rehearsal code={t.code} version={t.version} />
        </>
      )}
      <div className="cols" hidden={tab === "rehearsal"}>
        <section>
          {views}
          {tab === "compare" && (
            <CompareTable t={t} all={all} hands={engineer && !asOf ? { seen, correcting, correct } : undefined} />
          )}
          {tab === "pairs" && <PairGrid t={t} />}
          {tab === "timeline" && <TimelineTab code={t.code} version={t.version} />}
          {tab === "history" && (
            <>
              <div className="filters">
                <AsOf />
              </div>
              <RecordHistory plural="tunnels" code={t.code} />
            </>
          )}
        </section>
        <aside>
          {t.openChanges.length > 0 && (
            <>
              <h2>Open changes</h2>
              {t.openChanges.map((c) => (
                <p key={c.code} className="tight">
                  <Link className="mono" to={`/changes/${c.code}`}>
                    {c.code}
                  </Link>{" "}
                  {c.title}
                  <span className="src">
                    {" "}
                    · {c.state}
                    {c.state === "under way" && `, ${c.settled} of ${c.steps} steps`}
                  </span>
                </p>
              ))}
            </>
          )}
          <h2>Findings</h2>
          {t.findings.length === 0 && <p className="soft">No findings.</p>}
          {t.findings.map((f) => (
            <Finding key={f.code + f.subject} f={f} />
          ))}
        </aside>
      </div>
    </>
  );
}
