import type { ReactNode } from "react";
import { Link } from "react-router";
import type { TunnelPage } from "../api";
import { hueOf } from "../parts/Stroke";

const WIDTH = 1090;
const A = 296;
const B = 794;
const TOP = 112;
const ROW = 34;
const MOST = 8;

type Point = { x: number; y: number };

/** The line from A to B stays level for most of its way, so that a label can sit on it where it starts. */
function curve(y1: number, y2: number) {
  const at = (t: number): Point => {
    const u = 1 - t;
    const mix = (a: number, b: number, c: number, d: number) =>
      u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d;
    return { x: mix(A, A + 380, B - 110, B), y: mix(y1, y1, y2, y2) };
  };
  const path = (from: number, to: number, shift = 0) =>
    Array.from({ length: 25 }, (_, i) => at(from + ((to - from) * i) / 24))
      .map((p, i) => `${i ? "L" : "M"}${p.x.toFixed(1)} ${(p.y + shift).toFixed(1)}`)
      .join("");
  return { at, path };
}

function Line({
  stroke,
  y1,
  y2,
  after,
  gapAt,
}: {
  stroke: string;
  y1: number;
  y2: number;
  after?: string | null;
  gapAt: number;
}) {
  const hue = hueOf(stroke);
  const { at, path } = curve(y1, y2);
  if (stroke === "gap") {
    const half = 0.028;
    const [l, r] = [at(gapAt - half), at(gapAt + half)];
    return (
      <g fill="none" strokeWidth="2.4">
        <path d={path(0, gapAt - half)} stroke={after ? "var(--ink)" : hue} />
        <path d={path(gapAt + half, 1)} stroke={after ? "var(--ink)" : hue} />
        <path d={`M${l.x} ${l.y - 7}v14M${r.x} ${r.y - 7}v14`} stroke={hue} />
        {after && (
          <g stroke="none">
            <rect
              x={l.x - 12 - after.length * 7.6}
              y={l.y - 9}
              width={after.length * 7.6 + 6}
              height="18"
              fill="var(--paper)"
            />
            <text className="m tstops" x={l.x - 8} y={l.y + 4} textAnchor="end">
              {after}
            </text>
          </g>
        )}
      </g>
    );
  }
  if (stroke === "twoHairlines")
    return (
      <g fill="none" stroke={hue} strokeWidth="1">
        <path d={path(0, 1, -2.2)} />
        <path d={path(0, 1, 2.2)} />
      </g>
    );
  const p = at(gapAt);
  return (
    <g fill="none">
      <path
        d={path(0, 1)}
        stroke={hue}
        strokeWidth={stroke === "thin" ? 1.2 : 2.4}
        strokeDasharray={stroke === "dotted" ? "0.1 6" : undefined}
        strokeLinecap={stroke === "dotted" ? "round" : undefined}
      />
      {stroke === "flag" && <path d={`M${p.x} ${p.y}v-10h12l-3 3.5 3 3.5h-11`} fill={hue} stroke={hue} />}
    </g>
  );
}

/** A label on the line it belongs to, where the line starts; the ground behind it keeps it readable. */
function OnLine({ y, hue, children, text }: { y: number; hue: string; children?: ReactNode; text: string }) {
  const shown = text.length > 58 ? text.slice(0, 57) + "…" : text;
  return (
    <g>
      <rect x={A + 26} y={y - 9} width={shown.length * 6.35 + 10} height="18" fill="var(--paper)" />
      {children ?? (
        <text className={hue} x={A + 31} y={y + 4}>
          {shown}
          <title>{text}</title>
        </text>
      )}
    </g>
  );
}

