import { Codes } from "../parts/controls/Codes";
import { Line } from "../parts/controls/Line";
import { Picker, PickOne } from "../parts/controls/Picker";
import { FreeSteps } from "./FreeSteps";
import { NewTunnelFields } from "./NewTunnelFields";
import type { DraftNeeds } from "./draftNeeds";
import { SubnetFields } from "./SubnetFields";

/** The fields of one kind of change, below the choice of kinds. */
export function DraftFields(asked: DraftNeeds) {
  const { said, put, choices, gateway } = asked;
  switch (said.kind) {
    case "subnets":
      return <SubnetFields {...asked} />;
    case "rekey":
      return (
        <Codes
          label="More tunnels to rekey"
          of="tunnels"
          value={said.also}
          set={(also) => put({ also })}
          atHand={[...(choices?.a.beside ?? []), ...(choices?.b.beside ?? [])].filter(isFirst)}
          help="None: only this tunnel. Many are planned as batches that fit windows."
        />
      );
    case "strengthen":
      return (
        <Picker
          of="suites"
          label="Suite"
          value={said.suite}
          set={(suite) => put({ suite })}
          placeholder="the strongest that both ends support"
        />
      );
    case "replace platform":
      return (
        <>
          <Picker
            of="platforms"
            label="New platform profile"
            value={said.platform}
            set={(platform) => put({ platform })}
            required
          />
          <Line
            label="Outer address of the new device"
            value={said.beside}
            set={(beside) => put({ beside })}
            mono
            help="When it is built beside the old one. Empty: it gets the old one's place and address."
          />
        </>
      );
    case "address move":
      return (
        <>
          <Line label="New outer address" value={said.address} set={(address) => put({ address })} mono required />
          <PickOne
            label="Uplink"
            value={said.uplink}
            set={(uplink) => put({ uplink })}
            options={gateway?.uplinks ?? []}
            placeholder={gateway?.uplinks[0]?.code}
          />
        </>
      );
    case "free":
      return <FreeSteps steps={said.steps} set={(steps) => put({ steps })} />;
    case "new":
      return <NewTunnelFields {...asked} />;
    default:
      return null;
  }
}

const isFirst = (o: { code: string }, i: number, all: { code: string }[]) =>
  all.findIndex((x) => x.code === o.code) === i;
