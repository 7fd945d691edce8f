import { Link, useNavigate } from "react-router";
import type { Contract } from "../api";
import { Said } from "./Said";
import { Stroke } from "./Stroke";

/** Tunnels as rows: the two ends with the relation between them, and the verdict. */
export function TunnelRows({ items }: { items: Contract["TunnelSummary"][] }) {
  const go = useNavigate();
  return (
    <table>
      <thead>
        <tr>
          <th style={{ width: 130 }}>Tunnel</th>
          <th className="a" style={{ width: 140 }}>
            A
          </th>
          <th style={{ width: 74 }}>
            <span className="visually-hidden">How it stands</span>
          </th>
          <th className="b" style={{ width: 160 }}>
            B
          </th>
          <th>Verdict</th>
          <th style={{ width: 84 }}>State</th>
        </tr>
      </thead>
      <tbody>
        {items.map((t) => (
          <tr key={t.code} className="go" onClick={() => go(`/tunnels/${t.code}`)}>
            <td className="mono">
              <Link className="plain" to={`/tunnels/${t.code}`}>
                {t.code}
              </Link>
            </td>
            <td className="a">{t.endA}</td>
            <td className="rel">
              <Stroke form={t.form} />
              <span className="word">{t.form.word}</span>
            </td>
            <td className="b">{t.endB}</td>
            <td>
              {t.verdict.map((v, i) => (
                <span key={i} className={v.tone}>
                  <Said says={v.says} />{" "}
                </span>
              ))}
            </td>
            <td>{t.state}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
