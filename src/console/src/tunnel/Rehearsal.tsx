import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { type Contract } from "../service/api";
import { ask } from "../service/queries";
import { Problem, Waiting } from "../parts/Page";
import { Sentence } from "../parts/Sentence";
import { Ladder } from "./Ladder";
import { Timeline } from "./Timeline";
import { Table } from "../parts/Table";

type Page = Contract["RehearsalPage"];
type Side = Contract["RehearsedSide"];

export const useRehearsal = (code: string, version: number) => useQuery(ask.rehearsal(code, version));

/** The side that is worth a look first: the one that begins, and of two that begin the one that fails. */
const first = (r: Page) => {
  const begin = [r.fromA, r.fromB].filter((s) => s.outcome !== "does not initiate");
  return (begin.find((s) => s.stops.length > 0) ?? begin[0] ?? r.fromA).initiator;
};

export function Rehearsal({ code, version }: { code: string; version: number }) {
  const page = useRehearsal(code, version);
  const [params] = useSearchParams();
  if (page.isPending) return <Waiting what={`the rehearsal of ${code}`} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const r = page.data;
  const from = params.get("from") ?? first(r);
  const side = from === "B" ? r.fromB : r.fromA;
  const other = from === "B" ? r.fromA : r.fromB;
  return (
    <div className="rehearsal">
      <section>
        <div className="spread">
          <h2>
            <Sentence says={side.title} /> <span className="src">· {side.outcome}</span>
          </h2>
          <span className="src">
            {other.outcome === "does not initiate" ? (
              <Sentence says={other.stops[0].why} />
            ) : (
              <>
                <b className={other.initiator.toLowerCase()}>{other.initiator}</b>: {other.outcome}
              </>
            )}{" "}
            <Link to={`?tab=rehearsal&from=${other.initiator}`} replace>
              {other.initiator} initiates
            </Link>
          </span>
        </div>
        <Ladder side={side} a={r.a} b={r.b} />
        {r.pairings.length > 1 && <Pairings r={r} />}
      </section>
      <aside>
        <Beyond side={side} />
        <h2>The hours after</h2>
        <Timeline t={r.timeline} small />
      </aside>
    </div>
  );
}

function Beyond({ side }: { side: Side }) {
  const [stop, ...then] = side.stops;
  return (
    <>
      {stop && (
        <>
          <h2>
            {stop.exchange === 0
              ? "Fixes that make it initiate"
              : stop.kind === "narrowed"
                ? "Fixes that make all of it pass"
                : "Fixes for this stop"}
          </h2>
          {side.fixes.length === 0 && <p className="soft">No tried fix at one or both ends makes it pass.</p>}
          {side.fixes.map((m, i) => (
            <Fix key={i} m={m} first={i === 0} />
          ))}
        </>
      )}
      {then.length > 0 && <h2>Then</h2>}
      {then.map((o, i) => (
        <p key={i} className="then">
          {o.exchangeName}, <code>{o.notify}</code>: <Sentence says={o.why} /> <span className="code">{o.code}</span>
        </p>
      ))}
      {side.lost.length > 0 && (
        <>
          <h2>What passes, and what is lost</h2>
          <PairList title="Passes" pairs={side.passing} />
          <PairList title="Lost" pairs={side.lost} />
        </>
      )}
      {side.findOut.length > 0 && <h2>Unknown</h2>}
      {side.findOut.map((q, i) => (
        <p key={i} className="then">
          <Sentence says={q} />
        </p>
      ))}
      {side.later && (
        <>
          <h2>Later</h2>
          <p className="then stops">
            <Sentence says={side.later} />
          </p>
          {side.laterFixes.map((m, i) => (
            <Fix key={i} m={m} first={i === 0} />
          ))}
        </>
      )}
      {!stop && !side.later && side.findOut.length === 0 && (
        <>
          <h2>No stop</h2>
          <p className="then">
            {side.ikeProposal && <code>{side.ikeProposal}</code>}, then{" "}
            {side.espProposal && <code>{side.espProposal}</code>}
            {side.pfs && (
              <>
                , PFS <code>{side.pfs}</code>
              </>
            )}
          </p>
        </>
      )}
      {side.assumed.length > 0 && (
        <details className="then">
          <summary className="src">
            {side.assumed.length} {side.assumed.length === 1 ? "assumption" : "assumptions"}
          </summary>
          {side.assumed.map((a, i) => (
            <p key={i} className="src">
              <Sentence says={a} />
            </p>
          ))}
        </details>
      )}
    </>
  );
}

