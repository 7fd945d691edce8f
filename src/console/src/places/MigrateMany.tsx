import { useState } from "react";
import type { Contract } from "../service/api";
import { draftOne } from "../change/draftOne";
import { Line } from "../parts/controls/Line";
import { Picker } from "../parts/controls/Picker";
import { OneByOne } from "../parts/OneByOne";

/** Another platform for several gateways, in the place of what is there: a plan for each, all with one reason. */
export function MigrateMany(props: { gateways: readonly Contract["GatewaySummary"][]; onDone: () => void }) {
  const { gateways, onDone } = props;
  const [platform, setPlatform] = useState("");
  const [reason, setReason] = useState("");
  return (
    <OneByOne
      title={`Plan another platform for ${gateways.length} ${gateways.length === 1 ? "gateway" : "gateways"}`}
      items={gateways}
      nameOf={(g) => g.code}
      placeOf={(g) => `/gateways/${g.code}`}
      verb="Draft"
      ready={platform !== "" && reason.trim() !== ""}
      holds={platform + reason !== ""}
      onDone={onDone}
      act={({ code }, writes) => draftOne(writes, code, { kind: "replace platform", platform, reason })}
    >
      <Picker of="platforms" label="New platform profile" value={platform} set={setPlatform} required />
      <Line label="Reason" value={reason} set={setReason} help="It stands in each of the plans." />
    </OneByOne>
  );
}
