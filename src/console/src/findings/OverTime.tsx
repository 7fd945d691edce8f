import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Refused } from "../service/api";
import { Problem, Waiting } from "../parts/Page";
import { ask } from "../service/queries";

// The plotting library comes after what cannot wait.
const OverTimePlot = lazy(async () => ({ default: (await import("./OverTimePlot")).OverTimePlot }));

/** How many findings stood week by week: of one customer, or of all that somebody sees. */
export function OverTime({ customer }: { customer?: string }) {
  const counted = useQuery(ask.findingsOverTime(customer));
  return (
    <section aria-label="Findings over time">
      <h2>Findings over time</h2>
      {counted.isPending ? (
        <Waiting what="what stood before" />
      ) : counted.error instanceof Refused && counted.error.status === 422 ? (
        <p className="soft">{counted.error.message}</p>
      ) : counted.error ? (
        <Problem error={counted.error} />
      ) : counted.data.points.length < 2 ? (
        <p className="empty">It was first recorded this week: there is nothing to compare with yet.</p>
      ) : (
        <Suspense fallback={<Waiting what="the plot" />}>
          <OverTimePlot points={counted.data.points} customer={customer} />
        </Suspense>
      )}
    </section>
  );
}
