import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { unwrap, type ChangePage } from "../service/api";
import { ask } from "../service/queries";
import { moment, Problem } from "../parts/Page";
import { useWrite } from "../parts/useWrite";
import { Input, Select } from "../parts/controls/Input";
import { Table } from "../parts/Table";

/** What was said of a change, and through which states it went. */
export function Remarks({ c }: { c: ChangePage }) {
  return (
    <>
      <h2>Review and status history</h2>
      <RemarkForm c={c} />
      {c.remarks.map((r, i) => (
        <p key={i}>
          {r.by}
          {r.step && ` on step ${r.step}`}
          {r.value && `, ${r.value}`}: {r.text} <span className="src">{moment(r.at)}</span>
        </p>
      ))}
      <Table>
        <tbody>
          {c.statusHistory.map((p, i) => (
            <tr key={i}>
              <td className="mono w170">{moment(p.at)}</td>
              <td className="w110">{p.to}</td>
              <td className="w90">{p.by}</td>
              <td>{p.remark}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

/** A remark on the whole or on a step, without moving the change. */
function RemarkForm({ c }: { c: ChangePage }) {
  const queries = useQueryClient();
  const [remark, setRemark] = useState("");
  const [step, setStep] = useState("");
  const [value, setValue] = useState("");
  const values = c.steps.find((s) => s.number === Number(step))?.enter ?? [];
  const send = useWrite({
    mutationFn: (_: void, api) =>
      unwrap(
        api.POST("/api/v1/changes/{code}/remark", {
          params: { path: { code: c.code } },
          body: { remark, step: step ? Number(step) : null, value: value || null },
        }),
      ),
    onSuccess: (page) => {
      queries.setQueryData(ask.change(c.code).queryKey, page);
      setRemark("");
      setStep("");
      setValue("");
    },
  });
  return (
    <form
      className="fill"
      onSubmit={(e) => {
        e.preventDefault();
        send.mutate();
      }}
    >
      <label>
        Remark
        <Input required value={remark} onChange={(e) => setRemark(e.target.value)} />
      </label>
      <label className="w80">
        on step
        <Input inputMode="numeric" value={step} onChange={(e) => setStep(e.target.value)} />
      </label>
      {values.length > 0 && (
        <label className="w170">
          on its value
          <Select value={value} onChange={(e) => setValue(e.target.value)}>
            <option value="">the whole step</option>
            {values.map((v) => (
              <option key={v.label + v.text} value={v.label}>
                {v.label}
              </option>
            ))}
          </Select>
        </label>
      )}
      <button disabled={send.isPending}>Add remark</button>
      {send.error && <Problem error={send.error} />}
    </form>
  );
}
