import { useEffect, useState } from "react";
import { Link } from "react-router";
import { type ChangePage, type Contract } from "../api";
import { moment } from "../parts/Page";
import { Sentence } from "../parts/Sentence";
import { AttemptForm } from "./AttemptForm";

type Step = Contract["StepPage"];

/** The steps in two columns by end, numbered in the order in which they are worked across both. Under way, the step at hand is open for its outcome. */
export function RunSheet({ c }: { c: ChangePage }) {
  const [chosen, setChosen] = useState<number | null>(null);
  const working = c.acts.find((a) => a.act === "step")?.allowed;
  const now = working ? (chosen ?? c.steps.find((s) => !s.outcome || s.outcome === "failed")?.number) : null;
  const segments: { part: string; where: "us" | "ends"; steps: Step[] }[] = [];
  for (const s of c.steps) {
    const where = s.where === "us" ? "us" : "ends";
    const last = segments.at(-1);
    if (last && last.part === s.part && last.where === where) last.steps.push(s);
    else segments.push({ part: s.part, where, steps: [s] });
  }
  const show = (s: Step) => (
    <OneStep
      key={s.key}
      code={c.code}
      s={s}
      many={c.tunnels.length > 1}
      open={now === s.number}
      onChoose={working ? () => setChosen(s.number) : undefined}
    />
  );
  const atHand = c.steps.find((s) => s.number === now);
  const many = c.tunnels.length > 1;
  return (
    <>
      {atHand && (
        <section className="athand" aria-label={`Step ${atHand.number}, at hand`}>
          <span className="src">
            step {atHand.number} of {c.steps.length} · {atHand.part} ·{" "}
            {atHand.where === "us" ? (
              "us"
            ) : (
              <b className={atHand.where.toLowerCase()}>
                {many
                  ? `${atHand.where} ${atHand.gateway ?? ""}`
                  : atHand.where === "A"
                    ? `A ${c.a.site}`
                    : `B ${c.b.site}`}
              </b>
            )}
            {many && atHand.tunnel && ` of ${atHand.tunnel}`}
          </span>
          <Stopwatch c={c} />
          <p className="do">
            {atHand.asked && <b>Ask {atHand.asked}: </b>}
            <Sentence says={atHand.do} />{" "}
            {atHand.stops && <span className="weak">{<Sentence says={atHand.stops} />}</span>}
          </p>
          <CopyValues key={`values ${atHand.key}`} s={atHand} />
          {atHand.outcome === "failed" && (
            <p>
              <Link to={`/tunnels/${atHand.tunnel ?? c.tunnel}?tab=rehearsal`}>Find the cause</Link>{" "}
              <span className="src">
                what the two ends would do with what is recorded; then try again, one alteration at a time, or back out
                from here.
              </span>
            </p>
          )}
          {atHand.proof && (
            <div className="src">
              Proof: <Sentence says={atHand.proof} />
            </div>
          )}
          <AttemptForm key={`attempt ${atHand.key}`} c={c} s={atHand} onDone={() => setChosen(null)} />
        </section>
      )}
      <div className="steps">
        <h2 className="a inA edge-a">
          A {many ? <span className="src">of each tunnel, on the gateway that is named</span> : c.a.site}{" "}
          {!many && (
            <span className="src">
              {c.a.gateway} · {c.a.platform}, {c.a.takesEffect}
            </span>
          )}
        </h2>
        <h2 className="b inB edge-b">
          B {!many && c.b.site}{" "}
          {!many && (
            <span className="src">
              {c.b.gateway} · {c.b.platform}, {c.b.takesEffect}
            </span>
          )}
        </h2>
        {segments.map((g, i) => [
          (i === 0 || segments[i - 1].part !== g.part) && (
            <div className="part" key={`p${i}`}>
              {g.part}
            </div>
          ),
          g.where === "us" ? (
            <div className="both" key={i}>
              {g.steps.map(show)}
            </div>
          ) : (
            [
              <div className="inA" key={`${i}a`}>
                {g.steps.filter((s) => s.where === "A").map(show)}
              </div>,
              <div className="inB" key={`${i}b`}>
                {g.steps.filter((s) => s.where === "B").map(show)}
              </div>,
            ]
          ),
        ])}
      </div>
    </>
  );
}

