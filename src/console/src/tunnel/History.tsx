import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, told } from "../api";
import { moment, Problem, Waiting } from "../parts/Page";

export function History({ code }: { code: string }) {
  const list = useQuery({
    queryKey: ["tunnel", code, "history"],
    queryFn: () => told(api.GET("/api/v1/tunnels/{code}/history", { params: { path: { code } } })),
  });
  if (list.isPending) return <Waiting what="its history" />;
  if (list.error) return <Problem error={list.error} again={() => list.refetch()} />;
  return (
    <table>
      <thead>
        <tr>
          <th style={{ width: 150 }}>When</th>
          <th style={{ width: 70 }}>Who</th>
          <th style={{ width: 130 }}>What</th>
          <th>What differed</th>
        </tr>
      </thead>
      <tbody>
        {list.data.map((h) => (
          <tr key={h.version}>
            <td className="mono">{moment(h.at)}</td>
            <td>{h.who}</td>
            <td>
              {h.what} {h.change && <Link to={`/changes/${h.change}`}>{h.change}</Link>}
              {h.reason && <div className="src">{h.reason}</div>}
            </td>
            <td>
              {h.differences.length === 0 && <span className="soft">{h.version === 1 ? "first recorded" : "nothing"}</span>}
              {h.differences.map((d) => (
                <div key={d.path}>
                  {/^[ab]\./.test(d.path) && <b className={d.path[0]}>{d.path[0].toUpperCase()} </b>}
                  <span className="src">{d.path.replace(/^[ab]\./, "")}</span> <span className="was">{d.before ?? "nothing"}</span> → {d.after ?? "nothing"}
                </div>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
