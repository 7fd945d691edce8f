import { useState } from "react";
import { useSearchParams } from "react-router";
import { Head } from "../parts/Page";
import { Detect, Grade, Life, Packet, PrefixResult } from "./Results";
import { Input, Select } from "../parts/controls/Input";

const kinds = [
  ["packet", "Packet size"],
  ["grade", "Grade of a proposal"],
  ["lifetime", "Lifetime"],
  ["detect", "Failure detection"],
  ["prefix", "Prefixes"],
] as const;

/** Calculations with their working; the address of the page keeps what was typed. */
export function CalculationsRoute() {
  const [params, setParams] = useSearchParams();
  const kind = params.get("calc") ?? "packet";
  const get = (key: string, usual: string) => params.get(key) ?? usual;
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    next.set(key, value);
    setParams(next, { replace: true });
  };
  const field = (key: string, label: string, usual: string, hint?: string) => (
    <Field key={kind + key} label={label} hint={hint} value={get(key, usual)} onSet={(v) => set(key, v)} />
  );
  const choice = (key: string, label: string, options: string[]) => (
    <label>
      {label}
      <Select value={get(key, options[0])} onChange={(e) => set(key, e.target.value)}>
        {options.map((o) => (
          <option key={o}>{o}</option>
        ))}
      </Select>
    </label>
  );
  return (
    <>
      <Head title="Calculations" sub="each with its working" />
      <nav className="tabs" aria-label="Calculations">
        {kinds.map(([key, word]) => (
          <a
            key={key}
            href={`?calc=${key}`}
            aria-current={kind === key ? "page" : undefined}
            onClick={(e) => {
              e.preventDefault();
              setParams({ calc: key });
            }}
          >
            {word}
          </a>
        ))}
      </nav>
      {kind === "packet" && (
        <>
          <div className="filters">
            {field("proposal", "ESP proposal", "AES-256-CBC + HMAC-SHA2-256-128")}
            {field("mtu", "Link MTU", "1500", "octets")}
            {choice("outer", "Outer header", ["IPv4", "IPv6"])}
            {choice("udp", "UDP encapsulation", ["no", "yes"])}
            {choice("mode", "ESP mode", ["tunnel", "transport"])}
            {choice("interface", "Tunnel interface adds", ["none", "GRE", "GRE with key", "IP in IP"])}
          </div>
          <Packet
            proposal={get("proposal", "AES-256-CBC + HMAC-SHA2-256-128")}
            mtu={get("mtu", "1500")}
            outer={get("outer", "IPv4")}
            udp={get("udp", "no") === "yes"}
            mode={get("mode", "tunnel")}
            interface={get("interface", "none")}
          />
        </>
      )}
      {kind === "grade" && (
        <>
          <div className="filters">
            {field("proposal", "IKE or ESP proposal", "AES-128-CBC + SHA1 + DH 2", "an IKE proposal has a DH group")}
          </div>
          <Grade proposal={get("proposal", "AES-128-CBC + SHA1 + DH 2")} />
        </>
      )}
      {kind === "lifetime" && (
        <>
          <div className="filters">
            {field("time", "Lifetime", "8 h", "or a number without a unit, to read it in every unit")}
            {field("data", "Data lifetime", "", "such as 4 GB; optional")}
            {field("throughput", "Throughput", "", "Mbit/s; optional")}
          </div>
          <Life time={get("time", "8 h")} data={get("data", "")} throughput={get("throughput", "")} />
        </>
      )}
      {kind === "detect" && (
        <>
          <div className="filters">
            {field("dpd", "DPD", "20 s x 5, try again")}
            {field("schedule", "Retransmission", "4 s x 2, 5 tries", "IKEv2 only")}
            {choice("ike", "Under", ["IKEv2", "IKEv1"])}
          </div>
          <Detect
            dpd={get("dpd", "20 s x 5, try again")}
            schedule={get("schedule", "4 s x 2, 5 tries")}
            version={get("ike", "IKEv2")}
          />
        </>
      )}
      {kind === "prefix" && (
        <>
          <div className="filters">
            {choice("do", "Do", ["show", "split", "merge", "contains", "subtract", "free"])}
            {field("prefix", "Prefixes", "10.61.0.0/22", "separated by commas")}
            {field("of", "To look for, to subtract, in use", "", "for contains, subtract and free")}
            {field("length", "Length", "24", "for split and free")}
          </div>
          <PrefixResult
            verb={get("do", "show")}
            prefix={get("prefix", "10.61.0.0/22")}
            less={get("of", "")}
            length={get("length", "24")}
          />
        </>
      )}
    </>
  );
}

function Field({
  label,
  hint,
  value,
  onSet,
}: {
  label: string;
  hint?: string;
  value: string;
  onSet: (v: string) => void;
}) {
  const [text, setText] = useState(value);
  return (
    <label className="wide">
      {label} {hint && <span className="src">{hint}</span>}
      <Input
        className="mono"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => onSet(text)}
        onKeyDown={(e) => e.key === "Enter" && onSet(text)}
      />
    </label>
  );
}
