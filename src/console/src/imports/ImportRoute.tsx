import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, told, type Contract } from "../api";
import { Head, Problem } from "../parts/Page";
import { Said } from "../parts/Said";

type Outcome = Contract["ImportOutcome"];

export function ImportRoute() {
  const queries = useQueryClient();
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [reason, setReason] = useState("");
  const send = (dryRun: boolean) =>
    told(
      api.POST("/api/v1/import", {
        params: { query: { dryRun, reason: reason || undefined } },
        body: file!.text,
        bodySerializer: (b) => b as unknown as string,
        headers: { "Content-Type": "application/yaml" },
      }),
    );
  const look = useMutation({ mutationFn: () => send(true) });
  const take = useMutation({ mutationFn: () => send(false), onSuccess: () => queries.invalidateQueries() });
  const open = async (chosen?: File) => {
    if (!chosen) return;
    look.reset();
    take.reset();
    setFile({ name: chosen.name, text: await chosen.text() });
  };
  const shown = take.data ?? look.data;
  return (
    <>
      <Head title="Import a keepfile" sub="All or nothing: a file with one wrong field changes nothing." />
      <label
        className="drop"
        onDragOver={(e) => e.preventDefault()}
        onDrop={(e) => {
          e.preventDefault();
          void open(e.dataTransfer.files[0]);
        }}
      >
        {file ? (
          <>
            <b>{file.name}</b>, {file.text.split("\n").length} lines. Drop another to take its place.
          </>
        ) : (
          "Drop a keepfile here (YAML or JSON), or choose one"
        )}
        <input type="file" accept=".yaml,.yml,.json" onChange={(e) => open(e.target.files?.[0])} />
      </label>
      {file && (
        <div className="filters">
          <button onClick={() => look.mutate()} disabled={look.isPending}>
            Show what it would do
          </button>
          <label className="wide">
            Reason, when it alters something in service
            <input value={reason} onChange={(e) => setReason(e.target.value)} />
          </label>
          <button className="first" onClick={() => take.mutate()} disabled={!look.data || take.isPending || take.isSuccess}>
            Import
          </button>
        </div>
      )}
      {(take.error ?? look.error) != null && <Problem error={take.error ?? look.error} />}
      {shown && <Shown o={shown} />}
    </>
  );
}

function Shown({ o }: { o: Outcome }) {
  return (
    <>
      <div className="told" role="status">
        {o.dryRun ? "Nothing was changed yet." : "Imported."} {o.added.length} {o.dryRun ? "would be " : ""}added, {o.changed.length} changed, {o.left} already
        so.
      </div>
      <table>
        <tbody>
          {o.added.map((r) => (
            <tr key={r.kind + r.code}>
              <td className="holds">added</td>
              <td>{r.kind}</td>
              <td className="mono">{r.code}</td>
              <td>{r.name}</td>
            </tr>
          ))}
          {o.changed.flatMap((r) =>
            r.differences.map((d) => (
              <tr key={r.kind + r.code + d.path}>
                <td className="weak">changed</td>
                <td>{r.kind}</td>
                <td className="mono">{r.code}</td>
                <td>
                  <code>{d.path}</code>: <span className="was">{d.before ?? "nothing"}</span> → {d.after ?? "nothing"}
                </td>
              </tr>
            )),
          )}
          {o.findingsAdded.map((f, i) => (
            <tr key={`a${i}`}>
              <td className={`sev ${f.severity}`}>{f.severity}</td>
              <td className="code">{f.code}</td>
              <td className="mono">{f.tunnel}</td>
              <td>
                <Said says={f.what} />
              </td>
            </tr>
          ))}
          {o.findingsRemoved.map((f, i) => (
            <tr key={`r${i}`}>
              <td className="holds">taken away</td>
              <td className="code">{f.code}</td>
              <td className="mono">{f.tunnel}</td>
              <td>
                <Said says={f.what} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
