import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type ChangePage } from "../api";
import { ask, reread, writtenBy } from "../queries";
import { Problem } from "../parts/Page";

/** The window in the time of both sites, and a place to set it. */
export function WindowForm({ c, may }: { c: ChangePage; may: boolean }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [start, setStart] = useState(c.windowStart?.slice(0, 16) ?? "");
  const [zone, setZone] = useState<"A" | "B" | "UTC">("A");
  const [minutes, setMinutes] = useState(String(c.windowMinutes ?? Math.max(60, c.plannedMinutes)));
  const set = useMutation({
    mutationFn: (clear: boolean) =>
      unwrap(
        api.POST("/api/v1/changes/{code}/window", {
          params: { path: { code: c.code } },
          body: {
            start: clear || zone !== "UTC" ? null : `${start}:00Z`,
            minutes: clear ? null : Number(minutes),
            localStart: clear || zone === "UTC" ? null : start,
            end: zone === "UTC" ? null : zone,
          },
        }),
      ),
    onSuccess: (page) => {
      queries.setQueryData(ask.change(c.code).queryKey, page);
      void reread(queries, ...writtenBy(page));
      setOpen(false);
    },
  });
  return (
    <>
      {c.windowAtA ?? "not set"}
      {c.windowAtB !== c.windowAtA && `; at B ${c.windowAtB}`}{" "}
      {may && (
        <button className="link" onClick={() => setOpen(!open)}>
          {c.windowStart ? "move it" : "set it"}
        </button>
      )}
      {open && (
        <form
          className="fill"
          onSubmit={(e) => {
            e.preventDefault();
            set.mutate(false);
          }}
        >
          <label>
            begins
            <input type="datetime-local" required value={start} onChange={(e) => setStart(e.target.value)} />
          </label>
          <label className="w130">
            by the clock
            <select value={zone} onChange={(e) => setZone(e.target.value as "A")}>
              <option value="A">at A, {c.a.site}</option>
              <option value="B">at B, {c.b.site}</option>
              <option value="UTC">UTC</option>
            </select>
          </label>
          <label className="w70">
            minutes
            <input type="number" min={1} max={1440} value={minutes} onChange={(e) => setMinutes(e.target.value)} />
          </label>
          <button disabled={set.isPending}>Set</button>
          {c.windowStart && (
            <button type="button" onClick={() => set.mutate(true)}>
              Clear
            </button>
          )}
          {set.error && <Problem error={set.error} />}
        </form>
      )}
    </>
  );
}
