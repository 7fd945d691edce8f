import type { Contract } from "../service/api";
import { Sentence } from "../parts/Sentence";

type Side = Contract["RehearsedSide"];
type End = Contract["EndPage"];

const WIDTH = 740;
const LEFT = 46;
const RIGHT = 694;
const ROW = 33;
const CHARS = 104;

/** Messages as rungs between the two ends, the initiator on the left; the stop is a gap with caps at the end that refuses, what lies beyond is dotted. */
export function Ladder({ side, a, b }: { side: Side; a: End; b: End }) {
  const [start, answer] = side.initiator === "A" ? [a, b] : [b, a];
  const hue = (end: string) => `var(--end-${end.toLowerCase()})`;
  const shows = side.stops.filter((o) => o.exchange > 0);
  let y = 34;
  const rungs = side.exchanges.map((x) => {
    const stop = x.ifFixed ? undefined : shows.find((o) => o.exchange === x.number);
    const at = (y += ROW);
    const lines = stop ? Math.ceil((stop.why.text.length + 60) / 92) : 0;
    const box = stop && { top: at + 8, height: 22 + lines * 17 };
    if (box) y += box.height;
    return { x, at, stop, box };
  });
  const reached = rungs.find((r) => r.stop && r.stop.pairs.length === 0)?.at ?? y;
  const height = y + 20;
  return (
    <svg
      className="crossing ladder"
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="group"
      aria-label={`${side.title.text}: ${side.outcome}. ${side.stops.map((o) => o.why.text).join(" ")}`}
    >
      <text className={`site t${start.end.toLowerCase()}`} x="0" y="16">
        {start.end} {start.site}
      </text>
      <text className={`site t${answer.end.toLowerCase()}`} x={WIDTH} y="16" textAnchor="end">
        {answer.end} {answer.site}
      </text>
      <path d={`M${LEFT} 28V${height - 4}`} stroke={hue(start.end)} strokeWidth="3" />
      <path d={`M${RIGHT} 28V${Math.max(reached, 40) + 12}`} stroke={hue(answer.end)} strokeWidth="3" />
      {reached < y && (
        <path
          d={`M${RIGHT} ${reached + 12}V${height - 4}`}
          stroke={hue(answer.end)}
          strokeWidth="1.5"
          strokeDasharray="0.1 6"
          strokeLinecap="round"
        />
      )}
      {rungs.map(({ x, at, stop, box }) => {
        const right = x.from === side.initiator;
        // Messages of IKEv2 bear the name of their exchange; those of IKEv1 are named by the mode that the heading names.
        const named = x.name.startsWith("IKE_") || x.name.startsWith("CREATE_") ? `${x.name.split(" ")[0]}: ` : "";
        const text = `${x.number} · ${x.ifFixed ? "if fixed: " : ""}${named}${x.carries.text}`;
        // The gap stands at the end that refuses; a refusal of what was not even sent stands where it starts.
        const gap =
          stop && stop.refusedBy === x.from ? (right ? LEFT + 40 : RIGHT - 40) : right ? RIGHT - 40 : LEFT + 40;
        const broken = stop && stop.kind !== "narrowed";
        const tip = right ? RIGHT - 3 : LEFT + 3;
        const tail = right ? LEFT + 2 : RIGHT - 2;
        return (
          <g key={x.number}>
            <title>{`${x.name}: ${x.carries.text}${x.decides ? ` ${x.decides.text}` : ""}`}</title>
            {broken ? (
              <g stroke="var(--stops)" strokeWidth="2" fill="none">
                <path d={`M${tail} ${at}H${right ? gap - 10 : gap + 10}M${right ? gap + 10 : gap - 10} ${at}H${tip}`} />
                <path d={`M${gap - 10} ${at - 7}v14M${gap + 10} ${at - 7}v14`} />
              </g>
            ) : (
              <path
                d={`M${tail} ${at}H${tip}`}
                stroke={x.ifFixed ? "var(--ink-soft)" : "var(--ink)"}
                strokeWidth={x.ifFixed ? 1.6 : 1.8}
                strokeDasharray={x.ifFixed ? "0.1 6" : undefined}
                strokeLinecap={x.ifFixed ? "round" : undefined}
              />
            )}
            {!broken && !x.ifFixed && (
              <path d={right ? `M${tip} ${at}l-9 -4v8z` : `M${tip} ${at}l9 -4v8z`} fill="var(--ink)" />
            )}
            <text x={WIDTH / 2} y={at - 7} textAnchor="middle" className={x.ifFixed ? "s" : ""}>
              {text.length > CHARS ? text.slice(0, CHARS - 1) + "…" : text}
            </text>
            {stop && box && (
              <foreignObject x={LEFT + 12} y={box.top} width={RIGHT - LEFT - 24} height={box.height}>
                <div className="stopped">
                  <b className={stop.kind === "narrowed" ? "weak" : "stops"}>
                    {ways[stop.kind](stop.refusedBy ?? answer.end)}
                  </b>{" "}
                  {stop.kind === "refused" && <code>{stop.notify}</code>} <span className="code">{stop.code}</span>
                  <br />
                  <Sentence says={stop.why} />
                </div>
              </foreignObject>
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** In what way it stops, and at which end. Narrowing is no stop: a part passes. */
const ways: Record<Contract["StopLine"]["kind"], (end: string) => string> = {
  refused: (end) => `Stops here. ${end} refuses.`,
  "no response": (end) => `Stops here. ${end} does not respond.`,
  "not sent": (end) => `Stops here. ${end} does not send it.`,
  narrowed: (end) => `Narrowed here by ${end}.`,
  "no traffic": () => "Stops here. No traffic passes.",
};
