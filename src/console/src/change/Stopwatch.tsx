import { useEffect, useState } from "react";
import type { ChangePage } from "../service/api";

/** Minutes as a person says them. */
const span = (min: number) =>
  min < 120 ? `${min} min` : min < 2880 ? `${Math.round(min / 60)} h` : `${Math.round(min / 1440)} days`;

/** How much of the window is gone, and how much the open steps still take. */
export function Stopwatch({ c }: { c: ChangePage }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 15000);
    return () => clearInterval(timer);
  }, []);
  const began = c.statusHistory.findLast((p) => p.to === "under way")?.at;
  const left = c.steps.filter((s) => !s.outcome || s.outcome === "failed").reduce((total, s) => total + s.minutes, 0);
  if (!began) return null;
  const gone = Math.max(0, Math.round((now - Date.parse(began)) / 60000));
  const opens = c.windowStart ? Math.round((Date.parse(c.windowStart) - now) / 60000) : 0;
  const end = c.windowStart
    ? Math.round((Date.parse(c.windowStart) + (c.windowMinutes ?? 0) * 60000 - now) / 60000)
    : null;
  const short = opens > 0 || (end !== null && end < left);
  return (
    <p className={`stopwatch ${short ? "stopping" : "src"}`}>
      {gone} min since it began; the open steps take {left} min
      {opens > 0
        ? `; the window begins only in ${span(opens)}`
        : end !== null && (end > 0 ? `, the window has ${span(end)} left` : `, the window ended ${span(-end)} ago`)}
      .
    </p>
  );
}
