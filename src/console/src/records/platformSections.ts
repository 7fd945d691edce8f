import type { FieldInfo, Fields } from "./form";

export interface Section {
  id: string;
  title: string;
  about?: string;
  fields: FieldInfo[];
  /** Whether its fields are abilities: what nobody says counts as unknown. */
  abilities: boolean;
}

const parts: { id: string; title: string; about?: string; keys: readonly string[] }[] = [
  {
    id: "ike",
    title: "IKE",
    keys: [
      "ikeVersions",
      "exchangeModes",
      "acceptsEitherMode",
      "fallsBackToIkev1",
      "looksUpBy",
      "notifiesInPhase1",
      "retransmits",
    ],
  },
  {
    id: "algorithms",
    title: "Algorithms and proposals",
    about: "Tick what it can do, whether or not it should be used.",
    keys: [
      "encryption",
      "integrity",
      "groups",
      "prfs",
      "ikev1Only",
      "accepts",
      "orderWins",
      "mostProposals",
      "pfsStances",
    ],
  },
  {
    id: "authentication",
    title: "Authentication and identities",
    keys: ["authentication", "identityKinds", "defaultIdentity", "namesCompared", "keys"],
  },
  {
    id: "subnets",
    title: "Subnets and child SAs",
    keys: ["forms", "pairsPerChild", "insistsOnSinglePair", "mostPairs", "ikev1Selectors", "ikev2Selectors", "manual"],
  },
  {
    id: "lifetimes",
    title: "Lifetimes and rekeys",
    keys: ["lifetimeUnit", "ikeLifetimes", "espLifetimes", "ikev1LifetimeRule", "rekeyJitter", "whenRekeyRefused"],
  },
  {
    id: "operation",
    title: "Working on it",
    keys: [
      "takesEffect",
      "takesEffectIn",
      "savedSeparately",
      "nameLimit",
      "createdIn",
      "addressLater",
      "endpoints",
      "supportEnds",
    ],
  },
  {
    id: "interrupts",
    title: "What a change interrupts",
    about: "What stops, and for how long, when this is altered while a tunnel is up.",
    keys: [
      "changingSubnets",
      "changingRules",
      "changingRoutes",
      "changingProposals",
      "changingLifetimes",
      "changingKey",
      "changingCertificate",
      "changingIdentity",
      "changingPeerAddress",
      "changingInterface",
      "changingUplink",
      "changingOptions",
    ],
  },
];

const named = ["code", "version", "name", "family"];
const last = ["notes", "retired"];

/** The fields of a profile in their parts; one that no part names stands with the work on the device. */
export function sections(fields: readonly FieldInfo[]): Section[] {
  const of = (keys: readonly string[]) => keys.flatMap((k) => fields.filter((f) => f.key === k));
  const placed = [...named, ...last, "defaults", ...parts.flatMap((p) => p.keys)];
  const unplaced = fields.filter((f) => !placed.includes(f.key));
  return [
    { id: "named", title: "Which device", fields: of(["name", "code", "version", "family"]), abilities: false },
    ...parts.map(({ id, title, about, keys }) => ({
      id,
      title,
      about,
      fields: [...of(keys), ...(id === "operation" ? unplaced : [])],
      abilities: true,
    })),
    {
      id: "defaults",
      title: "What it does when nobody says otherwise",
      fields: of(["defaults"]),
      abilities: false,
    },
    { id: "last", title: "Notes", fields: of(last), abilities: false },
  ];
}

const isUnsaid = (form: Fields, f: FieldInfo) => form[f.key] === undefined || form[f.key] === "";

/** How many abilities of a part nobody has said anything about. */
export const unknownIn = (section: Section, form: Fields) =>
  section.abilities ? section.fields.filter((f) => isUnsaid(form, f)).length : 0;
