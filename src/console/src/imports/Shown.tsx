import type { Contract } from "../service/api";
import { Link } from "react-router";
import { Sentence } from "../parts/Sentence";
import { placeOf } from "../service/recordKinds";
import { Table } from "../parts/Table";

/** What an import did, or would do. */
export function Shown({ o }: { o: Contract["ImportOutcome"] }) {
  return (
    <>
      <div className="notice" role="status">
        {o.dryRun ? "Nothing was changed yet." : "Imported."} {o.added.length} {o.dryRun ? "would be " : ""}added,{" "}
        {o.changed.length} changed, {o.left} already so.
      </div>
      <Table>
        <tbody>
          {o.added.map((r) => (
            <tr key={r.kind + r.code}>
              <td className="holds">added</td>
              <td>{r.kind}</td>
              <td className="mono">
                <Code kind={r.kind} code={r.code} there={!o.dryRun} />
              </td>
              <td>{r.name}</td>
            </tr>
          ))}
          {o.changed.flatMap((r) =>
            r.differences.map((d) => (
              <tr key={r.kind + r.code + d.path}>
                <td className="weak">changed</td>
                <td>{r.kind}</td>
                <td className="mono">
                  <Code kind={r.kind} code={r.code} there />
                </td>
                <td>
                  <code>{d.path}</code>: <span className="was">{d.before ?? "nothing"}</span> → {d.after ?? "nothing"}
                </td>
              </tr>
            )),
          )}
          {o.findingsAdded.map((f, i) => (
            <tr key={`a${i}`}>
              <td className={`sev ${f.severity}`}>{f.severity}</td>
              <td className="code">{f.code}</td>
              <td className="mono">
                <Code kind="tunnel" code={f.tunnel} there={!o.dryRun} />
              </td>
              <td>
                <Sentence says={f.what} />
              </td>
            </tr>
          ))}
          {o.findingsRemoved.map((f, i) => (
            <tr key={`r${i}`}>
              <td className="holds">removed</td>
              <td className="code">{f.code}</td>
              <td className="mono">
                <Code kind="tunnel" code={f.tunnel} there={!o.dryRun} />
              </td>
              <td>
                <Sentence says={f.what} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

/** A record's code; a link once it is there. */
function Code({ kind, code, there }: { kind: string; code: string; there: boolean }) {
  return there ? (
    <Link className="plain" to={placeOf(kind, code)}>
      {code}
    </Link>
  ) : (
    code
  );
}
