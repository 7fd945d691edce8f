import type { TunnelPage } from "../service/api";
import { Banks, curve, Line, OnLine, TOP, type Room } from "./Banks";

/** More subnets than this at an end are counted, and stand in the pair grid. */
const MOST_SUBNETS = 14;

const order = ["gap", "thin", "flag", "twoHairlines", "dotted", "whole", "planned"];

type Drawn = {
  a: string;
  b: string;
  aName: string | null;
  bName: string | null;
  form: { stroke: string; word: string };
};

/** Many pairs: every subnet of both ends stands at its bank, and the pairs between them are drawn by their state. */
export function Bundled({ t, room, all }: { t: TunnelPage; room: Room; all: readonly Drawn[] }) {
  const as = [...new Map(all.map((p) => [p.a, p.aName]))];
  const bs = [...new Map(all.map((p) => [p.b, p.bName]))];
  const states = [...new Set(all.map((p) => p.form.word))]
    .map((word) => all.filter((p) => p.form.word === word))
    .sort((x, y) => order.indexOf(x[0].form.stroke) - order.indexOf(y[0].form.stroke));
  const rows = Math.max(Math.min(as.length, MOST_SUBNETS + 1), Math.min(bs.length, MOST_SUBNETS + 1), states.length);
  const row = 22;
  const height = TOP + (rows - 1) * row + 26;
  const yOf = (i: number, of: number) => TOP + ((i + 0.5) * (rows * row)) / of - row / 2;
  const bank = (subnets: readonly (readonly [string, string | null])[], end: "a" | "b") => {
    const shown = subnets.slice(0, MOST_SUBNETS);
    const left = subnets.length - shown.length;
    const x = end === "a" ? room.a - 12 : room.b + 12;
    const anchor = end === "a" ? "end" : "start";
    const far = (prefix: string) => (end === "a" ? x - 8 - prefix.length * 7.6 : x + 8 + prefix.length * 7.6);
    return (
      <g>
        {shown.map(([prefix, name], i) => (
          <g key={prefix}>
            <text className="m" x={x} y={TOP + i * row + 4} textAnchor={anchor}>
              {prefix}
            </text>
            {room.words && (
              <text className="s" x={far(prefix)} y={TOP + i * row + 4} textAnchor={anchor}>
                {name}
              </text>
            )}
          </g>
        ))}
        {left > 0 && (
          <text className="s" x={x} y={TOP + shown.length * row + 4} textAnchor={anchor}>
            and {left} more
          </text>
        )}
      </g>
    );
  };
  return (
    <Banks t={t} room={room} height={height}>
      {bank(as, "a")}
      {bank(bs, "b")}
      {states.map((pairs, i) => {
        const y = yOf(i, states.length);
        const [{ form }] = pairs;
        return (
          <g key={form.word}>
            {form.stroke === "planned" ? (
              <path d={curve(room, y, y).path(0, 1)} stroke="var(--hair-strong)" strokeWidth="1" fill="none" />
            ) : (
              <Line room={room} stroke={form.stroke} y1={y} y2={y} gapAt={0.8} />
            )}
            <OnLine
              room={room}
              y={y}
              hue={form.stroke === "gap" ? "tstops" : "s"}
              text={`${pairs.length} ${pairs.length === 1 ? "pair" : "pairs"}, ${form.word}: see the pair grid`}
            />
          </g>
        );
      })}
    </Banks>
  );
}
