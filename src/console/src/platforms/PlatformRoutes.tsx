import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { type Contract } from "../service/api";
import { ask } from "../service/queries";
import { Head, Problem, Waiting } from "../parts/Page";
import { TunnelRows } from "../parts/TunnelRows";
import { AddRecord, RecordActs } from "../records/Acts";
import { Table } from "../parts/Table";
import { Select } from "../parts/controls/Input";

const usePlatforms = () => useQuery(ask.platforms());

/** Platform profiles, and what any two of them can both do. */
export function PlatformsRoute() {
  const list = usePlatforms();
  if (list.isPending) return <Waiting what="platforms" />;
  if (list.error) return <Problem error={list.error} again={() => list.refetch()} />;
  return (
    <>
      <Head title="Platforms" sub="what each make, model and version supports, and its defaults">
        <AddRecord plural="platforms" word="platform profile" />
      </Head>
      <Table>
        <thead>
          <tr>
            <th>Platform</th>
            <th>What</th>
            <th>IKE versions</th>
            <th>Gateways</th>
            <th>Support ends</th>
            <th>Unknown</th>
          </tr>
        </thead>
        <tbody>
          {list.data.map((p) => (
            <tr key={p.code}>
              <td>
                <Link className="plain" to={`/platforms/${p.code}`}>
                  {p.name}
                </Link>{" "}
                <span className="code">{p.code}</span>
              </td>
              <td>{p.family}</td>
              <td className="mono">{p.ikeVersions.join(", ")}</td>
              <td>{p.gateways}</td>
              <td className="mono">{p.supportEnds}</td>
              <td className="soft">{p.unknown > 0 && `${p.unknown} ${p.unknown === 1 ? "thing" : "things"}`}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <CommonGround platforms={list.data} />
    </>
  );
}

function CommonGround({ platforms }: { platforms: Contract["PlatformSummary"][] }) {
  const [params, setParams] = useSearchParams();
  const known = platforms.filter((p) => p.ikeVersions.length > 0);
  const [a, b] = [params.get("a") ?? known[0]?.code ?? "", params.get("b") ?? known.at(-1)?.code ?? ""];
  const version = params.get("ike") ?? "IKEv2";
  const ground = useQuery({
    ...ask.common(a, b, version),
    enabled: !!a && !!b,
  });
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    next.set(key, value);
    setParams(next, { replace: true });
  };
  return (
    <>
      <h2>In common</h2>
      <div className="filters">
        {(
          [
            ["a", a],
            ["b", b],
          ] as const
        ).map(([key, value]) => (
          <label key={key} className={key}>
            {key.toUpperCase()}
            <Select value={value} onChange={(e) => set(key, e.target.value)}>
              {platforms.map((p) => (
                <option key={p.code} value={p.code}>
                  {p.name}
                </option>
              ))}
            </Select>
          </label>
        ))}
        <label>
          Under
          <Select value={version} onChange={(e) => set("ike", e.target.value)}>
            <option>IKEv2</option>
            <option>IKEv1</option>
          </Select>
        </label>
      </div>
      {ground.isPending ? (
        <Waiting what="what both support" />
      ) : ground.error ? (
        <Problem error={ground.error} />
      ) : ground.data.bothSpeak === false ? (
        <p className="empty">
          {ground.data.a} and {ground.data.b} do not both speak {version}.
        </p>
      ) : (
        <div className="cols even">
          <section>
            {ground.data.unknown.map((u) => (
              <p key={u.end} className="weak">
                Unknown: the profile of {u.platform} at {u.end} does not say its {u.what.join(", ")}.
              </p>
            ))}
            <Grades
              head="IKE, strongest first"
              grades={ground.data.ike}
              none={ground.data.unknown.length > 0 ? "unknown" : "none, by both profiles"}
            />
            <Grades
              head="ESP, strongest first"
              grades={ground.data.esp}
              none={ground.data.unknown.length > 0 ? "unknown" : "none, by both profiles"}
            />
          </section>
          <aside>
            <h2>What is not in common</h2>
            {ground.data.notCommon.length === 0 && (
              <p className="soft">
                {ground.data.unknown.length > 0
                  ? "Unknown: a profile is silent."
                  : "Nothing, according to the two profiles."}
              </p>
            )}
            {ground.data.notCommon.map((u) => (
              <div key={u.what} className="finding">
                {u.what}
                <br />
                <b className="a">A</b> <code className="wraps">{u.a}</code> <b className="b">B</b>{" "}
                <code className="wraps">{u.b}</code>
                <p className="do">{u.follows}</p>
              </div>
            ))}
          </aside>
        </div>
      )}
    </>
  );
}

export function Grades({
  head,
  grades,
  none = "none, as far as is said",
}: {
  head: string;
  grades: Contract["GradeResult"][];
  none?: string;
}) {
  if (grades.length === 0)
    return (
      <p className="soft">
        {head}: {none}.
      </p>
    );
  return (
    <Table>
      <thead>
        <tr>
          <th>{head}</th>
          <th>Strength</th>
          <th>RFC level</th>
        </tr>
      </thead>
      <tbody>
        {grades.map((g) => (
          <tr key={g.proposal}>
            <td className="mono wraps">{g.proposal}</td>
            <td className="mono" title={`by ${g.weakest}`}>
              {g.bits === 0 ? "< 80" : g.bits}
            </td>
            <td className={`one-line ${g.word === "MUST NOT" ? "stops" : g.word === "SHOULD NOT" ? "weak" : "soft"}`}>
              {g.word}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

function Facts({ head, facts }: { head: string; facts: Contract["FactLine"][] }) {
  if (facts.length === 0) return null;
  return (
    <>
      <h2>{head}</h2>
      <Table>
        <tbody>
          {facts.map((f) => (
            <tr key={f.what}>
              <td className="w190">{f.what}</td>
              <td>
                <code className="wraps">{f.value}</code>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

export function PlatformRoute() {
  const code = useParams().code!;
  const page = useQuery(ask.platform(code));
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const p = page.data;
  return (
    <>
      <Head code={p.code} title={p.name} sub={`${p.family}${p.supportEnds ? ` · support ends ${p.supportEnds}` : ""}`}>
        <RecordActs plural="platforms" code={p.code} />
      </Head>
      {p.silent.length > 0 && <p className="verdict weak">The profile does not say {p.silent.join("; ")}.</p>}
      <div className="cols even">
        <section>
          <Facts head="Can" facts={p.can} />
          <Facts head="By default" facts={p.defaults} />
        </section>
        <section>
          <Facts head="Does" facts={p.does} />
          <h2>Gateways</h2>
          <p>
            {p.gateways.length === 0 && <span className="soft">No gateways.</span>}
            {p.gatewaysInAll > p.gateways.length && (
              <span className="soft">
                The first {p.gateways.length} of {p.gatewaysInAll}:{" "}
              </span>
            )}
            {p.gateways.map((g, i) => (
              <span key={g}>
                {i > 0 && " · "}
                <Link className="mono" to={`/gateways/${g}`}>
                  {g}
                </Link>
              </span>
            ))}
          </p>
          {p.notes && <p className="soft">{p.notes}</p>}
        </section>
      </div>
    </>
  );
}

export function SuitesRoute() {
  const list = useQuery(ask.suites());
  if (list.isPending) return <Waiting what="suites" />;
  if (list.error) return <Problem error={list.error} again={() => list.refetch()} />;
  return (
    <>
      <Head title="Suites" sub="named proposals with lifetimes and PFS, each at a version">
        <AddRecord plural="suites" word="suite" />
      </Head>
      <Table>
        <thead>
          <tr>
            <th>Suite</th>
            <th>About</th>
            <th>First IKE proposal</th>
            <th>Tunnels</th>
          </tr>
        </thead>
        <tbody>
          {list.data.map((s) => (
            <tr key={s.code}>
              <td className="mono">
                <Link className="plain" to={`/suites/${s.code}`}>
                  {s.code}
                </Link>
              </td>
              <td>{s.about}</td>
              <td>
                <code className="wraps">{s.ike}</code>
              </td>
              <td>{s.tunnels}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

export function SuiteRoute() {
  const code = useParams().code!;
  const page = useQuery(ask.suite(code));
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const s = page.data;
  return (
    <>
      <Head
        code={s.code}
        title={s.about ?? s.code}
        sub={`used by ${s.tunnelsInAll} ${s.tunnelsInAll === 1 ? "tunnel" : "tunnels"}`}
      >
        <RecordActs plural="suites" code={s.code} />
      </Head>
      <div className="cols even">
        <section>
          <Grades head="IKE" grades={s.ike} />
          <Grades head="ESP" grades={s.esp} />
        </section>
        <section>
          <Facts head="Besides" facts={s.settings} />
        </section>
      </div>
      <h2>Tunnels that use it</h2>
      <TunnelRows items={s.tunnels} inAll={s.tunnelsInAll} />
    </>
  );
}
