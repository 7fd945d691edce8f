import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { moment, Problem, Waiting } from "../parts/Page";
import { compareVersions, historyOf } from "./calls";
import type { Plural } from "../service/recordKinds";
import { queryKeyOf } from "../service/questions";
import { Input } from "../parts/controls/Input";
import { Table } from "../parts/Table";

type Difference = { path: string; before?: string | null; after?: string | null };

/** What a path held before and after; the ends keep their hues. */
export function Differences({ of, none }: { of: readonly Difference[]; none: string }) {
  if (of.length === 0) return <span className="soft">{none}</span>;
  return (
    <>
      {of.map((d) => (
        <div key={d.path}>
          {/^[ab]\./.test(d.path) && <b className={d.path[0]}>{d.path[0].toUpperCase()} </b>}
          <span className="src">{d.path.replace(/^[ab]\./, "")}</span>{" "}
          <span className="was">{d.before ?? "nothing"}</span> → {d.after ?? "nothing"}
        </div>
      ))}
    </>
  );
}

/** Every version of a record, newest first; any two of them can be held against each other. */
export function RecordHistory({ plural, code }: { plural: Plural; code: string }) {
  const list = useQuery({ queryKey: queryKeyOf("history", plural, code), queryFn: () => historyOf(plural, code) });
  const [picked, setPicked] = useState<number[]>([]);
  const [from, to] = [...picked].sort((x, y) => x - y);
  const between = useQuery({
    queryKey: queryKeyOf("versions", plural, code, from, to),
    queryFn: () => compareVersions(plural, code, from, to),
    enabled: picked.length === 2,
  });
  if (list.isPending) return <Waiting what="its history" />;
  if (list.error) return <Problem error={list.error} again={() => list.refetch()} />;
  return (
    <>
      {list.data.length > 1 && (
        <p className="src" role="status">
          {picked.length < 2
            ? "Select two versions to compare them."
            : `What differs between version ${from} and version ${to}:`}
        </p>
      )}
      {picked.length === 2 && between.error && <Problem error={between.error} />}
      {picked.length === 2 && between.data && (
        <div className="notice">
          <Differences of={between.data.differences} none="Nothing differs between them." />
        </div>
      )}
      <Table>
        <thead>
          <tr>
            <th className="w50">Version</th>
            <th className="w150">When</th>
            <th className="w80">Who</th>
            <th className="w130">What</th>
            <th>What differed</th>
          </tr>
        </thead>
        <tbody>
          {list.data.map((h) => (
            <tr key={h.version}>
              <td>
                <label className="plainly">
                  <Input
                    type="checkbox"
                    checked={picked.includes(h.version)}
                    onChange={() =>
                      setPicked(
                        picked.includes(h.version)
                          ? picked.filter((v) => v !== h.version)
                          : [...picked, h.version].slice(-2),
                      )
                    }
                  />{" "}
                  {h.version}
                </label>
              </td>
              <td className="mono">{moment(h.at)}</td>
              <td>{h.who}</td>
              <td>
                {h.what} {h.change && <Link to={`/changes/${h.change}`}>{h.change}</Link>}
                {h.reason && <div className="src">{h.reason}</div>}
              </td>
              <td>
                <Differences of={h.differences} none={h.version === 1 ? "first recorded" : "nothing"} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
