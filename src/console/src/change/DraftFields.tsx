import type { ReactNode } from "react";
import type { Contract } from "../api";
import { BetweenGateways } from "./BetweenGateways";

/** What the form's fields of text hold, by name. */
export interface Filling {
  text: (name: string) => string;
  set: (name: string, value: string) => void;
}

/** Which side the new prefixes are behind, and which of the other side they shall reach. */
export interface Sides {
  end: "A" | "B";
  setEnd: (end: "A" | "B") => void;
  others: [string, string | null][];
  left: string[];
  setLeft: (left: string[]) => void;
}

/** What is asked for one kind of change, below the choice of kinds. */
export function DraftFields(props: {
  kind: string;
  f: Filling;
  sides: Sides;
  tunnel?: Contract["TunnelPage"];
  gateway?: Contract["GatewayPage"];
}) {
  const { kind, f, sides, tunnel, gateway } = props;
  switch (kind) {
    case "subnets":
      return tunnel && <SubnetFields f={f} sides={sides} t={tunnel} />;
    case "rekey":
      return <Field f={f} name="also" label="More tunnels to rekey" help="codes; empty: only this tunnel" />;
    case "strengthen":
      return (
        <Field
          f={f}
          name="suite"
          of="suites"
          label="Suite"
          help="with its version; empty: the strongest that both ends support"
        />
      );
    case "replace platform":
      return <PlatformFields f={f} />;
    case "address move":
      return <AddressFields f={f} g={gateway} />;
    case "free":
      return (
        <Field
          f={f}
          name="steps"
          label="Steps, one to a line: part, where and what"
          rows={5}
          required
          help="build B Fit the spare power supply. Parts: prepare, safeguard, build, switch, prove, record"
        />
      );
    case "new":
      return <NewTunnelFields f={f} />;
    default:
      return null;
  }
}

function Field(props: {
  f: Filling;
  name: string;
  label: ReactNode;
  help?: ReactNode;
  rows?: number;
  required?: boolean;
  of?: "gateways" | "platforms" | "suites";
}) {
  const { f, name, rows, required } = props;
  return (
    <div className="field">
      <label>
        {props.label}
        {rows ? (
          <textarea
            className="mono"
            rows={rows}
            required={required}
            value={f.text(name)}
            onChange={(e) => f.set(name, e.target.value)}
          />
        ) : (
          <input
            className="mono"
            required={required}
            list={props.of && `known-${props.of}`}
            value={f.text(name)}
            onChange={(e) => f.set(name, e.target.value)}
          />
        )}
        {props.help && <span className="src">{props.help}</span>}
      </label>
    </div>
  );
}

function SubnetFields({ f, sides, t }: { f: Filling; sides: Sides; t: Contract["TunnelPage"] }) {
  const { end, setEnd, others, left, setLeft } = sides;
  const near = end === "A" ? t.a : t.b;
  return (
    <>
      <fieldset className="field bare">
        <legend className="small-head">The prefixes are behind</legend>
        {(["A", "B"] as const).map((e) => (
          <label key={e} className="beside">
            <input
              type="radio"
              name="end"
              className="inline"
              checked={end === e}
              onChange={() => {
                setEnd(e);
                setLeft([]);
              }}
            />{" "}
            <span className={e.toLowerCase()}>
              {e} {e === "A" ? t.a.site : t.b.site}
            </span>
          </label>
        ))}
      </fieldset>
      <Field
        f={f}
        name="add"
        label="Prefixes to add"
        rows={2}
        help={
          <>
            networks at {near.site}: {near.networks.join(", ")}
          </>
        }
      />
      {others.length > 0 && f.text("add").trim() !== "" && (
        <fieldset className="field bare">
          <legend className="small-head">They must reach</legend>
          {others.map(([p, name]) => (
            <label key={p} className="plain">
              <input
                type="checkbox"
                className="inline"
                checked={!left.includes(p)}
                onChange={(e) => setLeft(e.target.checked ? left.filter((x) => x !== p) : [...left, p])}
              />{" "}
              <code>{p}</code> {name}
            </label>
          ))}
        </fieldset>
      )}
      <Field f={f} name="remove" label="Prefixes to remove" help="empty: none" />
      <details>
        <summary className="src">Prefixes behind the other end too</summary>
        <Field f={f} name="addOther" label={`New behind ${end === "A" ? "B" : "A"}`} />
        <Field f={f} name="removeOther" label={`To remove behind ${end === "A" ? "B" : "A"}`} />
      </details>
      <Field
        f={f}
        name="also"
        label="The same on more tunnels"
        help={`tunnels with an end at ${near.site}, such as the fallback; one plan for all`}
      />
    </>
  );
}

function PlatformFields({ f }: { f: Filling }) {
  return (
    <>
      <Field
        f={f}
        name="platform"
        of="platforms"
        label="New platform profile"
        required
        help="with its version, such as alderquay-major@1"
      />
      <Field
        f={f}
        name="beside"
        label="Outer address of the new device, when it is built beside the old one"
        help="empty: the new device gets the old one's place and address"
      />
    </>
  );
}

function AddressFields({ f, g }: { f: Filling; g?: Contract["GatewayPage"] }) {
  return (
    <>
      <Field f={f} name="address" label="New outer address" required />
      <Field
        f={f}
        name="uplink"
        label="Uplink"
        help={g && <>one of {g.uplinks.map((u) => u.label).join(", ")}; empty: the first</>}
      />
    </>
  );
}

function NewTunnelFields({ f }: { f: Filling }) {
  return (
    <>
      <Field f={f} name="newCode" label="Code" required help="such as THR-PLATES-3" />
      <div className="field pair">
        <Field f={f} name="gatewayA" of="gateways" label={<span className="a">A gateway</span>} required />
        <Field f={f} name="gatewayB" of="gateways" label={<span className="b">B gateway</span>} required />
      </div>
      <div className="field pair">
        <Field f={f} name="uplinkA" label={<span className="a">A uplink</span>} help="empty: all of them" />
        <Field f={f} name="uplinkB" label={<span className="b">B uplink</span>} />
      </div>
      <BetweenGateways a={f.text("gatewayA").trim()} b={f.text("gatewayB").trim()} />
      <Field
        f={f}
        name="pairs"
        label="Subnet pairs, one to a line, A first"
        rows={3}
        required
        help="10.50.0.0/24 - 10.51.0.0/24"
      />
      <Field
        f={f}
        name="suite"
        of="suites"
        label="Suite"
        help="empty: Vellumkeep chooses the strongest that both platforms support, identities, the initiator, and tunnel addresses"
      />
      <Field f={f} name="name" label="Name" />
      <Field f={f} name="customer" label="Customer" help="empty: the owner of gateway A" />
    </>
  );
}
