import type { ChangePage } from "../service/api";
import type { Tick, TickQueue } from "./ticks";

/** What was ticked here and is not in the record yet: it waits for the connection, or the service refused it. */
export function NotSent({ ticks, queue, c }: { ticks: readonly Tick[]; queue: TickQueue; c: ChangePage }) {
  // What is on its way for a moment is nothing to tell.
  const told = ticks.filter((t) => t.refused || Date.now() - Date.parse(t.at) > 2000 || !navigator.onLine);
  if (told.length === 0) return null;
  const refused = told.filter((t) => t.refused);
  const waiting = told.filter((t) => !t.refused);
  return (
    <section className="notsent" aria-label="Not sent yet">
      {waiting.length > 0 && (
        <p className="weak" role="status">
          Not sent: {waiting.map((t) => `step ${t.number} ${t.body.outcome}`).join(", ")}.{" "}
          {refused.length > 0
            ? "It is sent when what was refused before it is settled."
            : "It is kept in this browser and sent in this order when the service can be reached."}
        </p>
      )}
      {refused.map((t) => {
        const recorded = c.steps.find((s) => s.key === t.key)?.attempts.filter((a) => !a.takenBack) ?? [];
        return (
          <div className="problem" role="alert" key={t.key}>
            Step {t.number}, which you recorded as {t.body.outcome} at {t.at.slice(11, 16)} UTC, was refused.{" "}
            {t.refused}
            <div className="choices">
              <button onClick={() => queue.again(t.key, recorded.length)}>Record mine too</button>
              <button onClick={() => queue.drop(t.key)}>Throw mine away</button>
            </div>
          </div>
        );
      })}
    </section>
  );
}
