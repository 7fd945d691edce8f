import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Contract } from "./service/api";
import { tell } from "./parts/notices";
import { reread, rereadAll } from "./service/queries";
import { placeOf } from "./service/recordKinds";

export type Changed = Contract["ChangedNow"];

/** Hears of every commit that touches what the asker may see: what is shown is read again, and what others did is told. */
export function useLive(me: string) {
  const queries = useQueryClient();
  useEffect(() => {
    const line = new EventSource("/api/v1/events");
    line.addEventListener("changed", (e) => {
      const changed = JSON.parse((e as MessageEvent<string>).data) as Changed;
      if (changed.records.length === 0) return;
      void reread(queries, ...changed.records);
      if (changed.who === me) return;
      const first = changed.records[0];
      tell({
        text: `${changed.who}, just now: ${changed.what}`,
        to: placeOf(first.kind, first.code),
        link: first.code,
      });
    });
    // Too many at once to be told one by one: everything that is shown is read again.
    line.addEventListener("skipped", () => void rereadAll(queries));
    return () => line.close();
  }, [queries, me]);
}
