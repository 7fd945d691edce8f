import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { looking, unwrap, type Contract } from "../service/api";
import { rereadAll } from "../service/queries";
import { FileDrop } from "../parts/controls/FileDrop";
import { Head, Problem } from "../parts/Page";
import { SheetPage } from "./SheetPage";
import { Shown } from "./Shown";
import { stepText, sendWithProgress, type Step } from "./sendWithProgress";
import { useWrite } from "../parts/useWrite";
import { Input } from "../parts/controls/Input";

export function ImportRoute() {
  const queries = useQueryClient();
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [sheet, setSheet] = useState<File | null>(null);
  const [reason, setReason] = useState("");
  const send = () =>
    unwrap(
      looking.POST("/api/v1/import", {
        params: { query: { dryRun: true, reason: reason || undefined } },
        body: file!.text,
        bodySerializer: (b) => b,
        headers: { "Content-Type": "application/yaml" },
      }),
    );
  const look = useMutation({ mutationFn: send });
  const [step, setStep] = useState<Step | null>(null);
  const take = useWrite({
    mutationFn: (_: void, api) =>
      sendWithProgress<Contract["ImportOutcome"]>(
        "/api/v1/import",
        new URLSearchParams(reason ? [["reason", reason]] : []),
        file!.text,
        "application/yaml",
        api.key(),
        setStep,
      ),
    onSuccess: () => rereadAll(queries),
    onSettled: () => setStep(null),
  });
  const open = async (chosen: File) => {
    look.reset();
    take.reset();
    const isSheet = /\.(xlsx|csv|tsv|txt)$/i.test(chosen.name);
    setSheet(isSheet ? chosen : null);
    if (isSheet) {
      setFile(null);
      return;
    }
    setFile({ name: chosen.name, text: await chosen.text() });
  };
  const shown = take.data ?? look.data;
  return (
    <>
      <Head
        title="Import"
        sub="A sheet (XLSX or CSV) or a keepfile. Vellumkeep shows what it would do before anything is stored."
      />
      <FileDrop
        wide
        label="Drop a sheet or a keepfile"
        choose={file || sheet ? "Choose another" : "Choose a file"}
        about="or drop it here: a sheet (XLSX, CSV) or a keepfile (YAML, JSON)"
        accept={[".xlsx", ".csv", ".yaml", ".yml", ".json"]}
        take={(chosen) => void open(chosen)}
        taken={
          file ? (
            <>
              <b>{file.name}</b>, {file.text.split("\n").length} lines
            </>
          ) : sheet ? (
            <b>{sheet.name}</b>
          ) : undefined
        }
      />
      {sheet && <SheetPage key={sheet.name + sheet.lastModified} file={sheet} />}
      {file && (
        <div className="filters">
          <button onClick={() => look.mutate()} disabled={look.isPending}>
            Show what it would do
          </button>
          <label className="wide">
            Reason, when it alters something in service
            <Input value={reason} onChange={(e) => setReason(e.target.value)} />
          </label>
          <button
            className="first"
            onClick={() => take.mutate()}
            disabled={!look.data || take.isPending || take.isSuccess}
          >
            Import
          </button>
        </div>
      )}
      {step && (
        <p className="notice" role="status">
          {stepText(step)}
        </p>
      )}
      {(take.error ?? look.error) != null && <Problem error={take.error ?? look.error} />}
      {shown && <Shown o={shown} />}
    </>
  );
}
