import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { ChangePage, Contract } from "../service/api";
import { useKept } from "../parts/browserStore";
import { moment } from "../parts/Page";
import { Sentence } from "../parts/Sentence";
import { isTyping } from "../parts/useKey";
import { PlaceOf } from "./PlaceOf";
import { FileProof } from "./FileProof";
import { SetOtherwise, type Otherwise } from "./SetOtherwise";
import { CopyValues } from "./StepValues";
import { Stopwatch } from "./Stopwatch";
import type { Tick } from "./ticks";
import { Input, TextArea } from "../parts/controls/Input";

type Step = Contract["StepPage"];

/** What is typed of a step before it is recorded. */
interface Typed {
  remark: string;
  proof: string;
  withoutProof: string;
  otherwise: Otherwise | null;
}

const nothing: Typed = { remark: "", proof: "", withoutProof: "", otherwise: null };

/** Milliseconds in which a second press is the same press. */
const samePress = 600;

/**
 * The step at hand, large: where, what, the values to copy, what proves it, and what came of it. It stays until the person
 * who works it goes on, whatever a colleague records meanwhile.
 */
export function CurrentStep(props: {
  c: ChangePage;
  s: Step;
  who: string;
  ticks: readonly Tick[];
  onTick: (ticks: Tick[]) => void;
  onNext: () => void;
}) {
  const { c, s, who, ticks, onTick, onNext } = props;
  const [typed, setTyped, forget] = useKept<Typed>(who, `step.${c.code}.${s.key}`, nothing);
  const [file, setFile] = useState<{ name: string; content: string } | null>(null);
  const [also, setAlso] = useState<string[]>([]);
  const [pressed, setPressed] = useState(true);
  const head = useRef<HTMLHeadingElement>(null);
  const put = (some: Partial<Typed>) => setTyped({ ...typed, ...some });

  // A press that is repeated is one press; the next step cannot be recorded by it.
  useEffect(() => {
    const timer = setTimeout(() => setPressed(false), samePress);
    return () => clearTimeout(timer);
  }, []);
  useEffect(() => {
    head.current?.focus({ preventScroll: true });
    head.current?.closest("section")?.scrollIntoView?.({ block: "nearest" });
  }, []);
  // What is pasted beside any field proves the step.
  useEffect(() => {
    const paste = (e: ClipboardEvent) => {
      if (isTyping(e.target)) return;
      const text = e.clipboardData?.getData("text");
      if (text) setTyped({ ...typed, proof: text });
    };
    window.addEventListener("paste", paste);
    return () => window.removeEventListener("paste", paste);
  });

  const mine = ticks.find((t) => t.key === s.key);
  const last = s.attempts.findLast((a) => !a.takenBack);
  const settled = last && last.outcome !== "failed";
  const alike = c.steps.filter((o) => s.alike && o.alike === s.alike && o.key !== s.key && canBeDone(o, ticks));
  const proven = !s.needsProof || typed.proof.trim() !== "" || file !== null || typed.withoutProof.trim() !== "";
  const record = (outcome: "done" | "skipped" | "failed") => {
    if (pressed) return;
    setPressed(true);
    const at = new Date().toISOString();
    const of = (step: Step): Tick => ({
      key: step.key,
      number: step.number,
      known: step.attempts.filter((a) => !a.takenBack).length,
      at,
      body: {
        outcome,
        remark: typed.remark.trim() || null,
        planned: step === s ? (typed.otherwise?.planned ?? null) : null,
        set: step === s ? (typed.otherwise?.set ?? null) : null,
        reason: step === s ? (typed.otherwise?.reason ?? null) : null,
        proof: typed.proof.trim() || null,
        withoutProof: typed.withoutProof.trim() || null,
        file,
      },
    });
    const steps = outcome === "done" ? [s, ...alike.filter((o) => also.includes(o.key))] : [s];
    onTick(steps.map(of));
    forget();
    setFile(null);
    if (outcome !== "failed") onNext();
    else setTimeout(() => setPressed(false), samePress);
  };

  return (
    <section className="athand" aria-label={`Step ${s.number}, at hand`}>
      <div className="where">
        <span className="src">
          step {s.number} of {c.steps.length} · {s.part} · <PlaceOf c={c} s={s} />
        </span>
        <Stopwatch c={c} />
      </div>
      <h2 className="do" ref={head} tabIndex={-1}>
        {s.asked && <b>Ask {s.asked}: </b>}
        <Sentence says={s.do} /> {s.stops && <span className="weak">{<Sentence says={s.stops} />}</span>}
      </h2>
      <CopyValues s={s} />
      {settled ? (
        <p role="status">
          {last.outcome === "done" ? "Done" : "Skipped"} by {last.by}, {moment(last.at)}.{" "}
          <button className="first" onClick={onNext}>
            Go on
          </button>
        </p>
      ) : mine ? (
        <p role="status" className="weak">
          Recorded here as {mine.body.outcome}, not sent yet.{" "}
          <button className="first" onClick={onNext}>
            Go on
          </button>
        </p>
      ) : (
        <>
          {s.outcome === "failed" && (
            <p>
              <Link to={`/tunnels/${s.tunnel ?? c.tunnel}?tab=rehearsal`}>Find the cause</Link>{" "}
              <span className="src">
                what the two ends would do with what is recorded; then try again, one alteration at a time, or back out
                from here.
              </span>
            </p>
          )}
          <div className="field">
            <label>
              Proof{" "}
              <span className="src">
                {s.proof && (
                  <>
                    <Sentence says={s.proof} />.{" "}
                  </>
                )}
                Paste what the device says anywhere on this page.
              </span>
              <TextArea
                className="mono"
                rows={typed.proof.includes("\n") ? 6 : 2}
                value={typed.proof}
                onChange={(e) => put({ proof: e.target.value })}
              />
            </label>
            <FileProof file={file} set={setFile} />
            {s.needsProof && typed.proof.trim() === "" && !file && (
              <label>
                or why there is no proof <span className="src">the record and the closing say it</span>
                <Input value={typed.withoutProof} onChange={(e) => put({ withoutProof: e.target.value })} />
              </label>
            )}
          </div>
          <label className="field">
            Remark, what happened, or the reason for skipping
            <Input value={typed.remark} onChange={(e) => put({ remark: e.target.value })} />
          </label>
          <SetOtherwise s={s} value={typed.otherwise} set={(otherwise) => put({ otherwise })} />
          {alike.length > 0 && s.waits === null && (
            <fieldset className="field bare alike">
              <legend>The same is done in</legend>
              {alike.map((o) => (
                <label key={o.key} className="plain">
                  <Input
                    type="checkbox"
                    className="inline"
                    checked={also.includes(o.key)}
                    onChange={(e) => setAlso(e.target.checked ? [...also, o.key] : also.filter((k) => k !== o.key))}
                  />{" "}
                  step {o.number}: <PlaceOf c={c} s={o} /> <Sentence says={o.do} />
                </label>
              ))}
            </fieldset>
          )}
          {s.waits && (
            <p className="weak">
              <Sentence says={s.waits} />
            </p>
          )}
          {!proven && <p className="src">Done needs proof, or the reason why there is none.</p>}
          <div className="choices">
            <button className="first" disabled={pressed || s.waits !== null || !proven} onClick={() => record("done")}>
              {also.length > 0 ? `Done, ${also.length + 1} steps` : "Done"}
            </button>
            <button disabled={pressed || typed.remark.trim() === ""} onClick={() => record("skipped")}>
              Skip
            </button>
            <button disabled={pressed || typed.remark.trim() === ""} onClick={() => record("failed")}>
              Failed
            </button>
          </div>
        </>
      )}
    </section>
  );
}

const canBeDone = (s: Step, ticks: readonly Tick[]) =>
  (!s.outcome || s.outcome === "failed") && s.waits === null && !ticks.some((t) => t.key === s.key);
