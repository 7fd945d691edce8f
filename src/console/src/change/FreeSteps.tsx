import type { Step } from "./request";
import { Input, Select } from "../parts/controls/Input";

const parts = ["prepare", "safeguard", "build", "switch", "prove", "record"];
const places = ["A", "B", "us"];

/** Steps in the author's own words: part, place and what is done. */
export function FreeSteps({ steps, set }: { steps: readonly Step[]; set: (steps: Step[]) => void }) {
  const rows =
    steps.length > 0 ? steps : [{ part: "build", where: "A", do: "", minutes: null, stops: null, undo: null }];
  const put = (i: number, some: Partial<Step>) => set(rows.map((s, j) => (j === i ? { ...s, ...some } : s)));
  return (
    <fieldset className="field bare">
      <legend className="small-head">Steps, in their order</legend>
      {rows.map((s, i) => (
        <div className="freestep" key={i}>
          <span className="n">{i + 1}</span>
          <Select
            aria-label={`Part of step ${i + 1}`}
            value={s.part}
            onChange={(e) => put(i, { part: e.target.value })}
          >
            {parts.map((p) => (
              <option key={p}>{p}</option>
            ))}
          </Select>
          <Select
            aria-label={`Place of step ${i + 1}`}
            value={s.where}
            onChange={(e) => put(i, { where: e.target.value })}
          >
            {places.map((p) => (
              <option key={p}>{p}</option>
            ))}
          </Select>
          <Input
            aria-label={`What is done in step ${i + 1}`}
            value={s.do}
            placeholder="Fit the spare power supply"
            onChange={(e) => put(i, { do: e.target.value })}
          />
          <button type="button" className="link src" onClick={() => set(rows.filter((_, j) => j !== i))}>
            Remove
          </button>
        </div>
      ))}
      <button
        type="button"
        className="link"
        onClick={() =>
          set([
            ...rows,
            { part: rows.at(-1)!.part, where: rows.at(-1)!.where, do: "", minutes: null, stops: null, undo: null },
          ])
        }
      >
        Add a step
      </button>
    </fieldset>
  );
}
