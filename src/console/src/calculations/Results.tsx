import { useQuery } from "@tanstack/react-query";
import { type ReactNode } from "react";
import { api, unwrap } from "../service/api";
import { Problem } from "../parts/Page";
import { Grades } from "../platforms/PlatformRoutes";
import { queryKeyOf } from "../service/questions";
import { Table } from "../parts/Table";

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

export function Packet(query: {
  proposal: string;
  mtu: string;
  outer: string;
  udp: boolean;
  mode: string;
  interface: string;
}) {
  const q = useQuery({
    queryKey: queryKeyOf("packet", query),
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
          <Table className="w520">
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
              {x.inside.map((t) => (
                <Term key={t.what} sign={t.octets < 0 ? "+" : "−"} n={Math.abs(t.octets)} what={t.what} />
              ))}
              <Term sign="=" n={x.inner} what="largest inner packet" strong />
            </tbody>
          </Table>
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

export function Grade({ proposal }: { proposal: string }) {
  const q = useQuery({
    queryKey: queryKeyOf("grade", proposal),
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
          <Table className="w620">
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
          </Table>
        </>
      )}
    </Answer>
  );
}

export function Life({ time, data, throughput }: { time: string; data: string; throughput: string }) {
  const query = { time, data: data || undefined, throughput: throughput ? Number(throughput) : undefined };
  const q = useQuery({
    queryKey: queryKeyOf("lifetime", query),
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
            <Table className="w420">
              <tbody>
                {x.readings.map((r) => (
                  <tr key={r.unit}>
                    <td>{r.unit}</td>
                    <td className="mono">{r.reads}</td>
                    <td className="mono">{r.seconds} s</td>
                  </tr>
                ))}
              </tbody>
            </Table>
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

export function Detect(query: { dpd: string; schedule: string; version: string }) {
  const q = useQuery({
    queryKey: queryKeyOf("detect", query),
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

export function PrefixResult({
  verb,
  prefix,
  less,
  length,
}: {
  verb: string;
  prefix: string;
  less: string;
  length: string;
}) {
  const q = useQuery({
    queryKey: queryKeyOf("prefix", verb, prefix, less, length),
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
