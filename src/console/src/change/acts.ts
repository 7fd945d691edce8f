/** What can be done to a change as a whole. */
export type Act =
  | "submit"
  | "approve"
  | "return"
  | "begin"
  | "urgent"
  | "confirm-urgent"
  | "review-after"
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
  recompute: "Recompute",
  "take-in": "Take corrections in",
  close: "Close: record as built",
  "back-out": "Back out",
  drop: "Drop",
};

/** What each asks for before it is done; the others are done at once. */
export const asks: Partial<Record<Act, string>> = {
  return: "What has to be fixed",
  "back-out": "Why",
  drop: "Why",
  urgent: "Why it cannot wait",
  "confirm-urgent": "What you looked at, if anything",
  "review-after": "What the review says, if anything",
};
