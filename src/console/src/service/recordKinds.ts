/** Every kind of record: its word, the plural it stands under, and where it is shown. */
export const kinds = [
  { word: "customer", plural: "customers" },
  { word: "site", plural: "sites" },
  { word: "gateway", plural: "gateways" },
  { word: "platform profile", plural: "platforms" },
  { word: "suite", plural: "suites" },
  { word: "standing offer", plural: "offers" },
  { word: "tunnel", plural: "tunnels" },
  { word: "person", plural: "people" },
] as const;

export type Plural = (typeof kinds)[number]["plural"];

export const wordOf = (plural: string) => kinds.find((k) => k.plural === plural)?.word ?? plural;

export function placeOf(word: string, code: string) {
  if (word === "change") return `/changes/${code}`;
  const kind = kinds.find((k) => k.word === word);
  return kind ? `/${kind.plural}/${code}` : "/";
}
