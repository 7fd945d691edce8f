import type { Contract } from "../service/api";
import { Input, Select } from "../parts/controls/Input";

/** That a value was set otherwise than planned. */
export interface Otherwise {
  planned: string;
  set: string;
  reason: string;
}

/** Which value of a step was set otherwise, to what, and why. */
export function SetOtherwise(props: {
  s: Contract["StepPage"];
  value: Otherwise | null;
  set: (value: Otherwise | null) => void;
}) {
  const { s, value, set } = props;
  const values = s.enter.filter((v) => !v.waits);
  // Two values that are planned alike are separated by their labels.
  const planned = values.map((v) => (values.filter((x) => x.text === v.text).length > 1 ? v.label : v.text));
  if (planned.length === 0) return null;
  return (
    <>
      <label className="field plain">
        <Input
          type="checkbox"
          className="inline"
          checked={value !== null}
          onChange={(e) => set(e.target.checked ? { planned: planned[0], set: "", reason: "" } : null)}
        />{" "}
        it was set otherwise
      </label>
      {value && (
        <div className="halves">
          <label>
            Planned
            <Select className="mono" value={value.planned} onChange={(e) => set({ ...value, planned: e.target.value })}>
              {planned.map((p) => (
                <option key={p}>{p}</option>
              ))}
            </Select>
          </label>
          <label>
            Set instead
            <Input className="mono" value={value.set} onChange={(e) => set({ ...value, set: e.target.value })} />
          </label>
          <label className="full-row">
            Because
            <Input value={value.reason} onChange={(e) => set({ ...value, reason: e.target.value })} />
          </label>
        </div>
      )}
    </>
  );
}
