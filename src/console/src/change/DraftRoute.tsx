import { useMutation, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import { api, told, type Contract } from "../api";
import { ask, reread } from "../queries";
import { Head, Problem, Waiting } from "../parts/Page";

type Draft = Contract["DraftChange"];

const empty: Draft = {
  tunnel: null,
  end: null,
  add: null,
  reach: null,
  title: null,
  why: "",
  windowStart: null,
  windowMinutes: null,
};

/** What may be wished for a tunnel, and what follows from it, in a line each. */
const ofTunnel: [string, string, string][] = [
  ["subnets", "Subnets", "add or take out networks on one side; both ends' entries, rules and routes are worked out"],
  ["rekey", "New key", "the order that keeps the gap shortest, hand-over, check code, withdrawal of the old one"],
  [
    "strengthen",
    "Strengthen",
    "a suite, or the strongest that both ends can do; in stages where both can hold several proposals",
  ],
  ["new tunnel", "Build it", "a tunnel that is recorded as planned, with both ends entered and proven"],
  ["retire", "Retire", "what may be taken out at each end, and what others still use"],
  ["free", "Steps by hand", "what no kind covers; the records stay as they are"],
];

const ofGateway: [string, string, string][] = [
  ["replace platform", "Another platform", "every setting carried over: kept, changed to what and why, or impossible"],
  [
    "address move",
    "Another outer address",
    "every tunnel and every other gateway that it touches, and who has to be asked",
  ],
];

const list = (text: string) => text.split(/[\s,;]+/).filter(Boolean);

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
  const [why, setWhy] = useState(params.get("why") ?? "");
  const [start, setStart] = useState("");
  const [minutes, setMinutes] = useState("60");
  const others = t
    ? [...new Map(t.pairs.map((p) => (end === "A" ? [p.b, p.bName] : [p.a, p.aName]) as [string, string | null]))]
    : [];
  const near = t && (end === "A" ? t.a : t.b);
  const text = (key: string) => said[key] ?? "";
  const some = (key: string) => (text(key).trim() ? text(key).trim() : null);

  function wish(): Draft {
    const base = {
      ...empty,
      kind,
      why,
      windowStart: start ? `${start}:00Z` : null,
      windowMinutes: start ? Number(minutes) : null,
    };
    switch (kind) {
      case "subnets":
        return {
          ...base,
          tunnel: code,
          end,
          add: list(text("add")),
          remove: list(text("remove")),
          also: list(text("also")),
          addOther: list(text("addOther")),
          removeOther: list(text("removeOther")),
          reach: left.length > 0 ? others.map(([p]) => p).filter((p) => !left.includes(p)) : null,
        };
      case "rekey":
        return { ...base, tunnel: code, also: list(text("also")) };
      case "strengthen":
        return { ...base, tunnel: code, suite: some("suite") };
      case "replace platform":
        return { ...base, gateway: code, platform: text("platform"), beside: some("beside") };
      case "address move":
        return { ...base, gateway: code, address: text("address"), uplink: some("uplink") };
      case "free":
        return {
          ...base,
          tunnel: code,
          steps: text("steps")
            .split("\n")
            .map((l) => l.trim())
            .filter(Boolean)
            .map((l) => {
              const [part, where, ...rest] = l.split(/\s+/);
              return { part, where, do: rest.join(" "), minutes: null, stops: null, undo: null };
            }),
        };
      case "new":
        return {
          ...base,
          kind: "new tunnel",
          suite: some("suite"),
          new: {
            code: text("newCode"),
            name: some("name"),
            customer: some("customer"),
            gatewayA: text("gatewayA"),
            gatewayB: text("gatewayB"),
            uplinkA: some("uplinkA"),
            uplinkB: some("uplinkB"),
            pairs: text("pairs")
              .split("\n")
              .map((l) => l.trim())
              .filter(Boolean),
          },
        };
      default:
        return { ...base, tunnel: code };
    }
  }

  const draft = useMutation({
    mutationFn: () => told(api.POST("/api/v1/changes", { body: wish() })),
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
      gateways: (await told(api.GET("/api/v1/gateways"))).items.map((x) => x.code),
      platforms: (await told(api.GET("/api/v1/platforms"))).map((x) => x.code),
      suites: (await told(api.GET("/api/v1/suites"))).map((x) => x.code),
    }),
  });

  function Field({
    name,
    label,
    help,
    rows,
    required,
    of,
  }: {
    name: string;
    label: ReactNode;
    help?: ReactNode;
    rows?: number;
    required?: boolean;
    of?: "gateways" | "platforms" | "suites";
  }) {
    const set = (v: string) => setSaid({ ...said, [name]: v });
    return (
      <div className="field">
        <label>
          {label}
          {rows ? (
            <textarea
              className="mono"
              rows={rows}
              required={required}
              value={text(name)}
              onChange={(e) => set(e.target.value)}
            />
          ) : (
            <input
              className="mono"
              required={required}
              list={of && `known-${of}`}
              value={text(name)}
              onChange={(e) => set(e.target.value)}
            />
          )}
          {help && <span className="src">{help}</span>}
        </label>
      </div>
    );
  }

  const asked: Record<string, ReactNode> = {
    subnets: t && near && (
      <>
        <fieldset className="field bare">
          <legend className="small-head">The prefixes are behind</legend>
          {(["A", "B"] as const).map((e) => (
            <label key={e} className="beside">
              <input
                type="radio"
                name="end"
                className="inline"
                checked={end === e}
                onChange={() => {
                  setEnd(e);
                  setLeft([]);
                }}
              />{" "}
              <span className={e.toLowerCase()}>
                {e} {e === "A" ? t.a.site : t.b.site}
              </span>
            </label>
          ))}
        </fieldset>
        {Field({
          name: "add",
          label: "Prefixes",
          rows: 2,
          help: (
            <>
              networks at {near.site}: {near.networks.join(", ")}
            </>
          ),
        })}
        {others.length > 0 && text("add").trim() !== "" && (
          <fieldset className="field bare">
            <legend className="small-head">They should reach</legend>
            {others.map(([p, name]) => (
              <label key={p} className="plain">
                <input
                  type="checkbox"
                  className="inline"
                  checked={!left.includes(p)}
                  onChange={(e) => setLeft(e.target.checked ? left.filter((x) => x !== p) : [...left, p])}
                />{" "}
                <code>{p}</code> {name}
              </label>
            ))}
          </fieldset>
        )}
        {Field({ name: "remove", label: "What is to go", help: "left empty, nothing is taken out" })}
        <details>
          <summary className="src">Something on the other side as well</summary>
          {Field({ name: "addOther", label: `New behind ${end === "A" ? "B" : "A"}` })}
          {Field({ name: "removeOther", label: `To go behind ${end === "A" ? "B" : "A"}` })}
        </details>
        {Field({
          name: "also",
          label: "The same on further tunnels",
          help: `those with an end at ${near.site}, such as the fallback; one plan for all`,
        })}
      </>
    ),
    rekey: Field({
      name: "also",
      label: "Further tunnels that get a new key with it",
      help: "codes; left empty, this one alone",
    }),
    strengthen: Field({
      name: "suite",
      of: "suites",
      label: "Suite",
      help: "with its version; left empty, the strongest that both ends can do",
    }),
    "replace platform": (
      <>
        {Field({
          name: "platform",
          of: "platforms",
          label: "New platform profile",
          required: true,
          help: "with its version, such as alderquay-major@1",
        })}
        {Field({
          name: "beside",
          label: "Outer address of the new device, when it is built beside the old one",
          help: "left empty, it takes the old one's place and address",
        })}
      </>
    ),
    "address move": (
      <>
        {Field({ name: "address", label: "New outer address", required: true })}
        {Field({
          name: "uplink",
          label: "Uplink",
          help: g && <>one of {g.uplinks.map((u) => u.label).join(", ")}; the first when left empty</>,
        })}
      </>
    ),
    free: Field({
      name: "steps",
      label: "Steps, one to a line: part, where and what",
      rows: 5,
      required: true,
      help: "build B Fit the spare power supply. Parts: prepare, safeguard, build, switch, prove, record",
    }),
    new: (
      <>
        {Field({ name: "newCode", label: "Code", required: true, help: "such as THR-PLATES-3" })}
        <div className="field pair">
          {Field({ name: "gatewayA", of: "gateways", label: <span className="a">A gateway</span>, required: true })}
          {Field({ name: "gatewayB", of: "gateways", label: <span className="b">B gateway</span>, required: true })}
        </div>
        <div className="field pair">
          {Field({ name: "uplinkA", label: <span className="a">A uplink</span>, help: "all of them when left empty" })}
          {Field({ name: "uplinkB", label: <span className="b">B uplink</span> })}
        </div>
        <BetweenGateways a={text("gatewayA").trim()} b={text("gatewayB").trim()} />
        {Field({
          name: "pairs",
          label: "Subnet pairs, one to a line, A first",
          rows: 3,
          required: true,
          help: "10.50.0.0/24 - 10.51.0.0/24",
        })}
        {Field({
          name: "suite",
          of: "suites",
          label: "Suite",
          help: "left empty, the strongest that both platforms can do is worked out, with identities, who starts, and tunnel addresses",
        })}
        {Field({ name: "name", label: "Name" })}
        {Field({ name: "customer", label: "Customer", help: "the owner of gateway A when left empty" })}
      </>
    ),
  };

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
        sub="Say what should be different; steps, proof and the way back are worked out."
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
      {asked[kind]}
      <div className="field">
        <label>
          What it is for
          <input required value={why} onChange={(e) => setWhy(e.target.value)} />
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
      {draft.error && <Problem error={draft.error} />}
      <div className="acts starts">
        <button className="first" disabled={draft.isPending}>
          Make the plan
        </button>
        <button type="button" onClick={() => go(-1)}>
          Leave it
        </button>
      </div>
    </form>
  );
}

