import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef } from "react";
import { Link, useNavigate } from "react-router";
import type { Contract } from "../service/api";
import { Sentence } from "./Sentence";
import { Stroke } from "./Stroke";

/** Tunnels as rows: the two ends with the relation between them, and the verdict. Only what can be visible is drawn, so that tens of thousands scroll; more is read before the end is reached. */
export function TunnelRows({
  items,
  inAll = items.length,
  more,
  query = "",
}: {
  items: Contract["TunnelSummary"][];
  /** How many there are, where a page names only the first of them. */
  inAll?: number;
  more?: () => void;
  query?: string;
}) {
  const go = useNavigate();
  const table = useRef<HTMLTableElement>(null);
  const rows = useWindowVirtualizer({
    count: items.length,
    estimateSize: () => 47,
    overscan: 12,
    scrollMargin: table.current?.offsetTop ?? 0,
    getItemKey: (i) => items[i].code,
  });
  const visible = rows.getVirtualItems();
  const last = visible.at(-1)?.index ?? 0;
  useEffect(() => {
    if (more && last > items.length - 60) more();
  }, [more, last, items.length]);
  const above = (visible[0]?.start ?? 0) - (visible.length ? rows.options.scrollMargin : 0);
  const below = rows.getTotalSize() + rows.options.scrollMargin - (visible.at(-1)?.end ?? rows.options.scrollMargin);
  return (
    <>
      <table ref={table} className="long" aria-rowcount={items.length}>
        <thead>
          <tr>
            <th className="w130">Tunnel</th>
            <th className="a w140">A</th>
            <th className="w74">
              <span className="visually-hidden">State</span>
            </th>
            <th className="b w160">B</th>
            <th>Verdict</th>
            <th className="w84">State</th>
          </tr>
        </thead>
        <tbody>
          {above > 0 && (
            <tr aria-hidden="true" style={{ height: above }}>
              <td colSpan={6} />
            </tr>
          )}
          {visible.map(({ index }) => {
            const t = items[index];
            return (
              <tr
                key={t.code}
                ref={rows.measureElement}
                data-index={index}
                className="go"
                onClick={() => go(`/tunnels/${t.code}${query}`)}
              >
                <td className="mono">
                  <Link className="plain" to={`/tunnels/${t.code}${query}`}>
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
                      <Sentence says={v.says} />{" "}
                    </span>
                  ))}
                </td>
                <td>{t.state}</td>
              </tr>
            );
          })}
          {below > 0 && (
            <tr aria-hidden="true" style={{ height: below }}>
              <td colSpan={6} />
            </tr>
          )}
        </tbody>
      </table>
      {inAll > items.length && (
        <p className="soft">
          The first {items.length} of {inAll}. The list of tunnels has them all.
        </p>
      )}
    </>
  );
}
