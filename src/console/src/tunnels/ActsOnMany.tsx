import { useState } from "react";
import { useNavigate } from "react-router";
import { api, unwrap, type Contract } from "../service/api";
import { draftOne } from "../change/draftOne";
import { Choice } from "../parts/controls/Choice";
import { HowChosen, type ConfirmedHow } from "../parts/controls/ConfirmedHow";
import { Line } from "../parts/controls/Line";
import { Picker } from "../parts/controls/Picker";
import { OneByOne } from "../parts/OneByOne";
import { SelectedAsFile } from "../parts/AsFile";
import { confirmRows, type End } from "../tunnel/Seen";
import { rekeyOf } from "./columns";

type Summary = Contract["TunnelSummary"];

/** What can be done to several tunnels of a list at once. */
export function ActsOnMany(props: {
  selected: readonly Summary[];
  query: Record<string, string | undefined>;
  clear: () => void;
}) {
  const { selected, query, clear } = props;
  const go = useNavigate();
  const [asked, setAsked] = useState<"confirm" | "strengthen" | null>(null);
  const codes = selected.map((t) => t.code);
  const done = () => {
    setAsked(null);
    clear();
  };
  return (
    <>
      <button onClick={() => setAsked("confirm")}>Confirm</button>
      <button onClick={() => go(rekeyOf(codes))}>Plan new keys</button>
      <button onClick={() => setAsked("strengthen")}>Plan to strengthen</button>
      <button onClick={() => void navigator.clipboard?.writeText(codes.join("\n"))}>Copy the codes</button>
      <SelectedAsFile path="/api/v1/tunnels" query={query} keys={codes} />
      {asked === "confirm" && <ConfirmMany tunnels={selected} onDone={done} />}
      {asked === "strengthen" && <StrengthenMany tunnels={selected} onDone={done} />}
    </>
  );
}

/** Somebody looked at the devices of several tunnels: everything that is recorded of an end is confirmed. */
function ConfirmMany({ tunnels, onDone }: { tunnels: readonly Summary[]; onDone: () => void }) {
  const [ends, setEnds] = useState<End | "both">("A");
  const [how, setHow] = useState<ConfirmedHow>("read");
  return (
    <OneByOne
      title={`Confirm ${tunnels.length} ${tunnels.length === 1 ? "tunnel" : "tunnels"}`}
      items={tunnels}
      nameOf={(t) => t.code}
      placeOf={(t) => `/tunnels/${t.code}?rows=all`}
      verb="Confirm"
      ready
      onDone={onDone}
      act={async ({ code }, writes) => {
        const t = await unwrap(api.GET("/api/v1/tunnels/{code}", { params: { path: { code } } }));
        const keys = (end: End) =>
          ends === "both" || ends === end
            ? t.rows.filter((r) => (end === "A" ? r.a : r.b).canBeConfirmed).map((r) => r.key)
            : [];
        const rows = { A: keys("A"), B: keys("B") };
        const count = rows.A.length + rows.B.length;
        if (count === 0) return "nothing is recorded that could be confirmed";
        await confirmRows(writes, t, rows, how);
        return `${count} ${count === 1 ? "value" : "values"} confirmed`;
      }}
    >
      <p>
        Everything recorded of the end counts as seen: only for devices that you have looked at whole. To confirm single
        values, open the tunnel.
      </p>
      <Choice
        label="Which end was looked at"
        inLine
        value={ends}
        set={setEnds}
        of={[
          { value: "A", label: <span className="a">A</span> },
          { value: "B", label: <span className="b">B</span> },
          { value: "both", label: "both" },
        ]}
      />
      <HowChosen how={how} set={setHow} />
    </OneByOne>
  );
}

/** A plan to strengthen for each of several tunnels, all with one reason: each is reviewed and done on its own. */
function StrengthenMany({ tunnels, onDone }: { tunnels: readonly Summary[]; onDone: () => void }) {
  const [suite, setSuite] = useState("");
  const [reason, setReason] = useState("");
  return (
    <OneByOne
      title={`Plan to strengthen ${tunnels.length} ${tunnels.length === 1 ? "tunnel" : "tunnels"}`}
      items={tunnels}
      nameOf={(t) => t.code}
      placeOf={(t) => `/tunnels/${t.code}`}
      verb="Draft"
      ready={reason.trim() !== ""}
      holds={reason !== ""}
      onDone={onDone}
      act={({ code }, writes) => draftOne(writes, code, { kind: "strengthen", suite, reason })}
    >
      <Picker of="suites" label="Suite" value={suite} set={setSuite} placeholder="the strongest that both support" />
      <Line label="Reason" value={reason} set={setReason} help="It stands in each of the plans." />
    </OneByOne>
  );
}