/** The two ends that are named: where each stands, what it shows to the other, and what both can do. */
function BetweenGateways({ a, b }: { a: string; b: string }) {
  const known = useQueries({
    queries: [a, b].map((code) => ({
      ...ask.gateway(code),
      enabled: code.length > 2,
      retry: false,
    })),
  });
  const [near, far] = known.map((k) => k.data);
  const common = useQuery({
    queryKey: ["common", a, b, "strongest"],
    queryFn: async () => {
      const under = (version: string) => told(api.GET("/api/v1/sums/common", { params: { query: { a, b, version } } }));
      const newer = await under("IKEv2");
      return newer.bothSpeak ? newer : under("IKEv1");
    },
    enabled: !!near && !!far,
  });
  if (!near && !far) return null;
  const bank = (end: "a" | "b", g: Contract["GatewayPage"] | undefined) => (
    <div>
      {g && (
        <>
          <b className={end}>
            {end.toUpperCase()} {g.site}
          </b>{" "}
          <span className="src">
            {g.platformName} · run by {g.runBy}
          </span>
          {g.uplinks.map((u) => (
            <div key={u.label}>
              <code>{u.outer}</code> <span className="src">{u.label}</span>
            </div>
          ))}
        </>
      )}
    </div>
  );
  return (
    <section aria-label="The two ends">
      <div className="thenow">
        {bank("a", near)}
        {bank("b", far)}
      </div>
      {common.data && (
        <p>
          {!common.data.bothSpeak || common.data.ike.length === 0 ? (
            <span className="stops">They have no IKE proposal in common.</span>
          ) : (
            <>
              Both can do <code>{common.data.ike[0].proposal}</code> under {common.data.version}
              {common.data.esp.length > 0 && (
                <>
                  , and <code>{common.data.esp[0].proposal}</code> for ESP
                </>
              )}
              .
            </>
          )}
        </p>
      )}
    </section>
  );
}
