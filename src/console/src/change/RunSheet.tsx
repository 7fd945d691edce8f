import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, told, type ChangePage, type Contract } from "../api";
import { moment, Problem } from "../parts/Page";
import { Said } from "../parts/Said";

type Step = Contract["StepPage"];

/** The steps in two columns by end, numbered in the order in which they are worked across both. Under way, the step at hand is open for ticking. */
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
  const show = (s: Step) => <OneStep key={s.key} s={s} open={now === s.number} onChoose={working ? () => setChosen(s.number) : undefined} />;
  const atHand = c.steps.find((s) => s.number === now);
  return (
    <>
      {atHand && (
        <section className="athand" aria-label={`Step ${atHand.number}, at hand`}>
          <span className="src">
            step {atHand.number} of {c.steps.length} · {atHand.part} ·{" "}
            {atHand.where === "us" ? "us" : <b className={atHand.where.toLowerCase()}>{atHand.where === "A" ? `A ${c.a.site}` : `B ${c.b.site}`}</b>}
          </span>
          <p className="do">
            {atHand.asked && <b>Ask {atHand.asked}: </b>}
            <Said says={atHand.do} /> {atHand.stops && <span className="weak">{<Said says={atHand.stops} />}</span>}
          </p>
          <Values s={atHand} />
          {atHand.proof && (
            <div className="src">
              Proof: <Said says={atHand.proof} />
            </div>
          )}
          <TickForm key={atHand.key} c={c} s={atHand} onDone={() => setChosen(null)} />
        </section>
      )}
      <div className="steps">
        <h2 className="a inA" style={{ borderColor: "var(--end-a)" }}>
          A {c.a.site}{" "}
          <span className="src">
            {c.a.gateway} · {c.a.platform}, {c.a.takesEffect}
          </span>
        </h2>
        <h2 className="b inB" style={{ borderColor: "var(--end-b)" }}>
          B {c.b.site}{" "}
          <span className="src">
            {c.b.gateway} · {c.b.platform}, {c.b.takesEffect}
          </span>
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

function OneStep({ s, open, onChoose }: { s: Step; open: boolean; onChoose?: () => void }) {
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
          <Said says={s.do} /> {s.stops && <span className="stopping">{<Said says={s.stops} />}</span>}
        </span>
        <Values s={s} />
        {s.attempts
          .filter((a) => a.remark || a.set)
          .map((a, i) => (
            <div className="more" key={i}>
              <span className={`sev ${a.outcome}`}>{a.outcome}</span> by {a.by}, {moment(a.at)}
              {a.set && (
                <>
                  : set <code>{a.set}</code> instead of <code>{a.planned}</code>, {a.reason}
                </>
              )}
              {a.remark && `: ${a.remark}`}
            </div>
          ))}
      </div>
      <span className="t src">{s.minutes} min</span>
    </div>
  );
}

/** The exact values to enter that the sentence does not name already, and what the device holds afterwards. */
function Values({ s }: { s: Step }) {
  return [...s.enter.filter((v) => !s.do.text.includes(v.text)), ...s.expect].map((v) => (
    <div className="more" key={v.label + v.text}>
      {v.label} <code style={{ whiteSpace: "normal" }}>{v.text}</code>
    </div>
  ));
}

function TickForm({ c, s, onDone }: { c: ChangePage; s: Step; onDone: () => void }) {
  const queries = useQueryClient();
  const [remark, setRemark] = useState("");
  const [otherwise, setOtherwise] = useState(false);
  const planned = s.enter.map((v) => v.text).filter((v) => /\//.test(v));
  const [which, setWhich] = useState(planned[0] ?? "");
  const [set, setSet] = useState("");
  const [reason, setReason] = useState("");
  const send = useMutation({
    mutationFn: (outcome: string) =>
      told(
        api.POST("/api/v1/changes/{code}/steps/{step}", {
          params: { path: { code: c.code, step: s.number } },
          body: { outcome, remark: remark || null, planned: otherwise ? which : null, set: otherwise ? set : null, reason: otherwise ? reason : null },
        }),
      ),
    onSuccess: (page) => {
      queries.setQueryData(["change", c.code], page);
      void queries.invalidateQueries();
      onDone();
    },
  });
  return (
    <div>
      <label className="more">
        Remark, what was seen, or the reason for skipping
        <input value={remark} onChange={(e) => setRemark(e.target.value)} />
      </label>
      {planned.length > 0 && (
        <label className="more">
          <input type="checkbox" style={{ display: "inline", width: "auto" }} checked={otherwise} onChange={(e) => setOtherwise(e.target.checked)} /> it was set
          otherwise
        </label>
      )}
      {otherwise && (
        <div style={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 8 }}>
          <label>
            Planned
            <select className="mono" value={which} onChange={(e) => setWhich(e.target.value)}>
              {planned.map((p) => (
                <option key={p}>{p}</option>
              ))}
            </select>
          </label>
          <label>
            Set instead
            <input className="mono" value={set} onChange={(e) => setSet(e.target.value)} />
          </label>
          <label style={{ gridColumn: "1 / -1" }}>
            Because
            <input value={reason} onChange={(e) => setReason(e.target.value)} />
          </label>
        </div>
      )}
      {send.error && <Problem error={send.error} />}
      <div className="ticks">
        <button className="first" disabled={send.isPending} onClick={() => send.mutate("done")}>
          Done
        </button>
        <button disabled={send.isPending} onClick={() => send.mutate("skipped")}>
          Skip
        </button>
        <button disabled={send.isPending} onClick={() => send.mutate("failed")}>
          Failed
        </button>
      </div>
    </div>
  );
}
