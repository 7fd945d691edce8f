import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { unwrap } from "../service/api";
import { ask } from "../service/queries";
import { useMe } from "../service/session";
import { AsFile } from "../parts/AsFile";
import { day, Head, moment, Problem, Waiting } from "../parts/Page";
import { RecordActs } from "../records/Acts";
import { RecordHistory } from "../records/RecordHistory";
import { Sessions, Tokens } from "./AccessRoute";
import { useWrite } from "../parts/useWrite";
import { Table } from "../parts/Table";

/** Who may do what, for whom. */
export function PeopleRoute() {
  const list = useQuery(ask.people());
  const lead = useMe().data?.roles.includes("lead");
  if (list.isPending) return <Waiting what="people" />;
  if (list.error) return <Problem error={list.error} again={() => list.refetch()} />;
  return (
    <>
      <Head title="People" sub={`${list.data.filter((p) => !p.left).length} who can sign in, and who has left`}>
        <AsFile path="/api/v1/people" query={{}} />
        {lead && (
          <Link className="btn first" to="/new/people">
            Add a person
          </Link>
        )}
      </Head>
      <Table>
        <thead>
          <tr>
            <th className="w140">Name</th>
            <th className="w160">Called</th>
            <th>Roles and customers</th>
            <th className="w140"></th>
          </tr>
        </thead>
        <tbody>
          {list.data.map((p) => (
            <tr key={p.name}>
              <td className="mono">{lead ? <Link to={`/people/${p.name}`}>{p.name}</Link> : p.name}</td>
              <td>{p.called}</td>
              <td className={p.left ? "was" : undefined}>
                {p.roles.map((r, i) => (
                  <span key={r}>
                    {i > 0 && " · "}
                    {r.includes(" for ") ? (
                      <>
                        {r.split(" for ")[0]} for <code>{r.split(" for ")[1]}</code> only
                      </>
                    ) : (
                      <>{r} for all customers</>
                    )}
                  </span>
                ))}
              </td>
              <td className="soft">{p.left && `left ${day(p.left)}`}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

export function PersonRoute() {
  const name = useParams().code!;
  const queries = useQueryClient();
  const page = useQuery(ask.person(name));
  const give = useWrite({
    mutationFn: (_: void, api) => unwrap(api.POST("/api/v1/people/{name}/password", { params: { path: { name } } })),
    onSuccess: () => queries.invalidateQueries(ask.person(name)),
  });
  if (page.isPending) return <Waiting what={name} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const p = page.data;
  return (
    <>
      <Head
        code={p.person.name}
        title={p.person.called}
        sub={
          <>
            {p.person.roles.map((r) => (r.includes(" for ") ? r : `${r} for all customers`)).join(" · ")}
            {p.reach && ` · ${p.reach}`}
          </>
        }
      >
        {!p.person.left && (
          <button onClick={() => give.mutate()} disabled={give.isPending}>
            Set a new password
          </button>
        )}
        <RecordActs plural="people" code={p.person.name} retired={p.person.left !== null} />
      </Head>
      <p className="verdict">
        {p.person.left
          ? `Left ${day(p.person.left)}: cannot sign in; all sessions and tokens have ended.`
          : p.lockedUntil
            ? `Locked until ${moment(p.lockedUntil)} after failed sign-ins. A new password unlocks it.`
            : p.hasPassword
              ? "Can sign in."
              : "Has no password yet, so cannot sign in. Set one."}
      </p>
      {give.error && <Problem error={give.error} />}
      {give.data && (
        <div className="notice" role="status">
          The password of {give.data.name}, shown once: <code>{give.data.password}</code>. It must be replaced when they
          sign in; their sessions have ended.
        </div>
      )}
      {p.notes && <p>{p.notes}</p>}
      <div className="cols even">
        <div>
          <Sessions
            of={p.access}
            shownBy={ask.person(name).queryKey}
            end={(id, api) =>
              unwrap(api.DELETE("/api/v1/people/{name}/sessions/{id}", { params: { path: { name, id } } }))
            }
          />
        </div>
        <div>
          <Tokens
            of={p.access}
            shownBy={ask.person(name).queryKey}
            end={(id, api) =>
              unwrap(api.DELETE("/api/v1/people/{name}/tokens/{id}", { params: { path: { name, id } } }))
            }
          />
        </div>
      </div>
      <h2>History of {p.person.called}</h2>
      <RecordHistory plural="people" code={p.person.name} />
      <p>
        <Link to={`/history?who=${p.person.name}`}>What {p.person.called} did</Link>
      </p>
    </>
  );
}
