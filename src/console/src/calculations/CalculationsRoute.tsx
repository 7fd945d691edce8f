import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { useSearchParams } from "react-router";
import { api, unwrap } from "../api";
import { Head, Problem } from "../parts/Page";
import { Grades } from "../platforms/PlatformRoutes";

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
      <select value={get(key, options[0])} onChange={(e) => set(key, e.target.value)}>
        {options.map((o) => (
          <option key={o}>{o}</option>
        ))}
      </select>
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
          </div>
          <Packet
            proposal={get("proposal", "AES-256-CBC + HMAC-SHA2-256-128")}
            mtu={get("mtu", "1500")}
            outer={get("outer", "IPv4")}
            udp={get("udp", "no") === "yes"}
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
          <PrefixSum
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
      <input
        className="mono"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => onSet(text)}
        onKeyDown={(e) => e.key === "Enter" && onSet(text)}
      />
    </label>
  );
}

function Answer<T>({
  q,
  children,
}: {
  q: { data?: T; error: unknown; isPending: boolean };
  children: (data: T) => ReactNode;
}) {
  if (q.error) return <Problem error={q.error} />;
  return q.data ? <div className="calc">{children(q.data)}</div> : null;
}

const bits = (n: number) => (n === 0 ? "under 80 bits" : `${n} bits`);

function Packet(query: { proposal: string; mtu: string; outer: string; udp: boolean }) {
  const q = useQuery({
    queryKey: ["packet", query],
    queryFn: () => unwrap(api.GET("/api/v1/calc/packet", { params: { query: { ...query, mtu: Number(query.mtu) } } })),
  });
  return (
    <Answer q={q}>
      {(x) => (
        <>
          <p className="verdict">
            Largest inner packet <code>{x.inner}</code>; clamp the MSS to <code>{x.mssIPv4}</code> for IPv4,{" "}
            <code>{x.mssIPv6}</code> with IPv6.
          </p>
          <table className="w520">
            <tbody>
              <Term n={x.linkMtu} what="link MTU" />
              {x.terms.map((t) => (
                <Term key={t.what} sign="−" n={t.octets} what={t.what} />
              ))}
              <Term sign="=" n={x.left} what="left for the encrypted part" />
              <Term
                sign="="
                n={x.aligned}
                what={
                  x.alignment === 4
                    ? "rounded down to a multiple of 4"
                    : `rounded down to whole blocks of ${x.alignment}`
                }
              />
              <Term sign="−" n={2} what="trailer" />
              <Term sign="=" n={x.inner} what="largest inner packet" strong />
            </tbody>
          </table>
          {x.note && <p className="weak">{x.note}</p>}
        </>
      )}
    </Answer>
  );
}

function Term({ sign, n, what, strong }: { sign?: string; n: number; what: string; strong?: boolean }) {
  return (
    <tr className={strong ? "outcome" : undefined}>
      <td className="mono w20">{sign}</td>
      <td className="mono w70 number">{n}</td>
      <td>{what}</td>
    </tr>
  );
}

function Grade({ proposal }: { proposal: string }) {
  const q = useQuery({
    queryKey: ["grade", proposal],
    queryFn: () => unwrap(api.GET("/api/v1/calc/grade", { params: { query: { proposal } } })),
  });
  return (
    <Answer q={q}>
      {(x) => (
        <>
          <p className="verdict">
            <span className={x.word === "MUST NOT" ? "stops" : x.word === "SHOULD NOT" ? "weak" : undefined}>
              {x.word}
            </span>
            , {bits(x.bits)} by <code>{x.weakest}</code>.
          </p>
          <Grades head={x.layer} grades={[x]} />
          <h2>Members</h2>
          <table className="w620">
            <tbody>
              {x.members.map((m) => (
                <tr key={m.name}>
                  <td className="mono">{m.name}</td>
                  <td>{bits(m.bits)}</td>
                  <td>{m.word}</td>
                  <td className="src">{m.standard}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </Answer>
  );
}

function Life({ time, data, throughput }: { time: string; data: string; throughput: string }) {
  const query = { time, data: data || undefined, throughput: throughput ? Number(throughput) : undefined };
  const q = useQuery({
    queryKey: ["lifetime", query],
    queryFn: () => unwrap(api.GET("/api/v1/calc/lifetime", { params: { query } })),
  });
  return (
    <Answer q={q}>
      {(x) =>
        x.seconds === null ? (
          <>
            <p className="verdict">
              <code>{x.typed}</code> has no unit. It can be:
            </p>
            <table className="w420">
              <tbody>
                {x.readings.map((r) => (
                  <tr key={r.unit}>
                    <td>{r.unit}</td>
                    <td className="mono">{r.reads}</td>
                    <td className="mono">{r.seconds} s</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        ) : (
          <p className="verdict">
            <code>{x.typed}</code> is {x.says}, <code>{x.seconds} s</code>.
            {x.gigabytesInTime !== null && ` ${x.gigabytesInTime} GB pass in that time.`}
            {x.dataSeconds !== null &&
              ` The data lifetime is used up after ${x.dataSeconds} s: the ${x.ends} ends it first.`}
          </p>
        )
      }
    </Answer>
  );
}

function Detect(query: { dpd: string; schedule: string; version: string }) {
  const q = useQuery({
    queryKey: ["detect", query],
    queryFn: () => unwrap(api.GET("/api/v1/calc/detect", { params: { query } })),
  });
  return (
    <Answer q={q}>
      {(x) => (
        <>
          <p className="verdict">
            {x.seconds === null
              ? "Undetermined when a dead peer is detected."
              : `A dead peer is detected after ${x.seconds} s.`}
          </p>
          <p className="mono">{x.working}</p>
        </>
      )}
    </Answer>
  );
}

function PrefixSum({ verb, prefix, less, length }: { verb: string; prefix: string; less: string; length: string }) {
  const q = useQuery({
    queryKey: ["prefix", verb, prefix, less, length],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/calc/prefix/{verb}", {
          params: {
            path: { verb },
            query: { prefix: [prefix], less: less ? [less] : [], length: Number(length) || undefined },
          },
        }),
      ),
  });
  return (
    <Answer q={q}>
      {(x) => (
        <>
          {x.working.map((w) => (
            <p key={w} className="soft">
              {w}
            </p>
          ))}
          {x.result.map((p) => (
            <div key={p} className="mono">
              {p}
            </div>
          ))}
          {x.result.length === 0 && <p>None.</p>}
        </>
      )}
    </Answer>
  );
}
