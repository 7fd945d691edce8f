import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap, type Contract } from "../service/api";
import { useFilter } from "../parts/Filters";
import { Problem, Waiting } from "../parts/Page";
import { queryKeyOf } from "../service/questions";
import { Table } from "../parts/Table";

type Change = Contract["ChangeSummary"];
type Query = { state?: string; customer?: string; author?: string; q?: string };

const dayOf = (date: Date) => date.toISOString().slice(0, 10);

const plus = (day: string, days: number) => dayOf(new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000));

/** Monday of the week that a day is in. */
const monday = (day: string) => plus(day, -((new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7));

/** Days of the month that a day is in, in whole weeks from Monday on. */
function monthOf(day: string) {
  const first = monday(`${day.slice(0, 7)}-01`);
  const weeks = Array.from({ length: 6 }, (_, i) => plus(first, 7 * i)).filter(
    (w, i) => i === 0 || w.slice(0, 7) === day.slice(0, 7),
  );
  return weeks.flatMap((w) => Array.from({ length: 7 }, (_, i) => plus(w, i)));
}

const weekOf = (day: string) => Array.from({ length: 7 }, (_, i) => plus(monday(day), i));

const titled = (day: string, of: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat("en-GB", { ...of, timeZone: "UTC" }).format(new Date(`${day}T00:00:00Z`));

/** The windows of changes in a week or a month, by UTC. */
export function Calendar({ query }: { query: Query }) {
  const { of, set } = useFilter();
  const asked = of("day");
  const day = asked && !Number.isNaN(Date.parse(`${asked}T00:00:00Z`)) ? asked : dayOf(new Date());
  const week = of("span") === "week";
  const days = week ? weekOf(day) : monthOf(day);
  const [from, until] = [days[0], days.at(-1)!];
  const windows = useQuery({
    queryKey: queryKeyOf("windows", query, from, until),
    queryFn: async () => {
      const found: Change[] = [];
      for (let cursor: string | undefined; ;) {
        const page = await unwrap(
          api.GET("/api/v1/changes", {
            params: { query: { ...query, windowFrom: from, windowUntil: until, cursor, most: 200 } },
          }),
        );
        found.push(...page.items);
        if (!page.cursor) return found;
        cursor = page.cursor;
      }
    },
  });
  const move = (to: number) =>
    set("day", week ? plus(day, 7 * to) : plus(`${day.slice(0, 7)}-15`, 30 * to).slice(0, 8) + "01");
  if (windows.error) return <Problem error={windows.error} again={() => windows.refetch()} />;
  if (windows.isPending) return <Waiting what="windows" />;
  const on = (d: string) =>
    windows.data
      .filter((c) => c.windowStart?.slice(0, 10) === d)
      .sort((x, y) => x.windowStart!.localeCompare(y.windowStart!));
  return (
    <section aria-label="Calendar of windows">
      <div className="listbar">
        <h2>
          {week
            ? `Week of ${titled(days[0], { day: "numeric", month: "long", year: "numeric" })}`
            : titled(day, { month: "long", year: "numeric" })}
        </h2>
        <span className="acts">
          <button onClick={() => move(-1)}>Earlier</button>
          <button onClick={() => set("day", "")}>Today</button>
          <button onClick={() => move(1)}>Later</button>
          <button onClick={() => set("span", week ? "" : "week")}>{week ? "Month" : "Week"}</button>
        </span>
      </div>
      <div className="scrolls">
        <Table className="calendar">
          <thead>
            <tr>
              {["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"].map((d) => (
                <th key={d}>{d}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {Array.from({ length: days.length / 7 }, (_, w) => (
              <tr key={w}>
                {days.slice(7 * w, 7 * w + 7).map((d) => (
                  <td key={d} className={week || d.slice(0, 7) === day.slice(0, 7) ? undefined : "was"}>
                    <time dateTime={d} className={d === dayOf(new Date()) ? "today" : "src"}>
                      {Number(d.slice(8))}
                    </time>
                    {on(d).map((c) => (
                      <Link key={c.code} to={`/changes/${c.code}`} title={c.title}>
                        {c.windowStart!.slice(11, 16)} <span className="mono">{c.code}</span>
                        <span className="src">
                          {" "}
                          {c.windowMinutes} min, {c.state}
                          {week && `: ${c.title}`}
                        </span>
                      </Link>
                    ))}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      <p className="src">
        {windows.data.length === 0
          ? "No window begins in these days."
          : `${windows.data.length} ${windows.data.length === 1 ? "window begins" : "windows begin"} in these days.`}{" "}
        Times are UTC.
      </p>
    </section>
  );
}
