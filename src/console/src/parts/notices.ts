/** What was done, and where it can be seen. */
export interface Done {
  text: string;
  to?: string;
  link?: string;
}

let show: ((done: Done) => void) | undefined;
const before: Done[] = [];

/** Tells that something was done: beside the page, which does not move for it. */
export function tell(done: Done) {
  if (show) show(done);
  else before.push(done);
}

/** Whoever shows what is told; what was told before comes first. */
export function showTold(shown: (done: Done) => void) {
  show = shown;
  before.splice(0).forEach(shown);
}
