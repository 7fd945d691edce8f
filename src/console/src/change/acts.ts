import type { ChangePage } from "../service/api";

/** What can be done to a change as a whole. */
export type Act =
  | "submit"
  | "approve"
  | "return"
  | "begin"
  | "urgent"
  | "confirm-urgent"
  | "review-after"
  | "confirm-window"
  | "recompute"
  | "take-in"
  | "close"
  | "back-out"
  | "drop";

/** What each is called on its button. */
export const words: Record<Act, string> = {
  submit: "Send for review",
  approve: "Approve",
  return: "Return with a remark",
  begin: "Begin the work",
  urgent: "Ask to begin urgently",
  "confirm-urgent": "Confirm: begin now",
  "review-after": "Reviewed afterwards",
  "confirm-window": "Confirm the new window",
  recompute: "Recompute",
  "take-in": "Take corrections in",
  close: "Close: record as built",
  "back-out": "Back out",
  drop: "Drop",
};

/** What each asks for before it is done; the others are done at once. */
const always: Partial<Record<Act, string>> = {
  return: "What has to be fixed",
  "back-out": "Why",
  drop: "Why",
  urgent: "Why it cannot wait",
  "confirm-urgent": "What you looked at, if anything",
  "review-after": "What the review says, if anything",
};

/** What an act asks for on this change now: also why, where work begins outside its window. */
export const asks = (act: Act, c: ChangePage, now = Date.now()) =>
  act === "begin" && outside(c, now) ? "Why outside the window" : always[act];

/** Whether a change has a window that is not open now. */
function outside(c: ChangePage, now: number) {
  if (!c.windowStart) return false;
  const start = Date.parse(c.windowStart);
  return now < start || now >= start + (c.windowMinutes ?? 0) * 60_000;
}
