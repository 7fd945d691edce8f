import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Contract } from "./api";
import { reread, rereadAll } from "./queries";

export type Changed = Contract["ChangedNow"];

/** Hears of every commit that touches what the asker may see: what is shown is read again, and the last one by somebody else is told. */
export function useLive(me: string) {
  const queries = useQueryClient();
  const [last, setLast] = useState<Changed | null>(null);
  useEffect(() => {
    const line = new EventSource("/api/v1/events");
    line.addEventListener("changed", (e) => {
      const changed = JSON.parse((e as MessageEvent<string>).data) as Changed;
      if (changed.records.length === 0) return;
      void reread(queries, ...changed.records);
      if (changed.who !== me) setLast(changed);
    });
    // Too many at once to be told one by one: everything that is shown is read again.
    line.addEventListener("skipped", () => void rereadAll(queries));
    return () => line.close();
  }, [queries, me]);
  return last;
}
