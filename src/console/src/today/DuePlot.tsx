import { useNavigate } from "react-router";
import {
  CartesianGrid,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";
import type { Contract } from "../service/api";
import { day } from "../parts/Page";
import { placeOf } from "../service/recordKinds";

type Due = Contract["DueLine"];

/** Rows of the plot from top to bottom: what cannot wait first. */
export const kindsDue = [
  "window",
  "review",
  "certificate",
  "key",
  "temporary value",
  "pending value",
  "acceptance",
  "confirmation",
];

const width = 132;

const at = (iso: string) => Date.parse(`${iso}T00:00:00Z`);

/** What falls due in the next days, one row for each kind; each mark opens what it is about. */
export function DuePlot({ due }: { due: Contract["DuePage"] }) {
  const go = useNavigate();
  const rows = kindsDue.filter((k) => due.items.some((d) => d.kind === k));
  const [first, last] = [at(due.today), at(due.until)];
  // What is overdue stands at the left edge.
  const marks = due.items.map((d) => ({
    ...d,
    x: Math.max(at(d.on), first),
    y: rows.length - 1 - rows.indexOf(d.kind),
  }));
  const open = (d: Due) => void go(placeOf(d.of, d.code));
  return (
    <div className="dueplot">
      <ResponsiveContainer width="100%" height={48 + rows.length * 30}>
        <ScatterChart margin={{ top: 18, right: 16, bottom: 4, left: 0 }} accessibilityLayer={false}>
          <CartesianGrid horizontal vertical={false} stroke="var(--hair)" />
          <XAxis
            type="number"
            dataKey="x"
            domain={[first, last]}
            ticks={Array.from({ length: 7 }, (_, i) => first + ((last - first) / 6) * i)}
            tickFormatter={(x: number) => day(new Date(x).toISOString(), due.today)}
            stroke="var(--hair-strong)"
            tick={{ fill: "var(--ink-soft)", fontSize: 12 }}
          />
          <YAxis
            type="number"
            dataKey="y"
            width={width}
            domain={[-0.5, rows.length - 0.5]}
            ticks={rows.map((_, i) => i)}
            tickFormatter={(y: number) => rows[rows.length - 1 - y] ?? ""}
            stroke="var(--hair-strong)"
            tickLine={false}
            tick={{ fill: "var(--ink)", fontSize: 12.5 }}
            interval={0}
          />
          <ReferenceLine
            x={first}
            stroke="var(--ink)"
            label={{ value: "today", position: "top", fontSize: 11, fill: "var(--ink-soft)" }}
          />
          <Tooltip
            isAnimationActive={false}
            cursor={false}
            content={({ payload }) => {
              const d = payload?.[0]?.payload as Due | undefined;
              if (!d) return null;
              return (
                <div className="tip">
                  <b className="mono">{d.code}</b> {d.what}, {day(d.on, due.today)}
                  {d.overdue && <span className="stops"> overdue</span>}
                </div>
              );
            }}
          />
          <Scatter
            data={marks}
            isAnimationActive={false}
            shape={(p: { cx?: number; cy?: number; payload?: Due }) => (
              <Mark cx={p.cx ?? 0} cy={p.cy ?? 0} d={p.payload!} today={due.today} open={open} />
            )}
          />
        </ScatterChart>
      </ResponsiveContainer>
    </div>
  );
}

/** Overdue is a cross, what comes is a stroke: told by form first. */
function Mark(props: { cx: number; cy: number; d: Due; today: string; open: (d: Due) => void }) {
  const { cx, cy, d, today, open } = props;
  return (
    <a
      href={placeOf(d.of, d.code)}
      aria-label={`${d.code}: ${d.what}, ${day(d.on, today)}${d.overdue ? ", overdue" : ""}`}
      onClick={(e) => {
        e.preventDefault();
        open(d);
      }}
    >
      <rect x={cx - 12} y={cy - 12} width={24} height={24} fill="transparent" />
      {d.overdue ? (
        <path d={`M${cx - 5} ${cy - 5}l10 10m0 -10l-10 10`} stroke="var(--stops)" strokeWidth={2.2} />
      ) : (
        <path d={`M${cx} ${cy - 8}v16`} stroke="var(--ink)" strokeWidth={2.6} />
      )}
    </a>
  );
}
