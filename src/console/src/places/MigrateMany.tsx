import { useState } from "react";
import { Link } from "react-router";
import { api, unwrap, type Contract } from "../api";
import { blank, requestOf } from "../change/request";
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
      act={async ({ code }) => {
        const about = { code, behind: { A: [], B: [] }, zones: { A: "Etc/UTC", B: "Etc/UTC" } };
        const body = requestOf({ ...blank, kind: "replace platform", platform, reason }, about);
        const made = await unwrap(api.POST("/api/v1/changes", { body }));
        return (
          <>
            drafted as <Link to={`/changes/${made.code}`}>{made.code}</Link>
          </>
        );
      }}
    >
      <Picker of="platforms" label="New platform profile" value={platform} set={setPlatform} required />
      <Line label="Reason" value={reason} set={setReason} help="It stands in each of the plans." />
    </OneByOne>
  );
}
