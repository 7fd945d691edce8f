import { Link } from "react-router";
import type { TunnelPage } from "../service/api";
import { Banks, curve, Line, narrow, OnLine, TOP, wide } from "./Banks";
import { Bundled } from "./Bundled";

const ROW = 34;
/** More pairs than this are drawn together by their state. */
const MOST = 8;

/** The drawing between the banks: the IKE SA and one line for each subnet pair, each drawn by its state. */
export function Crossing({ t, beside }: { t: TunnelPage; beside?: boolean }) {
  const room = beside ? narrow : wide;
  const { a: A, b: B } = room;
  const wanted = t.pairs.map((p) => ({ ...p, planned: null as string | null, plannedIn: null as string | null }));
  const planned = t.planned.map((p) => ({
    ...p,
    form: { stroke: "planned", word: "planned" },
    says: null,
    after: null,
    code: null,
    planned: p.change,
    plannedIn: p.state,
  }));
  const all = [...wanted, ...planned];
  if (all.length > MOST) return <Bundled t={t} room={room} all={all} />;
  const lines = all;
  const bs = [...new Set(lines.map((p) => p.b))];
  const range = Math.max(0, lines.length - 1) * ROW;
  const yA = (i: number) => TOP + i * ROW;
  const yB = (b: string) => TOP + (bs.length === 1 ? range / 2 : (range * bs.indexOf(b)) / (bs.length - 1));
  const landing = (i: number) => {
    const mates = lines.map((l, k) => ({ l, k })).filter(({ l }) => l.b === lines[i].b);
    return yB(lines[i].b) + (mates.findIndex(({ k }) => k === i) - (mates.length - 1) / 2) * 9;
  };
  return (
    <Banks t={t} room={room} height={TOP + range + 26}>
      {lines.map((l, i) => (
        <g key={l.a + l.b + i}>
          {l.form.stroke === "planned" ? (
            <path
              d={curve(room, yA(i), landing(i)).path(0, 1)}
              stroke="var(--hair-strong)"
              strokeWidth="1"
              fill="none"
            />
          ) : (
            <Line
              room={room}
              stroke={l.form.stroke}
              y1={yA(i)}
              y2={landing(i)}
              after={l.after}
              gapAt={l.says && l.says.text.length > 34 ? 0.88 : 0.66}
            />
          )}
          {(i === 0 || lines[i - 1].a !== l.a) && (
            <>
              <text className="m" x={A - 12} y={yA(i) + 4} textAnchor="end">
                {l.a}
              </text>
              {room.words && (
                <text className="s" x={A - 20 - l.a.length * 7.6} y={yA(i) + 4} textAnchor="end">
                  {l.aName}
                </text>
              )}
            </>
          )}
          {l.planned ? (
            <OnLine room={room} y={yA(i)} hue="s" text={`planned in ${l.planned}, ${l.plannedIn}`}>
              <Link to={`/changes/${l.planned}`}>
                <text className="s" x={A + 31} y={yA(i) + 4} textDecoration="underline">
                  planned in {l.planned}, {l.plannedIn}
                </text>
              </Link>
            </OnLine>
          ) : l.says ? (
            <OnLine
              room={room}
              y={yA(i)}
              hue={l.form.stroke === "gap" && !l.after ? "tstops" : "tweak"}
              text={l.says.text.replace(/\.$/, "")}
            />
          ) : null}
        </g>
      ))}
      {bs.map((b) => (
        <g key={b}>
          <text className="m" x={B + 12} y={yB(b) + 4}>
            {b}
          </text>
          {room.words && (
            <text className="s" x={B + 20 + b.length * 7.6} y={yB(b) + 4}>
              {lines.find((l) => l.b === b)?.bName}
            </text>
          )}
        </g>
      ))}
    </Banks>
  );
}
