import type { TunnelPage } from "../service/api";
import { Finding } from "../parts/FindingList";
import { Verdict } from "../parts/Sentence";
import { Crossing } from "../drawn/Crossing";

/** The tunnel as it would be, drawn beside its form: both ends, the verdict and the findings follow what is typed. */
export function TunnelDrawn({ tunnel: t }: { tunnel?: TunnelPage }) {
  if (!t) return null;
  return (
    <section aria-label="The tunnel as it would be">
      <Verdict verdict={t.verdict} />
      <Crossing t={t} beside />
      {t.findings.length > 0 && (
        <details>
          <summary>
            {t.findings.length} {t.findings.length === 1 ? "finding" : "findings"}
          </summary>
          {t.findings.map((f) => (
            <Finding key={f.code + f.subject} f={f} drafted />
          ))}
        </details>
      )}
    </section>
  );
}
