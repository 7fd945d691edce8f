/** What a field is called where it is filled in. Names that read well as they are written are made from their key. */
const labels: Record<string, string> = {
  accepts: "accepts as responder",
  acceptsEitherMode: "accepts main and aggressive mode",
  addressLater: "address known only after it was created",
  allowsInbound: "allowed inbound",
  anchors: "trust anchors",
  asks: "asks for",
  ca: "CA",
  changingSubnets: "changing subnets disturbs",
  createdIn: "created in",
  defaultIdentity: "identity by default",
  defaults: "defaults",
  dpd: "DPD",
  encryption: "encryption algorithms",
  endpoints: "endpoints that come together",
  espLifetime: "ESP lifetime",
  espLifetimes: "ESP lifetimes, least and most",
  espProposals: "ESP proposals",
  exchangeModes: "IKEv1 exchange modes",
  exchangeMode: "IKEv1 exchange mode",
  extendedSequence: "ESN",
  fallsBackToIkev1: "falls back to IKEv1",
  forms: "policy-based or route-based",
  furtherPeers: "further peer addresses",
  groups: "DH groups",
  holdsTwo: "holds two keys while one is replaced",
  identityKinds: "identity types it can send",
  ikeLifetime: "IKE lifetime",
  ikeLifetimes: "IKE lifetimes, least and most",
  ikeProposals: "IKE proposals",
  ikeVersions: "IKE versions",
  ikev1LifetimeRule: "answer to an unequal IKEv1 lifetime",
  ikev1Only: "algorithms under IKEv1 only",
  ikev1Selectors: "IKEv1 selectors",
  ikev2Selectors: "IKEv2 selectors",
  insistsOnSinglePair: "answers several pairs with SINGLE_PAIR_REQUIRED",
  integrity: "integrity algorithms",
  keyFor: "PSK entered for",
  keyHeld: "key version",
  keys: "PSK limits",
  localAs: "local AS",
  localFrom: "local prefixes from a shared entry",
  looksUpBy: "finds the peer entry by",
  manual: "entered manually for each pair",
  mayAuthenticate: "key usage allows authentication",
  mostPairs: "most pairs in one tunnel",
  mostProposals: "most proposals in one tunnel",
  mssClamp: "MSS clamp",
  mtu: "MTU",
  nameLimit: "longest name, in characters",
  namesCompared: "compares names",
  namesReliable: "name resolution is reliable",
  nat: "NAT",
  natTraversal: "NAT traversal",
  noNat: "no-NAT rules",
  notifiesInPhase1: "notifies when it refuses phase 1",
  oneEachWay: "can hold one key for each direction",
  orderWins: "whose order decides",
  outOfBand: "out-of-band access",
  outerVrf: "outer VRF",
  pairsPerChild: "pairs in one child SA",
  pfs: "PFS",
  pfsStances: "PFS settings",
  prfs: "PRFs",
  protectedVrf: "protected VRF",
  rekeyJitter: "rekey jitter",
  proposalsFrom: "proposals from a shared entry",
  relaxedChecks: "disabled certificate checks",
  remoteAs: "remote AS",
  remoteFrom: "remote prefixes from a shared entry",
  retransmits: "retransmission",
  rules: "firewall rules",
  set: "settings recorded on this end",
  savedSeparately: "saving is an act of its own",
  takesEffect: "a change takes effect",
  takesEffectIn: "takes effect within",
  whenRekeyRefused: "when a rekey is refused",
};

export const words = (key: string) =>
  labels[key] ?? key.replace(/([a-z0-9])([A-Z])/g, (_, x: string, y: string) => `${x} ${y.toLowerCase()}`);

const single: Record<string, string> = {
  accepted: "accepted finding",
  contacts: "contact",
  freezes: "freeze",
  networks: "network",
  noNat: "no-NAT rule",
  pairs: "pair",
  prefixNames: "name",
  routes: "route",
  rules: "rule",
  sharedEntries: "shared entry",
  testPoints: "test point",
  uplinks: "uplink",
};

/** What one item of a list is called. */
export const oneOf = (key: string) => single[key] ?? "item";

/** Where a value stands, to be read: `uplinks[1].address` is the address of uplink 1. */
export const readable = (path: string) =>
  path
    .split(".")
    .reverse()
    .map((part) => {
      const [, key = part, item] = /^(.*?)\[(.*)\]$/.exec(part) ?? [];
      return item === undefined ? words(key) : `${oneOf(key)} ${item}`;
    })
    .join(" of ");

/** What a field is about, without how a keepfile writes it: the controls have that in parts. */
export const aboutOf = (about: string) =>
  about
    .replace(/[,;]?\s*(or\s+)?\{[^}]*\}/g, "")
    .replace(/[\s,;:]+$/, "")
    .trim();

export const aOrAn = (noun: string) => `${/^[aeiou]/i.test(noun) ? "an" : "a"} ${noun}`;
