import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, version, type Contract, type TunnelPage } from "../api";
import { ask, reread } from "../queries";
import { Ask } from "../parts/controls/Ask";
import { Problem } from "../parts/Page";
import { tell } from "../parts/told";

const acts = [
  ["confirm", "it has what is recorded"],
  ["correct", "it has something else"],
] as const;

/** Somebody looked at an end: its value is confirmed, or corrected with a reason. What was typed stays when the service refuses. */
export function ConfirmForm({ t, row, onDone }: { t: TunnelPage; row: Contract["CompareRow"]; onDone: () => void }) {
  const queries = useQueryClient();
  // An end's own address is recorded on its gateway; the other end is where it is entered.
  const only = row.key === "addressOfA" ? "B" : row.key === "addressOfB" ? "A" : null;
  const [end, setEnd] = useState<"A" | "B">(only ?? (row.a.confirmed && !row.b.confirmed ? "B" : "A"));
  const [act, setAct] = useState<"confirm" | "correct">("confirm");
  const [how, setHow] = useState("read");
  const [value, setValue] = useState("");
  const [reason, setReason] = useState("");
  const cell = end === "A" ? row.a : row.b;
  const send = useMutation({
    mutationFn: () => {
      const params = { path: { code: t.code } };
      return act === "confirm"
        ? unwrap(
            api.POST("/api/v1/tunnels/{code}/confirm", {
              params,
              headers: version(t.version),
              body: { end, rows: [row.key], how, date: null, value: value || null },
            }),
          )
        : unwrap(
            api.POST("/api/v1/tunnels/{code}/correct", {
              params,
              headers: version(t.version),
              body: { end, row: row.key, value, reason, how, date: null },
            }),
          );
    },
    onSuccess: () => {
      void reread(queries, { kind: "tunnel", code: t.code });
      tell({ text: `${row.label} at ${end} of ${t.code}: ${act === "confirm" ? "confirmed" : "corrected"}.` });
      onDone();
    },
    onError: () => void queries.invalidateQueries(ask.tunnel(t.code)),
  });
  return (
    <Ask title={`${row.label} of ${t.code}`} holds={value !== "" || reason !== ""} onLeave={onDone}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate();
        }}
      >
        <p>
          <b className="a">A</b> <code>{row.a.text ?? "unknown"}</code>{" "}
          <span className="src">{row.a.confirmed ?? row.a.source}</span>
          <br />
          <b className="b">B</b> <code>{row.b.text ?? "unknown"}</code>{" "}
          <span className="src">{row.b.confirmed ?? row.b.source}</span>
        </p>
        <div className="field acts starts">
          {(["A", "B"] as const).map((e) => (
            <label key={e}>
              <input
                type="radio"
                name="end"
                className="inline"
                checked={end === e}
                disabled={only !== null && only !== e}
                onChange={() => setEnd(e)}
              />{" "}
              <span className={e.toLowerCase()}>at {e}</span>
            </label>
          ))}
          {acts.map(([value, words]) => (
            <label key={value}>
              <input
                type="radio"
                name="act"
                className="inline"
                checked={act === value}
                onChange={() => setAct(value)}
              />{" "}
              {words}
            </label>
          ))}
        </div>
        {(act === "correct" || !cell.text) && (
          <div className="field">
            <label>
              What {end} really has
              <input
                className="mono"
                autoFocus
                required
                value={value}
                onChange={(e) => setValue(e.target.value)}
                placeholder={cell.text ?? ""}
              />
            </label>
          </div>
        )}
        {act === "correct" && (
          <div className="field">
            <label>
              Why the record was wrong
              <input
                required
                value={reason}
                onChange={(e) => setReason(e.target.value)}
                placeholder="the device has always had this"
              />
            </label>
          </div>
        )}
        <div className="field">
          <label>
            How it was confirmed
            <select value={how} onChange={(e) => setHow(e.target.value)}>
              <option value="read">read from the device</option>
              <option value="saved configuration">in its saved configuration</option>
              <option value="other party's sheet">on the other party's sheet</option>
              <option value="typed">entered by somebody who checked the device</option>
            </select>
          </label>
        </div>
        {send.error && <Problem error={send.error} />}
        <div className="acts">
          <button type="button" onClick={onDone}>
            Cancel
          </button>
          <button className="first" disabled={send.isPending}>
            {act === "confirm" ? `Confirm at ${end}` : `Correct at ${end}`}
          </button>
        </div>
      </form>
    </Ask>
  );
}
