import { useState, type CSSProperties } from "react";
import type { ChangePage, Contract } from "../service/api";
import { Sentence } from "../parts/Sentence";
import { Table } from "../parts/Table";

type PlayPage = Contract["PlayPage"];
type Lane = Contract["PlayedTunnelLine"];
type Span = Contract["PlayedSpanLine"];

/** The plan as it was played: what is done on each device, and what each tunnel carries meanwhile. */
export function Play({ c }: { c: ChangePage }) {
  const [at, setAt] = useState<number | null>(null);
  const play = c.play;
  if (!play) return null;
  const scale = scaleOf(c, play);
  const shown = play.steps.filter((s) => s.to > play.workFrom);
  const devices = [...new Set(shown.map((s) => s.gateway ?? ""))].filter((g) => g !== "");
  const open = c.state === "under way" ? c.steps.find((s) => !s.outcome || s.outcome === "failed") : undefined;
  const here = open && play.steps.find((s) => s.number === open.number);
  // The steps with which some tunnel carries something else.
  const changing = play.tunnels.flatMap((t) => [...t.spans.map((x) => x.step), ...t.restarts.map((r) => r.step)]);
  const moments = [...new Set(changing.filter((n) => n !== null))].sort((x, y) => x - y);
  return (
    <section aria-label="The plan, played">
      <h2>What stops, and when</h2>
      <div className="play">
        <div className="lane axis">
          <span />
          <div className="track">
            {scale.ticks.map((t) => (
              <span key={t} className="tick" style={{ left: scale.at(play.workFrom + t * 60) }}>
                {scale.label(t)}
              </span>
            ))}
            {here && <span className="now" style={{ left: scale.at(here.from) }} title={`now: step ${here.number}`} />}
          </div>
        </div>
        {devices.map((g) => {
          const own = shown.filter((s) => s.gateway === g);
          const end = own[0].where;
          return (
            <div className="lane" key={g}>
              <span className={`end${end.toLowerCase()}`}>
                <b>{end}</b> {g}
              </span>
              <div className="track device">
                {runs(own, scale).map((r) => (
                  <span
                    key={r.first}
                    className={`played ${end.toLowerCase()} ${at !== null && r.first <= at && at <= r.last ? "chosen" : ""}`}
                    style={scale.box(r.from, r.to)}
                    title={r.first === r.last ? `step ${r.first}` : `steps ${r.first} to ${r.last}`}
                  >
                    {r.label}
                  </span>
                ))}
              </div>
            </div>
          );
        })}
        {play.tunnels.map((t) => (
          <TunnelLane key={t.code} t={t} play={play} scale={scale} />
        ))}
        <div className="lane">
          <span className="src">proof</span>
          <div className="track proofs">
            {shown
              .filter((s) => s.proves)
              .map((s) => (
                <span
                  key={s.number}
                  className="proof"
                  style={{ left: scale.at((s.from + s.to) / 2) }}
                  title={`step ${s.number}`}
                />
              ))}
          </div>
        </div>
      </div>
      <p className="src">
        Each lane is what the play measured. {moments.length > 0 && "What stands after step "}
        {moments.map((n) => (
          <button key={n} className="link moment" aria-pressed={at === n} onClick={() => setAt(n)}>
            {n}
          </button>
        ))}
      </p>
      {at !== null && <Moment c={c} play={play} number={at} />}
    </section>
  );
}

/** A tunnel: a line while it carries something, nothing while it does not, and a mark where it restarts. */
function TunnelLane(props: { t: Lane; play: PlayPage; scale: Scale }) {
  const { t, play, scale } = props;
  const told = written(t, scale);
  return (
    <div className="lane">
      <code>{t.code}</code>
      <div className="track tunnel">
        {t.spans
          .filter((s) => s.to > play.workFrom)
          .map((s) => (
            <span key={s.from} className={`carries ${s.state.replace(" ", "-")}`} style={scale.box(s.from, s.to)}>
              {told.includes(s) && (
                <span className="told" title={s.why?.text}>
                  {inWords(s)}
                </span>
              )}
            </span>
          ))}
        {t.restarts.map((r) => (
          <span key={r.at} className="restart" style={{ left: scale.at(r.at) }} title={`step ${r.step}: ${r.why.text}`}>
            {r.certain ? (r.seconds === null ? "restarts" : r.seconds === 0 ? "anew" : `${r.seconds} s`) : "perhaps"}
          </span>
        ))}
      </div>
    </div>
  );
}

