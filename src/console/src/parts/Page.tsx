import { useEffect, useRef, type ReactNode } from "react";
import { Refused } from "../service/api";

/** What stands while something is read, when it failed, and when it is not for the asker. */
export function Waiting({ what }: { what: string }) {
  return (
    <p className="empty" role="status">
      Reading {what} …
    </p>
  );
}

export function Problem({ error, again }: { error: unknown; again?: () => void }) {
  const refused = error instanceof Refused ? error : null;
  const problems = (refused?.more.problems ?? []) as { line: number; field: string; wrong: string; right: string }[];
  const changed = (refused?.more.changed ?? []) as { path: string; before?: string; after?: string; who: string }[];
  return (
    <div className="problem" role="alert">
      {error instanceof Error ? error.message : "The console failed here."}{" "}
      {again && <button onClick={again}>Try again</button>}
      {problems.length > 1 && (
        <ul>
          {problems.map((p, i) => (
            <li key={i}>
              {p.line > 0 && `Line ${p.line}, `}
              <code>{p.field}</code>: {p.wrong}. Expected: {p.right}.
            </li>
          ))}
        </ul>
      )}
      {changed.length > 0 && (
        <ul>
          {changed.map((m, i) => (
            <li key={i}>
              <code>{m.path}</code>: {m.before ?? "nothing"} → {m.after ?? "nothing"}, {m.who}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

export function Head({
  code,
  title,
  sub,
  children,
}: {
  code?: string;
  title: string;
  sub?: ReactNode;
  children?: ReactNode;
}) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    document.title = `${code ? `${code} ` : ""}${title} · Vellumkeep`;
  }, [code, title]);
  // A page that was opened begins at its heading, unless something on it is at hand already.
  useEffect(() => {
    const at = document.activeElement;
    if (at === document.body || at?.closest("nav.rail")) heading.current?.focus({ preventScroll: true });
  }, []);
  return (
    <div className="head">
      <div>
        <h1 ref={heading} tabIndex={-1}>
          {code && <small>{code}</small>} {title}
        </h1>
        {sub && <div className="sub">{sub}</div>}
      </div>
      {children && <div className="acts">{children}</div>}
    </div>
  );
}

const month = new Intl.DateTimeFormat("en-US", { month: "short", timeZone: "UTC" });

/** `3 Nov` for this year's days, with the year for others. */
export function day(iso: string, today?: string) {
  const date = new Date(`${iso.slice(0, 10)}T00:00:00Z`);
  // A day that is none is shown as it was typed; the service says what is wrong with it.
  if (Number.isNaN(date.getTime())) return iso;
  const year = today?.slice(0, 4) === iso.slice(0, 4) ? "" : ` ${date.getUTCFullYear()}`;
  return `${date.getUTCDate()} ${month.format(date)}${year}`;
}

export const moment = (iso: string) => `${day(iso)} ${iso.slice(11, 16)} UTC`;
