import { parse, stringify } from "yaml";
import type { Contract } from "../service/api";

/** A form as the service speaks it: texts, lists and fields, every value a text. */
export type Value = string | Value[] | { [key: string]: Value };
export type Fields = { [key: string]: Value };
export type FieldInfo = Contract["FieldInfo"];

export const isMap = (v: Value | undefined): v is Fields => typeof v === "object" && !Array.isArray(v);

/** Empty fields are left out, so that an emptied field is one that nobody set. */
export function pruned(v: Value): Value | undefined {
  if (typeof v === "string") return v.trim() === "" ? undefined : v;
  if (Array.isArray(v)) {
    const rest = v.map(pruned).filter((x) => x !== undefined);
    return rest.length ? rest : undefined;
  }
  const rest = Object.entries(v).flatMap(([k, x]) => {
    const p = pruned(x);
    return p === undefined ? [] : [[k, p] as const];
  });
  return rest.length ? Object.fromEntries(rest) : undefined;
}

export const toText = (form: Fields) => stringify(form, { schema: "failsafe", lineWidth: 0, collectionStyle: "block" });

/** The fields of a text, or why it has none. */
export function fromText(text: string): { form?: Fields; wrong?: string } {
  try {
    const form = parse(text, { schema: "failsafe" }) as Value;
    return isMap(form)
      ? { form }
      : { wrong: "The text is not made of fields. Right would be lines such as: name: Churn House" };
  } catch (e) {
    return { wrong: e instanceof Error ? e.message.split("\n")[0] : "The text cannot be read." };
  }
}

/** A structured value on one line, as it can be typed back. */
export const inline = (v: Value) =>
  typeof v === "string" ? v : stringify(v, { schema: "failsafe", collectionStyle: "flow", lineWidth: 0 }).trim();

export function read(text: string): Value {
  if (!/^\s*[[{]/.test(text)) return text;
  try {
    return parse(text, { schema: "failsafe" }) as Value;
  } catch {
    return text;
  }
}

const same = (x: Value | undefined, y: Value | undefined) => JSON.stringify(x) === JSON.stringify(y);

/** What an item of a list is identified by: its first field. */
export const nameOf = (v: Value): string => {
  const first = isMap(v) ? Object.values(v)[0] : v;
  return typeof first === "string" ? first : "";
};

const named = (list: Value | undefined): list is Fields[] =>
  Array.isArray(list) && list.every((v) => isMap(v)) && new Set(list.map(nameOf)).size === list.length;

export type Changed = { path: string; was?: Value; theirs?: Value; mine?: Value; clash: boolean };

/**
 * Two edits of one form brought together: what only one of them altered is taken from them; where both did, the caller's choice decides.
 * Gives the form and every path that either changed.
 */
export function merge(
  was: Value | undefined,
  theirs: Value | undefined,
  mine: Value | undefined,
  takeTheirs: ReadonlySet<string>,
  path = "",
): { form?: Value; changed: Changed[] } {
  if (same(theirs, mine))
    return { form: mine, changed: same(was, mine) || path === "" ? [] : [{ path, was, theirs, mine, clash: false }] };
  if ((isMap(theirs) || theirs === undefined) && (isMap(mine) || mine === undefined) && isMap(was)) {
    if (theirs && mine) {
      const keys = [...new Set([...Object.keys(was), ...Object.keys(theirs), ...Object.keys(mine)])];
      const parts = keys.map(
        (k) => [k, merge(was[k], theirs[k], mine[k], takeTheirs, path ? `${path}.${k}` : k)] as const,
      );
      return {
        form: Object.fromEntries(parts.flatMap(([k, p]) => (p.form === undefined ? [] : [[k, p.form] as const]))),
        changed: parts.flatMap(([, p]) => p.changed),
      };
    }
  }
  if (named(was) && named(theirs) && named(mine)) {
    const names = [...new Set([...was, ...theirs, ...mine].map(nameOf))];
    const of = (list: Fields[], name: string) => list.find((v) => nameOf(v) === name);
    const parts = names.map((n) => merge(of(was, n), of(theirs, n), of(mine, n), takeTheirs, `${path}[${n}]`));
    const form = parts.flatMap((p) => (p.form === undefined ? [] : [p.form]));
    return { form: form.length ? form : undefined, changed: parts.flatMap((p) => p.changed) };
  }
  const clash = !same(was, theirs) && !same(was, mine);
  const form = same(was, mine) || (clash && takeTheirs.has(path)) ? theirs : mine;
  return { form, changed: [{ path, was, theirs, mine, clash }] };
}