/** Of what a tunnel carries, what is written beside its line: all but "up", where it does not stand on another. */
function written(t: Lane, scale: Scale) {
  let free = 0;
  return t.spans.filter((s) => {
    if (s.state === "up" || scale.share(s.from) < free) return false;
    free = scale.share(s.from) + inWords(s).length * letter;
    return true;
  });
}

/** The part of a lane, about 900 pixels wide, that a letter takes. */
const letter = 0.009;

/** Steps on one device that follow each other are one run; a number is written where it does not stand on another. */
function runs(steps: PlayPage["steps"], scale: Scale) {
  const made: { first: number; last: number; from: number; to: number; label: string }[] = [];
  for (const s of steps) {
    const before = made[made.length - 1];
    if (before && before.to === s.from) Object.assign(before, { last: s.number, to: s.to });
    else made.push({ first: s.number, last: s.number, from: s.from, to: s.to, label: "" });
  }
  let free = 0;
  for (const r of made) {
    const label = r.first === r.last ? `${r.first}` : `${r.first}–${r.last}`;
    const left = scale.share(r.from);
    if (left < free) continue;
    r.label = label;
    free = left + (label.length + 0.5) * letter;
  }
  return made;
}

const inWords = (s: Span) =>
  s.step === null ? s.state : `${s.state}, ${Math.max(1, Math.round((s.to - s.from) / 60))} min`;

/** What each tunnel carries once a step is done. */
function Moment({ c, play, number }: { c: ChangePage; play: PlayPage; number: number }) {
  const step = play.steps.find((s) => s.number === number)!;
  const does = c.steps.find((s) => s.number === number);
  return (
    <>
      <p>
        <b>
          After step {number}
          {step.gateway ? `, ${step.where} ${step.gateway}` : ""}:
        </b>{" "}
        {does && <Sentence says={does.do} />}
      </p>
      <Table>
        <thead>
          <tr>
            <th>tunnel</th>
            <th>carries</th>
            <th>why</th>
          </tr>
        </thead>
        <tbody>
          {play.tunnels.map((t) => {
            const span = t.spans.find((s) => s.to > step.to) ?? t.spans[t.spans.length - 1];
            const restart = t.restarts.find((r) => r.step === number);
            return (
              <tr key={t.code}>
                <td>
                  <code>{t.code}</code>
                </td>
                <td className={span.state === "down" || span.state === "no traffic" ? "stops" : undefined}>
                  {span.state}
                  {restart ? ", after a restart" : ""}
                </td>
                <td>{restart ? <Sentence says={restart.why} /> : span.why ? <Sentence says={span.why} /> : null}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </>
  );
}

interface Scale {
  /** From 0 to 1 along the lane. */
  share: (seconds: number) => number;
  at: (seconds: number) => string;
  box: (from: number, to: number) => CSSProperties;
  ticks: number[];
  label: (minutes: number) => string;
}

/** From the first step in the window to the last, or to the end of the window where that is later. */
function scaleOf(c: ChangePage, play: PlayPage): Scale {
  const work = play.seconds - play.workFrom;
  const length = Math.max(work, (c.windowMinutes ?? 0) * 60, 60);
  const percent = (seconds: number) => Math.min(100, Math.max(0, ((seconds - play.workFrom) / length) * 100));
  const minutes = length / 60;
  const every = [1, 2, 5, 10, 15, 30, 60, 120, 240].find((m) => minutes / m <= 6) ?? 480;
  const start = c.windowStart ? Date.parse(c.windowStart) : null;
  return {
    share: (s) => percent(s) / 100,
    at: (s) => `${percent(s)}%`,
    box: (from, to) => ({ left: `${percent(from)}%`, width: `${percent(to) - percent(from)}%` }),
    // What would be written over the edge is left out.
    ticks: Array.from({ length: Math.floor((minutes * 0.9) / every) + 1 }, (_, i) => i * every),
    label: (m) => (start === null ? `${m} min` : new Date(start + m * 60_000).toISOString().slice(11, 16)),
  };
}
