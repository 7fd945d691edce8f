import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Link } from "react-router";
import type { Contract } from "../service/api";
import { day, Problem, Waiting } from "../parts/Page";
import { placeOf } from "../service/recordKinds";
import { ask } from "../service/queries";
import { Table } from "../parts/Table";

// The plotting library comes after what cannot wait.
const DuePlot = lazy(async () => ({ default: (await import("./DuePlot")).DuePlot }));

const first = 12;

/** What falls due in the next 90 days: drawn, and in words. */
export function DueDates() {
  const due = useQuery(ask.due());
  return (
    <section aria-label="Due in the next 90 days">
      <h2>Due in the next 90 days</h2>
      {due.isPending ? (
        <Waiting what="due dates" />
      ) : due.error ? (
        <Problem error={due.error} again={() => due.refetch()} />
      ) : due.data.items.length === 0 ? (
        <p className="empty">Nothing falls due until {day(due.data.until, due.data.today)}.</p>
      ) : (
        <>
          <Suspense fallback={<Waiting what="the time line" />}>
            <DuePlot due={due.data} />
          </Suspense>
          {due.data.more && <p className="weak">These are the first {due.data.items.length}; there is more.</p>}
          <Lines items={due.data.items.slice(0, first)} today={due.data.today} />
          {due.data.items.length > first && (
            <details>
              <summary>{due.data.items.length - first} later</summary>
              <Lines items={due.data.items.slice(first)} today={due.data.today} />
            </details>
          )}
        </>
      )}
    </section>
  );
}

function Lines({ items, today }: { items: Contract["DueLine"][]; today: string }) {
  return (
    <Table>
      <tbody>
        {items.map((d, i) => (
          <tr key={i}>
            <td className="mono w100">{day(d.on, today)}</td>
            <td className="w130">
              <Link className="mono plain" to={placeOf(d.of, d.code)}>
                {d.code}
              </Link>
            </td>
            <td className="w130">{d.kind}</td>
            <td>
              {d.what} {d.overdue && <span className="stops">overdue</span>}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
