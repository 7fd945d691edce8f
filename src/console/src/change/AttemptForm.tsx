import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type ChangePage, type Contract } from "../api";
import { ask, reread, writtenBy } from "../queries";
import { Problem } from "../parts/Page";
import { Sentence } from "../parts/Sentence";

type Step = Contract["StepPage"];

/** The octets of a file as the service takes them. */
const base64 = (file: File) =>
  new Promise<string>((done, failed) => {
    const reader = new FileReader();
    reader.onload = () => done((reader.result as string).split(",", 2)[1] ?? "");
    reader.onerror = () => failed(new Error(`${file.name} cannot be read`));
    reader.readAsDataURL(file);
  });

/** What is recorded of the step at hand: done, skipped or failed, with remark, proof and deviation. */
export function AttemptForm({ c, s, onDone }: { c: ChangePage; s: Step; onDone: () => void }) {
  const queries = useQueryClient();
  const [remark, setRemark] = useState("");
  const [otherwise, setOtherwise] = useState(false);
  const [proof, setProof] = useState("");
  const [withoutProof, setWithoutProof] = useState("");
  const [file, setFile] = useState<File | null>(null);
  const [files, setFiles] = useState(0);
  const values = s.enter.filter((v) => !v.waits);
  // Two values that are planned alike are separated by their labels.
  const planned = values.map((v) => (values.filter((x) => x.text === v.text).length > 1 ? v.label : v.text));
  const [which, setWhich] = useState(planned[0] ?? "");
  const [set, setSet] = useState("");
  const [reason, setReason] = useState("");
  const send = useMutation({
    mutationFn: async (outcome: string) =>
      unwrap(
        api.POST("/api/v1/changes/{code}/steps/{step}", {
          params: { path: { code: c.code, step: s.number } },
          body: {
            outcome,
            remark: remark || null,
            planned: otherwise ? which : null,
            set: otherwise ? set : null,
            reason: otherwise ? reason : null,
            proof: proof || null,
            withoutProof: withoutProof || null,
            file: file && { name: file.name, content: await base64(file) },
          },
        }),
      ),
    onSuccess: (page) => {
      queries.setQueryData(ask.change(c.code).queryKey, page);
      void reread(queries, ...writtenBy(page));
      // What was said belongs to that attempt.
      setRemark("");
      setProof("");
      setWithoutProof("");
      setFile(null);
      setFiles((n) => n + 1);
      setOtherwise(false);
      onDone();
    },
  });
  return (
    <div>
      <label className="more">
        Remark, what happened, or the reason for skipping
        <input value={remark} onChange={(e) => setRemark(e.target.value)} />
      </label>
      <label className="more">
        Proof: a line, or what the device says, pasted
        <textarea
          className="mono"
          rows={proof.includes("\n") ? 6 : 1}
          value={proof}
          onChange={(e) => setProof(e.target.value)}
        />
      </label>
      <label className="more">
        or a file, at most 4 MiB: a screen shot, a saved configuration
        <input key={files} type="file" onChange={(e) => setFile(e.target.files?.[0] ?? null)} />
      </label>
      {s.needsProof && !proof && !file && (
        <label className="more">
          or why there is no proof; the record and the closing say it
          <input value={withoutProof} onChange={(e) => setWithoutProof(e.target.value)} />
        </label>
      )}
      {planned.length > 0 && (
        <label className="more">
          <input
            type="checkbox"
            className="inline"
            checked={otherwise}
            onChange={(e) => setOtherwise(e.target.checked)}
          />{" "}
          it was set otherwise
        </label>
      )}
      {otherwise && (
        <div className="halves">
          <label>
            Planned
            <select className="mono" value={which} onChange={(e) => setWhich(e.target.value)}>
              {planned.map((p) => (
                <option key={p}>{p}</option>
              ))}
            </select>
          </label>
          <label>
            Set instead
            <input className="mono" value={set} onChange={(e) => setSet(e.target.value)} />
          </label>
          <label className="full-row">
            Because
            <input value={reason} onChange={(e) => setReason(e.target.value)} />
          </label>
        </div>
      )}
      {s.waits && (
        <p className="weak">
          <Sentence says={s.waits} />
        </p>
      )}
      {send.error && <Problem error={send.error} />}
      <div className="choices">
        <button className="first" disabled={send.isPending || s.waits !== null} onClick={() => send.mutate("done")}>
          Done
        </button>
        <button disabled={send.isPending} onClick={() => send.mutate("skipped")}>
          Skip
        </button>
        <button disabled={send.isPending} onClick={() => send.mutate("failed")}>
          Failed
        </button>
      </div>
    </div>
  );
}
