import { useQuery } from "@tanstack/react-query";
import type { Contract } from "../service/api";
import { Head, Problem, Waiting } from "../parts/Page";
import { ask } from "../service/queries";
import { Table } from "../parts/Table";

/** Our own words and every finding code; codes lead to the findings that have them. */
export function GlossaryRoute() {
  const page = useQuery(ask.glossary());
  return (
    <>
      <Head title="Glossary" sub="Words that are ours, and finding codes. Every other word is the trade's." />
      {page.isPending ? (
        <Waiting what="the glossary" />
      ) : page.error ? (
        <Problem error={page.error} again={() => page.refetch()} />
      ) : (
        <>
          <Lines title="Our own words" head="Word" lines={page.data.words} />
          <Lines title="Finding codes" head="Code" lines={page.data.codes} />
        </>
      )}
    </>
  );
}

function Lines({ title, head, lines }: { title: string; head: string; lines: Contract["GlossaryLine"][] }) {
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <Table>
        <thead>
          <tr>
            <th className="w150">{head}</th>
            <th>Meaning</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((l) => (
            <tr key={l.term}>
              <td>
                <b>{l.term}</b>
              </td>
              <td>{l.meaning}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}
