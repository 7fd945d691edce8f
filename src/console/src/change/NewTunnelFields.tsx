import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Line } from "../parts/controls/Line";
import { Picker, PickOne } from "../parts/controls/Picker";
import { Problem } from "../parts/Page";
import { ask } from "../service/queries";
import { BetweenGateways } from "../records/BetweenGateways";
import type { DraftNeeds } from "./draftNeeds";
import { PairTicks } from "../parts/controls/PairTicks";

/** A tunnel that is not there yet: between which gateways, which networks reach which, how protected. */
export function NewTunnelFields({ said, put }: DraftNeeds) {
  const { gatewayA, gatewayB } = said;
  const between = useQuery({ ...ask.newTunnel(gatewayA, gatewayB), enabled: gatewayA !== "" && gatewayB !== "" });
  const { a, b } = between.data ?? {};
  // What can be worked out is filled in; what somebody typed stays.
  useEffect(() => {
    if (between.data && said.newCode === "") put({ newCode: between.data.code, name: between.data.name });
    // Only the answer fills it in, not every letter that is typed.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [between.data]);
  return (
    <>
      <div className="field pair">
        <Picker
          of="gateways"
          label={<span className="a">A gateway</span>}
          value={gatewayA}
          set={(code) => put({ gatewayA: code, newCode: "", pairs: [] })}
          required
        />
        <Picker
          of="gateways"
          label={<span className="b">B gateway</span>}
          value={gatewayB}
          set={(code) => put({ gatewayB: code, newCode: "", pairs: [] })}
          required
        />
      </div>
      {between.error && <Problem error={between.error} />}
      <BetweenGateways a={gatewayA} b={gatewayB} />
      {a && b && (
        <>
          <PairTicks
            a={{ site: a.site, networks: a.networks }}
            b={{ site: b.site, networks: b.networks }}
            pairs={said.pairs}
            set={(pairs) => put({ pairs })}
          />
          {(a.uplinks.length > 1 || b.uplinks.length > 1) && (
            <div className="field pair">
              <PickOne
                label={<span className="a">A uplink</span>}
                value={said.uplinkA}
                set={(uplinkA) => put({ uplinkA })}
                options={a.uplinks}
                placeholder="all of them"
              />
              <PickOne
                label={<span className="b">B uplink</span>}
                value={said.uplinkB}
                set={(uplinkB) => put({ uplinkB })}
                options={b.uplinks}
                placeholder="all of them"
              />
            </div>
          )}
          <Picker
            of="suites"
            label="Suite"
            value={said.suite}
            set={(suite) => put({ suite })}
            placeholder="the strongest that both ends support"
            help="Without one, identities, the initiator and tunnel addresses are worked out too."
          />
          <div className="field pair">
            <Line label="Code" value={said.newCode} set={(newCode) => put({ newCode })} mono required />
            <Line label="Name" value={said.name} set={(name) => put({ name })} />
          </div>
          <details>
            <summary className="src">Whose tunnel it is: {said.customer || between.data?.customer}</summary>
            <Picker of="customers" label="Customer" value={said.customer} set={(customer) => put({ customer })} />
          </details>
        </>
      )}
    </>
  );
}
