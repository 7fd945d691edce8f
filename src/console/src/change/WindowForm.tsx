import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { unwrap, type ChangePage } from "../service/api";
import { ask, reread, writtenBy } from "../service/queries";
import { Line } from "../parts/controls/Line";
import { Problem } from "../parts/Page";
import { useWrite } from "../parts/useWrite";
import { Input, Select } from "../parts/controls/Input";

/** The window in the time of both sites, and a place to set it. */
export function WindowForm({ c, may }: { c: ChangePage; may: boolean }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [start, setStart] = useState(c.windowStart?.slice(0, 16) ?? "");
  const [zone, setZone] = useState<"A" | "B" | "UTC">(c.windowStart ? "UTC" : "A");
  const [minutes, setMinutes] = useState(String(c.windowMinutes ?? Math.max(60, c.plannedMinutes)));
  const [whyShort, setWhyShort] = useState("");
  const [reason, setReason] = useState("");
  const short = Number(minutes) > 0 && Number(minutes) < c.plannedMinutes;
  const set = useWrite({
    mutationFn: (clear: boolean, api) =>
      unwrap(
        api.POST("/api/v1/changes/{code}/window", {
          params: { path: { code: c.code } },
          body: {
            start: clear || zone !== "UTC" ? null : `${start}:00Z`,
            minutes: clear ? null : Number(minutes),
            localStart: clear || zone === "UTC" ? null : start,
            end: zone === "UTC" ? null : zone,
            whyShort: short && !clear ? whyShort || null : null,
            reason: reason || null,
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
            <Input type="datetime-local" required value={start} onChange={(e) => setStart(e.target.value)} />
          </label>
          <label className="w130">
            by the clock
            <Select value={zone} onChange={(e) => setZone(e.target.value as "A")}>
              <option value="A">at A, {c.a.site}</option>
              <option value="B">at B, {c.b.site}</option>
              <option value="UTC">UTC</option>
            </Select>
          </label>
          <label className="w70">
            minutes
            <Input type="number" min={1} max={1440} value={minutes} onChange={(e) => setMinutes(e.target.value)} />
          </label>
          {short && (
            <Line
              label={`Why ${minutes} min are enough for ${c.plannedMinutes} min of work`}
              value={whyShort}
              set={setWhyShort}
              help="It stands in the record."
            />
          )}
          {c.state === "under way" && (
            <Line label="Why it changes" value={reason} set={setReason} help="It stands in the record." />
          )}
          {c.state === "approved" && (
            <p className="src whole">Approval lapses with the window, until a reviewer confirms the new one.</p>
          )}
          <button disabled={set.isPending}>Set</button>
          {c.windowStart && (
            <button type="button" disabled={set.isPending} onClick={() => set.mutate(true)}>
              Clear
            </button>
          )}
          {set.error && <Problem error={set.error} />}
        </form>
      )}
    </>
  );
}
