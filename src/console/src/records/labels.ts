import type { FieldInfo } from "./form";

/** Where a value stands, to be read: `uplinks[1].address` is the address of uplink 1. */
export function readable(fields: readonly FieldInfo[], path: string): string {
  const parts: string[] = [];
  let at = fields;
  for (const part of path.split(".")) {
    const [, key = part, item] = /^(.*?)\[(.*)\]$/.exec(part) ?? [];
    const field = at.find((f) => f.key === key);
    if (!field) return path;
    parts.unshift(item === undefined ? field.label : `${field.one} ${item}`);
    at = field.inside;
  }
  return parts.join(" of ");
}

/** What a field is about, without how a keepfile writes it: the controls have that in parts. */
export const aboutOf = (about: string) =>
  about
    .replace(/[,;]?\s*(or\s+)?\{[^}]*\}/g, "")
    .replace(/[\s,;:]+$/, "")
    .trim();

export const aOrAn = (noun: string) => `${/^[aeiou]/i.test(noun) ? "an" : "a"} ${noun}`;
