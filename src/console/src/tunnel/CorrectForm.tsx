import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { unwrap, version, type TunnelPage } from "../service/api";
import { HowChosen, type ConfirmedHow } from "../parts/controls/ConfirmedHow";
import { Line } from "../parts/controls/Line";
import { Prefixes } from "../parts/controls/Prefixes";
import { Problem } from "../parts/Page";
import { tell } from "../parts/notices";
import { emptyForm } from "../records/calls";
import { inline, type FieldInfo } from "../records/form";
import { hasParts, hasTextsControl, TextField, TextsField } from "../records/TextField";
import { ask, reread } from "../service/queries";
import type { Place } from "./Seen";
import { useWrite } from "../parts/useWrite";
import { queryKeyOf } from "../service/questions";

/** What an end really has, in its own row: the other values stay in sight. What was typed stays when it is refused. */
export function CorrectForm({ t, place, onDone }: { t: TunnelPage; place: Place; onDone: () => void }) {
  const { row, end } = place;
  const queries = useQueryClient();
  const cell = end === "A" ? row.a : row.b;
  const unknown = cell.text === null;
  const [value, setValue] = useState("");
  const [reason, setReason] = useState(unknown ? "it was not known" : "");
  const [how, setHow] = useState<ConfirmedHow>("read");
  const field = useField(row.key);
  const send = useWrite({
    mutationFn: (_: void, api) =>
      unwrap(
        api.POST("/api/v1/tunnels/{code}/correct", {
          params: { path: { code: t.code } },
          headers: version(t.version),
          body: { end, row: row.key, value, reason, how, date: null },
        }),
      ),
    onSuccess: () => {
      void reread(queries, { kind: "tunnel", code: t.code });
      tell({ text: `${row.label} at ${end} of ${t.code}: ${unknown ? "entered" : "corrected"}.` });
      onDone();
    },
    onError: () => void queries.invalidateQueries(ask.tunnel(t.code)),
  });
  return (
    <form
      className="correct"
      aria-label={`${row.label} at ${end}`}
      onSubmit={(e) => {
        e.preventDefault();
        if (!send.isPending) send.mutate();
      }}
    >
      <ValueField label={`What ${end} really has`} row={row.key} field={field} value={value} set={setValue} />
      <Line label={unknown ? "Why it is entered now" : "Why the record was wrong"} value={reason} set={setReason} />
      <HowChosen how={how} set={setHow} />
      {send.error && <Problem error={send.error} />}
      <div className="acts starts">
        <button className="first" disabled={send.isPending || value.trim() === "" || reason.trim() === ""}>
          {unknown ? "Enter" : "Correct"} at {end}
        </button>
        <button type="button" onClick={onDone}>
          Cancel
        </button>
      </div>
    </form>
  );
}

/** The field of a record whose value stands in a row of the comparison: it brings the control along. */
function useField(row: string): FieldInfo | undefined {
  const form = useQuery({
    queryKey: queryKeyOf("new", "tunnels"),
    queryFn: () => emptyForm("tunnels"),
    staleTime: Infinity,
  });
  const inside = (key: string) => form.data?.fields.find((f) => f.key === key)?.inside ?? [];
  if (row.startsWith("identityOf")) return inside("a").find((f) => f.key === "identitySent");
  return inside("agreed").find((f) => f.key === row);
}

function ValueField(props: {
  label: string;
  row: string;
  field?: FieldInfo;
  value: string;
  set: (value: string) => void;
}) {
  const { label, row, field, value, set } = props;
  if (row.startsWith("subnetsOf"))
    return (
      <Prefixes
        label={label}
        value={value.split(/[\s,]+/).filter(Boolean)}
        set={(all) => set(all.join(", "))}
        autoFocus
      />
    );
  // Several values in order are one text of the correction, parted by semicolons.
  if (field && !hasParts(field) && field.shape !== "text" && hasTextsControl(field))
    return (
      <TextsField
        f={field}
        label={label}
        value={value.split(/\s*;\s*/).filter(Boolean)}
        set={(all) => set(Array.isArray(all) ? all.map(inline).join("; ") : "")}
      />
    );
  if (field) return <TextField f={field} label={label} value={value} set={(text) => set(text ?? "")} />;
  return <Line label={label} value={value} set={set} mono autoFocus />;
}
