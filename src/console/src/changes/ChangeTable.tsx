import { Link } from "react-router";
import type { Contract } from "../api";
import { moment } from "../parts/Page";

export function ChangeTable({ changes }: { changes: Contract["ChangeSummary"][] }) {
  return (
    <table>
      <thead>
        <tr>
          <th style={{ width: 92 }}>Change</th>
          <th>What</th>
          <th style={{ width: 130 }}>Tunnel</th>
          <th style={{ width: 150 }}>State</th>
          <th style={{ width: 84 }}>Steps</th>
          <th style={{ width: 170 }}>Window</th>
          <th style={{ width: 76 }}>Author</th>
        </tr>
      </thead>
      <tbody>
        {changes.map((c) => (
          <tr key={c.code}>
            <td className="mono">
              <Link to={`/changes/${c.code}`}>{c.code}</Link>
            </td>
            <td>{c.title}</td>
            <td className="mono">
              <Link className="plain" to={`/tunnels/${c.tunnel}`}>
                {c.tunnel}
              </Link>
            </td>
            <td>
              {c.state}
              {c.failed > 0 && (
                <>
                  , <span className="sev failed">step failed</span>
                </>
              )}
            </td>
            <td className="mono">
              {c.settled} of {c.steps}
            </td>
            <td className="mono">{c.windowStart ? moment(c.windowStart) : ""}</td>
            <td>{c.author}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
