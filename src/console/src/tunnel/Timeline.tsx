import { useState } from "react";
import type { Contract } from "../service/api";

type Page = Contract["TimelinePage"];
type Mark = Contract["TimelineMark"];

const units: [number, string][] = [
  [86400, "d"],
  [3600, "h"],
  [60, "min"],
  [1, "s"],
];

const steps = [60, 300, 900, 1800, 3600, 7200, 14400, 21600, 43200, 86400, 2 * 86400];

/** A time in the largest unit that says it in at most one decimal. */
export function span(seconds: number) {
  const [size, unit] = units.find(([s]) => seconds >= s * 2 || (seconds === s && s < 86400)) ?? units[3];
  const n = seconds / size;
  return `${Number.isInteger(n) ? n : n.toFixed(1)} ${unit}`;
}

const lifeText = (l: Contract["LifeLine"]) =>
  l.drops === null
    ? "lifetime unknown"
    : `SA expires at ${span(l.drops)}${l.rekeysTo === null ? " · margin unknown" : ` · rekey at ${l.rekeysFrom === l.rekeysTo ? span(l.rekeysTo) : `${span(l.rekeysFrom!)} to ${span(l.rekeysTo)}`}`}`;

const range = (m: Mark) => (m.from === m.to ? span(m.to) : `${span(m.from)} to ${span(m.to)}`);

/** The hours after the tunnel is up: each layer as a line, each rekey a mark in the hue of the end that is first, the moment that something bites a gap. */
export function Timeline({ t, small }: { t: Page; small?: boolean }) {
  const lost = t.marks.find((m) => m.kind === "lost");
  const [whole, setWhole] = useState(!lost);
  const length = whole || !lost ? t.length : Math.min(t.length, lost.to * 2.5);
  const width = small ? 400 : 760;
  const left = 44;
  const right = width - 26;
  const x = (s: number) => left + ((right - left) * s) / length;
  const layers = ["IKE", "ESP"];
  const each = small ? 44 : 84;
  const height = 26 + layers.length * each + 24;
  const step = steps.find((n) => length / n <= (small ? 4 : 6)) ?? 7 * 86400;
  const marks = Array.from({ length: Math.floor(length / step) + 1 }, (_, i) => i * step);
  return (
    <>
      <svg
        className="crossing"
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`Rekeys over ${span(length)}. ${t.marks
          .slice(0, 6)
          .map((m) => `${m.layer} ${m.kind} by ${m.by} at ${range(m)}`)
          .join(", ")}`}
      >
        {layers.map((layer, i) => {
          const y = 34 + i * each;
          const marks = t.marks.filter((m) => m.layer === layer && m.from <= length);
          const bite = marks.find((m) => m.kind === "lost");
          const refused = marks.find((m) => m.kind === "rekey refused");
          const end = bite ? x(bite.to) : right;
          return (
            <g key={layer}>
              <text className="s" x="0" y={y + 4}>
                {layer}
              </text>
              <path d={`M${left} ${y}H${end - (bite ? 6 : 0)}`} stroke="var(--ink)" strokeWidth="2.2" />
              {bite && (
                <>
                  <path
                    d={`M${end + 6} ${y}H${right}`}
                    stroke="var(--ink-soft)"
                    strokeWidth="1.6"
                    strokeDasharray="0.1 6"
                    strokeLinecap="round"
                  />
                  <path d={`M${end - 6} ${y - 8}v16M${end + 6} ${y - 8}v16`} stroke="var(--stops)" strokeWidth="2.2" />
                  <text className="m tstops" x={end + 10} y={y - 9}>
                    drops at {range(bite)}
                  </text>
                </>
              )}
              {marks
                .filter((m) => m.kind !== "lost")
                .map((m, k) => {
                  const hue = m.kind === "rekey refused" ? "var(--stops)" : `var(--end-${m.by.toLowerCase()})`;
                  const [from, to] = [x(m.from), Math.min(right, x(m.to))];
                  return (
                    <g key={k}>
                      <title>{`${layer} ${m.kind} by ${m.by} at ${range(m)}`}</title>
                      {k === 0 && to - from > 3 ? (
                        <rect x={from} y={y - 6} width={to - from} height="12" fill={hue} opacity="0.55" />
                      ) : (
                        <path
                          d={`M${(from + to) / 2} ${y - 7}v14`}
                          stroke={hue}
                          strokeWidth={m.kind === "reauthentication" ? 4 : 2}
                        />
                      )}
                    </g>
                  );
                })}
              {refused && bite && (
                <text className="m tstops" x={x(refused.from) - 4} y={y - 9} textAnchor="end">
                  refused {range(refused)}
                </text>
              )}
              {!small &&
                t.lives
                  .filter((l) => l.layer === layer)
                  .map((l, k) => {
                    const ly = y + 22 + k * 18;
                    const stop = l.drops === null ? right : Math.min(right, x(l.drops));
                    return (
                      <g key={l.end}>
                        <text className={`t${l.end.toLowerCase()}`} x={left - 16} y={ly + 4}>
                          {l.end}
                        </text>
                        <path
                          d={`M${left} ${ly}H${stop}`}
                          stroke={`var(--end-${l.end.toLowerCase()})`}
                          strokeWidth="1.4"
                        />
                        {l.drops !== null && l.drops <= length && (
                          <path
                            d={`M${stop} ${ly - 5}v10`}
                            stroke={`var(--end-${l.end.toLowerCase()})`}
                            strokeWidth="1.4"
                          />
                        )}
                        <text className="s onground" x={Math.min(stop + 6, right - 230)} y={ly + 4}>
                          {lifeText(l)}
                        </text>
                      </g>
                    );
                  })}
            </g>
          );
        })}
        <path d={`M${left} ${height - 24}H${right}`} stroke="var(--hair-strong)" strokeWidth="1" />
        {marks.map((s) => (
          <text
            key={s}
            className="m"
            x={x(s)}
            y={height - 6}
            textAnchor={s === 0 ? "start" : x(s) > right - 20 ? "end" : "middle"}
          >
            {s === 0 ? "0" : span(s)}
          </text>
        ))}
      </svg>
      {lost && (
        <button className="link src" onClick={() => setWhole(!whole)}>
          {whole ? `show the first ${span(lost.to * 2.5)}` : `show all ${span(t.length)}`}
        </button>
      )}
    </>
  );
}
