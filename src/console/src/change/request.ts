import type { Contract } from "../service/api";

export type Draft = Contract["DraftChange"];
export type Step = Contract["FreeStepGiven"];

/** What can be requested; "new" is a tunnel that nobody has recorded yet. */
export type Kind =
  "subnets" | "rekey" | "strengthen" | "new tunnel" | "retire" | "free" | "replace platform" | "address move" | "new";

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

const empty: Draft = {
  tunnel: null,
  end: null,
  add: null,
  reach: null,
  title: null,
  reason: "",
  windowStart: null,
  windowMinutes: null,
};

const some = (text: string) => text.trim() || null;

/** Whether enough is said to look what it would do. */
export function isEnough(said: Said) {
  switch (said.kind) {
    case "subnets":
      return said.add.length + said.remove.length + said.addOther.length + said.removeOther.length > 0;
    case "replace platform":
      return said.platform !== "";
    case "address move":
      return said.address !== "";
    case "free":
      return said.steps.some((s) => s.do.trim() !== "");
    case "new":
      return said.gatewayA !== "" && said.gatewayB !== "" && said.newCode !== "" && said.pairs.length > 0;
    default:
      return true;
  }
}

/** What the form says, as the service takes it. */
export function requestOf(said: Said, about: About): Draft {
  const { code } = about;
  const base = {
    ...empty,
    kind: said.kind,
    reason: said.reason.trim(),
    windowMinutes: said.start ? said.minutes : null,
    windowWhyShort: some(said.whyShort),
    windowLocalStart: some(said.start),
    windowZone: said.start ? (said.clock === "UTC" ? "Etc/UTC" : about.zones[said.clock]) : null,
  };
  switch (said.kind) {
    case "subnets":
      return {
        ...base,
        tunnel: code,
        end: said.end,
        add: said.add,
        remove: said.remove,
        also: said.also,
        addOther: said.addOther,
        removeOther: said.removeOther,
        reach:
          said.left.length > 0
            ? about.behind[said.end === "A" ? "B" : "A"].filter((p) => !said.left.includes(p))
            : null,
      };
    case "rekey":
      return { ...base, tunnel: code, also: said.also };
    case "strengthen":
      return { ...base, tunnel: code, suite: some(said.suite) };
    case "replace platform":
      return { ...base, gateway: code, platform: said.platform, beside: some(said.beside) };
    case "address move":
      return { ...base, gateway: code, address: said.address.trim(), uplink: some(said.uplink) };
    case "free":
      return { ...base, tunnel: code, steps: said.steps.filter((s) => s.do.trim() !== "") };
    case "new":
      return {
        ...base,
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
      };
    default:
      return { ...base, tunnel: code };
  }
}
