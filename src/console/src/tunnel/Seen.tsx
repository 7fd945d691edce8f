import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { unwrap, version, type Contract, type TunnelPage, type Writer } from "../service/api";
import { HowChosen, type ConfirmedHow } from "../parts/controls/ConfirmedHow";
import { Problem } from "../parts/Page";
import { tell } from "../parts/notices";
import { ask, reread } from "../service/queries";
import { useWrite } from "../parts/useWrite";

export type End = "A" | "B";

/** One value of one end. */
export interface Place {
  row: Contract["CompareRow"];
  end: End;
}

/** Which values somebody saw on the devices, and has not confirmed yet. */
export interface Seen {
  has: (end: End, key: string) => boolean;
  put: (end: End, keys: readonly string[], seen: boolean) => void;
  of: (end: End) => string[];
  clear: () => void;
}

export function useSeen(): Seen {
  const [ticked, setTicked] = useState<readonly string[]>([]);
  const place = (end: End, key: string) => `${end} ${key}`;
  return {
    has: (end, key) => ticked.includes(place(end, key)),
    put: (end, keys, seen) => {
      const places = keys.map((k) => place(end, k));
      const others = ticked.filter((p) => !places.includes(p));
      setTicked(seen ? [...others, ...places] : others);
    },
    of: (end) => ticked.filter((p) => p.startsWith(`${end} `)).map((p) => p.slice(2)),
    clear: () => setTicked([]),
  };
}

/** Confirms rows of an end as somebody saw them; both ends one after the other, each on what the one before wrote. */
export async function confirmRows(api: Writer, t: TunnelPage, rows: Record<End, string[]>, how: ConfirmedHow) {
  let now = t;
  for (const end of ["A", "B"] as const)
    if (rows[end].length > 0)
      now = await unwrap(
        api.POST("/api/v1/tunnels/{code}/confirm", {
          params: { path: { code: t.code } },
          headers: version(now.version),
          body: { end, rows: rows[end], how, date: null, value: null },
        }),
      );
  return now;
}

/** What was ticked as seen, how it was seen, and the press that confirms it. */
export function SeenBar({ t, seen }: { t: TunnelPage; seen: Seen }) {
  const queries = useQueryClient();
  const [how, setHow] = useState<ConfirmedHow>("read");
  const rows = { A: seen.of("A"), B: seen.of("B") };
  const count = rows.A.length + rows.B.length;
  const confirm = useWrite({
    mutationFn: (_: void, api) => confirmRows(api, t, rows, how),
    onSuccess: () => {
      void reread(queries, { kind: "tunnel", code: t.code });
      tell({ text: `${count} ${count === 1 ? "value" : "values"} of ${t.code} confirmed.` });
      seen.clear();
    },
    onError: () => void queries.invalidateQueries(ask.tunnel(t.code)),
  });
  if (count === 0) return null;
  return (
    <form
      className="seenbar"
      aria-label="Seen on the devices"
      onSubmit={(e) => {
        e.preventDefault();
        if (!confirm.isPending) confirm.mutate();
      }}
    >
      <span role="status">
        Seen: {rows.A.length > 0 && <span className="a">{rows.A.length} at A</span>}
        {rows.A.length > 0 && rows.B.length > 0 && ", "}
        {rows.B.length > 0 && <span className="b">{rows.B.length} at B</span>}
      </span>
      <HowChosen how={how} set={setHow} />
      <button className="first" disabled={confirm.isPending}>
        Confirm {count} {count === 1 ? "value" : "values"}
      </button>
      <button type="button" className="link" onClick={seen.clear}>
        Untick
      </button>
      {confirm.error && <Problem error={confirm.error} />}
    </form>
  );
}
