import type { Contract } from "../api";

export type Draft = Contract["DraftChange"];

/** What somebody has said in the form, by the name of its field. */
export type Sentence = Record<string, string>;

/** What a draft is about, and what the form holds beside its fields of text. */
export interface Asked {
  kind: string;
  /** The tunnel or the gateway that it is drafted from. */
  code: string;
  reason: string;
  /** The window's begin as the browser gives it, in UTC without a zone; empty for none. */
  start: string;
  minutes: string;
  end: "A" | "B";
  said: Sentence;
  /** Prefixes of the other side that the new ones shall not reach. */
  left: string[];
  /** Every prefix of the other side. */
  others: string[];
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

/** Prefixes or codes as people type several of them: parted by blanks, commas, semicolons or lines. */
export const list = (text: string) => text.split(/[\s,;]+/).filter(Boolean);

const lines = (text: string) =>
  text
    .split("\n")
    .map((l) => l.trim())
    .filter(Boolean);

/** A step as it is typed: part, where, and what is to be done. */
function step(line: string) {
  const [part, where, ...rest] = line.split(/\s+/);
  return { part, where, do: rest.join(" "), minutes: null, stops: null, undo: null };
}

/** What the form says, as the service takes it. */
export function requestOf(asked: Asked): Draft {
  const { kind, code, said } = asked;
  const text = (key: string) => said[key] ?? "";
  const some = (key: string) => text(key).trim() || null;
  const base = {
    ...empty,
    kind,
    reason: asked.reason,
    windowStart: asked.start ? `${asked.start}:00Z` : null,
    windowMinutes: asked.start ? Number(asked.minutes) : null,
  };
  switch (kind) {
    case "subnets":
      return {
        ...base,
        tunnel: code,
        end: asked.end,
        add: list(text("add")),
        remove: list(text("remove")),
        also: list(text("also")),
        addOther: list(text("addOther")),
        removeOther: list(text("removeOther")),
        reach: asked.left.length > 0 ? asked.others.filter((p) => !asked.left.includes(p)) : null,
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
        steps: lines(text("steps")).map(step),
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
          pairs: lines(text("pairs")),
        },
      };
    default:
      return { ...base, tunnel: code };
  }
}
