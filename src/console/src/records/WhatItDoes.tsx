import { Link } from "react-router";
import { Sentence } from "../parts/Sentence";
import type { RecordWritten } from "./calls";

/** What writing a record did or would do: the paths that differ, and the findings that come and go. */
export function WhatItDoes({ w }: { w: RecordWritten }) {
  const quiet = w.findingsAdded.length + w.findingsRemoved.length === 0;
  return (
    <div role="status">
      {w.as === "nothing" && <p className="soft">No difference from the recorded values.</p>}
      {w.differences.map((d) => (
        <p key={d.path} className="then">
          <span className="src">{d.path}</span>
          {w.altered.includes(d.path) && <span className="src weak"> corrects</span>}
          <br />
          <code className="was">{d.before ?? "nothing"}</code> → <code>{d.after ?? "nothing"}</code>
        </p>
      ))}
      {w.as === "added" && w.derived.length > 0 && (
        <p className="src">
          {w.derived.length} {w.derived.length === 1 ? "value is" : "values are"} derived.
        </p>
      )}
      {(["findingsAdded", "findingsRemoved"] as const).map((key) =>
        w[key].map((f, i) => (
          <p key={key + i} className="then">
            {key === "findingsAdded" ? (
              <span className={`sev ${f.severity}`}>adds, {f.severity}</span>
            ) : (
              <span className="sev holds">removes</span>
            )}{" "}
            <span className="code">{f.code}</span>{" "}
            <Link className="mono plain" to={`/tunnels/${f.tunnel}`}>
              {f.tunnel}
            </Link>
            <br />
            <Sentence says={f.what} />
          </p>
        )),
      )}
      {quiet && w.as !== "nothing" && <p className="soft">It adds and removes no finding.</p>}
    </div>
  );
}
