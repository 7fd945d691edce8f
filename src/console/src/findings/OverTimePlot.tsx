import { useNavigate } from "react-router";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { Contract } from "../service/api";
import { day } from "../parts/Page";
import { Table } from "../parts/Table";

type Point = Contract["FindingsOn"];

/** Each severity by its own stroke as well as its hue. */
const severities = [
  ["blocks", "var(--stops)", undefined, 2.4],
  ["degrades", "var(--weak)", undefined, 1.6],
  ["risk", "var(--weak)", "2 4", 1.6],
] as const;

/** Findings that stood at the end of each week; a week opens the tunnels as they were recorded then. */
export function OverTimePlot({ points, customer }: { points: readonly Point[]; customer?: string }) {
  const go = useNavigate();
  const today = points.at(-1)!.on;
  const open = (on?: string | number) => {
    if (!on) return;
    const query = new URLSearchParams({
      ...(customer ? { customer } : {}),
      ...(String(on) === today ? {} : { asOf: String(on) }),
    });
    void go(`/tunnels?${query}`);
  };
  return (
    <>
      <p className="overtime-legend">
        {severities.map(([key, hue, dashes, width]) => (
          <span key={key}>
            <svg width="34" height="8" aria-hidden="true">
              <path d="M0 4H34" stroke={hue} strokeDasharray={dashes} strokeWidth={width} />
            </svg>{" "}
            {points.at(-1)![key]} {key}
          </span>
        ))}
      </p>
      <div className="overtime" aria-hidden="true">
        <ResponsiveContainer width="100%" height={150}>
          <LineChart
            data={[...points]}
            margin={{ top: 8, right: 12, bottom: 4, left: 0 }}
            accessibilityLayer={false}
            onClick={(at) => open(at.activeLabel)}
          >
            <CartesianGrid vertical={false} stroke="var(--hair)" />
            <XAxis
              dataKey="on"
              tickFormatter={(on: string) => day(on, today)}
              stroke="var(--hair-strong)"
              tick={{ fill: "var(--ink-soft)", fontSize: 12 }}
              minTickGap={40}
            />
            <YAxis allowDecimals={false} width={34} stroke="none" tick={{ fill: "var(--ink-soft)", fontSize: 12 }} />
            <Tooltip
              content={({ payload }) => <Said point={payload?.[0]?.payload as Point | undefined} today={today} />}
            />
            {severities.map(([key, hue, dashes, width]) => (
              <Line
                key={key}
                dataKey={key}
                type="stepAfter"
                stroke={hue}
                strokeWidth={width}
                strokeDasharray={dashes}
                dot={false}
                isAnimationActive={false}
              />
            ))}
          </LineChart>
        </ResponsiveContainer>
      </div>
      <details>
        <summary className="src">Week by week</summary>
        <Table>
          <thead>
            <tr>
              <th>Day</th>
              <th>Tunnels</th>
              <th>Blocks</th>
              <th>Degrades</th>
              <th>Risk</th>
            </tr>
          </thead>
          <tbody>
            {points.map((p) => (
              <tr key={p.on}>
                <td>
                  <button type="button" className="link" onClick={() => open(p.on)}>
                    {day(p.on, today)}
                  </button>
                </td>
                <td>{p.tunnels}</td>
                <td>{p.blocks}</td>
                <td>{p.degrades}</td>
                <td>{p.risk}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </details>
    </>
  );
}

function Said({ point, today }: { point?: Point; today: string }) {
  if (!point) return null;
  return (
    <div className="notice">
      {day(point.on, today)}: {point.blocks} block, {point.degrades} degrade, {point.risk} are a risk, in{" "}
      {point.tunnels} {point.tunnels === 1 ? "tunnel" : "tunnels"}
    </div>
  );
}
