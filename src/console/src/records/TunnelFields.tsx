import { useQuery } from "@tanstack/react-query";
import { useEffect, type ReactNode } from "react";
import type { Contract } from "../service/api";
import { BetweenGateways, useStrongest } from "./BetweenGateways";
import { Picker, PickOne } from "../parts/controls/Picker";
import { ask } from "../service/queries";
import { Fields, type Shown } from "./Fields";
import { TickList } from "./TickList";
import { isMap, type FieldInfo, type Fields as Form, type Value } from "./form";

const protects = [
  "suite",
  "ikeVersions",
  "exchangeMode",
  "authentication",
  "ikeProposals",
  "ikeLifetime",
  "espProposals",
  "espLifetime",
  "pfs",
];
const begins = ["initiation", "identities"];
const names = ["customer", "code", "name", "purpose", "state", "since", "importance", "tags"];

/** A tunnel in the order of the job: which gateways, which networks, how protected, who begins, and then the rest. */
export function TunnelFields(props: {
  fields: readonly FieldInfo[];
  form: Form;
  set: (form: Form) => void;
  shown: Shown;
  adding: boolean;
}) {
  const { fields, form, set, adding } = props;
  const map = (key: string): Form => (isMap(form[key]) ? form[key] : {});
  const put = (key: string, value: Form) => set({ ...form, [key]: value });
  const inside = (key: string) => fields.find((f) => f.key === key)?.inside ?? [];
  const agreed = inside("agreed");
  const some = (of: readonly FieldInfo[], keys: readonly string[]) =>
    keys.flatMap((k) => of.filter((f) => f.key === k));
  const others = (of: readonly FieldInfo[], keys: readonly string[]) => of.filter((f) => !keys.includes(f.key));
  const partOf = (of: readonly FieldInfo[], first = false) => (
    <Fields
      fields={[...of]}
      form={map("agreed")}
      path="agreed"
      shown={shown}
      set={(v) => put("agreed", v)}
      first={first}
    />
  );
  const isWrong = (start: string) =>
    shown.wrong.some((w) => w.field.startsWith(start) && !w.field.endsWith(".gateway"));
  const gateway = (end: "a" | "b") => {
    const at = map(end).gateway;
    return typeof at === "string" ? at : "";
  };
  const between = useQuery({
    ...ask.newTunnel(gateway("a"), gateway("b")),
    enabled: gateway("a") !== "" && gateway("b") !== "",
  });
  useNamed(adding ? between.data : undefined, form, set);
  const shown = { ...props.shown, ...useOffered(gateway("a"), gateway("b"), between.data, props.shown) };
  return (
    <>
      <Part title="Between which gateways">
        <div className="field pair">
          {(["a", "b"] as const).map((end) => (
            <div key={end}>
              <Picker
                of="gateways"
                label={<span className={end}>{end.toUpperCase()} gateway</span>}
                value={gateway(end)}
                set={(code) => put(end, { ...map(end), gateway: code })}
                required
              />
              {shown.wrong
                .filter((w) => w.field === `${end}.gateway`)
                .map((w) => (
                  <span key={w.wrong} className="wrong" role="alert">
                    {w.wrong}. Expected: {w.right}.
                  </span>
                ))}
            </div>
          ))}
        </div>
        <BetweenGateways a={gateway("a")} b={gateway("b")} />
      </Part>
      {between.data && (
        <>
          <Part>{partOf(some(agreed, ["pairs"]), true)}</Part>
          <Part
            title="How protected"
            about="A suite, or each value alone. What nobody enters here is what the platforms do automatically."
          >
            <Strongest
              a={gateway("a")}
              b={gateway("b")}
              use={(strongest) => put("agreed", { ...map("agreed"), ...strongest })}
            />
            {partOf(some(agreed, protects), true)}
          </Part>
          <Part title="Who begins, and as whom">{partOf(some(agreed, begins), true)}</Part>
        </>
      )}
      <Part title="What it is called">
        <Fields fields={some(fields, names)} form={form} shown={shown} set={set} first={adding} />
      </Part>
      <Folded
        title="What else both ends agree"
        value={rest(map("agreed"), ["pairs", ...protects, ...begins])}
        wrong={isWrong("agreed.")}
      >
        {partOf(others(agreed, ["pairs", ...protects, ...begins]))}
      </Folded>
      {(["a", "b"] as const).map((end) => (
        <Folded
          key={end}
          title={<span className={end}>What end {end.toUpperCase()} has of its own</span>}
          value={rest(map(end), ["gateway"])}
          wrong={isWrong(`${end}.`)}
        >
          <Fields
            fields={others(inside(end), ["gateway"])}
            form={map(end)}
            path={end}
            shown={shown}
            set={(v) => put(end, v)}
          />
        </Folded>
      ))}
      <Folded
        title="Contacts, fallback, accepted findings, notes"
        value={rest(form, [...names, "agreed", "a", "b"])}
        wrong={["contacts", "fallback", "accepted", "notes"].some(isWrong)}
      >
        <Fields fields={others(fields, [...names, "agreed", "a", "b"])} form={form} shown={shown} set={set} />
      </Folded>
    </>
  );
}

