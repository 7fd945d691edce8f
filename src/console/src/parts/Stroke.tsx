import type { Contract } from "../service/api";

export type Form = Contract["DrawnForm"];

/** The hue that supports a form; the form itself carries the meaning. */
export const hueOf = (stroke: string) =>
  stroke === "gap"
    ? "var(--stops)"
    : stroke === "thin" || stroke === "flag"
      ? "var(--weak)"
      : stroke === "twoHairlines"
        ? "var(--ink-soft)"
        : "var(--ink)";

/** One of the six forms in miniature, 60 wide, with its word for those who do not see it. */
export function Stroke({ form }: { form: Form }) {
  const hue = hueOf(form.stroke);
  return (
    <svg width="60" height="14" role="img" aria-label={form.word}>
      <title>{form.word}</title>
      {form.stroke === "whole" && <path d="M0 7H60" stroke={hue} strokeWidth="2.2" />}
      {form.stroke === "dotted" && (
        <path d="M1 7H60" stroke={hue} strokeWidth="2.4" strokeDasharray="0.1 5.4" strokeLinecap="round" />
      )}
      {form.stroke === "twoHairlines" && <path d="M0 5H60M0 9H60" stroke={hue} strokeWidth="1" />}
      {form.stroke === "thin" && <path d="M0 7H60" stroke={hue} strokeWidth="1.1" />}
      {form.stroke === "flag" && (
        <>
          <path d="M0 10H60" stroke={hue} strokeWidth="2.2" />
          <path d="M27 10V1h11l-3 3 3 3h-10" fill={hue} stroke={hue} />
        </>
      )}
      {form.stroke === "gap" && <path d="M0 7H22M22 1V13M38 1V13M38 7H60" stroke={hue} strokeWidth="2.2" fill="none" />}
    </svg>
  );
}
