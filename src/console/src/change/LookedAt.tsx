import type { ChangePage } from "../service/api";
import { Sentence, Verdict } from "../parts/Sentence";
import { BeforeAfter } from "./BeforeAfter";
import { BeforeAndAfter, PlanFindings } from "./PlanParts";
import { Play } from "./Play";
import { RunSheet } from "./RunSheet";

/** What a plan would do, before anything of it is kept. */
export function LookedAt({ c, stale }: { c: ChangePage; stale: boolean }) {
  const lists = [
    ["adds", c.findingsAdded],
    ["removes", c.findingsRemoved],
  ] as const;
  return (
    <div className={stale ? "stale" : undefined}>
      <p className="src" role="status">
        Nothing is kept yet. {c.steps.length} steps, {c.plannedMinutes} min
        {c.batches.length > 1 && `, in ${c.batches.length} changes`}.
      </p>
      <Verdict verdict={c.verdict} />
      <Play c={c} />
      <PlanFindings c={c} />
      <BeforeAndAfter c={c} />
      {lists.map(([word, findings]) =>
        findings.map((f) => (
          <p className="planfinding" key={word + f.tunnel + f.code + f.subject}>
            {word} <span className={`sev ${f.severity}`}>{f.severity}</span> <code>{f.code}</code>{" "}
            <Sentence says={f.what} />
          </p>
        )),
      )}
      <BeforeAfter c={c} />
      <details>
        <summary>The {c.steps.length} steps</summary>
        <RunSheet c={c} />
      </details>
    </div>
  );
}
