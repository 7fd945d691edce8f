import { useState, type CSSProperties } from "react";
import type { ChangePage, Contract } from "../service/api";
import { useMe } from "../service/session";
import { CurrentStep } from "./CurrentStep";
import { NotSent } from "./NotSent";
import { StepRow } from "./StepRow";
import { nextStep, type Tick } from "./ticks";
import { useTicks } from "./useTicks";

type Step = Contract["StepPage"];

/** The run sheet: the steps of both ends, and under way the one at hand. */
export function RunSheet({ c }: { c: ChangePage }) {
  const me = useMe().data?.name ?? "";
  const working = c.acts.find((a) => a.act === "step")?.allowed ?? false;
  return working && me ? <Working c={c} who={me} /> : <Steps c={c} ticks={[]} />;
}

/** The work itself: one step at hand, which only the person who works it leaves. */
function Working({ c, who }: { c: ChangePage; who: string }) {
  const { ticks, queue } = useTicks(c.code, who);
  const [chosen, setChosen] = useState<string | undefined>(() => nextStep(c, queue.all));
  // A plan that was made again may no longer have it.
  const atHand = c.steps.find((s) => s.key === chosen) ?? c.steps.find((s) => s.key === nextStep(c, ticks));
  const [room, setRoom] = useState(true);
  const tick = (some: Tick[]) => setRoom(some.every((t) => queue.add(t)));
  return (
    <>
      <NotSent ticks={ticks} queue={queue} c={c} />
      {!room && (
        <p className="problem" role="alert">
          This browser has no room to keep what you ticked. Do not close the page before everything is sent.
        </p>
      )}
      {atHand && (
        <CurrentStep
          key={atHand.key}
          c={c}
          s={atHand}
          who={who}
          ticks={ticks}
          onTick={tick}
          onNext={() => setChosen(nextStep(c, queue.all, atHand.key))}
        />
      )}
      <Steps c={c} ticks={ticks} atHand={atHand?.key} onChoose={setChosen} />
    </>
  );
}

/** The steps in two columns by end, numbered in the order in which they are worked across both. */
function Steps(props: { c: ChangePage; ticks: readonly Tick[]; atHand?: string; onChoose?: (key: string) => void }) {
  const { c, ticks, atHand, onChoose } = props;
  const segments: { part: string; where: "us" | "ends"; steps: Step[] }[] = [];
  for (const s of c.steps) {
    const where = s.where === "us" ? "us" : "ends";
    const last = segments.at(-1);
    if (last && last.part === s.part && last.where === where) last.steps.push(s);
    else segments.push({ part: s.part, where, steps: [s] });
  }
  const many = c.tunnels.length > 1;
  const show = (s: Step) => (
    <StepRow
      key={s.key}
      code={c.code}
      s={s}
      many={many}
      open={atHand === s.key}
      kept={ticks.find((t) => t.key === s.key)}
      onChoose={onChoose && (() => onChoose(s.key))}
    />
  );
  return (
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
          <div
            className="part"
            key={`p${i}`}
            style={{ "--number": Math.min(...g.steps.map((s) => s.number)) } as CSSProperties}
          >
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
  );
}