/** The drawing between the banks: the IKE SA and one line for each subnet pair, each drawn by its state. */
export function Crossing({ t }: { t: TunnelPage }) {
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
  const bundled = all.length > MOST;
  const lines = bundled
    ? [...new Set(all.map((p) => p.a))].map((a) => ({
        ...worst(all.filter((p) => p.a === a)),
        count: all.filter((p) => p.a === a).length,
      }))
    : all.map((p) => ({ ...p, count: 1 }));
  const bs = [...new Set(lines.map((p) => p.b))];
  const range = Math.max(0, lines.length - 1) * ROW;
  const yA = (i: number) => TOP + i * ROW;
  const yB = (b: string) => TOP + (bs.length === 1 ? range / 2 : (range * bs.indexOf(b)) / (bs.length - 1));
  const landing = (i: number) => {
    const mates = lines.map((l, k) => ({ l, k })).filter(({ l }) => l.b === lines[i].b);
    return yB(lines[i].b) + (mates.findIndex(({ k }) => k === i) - (mates.length - 1) / 2) * 9;
  };
  const height = TOP + range + 26;
  const drawnEnd = (end: TunnelPage["a"], x: number, hue: string, anchor: "start" | "end") => {
    const tx = anchor === "end" ? x - 12 : x + 12;
    const outer = anchor === "end" ? 0 : x + 16;
    const about = `${end.gateway} · ${end.platform}`;
    const runs = `run by ${end.runBy === "us" ? "us" : end.runBy === "customer" ? "the customer" : end.owner}`;
    const translation = end.nat ? `behind ${end.nat}` : end.addressIsDynamic ? "may change" : "";
    return (
      <g>
        <path d={`M${x} 4V${height - 6}`} stroke={`var(--end-${hue})`} strokeWidth="3" />
        <text className={`site t${hue}`} x={outer} y="18">
          {end.end} {end.site}
        </text>
        <text className="s" x={outer} y="37">
          {runs.length + about.length > 44 ? about : `${about} · ${runs}`}
        </text>
        {runs.length + about.length > 44 && (
          <text className="s" x={outer} y="53">
            {runs}
          </text>
        )}
        <text className="m" x={tx} y="72" textAnchor={anchor}>
          {end.outerAddress}
        </text>
        {translation && (
          <text className="s" x={anchor === "end" ? 0 : tx + end.outerAddress.length * 7.6 + 12} y="72">
            {translation}
          </text>
        )}
      </g>
    );
  };
  return (
    <svg
      className="crossing"
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="group"
      aria-label={`Drawing of both ends of ${t.code}: ${t.verdict.map((v) => v.says.text).join(" ")}`}
    >
      {drawnEnd(t.a, A, "a", "end")}
      {drawnEnd(t.b, B, "b", "start")}
      <text className="m tiny" x={(A + B) / 2} y="56" textAnchor="middle">
        {t.ike.label}
      </text>
      <Line stroke={t.ike.form.stroke} y1={68} y2={68} after={t.ike.after} gapAt={0.5} />
      {t.a.nat && <circle cx={A + 14} cy="68" r="5" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.5" />}
      {t.b.nat && <circle cx={B - 14} cy="68" r="5" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.5" />}
      {lines.map((l, i) => (
        <g key={l.a + l.b + i}>
          {l.form.stroke === "planned" ? (
            <path d={curve(yA(i), landing(i)).path(0, 1)} stroke="var(--hair-strong)" strokeWidth="1" fill="none" />
          ) : (
            <Line
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
              <text className="s" x={A - 20 - l.a.length * 7.6} y={yA(i) + 4} textAnchor="end">
                {l.aName}
              </text>
            </>
          )}
          {l.planned ? (
            <OnLine y={yA(i)} hue="s" text={`planned in ${l.planned}, ${l.plannedIn}`}>
              <Link to={`/changes/${l.planned}`}>
                <text className="s" x={A + 31} y={yA(i) + 4} textDecoration="underline">
                  planned in {l.planned}, {l.plannedIn}
                </text>
              </Link>
            </OnLine>
          ) : l.count > 1 ? (
            <OnLine y={yA(i)} hue="s" text={`${l.count} pairs, ${l.form.word}: see the pair grid`} />
          ) : l.says ? (
            <OnLine
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
          <text className="s" x={B + 20 + b.length * 7.6} y={yB(b) + 4}>
            {lines.find((l) => l.b === b)?.bName}
          </text>
        </g>
      ))}
    </svg>
  );
}

const order = ["gap", "thin", "flag", "twoHairlines", "dotted", "whole", "planned"];

function worst<T extends { form: { stroke: string } }>(lines: T[]): T {
  return [...lines].sort((x, y) => order.indexOf(x.form.stroke) - order.indexOf(y.form.stroke))[0];
}
