import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { looking, unwrap, type Contract } from "../service/api";
import { rereadAll } from "../service/queries";
import { CustomerField } from "../parts/morePages";
import { Problem } from "../parts/Page";
import { Shown } from "./Shown";
import { stepText, sendWithProgress, type Step } from "./sendWithProgress";
import { useWrite } from "../parts/useWrite";
import { queryKeyOf } from "../service/questions";
import { Input, Select } from "../parts/controls/Input";
import { Table } from "../parts/Table";

type Outcome = Contract["SheetOutcome"];

/** A sheet: its columns matched by heading, every cell that cannot be read, and what would be added. Nothing is written before it is confirmed. */
export function SheetPage({ file }: { file: File }) {
  const queries = useQueryClient();
  const [said, setSaid] = useState<Record<string, string>>({});
  const [customer, setCustomer] = useState("");
  const [leaveOut, setLeaveOut] = useState(false);
  const send = () =>
    unwrap(
      looking.POST("/api/v1/import/sheet", {
        params: {
          query: {
            name: file.name,
            customer: customer || undefined,
            column: Object.entries(said).map(([k, v]) => `${k}=${v}`),
            leaveOut,
            dryRun: true,
          },
        },
        body: file as unknown as string,
        bodySerializer: (b) => b,
        headers: { "Content-Type": "application/octet-stream" },
      }),
    );
  const look = useQuery({
    queryKey: queryKeyOf("sheet", file.name, file.size, file.lastModified, said, customer, leaveOut),
    queryFn: send,
    retry: false,
    placeholderData: (last) => last,
  });
  const [step, setStep] = useState<Step | null>(null);
  const take = useWrite({
    mutationFn: (_: void, api) =>
      sendWithProgress<Outcome>(
        "/api/v1/import/sheet",
        new URLSearchParams([
          ["name", file.name],
          ...(customer ? [["customer", customer]] : []),
          ...Object.entries(said).map(([k, v]) => ["column", `${k}=${v}`]),
          ["leaveOut", String(leaveOut)],
        ]),
        file,
        "application/octet-stream",
        api.key(),
        setStep,
      ),
    onSuccess: () => rereadAll(queries),
    onSettled: () => setStep(null),
  });
  const o: Outcome | undefined = take.data ?? look.data;
  // What was imported stands at the head of the page, and whoever pressed is taken there.
  const done = useRef<HTMLElement>(null);
  useEffect(() => {
    if (!take.isSuccess) return;
    done.current?.focus();
    done.current?.scrollIntoView({ block: "start" });
  }, [take.isSuccess]);
  if (look.isPending) return <p className="empty">Reading {file.name} …</p>;
  return (
    <>
      {(take.error ?? look.error) != null && <Problem error={take.error ?? look.error} />}
      {o && (
        <>
          {o.outcome && !o.outcome.dryRun && (
            <section ref={done} tabIndex={-1} aria-label="What it did">
              <h2>What it did</h2>
              <Shown o={o.outcome} />
            </section>
          )}
          <p className="verdict">
            {o.tunnels} {o.tunnels === 1 ? "tunnel" : "tunnels"} can be read from {o.name}
            {o.problems.length > 0 ? (
              <span className="stops">
                ; {o.leftOut} {o.leftOut === 1 ? "is" : "are"} left out for {o.problems.length}{" "}
                {o.problems.length === 1 ? "cell that cannot be read" : "cells that cannot be read"}.
              </span>
            ) : (
              "; every cell was read."
            )}
          </p>
          <div className="filters">
            {!take.isSuccess && (
              <CustomerField label="Customer, if the sheet has no column for it" value={customer} set={setCustomer} />
            )}
            {o.problems.length > 0 && (
              <label className="plainly">
                <Input
                  type="checkbox"
                  checked={leaveOut}
                  onChange={(e) => setLeaveOut(e.target.checked)}
                  disabled={take.isSuccess}
                />{" "}
                Import the other rows
              </label>
            )}
            <button
              className="first"
              onClick={() => take.mutate()}
              disabled={
                take.isPending ||
                take.isSuccess ||
                look.isFetching ||
                !o.outcome ||
                (o.problems.length > 0 && !leaveOut)
              }
            >
              Import {o.tunnels} {o.tunnels === 1 ? "tunnel" : "tunnels"}
            </button>
          </div>
          {step && (
            <p className="notice" role="status">
              {stepText(step)}
            </p>
          )}
          {o.problems.length > 0 && (
            <>
              <h2>Cells that cannot be read</h2>
              <Table>
                <thead>
                  <tr>
                    <th className="w70">Row</th>
                    <th className="w70">Column</th>
                    <th className="w220">Cell</th>
                    <th>What is wrong, and what is expected</th>
                  </tr>
                </thead>
                <tbody>
                  {o.problems.map((p, i) => (
                    <tr key={i}>
                      <td className="mono">{p.row}</td>
                      <td className="mono">{p.column}</td>
                      <td>
                        <code className="wraps">{p.cell}</code>
                      </td>
                      <td>
                        {p.wrong}. Expected: {p.right}.
                      </td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            </>
          )}
          <h2>Columns, by the headings in row {o.headingRow}</h2>
          <Table className="columns">
            <thead>
              <tr>
                <th className="w30"></th>
                <th className="w220">Heading</th>
                <th className="w260">Read as</th>
                <th>First cells</th>
              </tr>
            </thead>
            <tbody>
              {o.columns.map((c) => (
                <tr key={c.column}>
                  <td className="mono soft">{c.column}</td>
                  <td>{c.heading}</td>
                  <td>
                    <Select
                      aria-label={`Column ${c.column}, ${c.heading}`}
                      value={c.field}
                      disabled={take.isSuccess}
                      onChange={(e) => setSaid({ ...said, [c.column]: e.target.value })}
                    >
                      {o.fields.map((f) => (
                        <option key={f.field} value={f.field}>
                          {f.field} – {f.about}
                        </option>
                      ))}
                    </Select>
                    {!c.sure && <span className="src weak"> not certain</span>}
                  </td>
                  <td>
                    <code className="soft wraps">{c.samples.join(" ┆ ")}</code>
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
          {o.notes.length > 0 && (
            <details>
              <summary>
                {o.notes.length} {o.notes.length === 1 ? "thing was" : "things were"} decided while reading
              </summary>
              {o.notes.map((n, i) => (
                <p key={i} className="then">
                  <span className="src">
                    {n.row !== null && `row ${n.row}`} {n.column !== null && `column ${n.column}`}
                  </span>{" "}
                  {n.text}
                </p>
              ))}
            </details>
          )}
          {o.outcome?.dryRun && (
            <>
              <h2>What it would do</h2>
              <Shown o={o.outcome} />
            </>
          )}
        </>
      )}
    </>
  );
}