/** What the two gateways offer for single fields: what both can do, their uplinks and shared entries, their units. */
function useOffered(a: string, b: string, between: Contract["NewTunnelChoicesPage"] | undefined, shown: Shown) {
  const common = useStrongest(a, b, between !== undefined).data;
  const ends = between ? [{ end: "a", ...between.a } as const, { end: "b", ...between.b } as const] : [];
  const entries = ["subnets.localFrom", "subnets.remoteFrom", "proposalsFrom"];
  const own: NonNullable<Shown["own"]> = { ...shown.own };
  for (const at of ends) {
    own[`${at.end}.uplinks`] = (value, set) => (
      <Uplinks of={at.uplinks} value={Array.isArray(value) ? value.map(String) : []} set={set} />
    );
    for (const place of entries)
      own[`${at.end}.${place}`] = (value, set, f) => (
        <PickOne
          label={f.label}
          value={typeof value === "string" ? value : ""}
          set={(name) => set(name === "" ? undefined : name)}
          options={at.sharedEntries}
        />
      );
  }
  return {
    own,
    offered: common && { IKE: common.ike.map((p) => p.proposal), ESP: common.esp.map((p) => p.proposal) },
    lifetimeUnits: ends.flatMap((at) =>
      at.lifetimeUnit ? [{ end: at.end.toUpperCase() as "A" | "B", unit: at.lifetimeUnit }] : [],
    ),
  };
}

/** Which of the gateway's uplinks the tunnel may use, in the order in which they are ticked: preferred first. */
function Uplinks(props: {
  of: readonly Contract["ChoiceLine"][];
  value: readonly string[];
  set: (v: Value | undefined) => void;
}) {
  const { of, value, set } = props;
  const put = (labels: string[]) => set(labels.length > 0 ? labels : undefined);
  return (
    <TickList
      label={
        <>
          uplinks <span className="src">{value.length === 0 ? "any of them" : value.join(", then ")}</span>
        </>
      }
      words={[...of.map((u) => u.code), ...value.filter((v) => of.every((u) => u.code !== v))]}
      chosen={value}
      put={(label, ticked) => put(ticked ? [...value, label] : value.filter((v) => v !== label))}
    />
  );
}

/** What a form holds beside some of its fields. */
const rest = (form: Form, keys: readonly string[]) =>
  Object.entries(form)
    .filter(([k]) => !keys.includes(k))
    .map(([, v]) => v);

function Part({ title, about, children }: { title?: ReactNode; about?: string; children: ReactNode }) {
  return (
    <section className="formpart">
      {title && <h2>{title}</h2>}
      {about && <p className="src">{about}</p>}
      {children}
    </section>
  );
}

/** What few tunnels need: folded, with how much of it is entered; open where something in it is wrong. */
function Folded(props: { title: ReactNode; value: readonly Value[]; wrong: boolean; children: ReactNode }) {
  const { title, value, wrong, children } = props;
  return (
    <details className="formpart" open={wrong || undefined}>
      <summary>
        {title} <span className="src">{value.length === 0 ? "nothing entered" : `${value.length} entered`}</span>
      </summary>
      {children}
    </details>
  );
}

/** Fills in, value by value, what both platforms do best, so that a suite is not needed. */
function Strongest({ a, b, use }: { a: string; b: string; use: (agreed: Form) => void }) {
  const common = useStrongest(a, b, true).data;
  const [ike, esp] = [common?.ike[0]?.proposal, common?.esp[0]?.proposal];
  if (!common || !ike || !esp) return null;
  return (
    <button
      type="button"
      onClick={() => use({ ikeVersions: common.version, ikeProposals: [ike], espProposals: [esp] })}
    >
      Use the strongest that both support
    </button>
  );
}

/** Fills in whose tunnel it is, its code and its name from the two gateways, as long as nobody has typed them. */
function useNamed(between: Contract["NewTunnelChoicesPage"] | undefined, form: Form, set: (form: Form) => void) {
  const { code, name, customer } = between ?? {};
  useEffect(() => {
    if (code === undefined || form.code || form.customer) return;
    set({ ...form, customer: customer!, code, name: form.name ?? name! });
    // Only the answer fills them in, not every letter that is typed.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [code]);
}
