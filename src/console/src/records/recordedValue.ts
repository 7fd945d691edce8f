import type { Held } from "../parts/controls/State";
import { inline, isMap, read, type Fields, type Value } from "./form";

const text = (v: Value | undefined) => (v === undefined ? "" : inline(v));

/** A value of the written form with its state; undefined where the form holds something that has no state. */
export function heldOf(value: Value | undefined): Held | undefined {
  if (value === undefined) return { state: "known", value: "" };
  if (!isMap(value)) return typeof value === "string" ? { state: "known", value } : undefined;
  const confirmed = typeof value.confirmed === "string" ? value.confirmed : undefined;
  if (value.pending !== undefined) return { state: "pending", who: text(value.pending), by: text(value.by) };
  if (value.temporary !== undefined)
    return {
      state: "temporary",
      value: text(value.temporary),
      final: text(value.final),
      reason: text(value.reason),
      deadline: text(value.deadline),
      confirmed,
    };
  return value.is !== undefined ? { state: "known", value: text(value.is), confirmed } : undefined;
}

/** The written form of a value with its state; undefined where nothing is said. */
export function writtenHeld(held: Held): Value | undefined {
  if (held.state === "pending") return { pending: held.who, by: held.by };
  const confirmed: Fields = held.confirmed ? { confirmed: held.confirmed } : {};
  if (held.state === "temporary")
    return {
      temporary: read(held.value),
      final: read(held.final),
      reason: held.reason,
      deadline: held.deadline,
      ...confirmed,
    };
  if (held.confirmed) return { is: read(held.value), ...confirmed };
  return held.value === "" ? undefined : read(held.value);
}
