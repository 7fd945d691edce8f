import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { unwrap, version } from "../service/api";
import { ask, reread, writtenBy } from "../service/queries";
import { Finding } from "../parts/FindingList";
import { keepForOffline } from "../parts/offline";
import { Head, moment, Problem, Waiting } from "../parts/Page";
import { Sentence, Verdict } from "../parts/Sentence";
import { tell } from "../parts/notices";
import { ChangeKeys } from "./ChangeKeys";
import { BeforeAndAfter, PendingValues, PlanFindings, Translations } from "./PlanParts";
import { ActForm } from "./ActForm";
import { asks, words, type Act } from "./acts";
import { BeforeAfter } from "./BeforeAfter";
import { Remarks } from "./Remarks";
import { Play } from "./Play";
import { RunSheet } from "./RunSheet";
import { WindowForm } from "./WindowForm";
import { useWrite } from "../parts/useWrite";

export function ChangeRoute() {
  const code = useParams().code!;
  const queries = useQueryClient();
  const [asking, setAsking] = useState<Act | null>(null);
  const page = useQuery(ask.change(code));
  const atWork = page.data?.state === "under way";
  useEffect(() => {
    if (!atWork) return;
    return keepForOffline(["/api/v1/session", `/api/v1/changes/${code}`]);
  }, [atWork, code]);
  const act = useWrite({
    mutationFn: ({ which, remark = "", reviewer = "" }: { which: Act; remark?: string; reviewer?: string }, api) =>
      unwrap(
        api.POST(`/api/v1/changes/{code}/${which}` as "/api/v1/changes/{code}/submit", {
          params: { path: { code } },
          headers: version(page.data!.version),
          body: (which === "urgent" ? { reviewer, reason: remark } : { remark: remark || null, step: null }) as {
            remark: string | null;
            step: null;
          },
        }),
      ),
    onSuccess: (c) => {
      queries.setQueryData(ask.change(code).queryKey, c);
      void reread(queries, ...writtenBy(c));
      setAsking(null);
      tell({ text: `${c.code} is ${c.state}.` });
    },
    onError: () => void queries.invalidateQueries(ask.change(code)),
  });
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const c = page.data;
  const may = (a: string) => c.acts.find((x) => x.act === a);
  const shown = (Object.keys(words) as Act[]).filter((a) => may(a)?.allowed);
  const first = (
    ["confirm-urgent", "confirm-window", "approve", "submit", "recompute", "begin", "close"] as Act[]
  ).find((a) => may(a)?.allowed);
  const planned = ["draft", "in review", "approved"].includes(c.state);
  const stay = c.findingsStanding.filter((f) => f.severity !== "note");
  const next = (
    { draft: "submit", "in review": "approve", approved: "begin", "under way": "close" } as Record<string, Act>
  )[c.state];
  const why = next && !may(next)?.allowed ? may(next)?.whyNot : null;
  return (
    <>
      <Head
        code={c.code}
        title={c.title}
        sub={
          <>
            {c.kind} · {c.state} · written by {c.author}, {moment(c.writtenAt)} ·{" "}
            {c.tunnels.map((t) => (
              <span key={t.code}>
                <Link className="mono" to={`/tunnels/${t.code}`}>
                  {t.code}
                </Link>{" "}
              </span>
            ))}
            {c.approvedBy && ` · approved by ${c.approvedBy}`} ·{" "}
            <a href={`/api/v1/changes/${c.code}/record`} download={`${c.code}.md`}>
              record
            </a>{" "}
            <button className="link not-printed" onClick={() => window.print()}>
              print
            </button>
            {c.windowStart && (
              <>
                {" "}
                <a href={`/api/v1/changes/${c.code}/window.ics`} download={`${c.code}.ics`}>
                  calendar
                </a>
              </>
            )}
          </>
        }
      >
        {[...shown.filter((a) => a !== first), ...(first ? [first] : [])].map((a) => (
          <button
            key={a}
            className={a === first ? "first" : undefined}
            disabled={act.isPending}
            onClick={() => (asks(a, c) ? setAsking(a) : act.mutate({ which: a }))}
          >
            {words[a]}
          </button>
        ))}
      </Head>
      {c.batches.length > 0 && (
        <p className="src">
          {c.batches.indexOf(c.code) + 1} of {c.batches.length} changes that were drafted together:{" "}
          {c.batches.map((b) => (
            <span key={b}>{b === c.code ? <b>{b}</b> : <Link to={`/changes/${b}`}>{b}</Link>} </span>
          ))}
        </p>
      )}
      <Verdict verdict={c.verdict} />
      {why && (
        <p className="src">
          {
            {
              submit: "It cannot go to review yet",
              approve: "You cannot approve it",
              begin: "It cannot begin",
              close: "It cannot close yet",
            }[next as string]
          }
          : {why}.
        </p>
      )}
      {c.changed.length > 0 && (
        <div className="problem">
          {c.state === "under way"
            ? "Records that this change writes were corrected meanwhile. Take the corrections in; closing then writes what was built over them."
            : "Records behind this plan have changed. Recompute it; it then goes back to review."}
          {c.changed.map((m) => (
            <div key={m.record + m.path}>
              <code>{m.record}</code> <span className="src">{m.path}</span>{" "}
              <span className="was">{m.then ?? "nothing"}</span> → {m.now ?? "nothing"}
            </div>
          ))}
        </div>
      )}
      {c.urgent && (
        <p className={c.urgent.overdue ? "stops" : "weak"}>
          Urgent, confirmed by {c.urgent.reviewer}: {c.urgent.reason}.{" "}
          {c.urgent.reviewedBy
            ? `Reviewed afterwards by ${c.urgent.reviewedBy}.`
            : `Review it by ${moment(c.urgent.reviewBy)}${c.urgent.overdue ? " (overdue)" : ""}.`}
        </p>
      )}
      {asking && (
        <ActForm
          key={asking}
          act={asking}
          asked={asks(asking, c) ?? "Why"}
          code={c.code}
          error={act.error}
          tell={(said) => act.mutate({ which: asking, ...said })}
          leave={() => {
            act.reset();
            setAsking(null);
          }}
        />
      )}
      {act.error && !asking && <Problem error={act.error} />}
      {atWork && (
        <>
          {c.pending.length > 0 && <PendingValues c={c} may={may("fill")?.allowed ?? false} />}
          <ChangeKeys c={c} may={may("window")?.allowed ?? false} />
          <RunSheet c={c} />
        </>
      )}
      <Play c={c} />
      <PlanFindings c={c} />
      <div className="meta">
        <div>
          <b>Why</b>
          {c.reason}
        </div>
        <div>
          <b>Window</b>
          <WindowForm c={c} may={may("window")?.allowed ?? false} />
        </div>
        <div>
          <b>Planned work</b>
          {c.plannedMinutes} min
        </div>
        <div>
          <b>Findings after</b>
          {c.findingsAdded.length === 0 ? "none added" : `${c.findingsAdded.length} added`},{" "}
          {c.findingsRemoved.length === 0 ? "none removed" : `${c.findingsRemoved.length} removed`},{" "}
          {stay.length === 0 ? "none stay" : `${stay.length} stay`}
        </div>
        {c.otherOpenChanges.length > 0 && (
          <div>
            <b>Also open on this tunnel</b>
            {c.otherOpenChanges.map((o) => (
              <Link key={o} className="mono" to={`/changes/${o}`}>
                {o}{" "}
              </Link>
            ))}
          </div>
        )}
      </div>
      {!(atWork && c.pending.length > 0) && <PendingValues c={c} may={may("fill")?.allowed ?? false} />}
      {!atWork && (
        <>
          <BeforeAndAfter c={c} />
          <Translations c={c} />
          <BeforeAfter c={c} />
        </>
      )}
      {c.findingsAdded.length > 0 && (
        <section aria-label="Findings that it adds">
          <h2>{c.state === "done" ? "Findings added" : "Findings that it adds"}</h2>
          {c.findingsAdded.map((f) => (
            <Finding key={f.tunnel + f.code + f.subject} f={f} withTunnel />
          ))}
        </section>
      )}
      {c.findingsRemoved.length > 0 && (
        <section aria-label="Findings that it removes">
          <h2>{c.state === "done" ? "Findings removed" : "Findings that it removes"}</h2>
          {c.findingsRemoved.map((f) => (
            <p className="planfinding" key={f.tunnel + f.code + f.subject}>
              <span className={`sev ${f.severity}`}>{f.severity}</span> <code>{f.code}</code> <code>{f.tunnel}</code>{" "}
              <Sentence says={f.what} />
            </p>
          ))}
        </section>
      )}
      {planned && stay.length > 0 && (
        <section aria-label="Findings that stay">
          <h2>Findings that stay</h2>
          {stay.map((f) => (
            <p className="planfinding" key={f.tunnel + f.code + f.subject}>
              <span className={`sev ${f.severity}`}>{f.severity}</span> <code>{f.code}</code> <code>{f.tunnel}</code>{" "}
              <Sentence says={f.what} />
            </p>
          ))}
        </section>
      )}
      {!atWork && (
        <>
          <ChangeKeys c={c} may={may("window")?.allowed ?? false} />
          <RunSheet c={c} />
        </>
      )}
      {c.leftOver.length > 0 && (
        <>
          <h2>Skipped steps</h2>
          {c.leftOver.map((l) => (
            <p key={l}>{l}</p>
          ))}
          <Link
            className="btn"
            to={`/tunnels/${c.tunnel}/plan?kind=free&reason=${encodeURIComponent(`Skipped in ${c.code}: ${c.leftOver.join("; ")}`)}`}
            state={{ steps: c.leftSteps }}
          >
            Plan the skipped steps
          </Link>
        </>
      )}
      {atWork && (
        <>
          <h2>Before and after</h2>
          <BeforeAndAfter c={c} />
          <Translations c={c} />
          <BeforeAfter c={c} />
        </>
      )}
      <h2>Way back</h2>
      {c.wayBack.length === 0 ? (
        <p className="soft">Nothing was entered yet, so there is nothing to undo.</p>
      ) : (
        <ol>
          {c.wayBack.map((s) => (
            <li key={s.number}>
              <b className={s.where.toLowerCase()}>{s.where}</b> <Sentence says={s.do} />{" "}
              <span className="src">undoes step {s.number}</span>
            </li>
          ))}
        </ol>
      )}
      <Remarks c={c} />
    </>
  );
}
