import { Link } from "react-router";
import type { FindingPage } from "../api";
import { Said } from "./Said";

/** A finding opens with its severity as a word, then what, what to do; why and the values it rests on are one key away. */
export function Finding({ f, withTunnel }: { f: FindingPage; withTunnel?: boolean }) {
  return (
    <div className="finding">
      <span className={`sev ${f.severity}`}>{f.severity}</span> {f.after && <span className="src">after {f.after}</span>} <span className="code">{f.code}</span>{" "}
      {withTunnel && (
        <Link className="mono plain" to={`/tunnels/${f.tunnel}`}>
          {f.tunnel}
        </Link>
      )}
      <p>
        <Said says={f.what} />
      </p>
      <p className="do">
        <Said says={f.do} />
      </p>
      <details>
        <summary>Why it matters</summary>
        <p>
          <Said says={f.why} /> {f.standard && <span className="src">{f.standard}</span>}
        </p>
        {f.evidence.map((e, i) => (
          <p key={i} className="src">
            {e.end && <b className={e.end.toLowerCase()}>{e.end} </b>}
            {e.label}: <code>{e.value}</code> {e.from}
          </p>
        ))}
      </details>
    </div>
  );
}
