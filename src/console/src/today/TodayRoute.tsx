import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { ask } from "../service/queries";
import { ChangeTable } from "../changes/ChangeTable";
import { OverTime } from "../findings/OverTime";
import { Head, Problem, Waiting } from "../parts/Page";
import { Sentence, Verdict } from "../parts/Sentence";
import { Begin } from "./Begin";
import { DueDates } from "./DueDates";
import { Table } from "../parts/Table";

export function TodayRoute() {
  const today = useQuery(ask.today());
  if (today.isPending)
    return (
      <>
        <Head title="Today" />
        <Waiting what="what waits" />
      </>
    );
  if (today.error) return <Problem error={today.error} again={() => today.refetch()} />;
  const t = today.data;
  const lists = [
    ["Under way", t.underWay],
    ["To review", t.toReview],
    ["Approved, waiting for the window", t.windows],
    ["Yours", t.mine],
  ] as const;
  return (
    <>
      <Head title="Today" />
      <Verdict verdict={t.verdict} />
      {t.tunnels === 0 && <Begin />}
      {lists.map(
        ([head, list]) =>
          list.length > 0 && (
            <section key={head}>
              <h2>{head}</h2>
              <ChangeTable changes={list} />
            </section>
          ),
      )}
      <DueDates />
      {t.tunnels > 0 && <h2>Findings that block</h2>}
      {t.tunnels === 0 ? null : t.blocking.length === 0 ? (
        <p className="empty">None of {t.tunnels} tunnels has a finding that blocks.</p>
      ) : (
        <Table>
          <tbody>
            {t.blocking.map((f) => (
              <tr key={f.tunnel + f.code + f.subject}>
                <td className="w130">
                  <Link className="mono plain" to={`/tunnels/${f.tunnel}`}>
                    {f.tunnel}
                  </Link>
                </td>
                <td className="code w74">{f.code}</td>
                <td>
                  <Sentence says={f.what} />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {t.tunnels > 0 && <OverTime />}
    </>
  );
}
