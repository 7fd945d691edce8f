import type { ReactNode } from "react";
import type { TunnelPage } from "../service/api";
import { hueOf } from "../parts/Stroke";

/** Where the two banks stand. Beside a form there is room for addresses alone, and the words stand in the verdict. */
export interface Room {
  width: number;
  a: number;
  b: number;
  words: boolean;
}
export const wide: Room = { width: 1090, a: 296, b: 794, words: true };
export const narrow: Room = { width: 600, a: 176, b: 384, words: false };

export const TOP = 112;

type Point = { x: number; y: number };

/** The line from A to B stays level for most of its way, so that a label can sit on it where it starts. */
export function curve({ a, b }: Room, y1: number, y2: number) {
  const width = b - a;
  const at = (t: number): Point => {
    const u = 1 - t;
    const mix = (p: number, q: number, r: number, s: number) =>
      u * u * u * p + 3 * u * u * t * q + 3 * u * t * t * r + t * t * t * s;
    return { x: mix(a, a + width * 0.76, b - width * 0.22, b), y: mix(y1, y1, y2, y2) };
  };
  const path = (from: number, to: number, shift = 0) =>
    Array.from({ length: 25 }, (_, i) => at(from + ((to - from) * i) / 24))
      .map((p, i) => `${i ? "L" : "M"}${p.x.toFixed(1)} ${(p.y + shift).toFixed(1)}`)
      .join("");
  return { at, path };
}

export function Line({
  room,
  stroke,
  y1,
  y2,
  after,
  gapAt,
}: {
  room: Room;
  stroke: string;
  y1: number;
  y2: number;
  after?: string | null;
  gapAt: number;
}) {
  const hue = hueOf(stroke);
  const { at, path } = curve(room, y1, y2);
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
export function OnLine(props: { room: Room; y: number; hue: string; children?: ReactNode; text: string }) {
  const { room, y, hue, children, text } = props;
  if (!room.words) return null;
  const shown = text.length > 58 ? text.slice(0, 57) + "…" : text;
  return (
    <g>
      <rect x={room.a + 26} y={y - 9} width={shown.length * 6.35 + 10} height="18" fill="var(--paper)" />
      {children ?? (
        <text className={hue} x={room.a + 31} y={y + 4}>
          {shown}
          <title>{text}</title>
        </text>
      )}
    </g>
  );
}

/** Both ends with their addresses and what translates them, the IKE SA between them, and below it what is given. */
export function Banks({
  t,
  room,
  height,
  children,
}: {
  t: TunnelPage;
  room: Room;
  height: number;
  children: ReactNode;
}) {
  const { width, a: A, b: B } = room;
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
          {!room.words ? end.gateway : runs.length + about.length > 44 ? about : `${about} · ${runs}`}
        </text>
        {room.words && runs.length + about.length > 44 && (
          <text className="s" x={outer} y="53">
            {runs}
          </text>
        )}
        <text className="m" x={tx} y="72" textAnchor={anchor}>
          {end.outerAddress}
        </text>
        {translation && room.words && (
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
      viewBox={`0 0 ${width} ${height}`}
      role="group"
      aria-label={`Drawing of both ends of ${t.code}: ${t.verdict.map((v) => v.says.text).join(" ")}`}
    >
      {drawnEnd(t.a, A, "a", "end")}
      {drawnEnd(t.b, B, "b", "start")}
      {room.words && (
        <text className="m tiny" x={(A + B) / 2} y="56" textAnchor="middle">
          {t.ike.label}
        </text>
      )}
      <Line room={room} stroke={t.ike.form.stroke} y1={68} y2={68} after={t.ike.after} gapAt={0.5} />
      {t.a.nat && <circle cx={A + 14} cy="68" r="5" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.5" />}
      {t.b.nat && <circle cx={B - 14} cy="68" r="5" fill="var(--paper)" stroke="var(--ink)" strokeWidth="1.5" />}
      {children}
    </svg>
  );
}
