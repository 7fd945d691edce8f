import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import { api, unwrap, type ChangePage, type Contract } from "../api";
import { ask, reread } from "../queries";
import { DraftFields } from "./DraftFields";
import { requestOf } from "./request";
import { Head, Problem, Waiting } from "../parts/Page";
import { Verdict } from "../parts/Sentence";
import { BeforeAndAfter, PlanFindings } from "./PlanParts";
import { RunSheet } from "./RunSheet";

/** What can be requested for a tunnel, and what follows from it, in a line each. */
const ofTunnel: [string, string, string][] = [
  [
    "subnets",
    "Subnets",
    "add or remove prefixes behind one end; the plan has the entries, firewall rules and routes of both ends",
  ],
  ["rekey", "New key", "the order with the shortest interruption, hand-over, check code, removal of the old key"],
  [
    "strengthen",
    "Strengthen",
    "a suite, or the strongest that both ends support; in stages where both can have several proposals",
  ],
  ["new tunnel", "Build it", "enter and test both ends of a tunnel that is recorded as planned"],
  ["retire", "Retire", "remove it at both ends; what other tunnels use stays"],
  ["free", "Own steps", "work that no other kind covers; no record changes"],
];

const ofGateway: [string, string, string][] = [
  [
    "replace platform",
    "Another platform",
    "every setting carried over: kept, changed (to what and why), or impossible",
  ],
  ["address move", "Another outer address", "every tunnel and every other gateway that it affects, and who must agree"],
];

/** Says what should be different of a tunnel. */
export function DraftRoute() {
  const code = useParams().code!;
  const page = useQuery(ask.tunnel(code));
  const [params] = useSearchParams();
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const planned = page.data.state === "planned";
  const kinds = ofTunnel.filter(([k]) => (planned ? k === "new tunnel" || k === "free" : k !== "new tunnel"));
  return (
    <DraftForm
      code={code}
      title={page.data.name}
      kinds={kinds}
      first={params.get("kind") ?? kinds[0][0]}
      tunnel={page.data}
    />
  );
}

/** Says what should be different of a gateway. */
export function DraftGatewayRoute() {
  const code = useParams().code!;
  const page = useQuery(ask.gateway(code));
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  return (
    <DraftForm
      code={code}
      title={`at ${page.data.site}`}
      kinds={ofGateway}
      first={ofGateway[0][0]}
      gateway={page.data}
    />
  );
}

/** A tunnel that is not there yet, between two gateways. */
export function DraftNewRoute() {
  return <DraftForm code="new" title="A tunnel between two gateways" kinds={[["new", "", ""]]} first="new" />;
}

function DraftForm(props: {
  code: string;
  title: string;
  kinds: [string, string, string][];
  first: string;
  tunnel?: Contract["TunnelPage"];
  gateway?: Contract["GatewayPage"];
}) {
  const { code, title, kinds, tunnel: t, gateway: g } = props;
  const go = useNavigate();
  const queries = useQueryClient();
  const [kind, setKind] = useState(props.first);
  const [end, setEnd] = useState<"A" | "B">("A");
  const brought = useLocation().state as { steps?: string } | null;
  const [said, setSaid] = useState<Record<string, string>>(brought?.steps ? { steps: brought.steps } : {});
  const [left, setLeft] = useState<string[]>([]);
  const [params] = useSearchParams();
  const [reason, setReason] = useState(params.get("reason") ?? "");
  const [start, setStart] = useState("");
  const [minutes, setMinutes] = useState("60");
  const others = t
    ? [...new Map(t.pairs.map((p) => (end === "A" ? [p.b, p.bName] : [p.a, p.aName]) as [string, string | null]))]
    : [];
  const text = (key: string) => said[key] ?? "";

  const body = () => requestOf({ kind, code, reason, start, minutes, end, said, left, others: others.map(([p]) => p) });
  // Looking keeps nothing and uses no number.
  const look = useMutation({
    mutationFn: () => unwrap(api.POST("/api/v1/changes", { params: { query: { dryRun: true } }, body: body() })),
  });
  const draft = useMutation({
    mutationFn: () => unwrap(api.POST("/api/v1/changes", { body: body() })),
    onSuccess: (c) => {
      void reread(
        queries,
        { kind: "change", code: c.code },
        ...c.tunnels.map((t) => ({ kind: "tunnel", code: t.code })),
      );
      go(`/changes/${c.code}`);
    },
  });

  // Codes to choose from; any other may be typed.
  const known = useQuery({
    queryKey: ["codes", "for changes"],
    queryFn: async () => ({
      gateways: (await unwrap(api.GET("/api/v1/gateways"))).items.map((x) => x.code),
      platforms: (await unwrap(api.GET("/api/v1/platforms"))).map((x) => x.code),
      suites: (await unwrap(api.GET("/api/v1/suites"))).map((x) => x.code),
    }),
  });

  return (
    <form
      className="form"
      onSubmit={(e) => {
        e.preventDefault();
        draft.mutate();
      }}
    >
      <Head
        code={code === "new" ? undefined : code}
        title={title}
        sub="Enter what should be different. The plan has the steps, the proof and the way back."
      />
      {kinds.length > 1 && (
        <fieldset className="field kinds">
          <legend className="small-head">What should be different</legend>
          {kinds.map(([k, name, about]) => (
            <label key={k}>
              <input type="radio" name="kind" checked={kind === k} onChange={() => setKind(k)} /> <b>{name}</b>{" "}
              <span className="src">{about}</span>
            </label>
          ))}
        </fieldset>
      )}
      <DraftFields
        kind={kind}
        f={{ text, set: (name, value) => setSaid({ ...said, [name]: value }) }}
        sides={{ end, setEnd, others, left, setLeft }}
        tunnel={t}
        gateway={g}
      />
      <div className="field">
        <label>
          Reason
          <input required value={reason} onChange={(e) => setReason(e.target.value)} />
        </label>
      </div>
      <div className="field pair">
        <label>
          Window begins, UTC
          <input type="datetime-local" value={start} onChange={(e) => setStart(e.target.value)} />
        </label>
        <label>
          Minutes
          <input type="number" min={1} max={1440} value={minutes} onChange={(e) => setMinutes(e.target.value)} />
        </label>
      </div>
      {(["gateways", "platforms", "suites"] as const).map((of) => (
        <datalist key={of} id={`known-${of}`}>
          {known.data?.[of].map((c) => (
            <option key={c} value={c} />
          ))}
        </datalist>
      ))}
      {(draft.error ?? look.error) && <Problem error={(draft.error ?? look.error)!} />}
      <div className="acts starts">
        <button type="button" disabled={look.isPending} onClick={() => look.mutate()}>
          Look first
        </button>
        <button className="first" disabled={draft.isPending}>
          Make the plan
        </button>
        <button type="button" onClick={() => go(-1)}>
          Cancel
        </button>
      </div>
      {look.data && <Looked c={look.data} />}
    </form>
  );
}

/** What the plan would be, before anything is kept. */
function Looked({ c }: { c: ChangePage }) {
  return (
    <section aria-label="What it would do">
      <h2>What it would do</h2>
      <p className="src">Nothing is kept yet.</p>
      <Verdict verdict={c.verdict} />
      <PlanFindings c={c} />
      <BeforeAndAfter c={c} />
      <RunSheet c={c} />
    </section>
  );
}
