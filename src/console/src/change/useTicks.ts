import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { AlreadyDone, api, Refused, unwrap, writer, type ChangePage } from "../service/api";
import { keep, loadKept } from "../parts/browserStore";
import { tell } from "../parts/notices";
import { ask, reread, writtenBy } from "../service/queries";
import { offline, TickQueue, type Tick } from "./ticks";

/** The ticks of a change that are kept in this browser for one person, and the queue that sends them. */
export function useTicks(code: string, who: string) {
  const queries = useQueryClient();
  const [ticks, setTicks] = useState<readonly Tick[]>([]);
  const queue = useMemo(() => {
    const key = `vellumkeep.ticks.${who}.${code}`;
    return new TickQueue({
      load: () => loadKept<Tick[]>(key) ?? [],
      save: (all) => keep(key, all.length > 0 ? all : undefined),
      send: (tick) => send(code, tick),
      sent: (page, tick) => {
        queries.setQueryData(ask.change(code).queryKey, page);
        void reread(queries, ...writtenBy(page));
        if (isLate(tick)) tell({ text: `Step ${tick.number} was kept here and is sent now.` });
      },
      changed: setTicks,
    });
  }, [code, who, queries]);
  useEffect(() => {
    setTicks(queue.all);
    const go = () => void queue.go();
    go();
    window.addEventListener("online", go);
    const timer = setInterval(go, 5000);
    return () => {
      window.removeEventListener("online", go);
      clearInterval(timer);
    };
  }, [queue]);
  return { ticks, queue };
}

const isLate = (tick: Tick) => Date.now() - Date.parse(tick.at) > 60_000;

async function send(code: string, tick: Tick): Promise<ChangePage> {
  // When it was done is part of the record; the service knows only when it was sent.
  const late = isLate(tick) ? `recorded at ${tick.at.slice(11, 16)} UTC without a connection, sent later` : "";
  const remark = [tick.body.remark, late].filter(Boolean).join("; ") || null;
  try {
    return await unwrap(
      writer(`${code}.${tick.number}.${tick.known}.${tick.at}`).POST("/api/v1/changes/{code}/steps/{step}", {
        params: { path: { code, step: tick.number } },
        body: { ...tick.body, remark, key: tick.key, known: tick.known },
      }),
    );
  } catch (e) {
    // The service had it already, and its answer was lost on the way.
    if (e instanceof AlreadyDone)
      return await unwrap(api.GET("/api/v1/changes/{code}", { params: { path: { code } } }));
    // Nobody refused it: the service is away, or asks for the password first.
    if (e instanceof Refused && (e.status === 0 || e.status === 401 || e.status >= 502)) throw offline;
    throw e;
  }
}
