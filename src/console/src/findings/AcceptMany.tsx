import { useState } from "react";
import { api, unwrap, type FindingPage } from "../service/api";
import { Line } from "../parts/controls/Line";
import { DayField } from "../parts/controls/DateTimeFields";
import { acceptFinding } from "../parts/FindingList";
import { OneByOne } from "../parts/OneByOne";

/** What one finding of a list is told from every other by. */
export const keyOf = (f: FindingPage) => `${f.tunnel} ${f.code} ${f.subject}`;

/** Several findings accepted with one reason and one day. */
export function AcceptMany({ findings, onDone }: { findings: readonly FindingPage[]; onDone: () => void }) {
  const [reason, setReason] = useState("");
  const [until, setUntil] = useState("");
  return (
    <OneByOne
      title={`Accept ${findings.length} ${findings.length === 1 ? "finding" : "findings"}`}
      items={findings}
      nameOf={keyOf}
      placeOf={(f) => `/tunnels/${f.tunnel}`}
      verb="Accept"
      ready={reason.trim() !== "" && until !== ""}
      holds={reason + until !== ""}
      onDone={onDone}
      act={async (f, writes) => {
        const t = await unwrap(api.GET("/api/v1/tunnels/{code}", { params: { path: { code: f.tunnel } } }));
        await acceptFinding(writes, f, reason, until, t.version);
        return "accepted";
      }}
    >
      <Line label="Why they can stay" value={reason} set={setReason} placeholder="replaced in spring" />
      <DayField
        label="Until"
        value={until}
        set={setUntil}
        help="That day included. Each opens again after it, or when its values change."
      />
    </OneByOne>
  );
}
