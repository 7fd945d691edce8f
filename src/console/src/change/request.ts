import type { Contract } from "../service/api";

export type Draft = Contract["DraftChange"];
export type Step = Contract["FreeStepGiven"];

/** What can be requested; "new" is a new tunnel that nobody has recorded yet. */
export type Kind = NonNullable<Draft["kind"]> | "new";

/** What somebody has said in the form. Lists are lists; nothing is written as text that is split again. */
export interface Said {
  kind: Kind;
  reason: string;
  /** The window's begin as the chosen clock shows it, such as 2026-11-27T21:00; empty for none. */
  start: string;
  clock: "A" | "B" | "UTC";
  minutes: number;
  /** Why the window is long enough although the work takes longer. */
  whyShort: string;
  end: "A" | "B";
  add: string[];
  remove: string[];
  addOther: string[];
  removeOther: string[];
  /** Prefixes of the other side that the new ones shall not reach. */
  left: string[];
  also: string[];
  suite: string;
  platform: string;
  beside: string;
  address: string;
  uplink: string;
  steps: Step[];
  newCode: string;
  name: string;
  customer: string;
  gatewayA: string;
  gatewayB: string;
  uplinkA: string;
  uplinkB: string;
  pairs: { a: string; b: string }[];
}

export const blank: Said = {
  kind: "subnets",
  reason: "",
  start: "",
  clock: "A",
  minutes: 60,
  whyShort: "",
  end: "A",
  add: [],
  remove: [],
  addOther: [],
  removeOther: [],
  left: [],
  also: [],
  suite: "",
  platform: "",
  beside: "",
  address: "",
  uplink: "",
  steps: [],
  newCode: "",
  name: "",
  customer: "",
  gatewayA: "",
  gatewayB: "",
  uplinkA: "",
  uplinkB: "",
  pairs: [],
};

/** What a draft is about beside what was said. */
export interface About {
  /** The tunnel or the gateway that it is drafted from. */
  code: string;
  /** The prefixes of the tunnel's pairs behind each end. */
  behind: { A: string[]; B: string[] };
  zones: { A: string; B: string };
}

const some = (text: string) => text.trim() || null;

/** What a kind takes beside what every kind takes. */
type Own<K> = Omit<Extract<Draft, { kind?: K }>, keyof ReturnType<typeof common>>;

/** What is asked of a kind: whether enough is said to look what it would do, and its fields as the service takes them. */
interface Asked<K> {
  enough: (said: Said) => boolean;
  own: (said: Said, about: About) => Own<K>;
}

const always = () => true;

const kinds: { [K in Exclude<Kind, "new">]: Asked<K> } & { new: Asked<"new tunnel"> } = {
  subnets: {
    enough: (said) => said.add.length + said.remove.length + said.addOther.length + said.removeOther.length > 0,
    own: (said, about) => ({
      kind: "subnets",
      tunnel: about.code,
      end: said.end,
      add: said.add,
      remove: said.remove,
      also: said.also,
      addOther: said.addOther,
      removeOther: said.removeOther,
      reach:
        said.left.length > 0 ? about.behind[said.end === "A" ? "B" : "A"].filter((p) => !said.left.includes(p)) : null,
    }),
  },
  rekey: { enough: always, own: (said, { code }) => ({ kind: "rekey", tunnel: code, also: said.also }) },
  strengthen: {
    enough: always,
    own: (said, { code }) => ({ kind: "strengthen", tunnel: code, suite: some(said.suite) }),
  },
  retire: { enough: always, own: (_, { code }) => ({ kind: "retire", tunnel: code }) },
  "new tunnel": { enough: always, own: (_, { code }) => ({ kind: "new tunnel", tunnel: code }) },
  "replace platform": {
    enough: (said) => said.platform !== "",
    own: (said, { code }) => ({
      kind: "replace platform",
      gateway: code,
      platform: said.platform,
      beside: some(said.beside),
    }),
  },
  "address move": {
    enough: (said) => said.address !== "",
    own: (said, { code }) => ({
      kind: "address move",
      gateway: code,
      address: said.address.trim(),
      uplink: some(said.uplink),
    }),
  },
  free: {
    enough: (said) => said.steps.some((s) => s.do.trim() !== ""),
    own: (said, { code }) => ({ kind: "free", tunnel: code, steps: said.steps.filter((s) => s.do.trim() !== "") }),
  },
  new: {
    enough: (said) => said.gatewayA !== "" && said.gatewayB !== "" && said.newCode !== "" && said.pairs.length > 0,
    own: (said) => ({
      kind: "new tunnel",
      suite: some(said.suite),
      new: {
        code: said.newCode.trim(),
        name: some(said.name),
        customer: some(said.customer),
        gatewayA: said.gatewayA,
        gatewayB: said.gatewayB,
        uplinkA: some(said.uplinkA),
        uplinkB: some(said.uplinkB),
        pairs: said.pairs.map((p) => `${p.a} - ${p.b}`),
      },
    }),
  },
};

/** Whether enough is said to look what it would do. */
export const isEnough = (said: Said) => kinds[said.kind].enough(said);

/** What every kind takes. */
const common = (said: Said, about: About) => ({
  reason: said.reason.trim(),
  windowMinutes: said.start ? said.minutes : null,
  windowWhyShort: some(said.whyShort),
  windowLocalStart: some(said.start),
  windowZone: said.start ? (said.clock === "UTC" ? "Etc/UTC" : about.zones[said.clock]) : null,
});

/** What the form says, as the service takes it. */
export const requestOf = (said: Said, about: About): Draft => ({
  ...common(said, about),
  ...kinds[said.kind].own(said, about),
});
