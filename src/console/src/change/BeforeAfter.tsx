import type { ChangePage } from "../service/api";
import { Table } from "../parts/Table";

/** Every value that differs, before and after, what is new in it set off. */
export function BeforeAfter({ c }: { c: ChangePage }) {
  return (
    <Table className="differs">
      <thead>
        <tr>
          <th>What differs</th>
          <th>before</th>
          <th>after</th>
        </tr>
      </thead>
      <tbody>
        {c.differs.map((d, i) => (
          <tr key={i}>
            <td>
              {d.end && <b className={d.end.toLowerCase()}>{d.end} </b>}
              {d.what}
            </td>
            <td className="mono was">{d.before}</td>
            <td className="mono wraps">
              {d.added.length > 0 && d.added.every((a) => d.after.includes(a)) ? (
                d.after.split(", ").map((x, k, xs) => (
                  <span key={k}>
                    {d.added.includes(x) ? <b>{x}</b> : x}
                    {k < xs.length - 1 && ", "}
                  </span>
                ))
              ) : (
                <>
                  {d.after}
                  {d.added.length > 0 && (
                    <>
                      , <b>{d.added.join(", ")}</b>
                    </>
                  )}
                </>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
