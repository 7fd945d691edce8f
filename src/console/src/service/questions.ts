/** Kinds of record, each with pages of its own that writing it makes stale. */
type Kind =
  "change" | "tunnel" | "gateway" | "site" | "customer" | "platform profile" | "suite" | "standing offer" | "person";

/**
 * What makes an answer stale: writing any record of these kinds; every writing; nothing, because it rests on what was
 * asked alone; or nothing while it is typed over.
 */
type Stale = readonly Kind[] | "every writing" | "nothing" | "never under whoever types";

/** What tunnels are made of: writing one of these can move a verdict. */
const tunnels = ["tunnel", "gateway", "site", "customer", "platform profile", "suite"] as const;

/** What has a code that can be named. */
const coded = ["gateway", "site", "customer", "platform profile", "suite"] as const;

/** Every question of the console, and what makes its answer stale. A key is made of one of them and of nothing else. */
export const questions = {
  // Pages and lists of records.
  today: ["change", ...tunnels],
  due: ["change", ...tunnels],
  keys: ["change", ...tunnels],
  findings: tunnels,
  "findings over time": tunnels,
  tunnel: ["change", ...tunnels],
  tunnels,
  rehearsal: tunnels,
  // Approval of a change rests on what tunnels are made of; another change shows on its own page alone.
  change: tunnels,
  changes: ["change", "customer"],
  windows: ["change", "customer"],
  gateway: tunnels,
  gateways: tunnels,
  site: tunnels,
  sites: tunnels,
  customer: tunnels,
  customers: tunnels,
  offer: ["standing offer"],
  offers: ["standing offer"],
  platform: ["platform profile"],
  platforms: ["platform profile"],
  suite: tunnels,
  suites: tunnels,
  person: ["person"],
  people: ["person"],
  access: ["person"],
  drawing: tunnels,
  search: ["change", "standing offer", ...tunnels],
  free: tunnels,
  // What a form offers, and what a draft would do.
  "tunnel choices": tunnels,
  "gateway choices": tunnels,
  choices: tunnels,
  names: ["standing offer", "person", ...coded],
  code: coded,
  "new tunnel": tunnels,
  look: tunnels,
  common: ["platform profile", "gateway"],
  strongest: ["platform profile", "gateway"],
  // What happened.
  commits: "every writing",
  history: "every writing",
  versions: "every writing",
  audit: "every writing",
  // What rests on the question alone, or is read again where it is written.
  glossary: "nothing",
  "saved filters": "nothing",
  packet: "nothing",
  grade: "nothing",
  lifetime: "nothing",
  detect: "nothing",
  prefix: "nothing",
  "read prefixes": "nothing",
  "read proposals": "nothing",
  // What is being typed over.
  form: "never under whoever types",
  new: "never under whoever types",
  preview: "never under whoever types",
  sheet: "never under whoever types",
  me: "never under whoever types",
} as const satisfies Record<string, Stale>;

export type Question = keyof typeof questions;

/** The key of a question, and of what it is asked about. */
export const queryKeyOf = <Q extends Question>(question: Q, ...about: readonly unknown[]) =>
  [question, ...about] as const;

/** What makes an answer stale, by its key. */
export const staleBy = (key: readonly unknown[]): Stale => questions[key[0] as Question];

/** Whether every kind of record is known that was written: of another one nobody knows what shows it. */
export const isKind = (kind: string): kind is Kind =>
  Object.values<Stale>(questions).some((by) => typeof by !== "string" && (by as readonly string[]).includes(kind));
