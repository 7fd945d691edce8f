import type { ReactNode } from "react";
import { Codes } from "../parts/controls/Codes";
import { Line } from "../parts/controls/Line";
import { Picker, PickOne } from "../parts/controls/Picker";
import { FreeSteps } from "./FreeSteps";
import { NewTunnelFields } from "./NewTunnelFields";
import type { DraftNeeds } from "./draftNeeds";
import type { Kind } from "./request";
import { SubnetFields } from "./SubnetFields";

/** What can be requested, of what, and what follows from it, in a line each. */
interface KindOfChange {
  of: "tunnel" | "gateway" | "nothing";
  name: string;
  about: string;
  Fields: (asked: DraftNeeds) => ReactNode;
}

const none = () => null;

/** Every kind of change, with the fields that it is asked with. */
export const kindsOfChange: Record<Kind, KindOfChange> = {
  subnets: {
    of: "tunnel",
    name: "Subnets",
    about: "add or remove prefixes; the plan has entries, firewall rules and routes of both ends",
    Fields: SubnetFields,
  },
  rekey: {
    of: "tunnel",
    name: "New key",
    about: "the order with the shortest interruption, hand-over, check code",
    Fields: ({ said, put, choices }) => (
      <Codes
        label="More tunnels to rekey"
        of="tunnels"
        value={said.also}
        set={(also) => put({ also })}
        atHand={[...(choices?.a.beside ?? []), ...(choices?.b.beside ?? [])].filter(isFirst)}
        help="None: only this tunnel. Many are planned as batches that fit windows."
      />
    ),
  },
  strengthen: {
    of: "tunnel",
    name: "Strengthen",
    about: "a suite, or the strongest that both ends support",
    Fields: ({ said, put }) => (
      <Picker
        of="suites"
        label="Suite"
        value={said.suite}
        set={(suite) => put({ suite })}
        placeholder="the strongest that both ends support"
      />
    ),
  },
  "new tunnel": {
    of: "tunnel",
    name: "Build it",
    about: "enter and test both ends of a tunnel that is recorded as planned",
    Fields: none,
  },
  retire: {
    of: "tunnel",
    name: "Retire",
    about: "remove it at both ends; what other tunnels use stays",
    Fields: none,
  },
  free: {
    of: "tunnel",
    name: "Own steps",
    about: "work that no other kind covers; no record changes",
    Fields: ({ said, put }) => <FreeSteps steps={said.steps} set={(steps) => put({ steps })} />,
  },
  "replace platform": {
    of: "gateway",
    name: "Another platform",
    about: "every setting carried over: kept, changed (to what and why), or impossible",
    Fields: ({ said, put }) => (
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
    ),
  },
  "address move": {
    of: "gateway",
    name: "Another outer address",
    about: "every tunnel and every other gateway that it affects, and who must agree",
    Fields: ({ said, put, gateway }) => (
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
    ),
  },
  new: {
    of: "nothing",
    name: "A new tunnel",
    about: "between two gateways",
    Fields: NewTunnelFields,
  },
};

/** The kinds that can be asked for of a tunnel, or of a gateway, in their order. */
export const kindsOf = (of: KindOfChange["of"]) =>
  (Object.keys(kindsOfChange) as Kind[]).filter((kind) => kindsOfChange[kind].of === of);

/** The fields of one kind of change, below the choice of kinds. */
export function DraftFields(asked: DraftNeeds) {
  const { Fields } = kindsOfChange[asked.said.kind];
  return <Fields {...asked} />;
}

const isFirst = (o: { code: string }, i: number, all: { code: string }[]) =>
  all.findIndex((x) => x.code === o.code) === i;