function Fix({ m, first }: { m: Contract["FixLine"]; first: boolean }) {
  return (
    <div className={`fix${first ? " best" : ""}`}>
      <Sentence says={m.says} />
      <div className="src">
        {m.passes ? (
          m.risks.length > 0 ? (
            "Passes."
          ) : (
            "Passes; not weaker than before."
          )
        ) : (
          <>
            Then {m.outcome}
            {m.next && (
              <>
                : <Sentence says={m.next} />
              </>
            )}
          </>
        )}{" "}
        {m.risks.length > 0 && `Adds ${m.risks.join(", ")}.`} {m.interrupts}
      </div>
    </div>
  );
}

function Pairings({ r }: { r: Page }) {
  return (
    <>
      <h2>Pairs of uplinks</h2>
      <Table>
        <thead>
          <tr>
            <th className="a">A over</th>
            <th className="b">B over</th>
            <th>A initiates</th>
            <th>B initiates</th>
            <th>Dead peer detected</th>
          </tr>
        </thead>
        <tbody>
          {r.pairings.map((p) => {
            const detected = r.detection.filter((d) => d.uplinkA === p.uplinkA && d.uplinkB === p.uplinkB);
            return (
              <tr key={p.uplinkA + p.uplinkB}>
                <td>{p.uplinkA}</td>
                <td>{p.uplinkB}</td>
                <td>{p.whenAInitiates}</td>
                <td>{p.whenBInitiates}</td>
                <td title={detected.map((d) => `${d.end}: ${d.working}`).join("\n")}>
                  {detected.map((d) => (
                    <span key={d.end}>
                      <b className={d.end.toLowerCase()}>{d.end}</b>{" "}
                      <code>{d.seconds === null ? "unknown" : `${d.seconds} s`}</code>{" "}
                    </span>
                  ))}
                </td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      {r.pairings
        .filter((p) => p.stop)
        .map((p) => (
          <p key={p.uplinkA + p.uplinkB} className="src">
            {p.uplinkA} with {p.uplinkB}: <Sentence says={p.stop!} />
          </p>
        ))}
    </>
  );
}

export function TimelineTab({ code, version }: { code: string; version: number }) {
  const page = useRehearsal(code, version);
  if (page.isPending) return <Waiting what={`the hours after ${code} is up`} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const later =
    [page.data.fromA, page.data.fromB].find((s) => s.later && s.outcome !== "does not initiate") ??
    [page.data.fromA, page.data.fromB].find((s) => s.later);
  return (
    <>
      <Timeline t={page.data.timeline} />
      {later?.later && (
        <p className="stops">
          <Sentence says={later.later} />
        </p>
      )}
      {page.data.timeline.notes.map((n) => (
        <p key={n} className="src">
          {n}
        </p>
      ))}
      <h2>How long a dead peer stays undetected</h2>
      {page.data.fallback && (
        <p className="tight">
          <Sentence says={page.data.fallback} />
        </p>
      )}
      {page.data.detection.map((d) => (
        <p key={d.end + d.uplinkA + d.uplinkB} className="tight">
          <b className={d.end.toLowerCase()}>{d.end}</b>{" "}
          <code>{d.seconds === null ? "unknown" : `${d.seconds} s`}</code> <span className="src">{d.working}</span>
          {page.data.pairings.length > 1 && (
            <span className="src">
              {" "}
              · {d.uplinkA} with {d.uplinkB}
            </span>
          )}
        </p>
      ))}
    </>
  );
}

/** Pairs, also parts of one, as they are presented in the tunnel. */
function PairList({ title, pairs }: { title: string; pairs: readonly string[] }) {
  return (
    <p className={title === "Lost" ? "stops" : undefined}>
      {title}: {pairs.length === 0 && "nothing"}
      {pairs.map((pair) => (
        <span key={pair}>
          <br />
          <code>{pair}</code>
        </span>
      ))}
    </p>
  );
}
