import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap } from "../service/api";
import { useEngineer, useMe } from "../service/session";
import { queryKeyOf } from "../service/questions";

/** What is entered first, in the order in which each rests on the one before. */
const steps = [
  {
    kind: "platforms",
    what: "a platform profile",
    about: "for each kind of device; what nobody knows can stay unknown",
  },
  { kind: "customers", what: "a customer", about: "whose tunnels they are" },
  { kind: "sites", what: "its sites", about: "with their networks" },
  { kind: "gateways", what: "their gateways", about: "with their uplinks" },
] as const;

const most = 4;

/** Where to begin when no tunnel is recorded, with what is there already. */
export function Begin() {
  const engineer = useEngineer();
  const me = useMe().data;
  if (!engineer) return <p className="empty">No tunnel is recorded yet.</p>;
  return (
    <section aria-label="Where to begin">
      <h2>No tunnel is recorded yet</h2>
      <p>
        <Link to="/import">Import a sheet or a keepfile</Link>, or enter them one after the other:
      </p>
      <ol>
        {steps.map((s) => (
          <li key={s.kind}>
            <Link to={`/new/${s.kind}`}>{s.what}</Link> {s.about}. <Recorded kind={s.kind} />
          </li>
        ))}
        <li>
          <Link to="/changes/new-tunnel">the plan of a tunnel</Link> between two of them
        </li>
        {me?.roles.includes("lead") && (
          <li>
            <Link to="/new/people">a second person</Link>: nobody approves a change that they wrote
          </li>
        )}
      </ol>
    </section>
  );
}

/** The codes of what is recorded of a kind, as far as a line holds them. */
function Recorded({ kind }: { kind: (typeof steps)[number]["kind"] }) {
  const found = useQuery({
    queryKey: queryKeyOf("names", kind, "begin"),
    queryFn: () => unwrap(api.GET("/api/v1/records/{kind}", { params: { path: { kind }, query: { most: most + 1 } } })),
  });
  const items = found.data?.items ?? [];
  if (items.length === 0) return null;
  return (
    <span className="src">
      Recorded:{" "}
      {items.slice(0, most).map((r, i) => (
        <span key={r.code}>
          {i > 0 && ", "}
          <Link className="mono" to={`/${kind}/${r.code}`}>
            {r.code}
          </Link>
        </span>
      ))}
      {items.length > most && " and more"}
    </span>
  );
}
