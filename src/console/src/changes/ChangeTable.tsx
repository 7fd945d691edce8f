import { Link } from "react-router";
import type { Contract } from "../service/api";
import { moment } from "../parts/Page";
import { Table } from "../parts/Table";

export function ChangeTable({ changes }: { changes: Contract["ChangeSummary"][] }) {
  return (
    <Table className="changes">
      <thead>
        <tr>
          <th className="w92">Change</th>
          <th>What</th>
          <th className="w130">Tunnel</th>
          <th className="w150">State</th>
          <th className="w84">Steps</th>
          <th className="w170">Window</th>
          <th className="w76">Author</th>
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
    </Table>
  );
}