function OneStep({
  code,
  s,
  many,
  open,
  onChoose,
}: {
  code: string;
  s: Step;
  many: boolean;
  open: boolean;
  onChoose?: () => void;
}) {
  return (
    <div className={`step ${s.outcome ?? ""} ${open ? "now" : ""}`} id={`step-${s.number}`}>
      {onChoose ? (
        <button className="link n" onClick={onChoose} aria-label={`Work on step ${s.number}`}>
          {s.number}
        </button>
      ) : (
        <span className="n">{s.number}</span>
      )}
      <div>
        <span className="do">
          {s.outcome && <span className={`sev ${s.outcome}`}>{s.outcome} </span>}
          {s.asked && <b>Ask {s.asked}: </b>}
          <Sentence says={s.do} /> {s.stops && <span className="stopping">{<Sentence says={s.stops} />}</span>}
        </span>
        {many && s.gateway && !s.do.text.includes(s.gateway) && (
          <span className="src">
            {" "}
            on <code>{s.gateway}</code>
            {s.tunnel && !s.do.text.includes(s.tunnel) && `, for ${s.tunnel}`}
          </span>
        )}
        <Values s={s} />
        {!s.outcome && s.proof && (
          <div className="more">
            proof: <Sentence says={s.proof} />
          </div>
        )}
        {s.attempts
          .filter((a) => a.remark || a.set || a.proof || a.file || a.withoutProof)
          .map((a, i) => (
            <div className="more" key={i}>
              <span className={`sev ${a.outcome}`}>{a.outcome}</span> by {a.by}, {moment(a.at)}
              {a.set && (
                <>
                  : set <code>{a.set}</code> instead of <code>{a.planned}</code>, {a.reason}
                </>
              )}
              {a.remark && `: ${a.remark}`}
              {a.withoutProof && `, without proof: ${a.withoutProof}`}
              {a.proof && <pre className="proof">{a.proof}</pre>}
              {a.file && (
                <div>
                  proof:{" "}
                  <a className="mono" href={`/api/v1/changes/${code}/proof/${a.file.digest}`} download={a.file.name}>
                    {a.file.name}
                  </a>{" "}
                  <span title={`SHA-256 ${a.file.digest}`}>{a.file.size.toLocaleString("en")} octets</span>
                </div>
              )}
            </div>
          ))}
      </div>
      <span className="t src">{s.minutes} min</span>
    </div>
  );
}

/** The exact values to enter that the sentence does not name already, and what the device holds afterwards. */
function Values({ s }: { s: Step }) {
  return (
    <>
      {[...s.enter.filter((v) => !s.do.text.includes(v.text)), ...s.expect].map((v) => (
        <div className="more" key={v.label + v.text}>
          {v.label} {v.waits ? <span className="weak">pending</span> : <code className="wraps">{v.text}</code>}
          {v.before && v.before !== v.text && <span className="was"> was {v.before}</span>}
          {v.onlyUntil && <span className="weak"> {v.onlyUntil}</span>}
        </div>
      ))}
      {s.remove.map((v) => (
        <div className="more" key={`out ${v.label}${v.text}`}>
          remove {v.label} <code className="wraps">{v.text}</code>
        </div>
      ))}
    </>
  );
}

/** The values of the step at hand, numbered: the key with its number copies one. */
function CopyValues({ s }: { s: Step }) {
  const [copied, setCopied] = useState<number | null>(null);
  const values = s.enter.filter((v) => !v.waits);
  useEffect(() => {
    function copy(e: KeyboardEvent) {
      const typing =
        e.target instanceof HTMLInputElement ||
        e.target instanceof HTMLTextAreaElement ||
        e.target instanceof HTMLSelectElement;
      const n = Number(e.key);
      if (typing || e.ctrlKey || e.metaKey || e.altKey || !(n >= 1 && n <= values.length)) return;
      void navigator.clipboard.writeText(values[n - 1].text);
      setCopied(n);
    }
    window.addEventListener("keydown", copy);
    return () => window.removeEventListener("keydown", copy);
  });
  return (
    <>
      {s.enter.map((v) => {
        const n = values.indexOf(v) + 1;
        return (
          <div className="value" key={v.label + v.text}>
            {n > 0 && n < 10 && <kbd>{n}</kbd>} <span className="src">{v.label}</span>{" "}
            {v.waits ? <span className="weak">pending: fill it in above first</span> : <code>{v.text}</code>}
            {v.before && v.before !== v.text && <span className="was"> was {v.before}</span>}
            {copied === n && n > 0 && <span className="src"> copied</span>}
          </div>
        );
      })}
      {s.remove.map((v) => (
        <div className="value" key={`out ${v.label}${v.text}`}>
          <span className="src">remove {v.label}</span> <code>{v.text}</code>
        </div>
      ))}
      {s.expect.map((v) => (
        <div className="value" key={`then ${v.label}${v.text}`}>
          <span className="src">{v.label}</span> <code>{v.text}</code>
        </div>
      ))}
      {values.length > 0 && <div className="src">Click a number to copy its value.</div>}
    </>
  );
}

/** Minutes as a person says them. */
const span = (min: number) =>
  min < 120 ? `${min} min` : min < 2880 ? `${Math.round(min / 60)} h` : `${Math.round(min / 1440)} days`;

/** How much of the window is gone, and how much the open steps still take. */
function Stopwatch({ c }: { c: ChangePage }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 15000);
    return () => clearInterval(timer);
  }, []);
  const began = c.statusHistory.findLast((p) => p.to === "under way")?.at;
  const left = c.steps.filter((s) => !s.outcome || s.outcome === "failed").reduce((total, s) => total + s.minutes, 0);
  if (!began) return null;
  const gone = Math.max(0, Math.round((now - Date.parse(began)) / 60000));
  const opens = c.windowStart ? Math.round((Date.parse(c.windowStart) - now) / 60000) : 0;
  const end = c.windowStart
    ? Math.round((Date.parse(c.windowStart) + (c.windowMinutes ?? 0) * 60000 - now) / 60000)
    : null;
  return (
    <p className={opens > 0 || (end !== null && end < left) ? "stopping" : "src"}>
      {gone} min since it began; the open steps take {left} min
      {opens > 0
        ? `; the window begins only in ${span(opens)}`
        : end !== null && (end > 0 ? `, the window has ${span(end)} left` : `, the window ended ${span(-end)} ago`)}
      .
    </p>
  );
}
