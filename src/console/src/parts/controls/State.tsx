import type { ReactNode } from "react";
import { Choice } from "./Choice";
import { Confirmed } from "./ConfirmedHow";
import { Line } from "./Line";
import { DayField } from "./DateTimeFields";

/** A value as a record can hold it: known, there only for now, or not known yet. */
export type Held =
  | { state: "known"; value: string; confirmed?: string }
  | { state: "temporary"; value: string; final: string; reason: string; deadline: string; confirmed?: string }
  | { state: "pending"; who: string; by: string };

/** Any value with its state: who will know it and by when, or what it must become, and whether somebody looked. */
export function State(props: {
  label: string;
  held: Held;
  set: (held: Held) => void;
  /** The control of the value itself. */
  control: (value: string, set: (value: string) => void, label: string) => ReactNode;
  who: string;
}) {
  const { label, held, set, control, who } = props;
  const value = held.state === "pending" ? "" : held.value;
  const confirmed = held.state === "pending" ? undefined : held.confirmed;
  const choose = (state: Held["state"]) => {
    if (state === held.state) return;
    if (state === "known") set({ state, value });
    if (state === "temporary") set({ state, value, final: "", reason: "", deadline: "" });
    if (state === "pending") set({ state, who: "", by: "" });
  };
  return (
    <div className="held">
      {held.state !== "pending" && control(value, (v) => set({ ...held, value: v, confirmed: undefined }), label)}
      {held.state === "pending" && <span className="react-aria-Label">{label}</span>}
      <details open={held.state !== "known"}>
        <summary className="src">
          {held.state === "known" ? (confirmed ?? "not confirmed") : held.state === "pending" ? "pending" : "temporary"}
        </summary>
        <Choice
          label="It is"
          inLine
          value={held.state}
          set={choose}
          of={[
            { value: "known", label: "known" },
            { value: "temporary", label: "only for now" },
            { value: "pending", label: "not known yet" },
          ]}
        />
        {held.state === "temporary" && (
          <div className="field pair">
            {control(held.final, (final) => set({ ...held, final }), "What it must become")}
            <DayField label="By" value={held.deadline} set={(deadline) => set({ ...held, deadline })} />
            <Line label="Why it is there for now" value={held.reason} set={(reason) => set({ ...held, reason })} />
          </div>
        )}
        {held.state === "pending" && (
          <div className="field pair">
            <Line label="Who will know it" value={held.who} set={(name) => set({ ...held, who: name })} />
            <DayField label="By" value={held.by} set={(by) => set({ ...held, by })} />
          </div>
        )}
        {held.state !== "pending" && (
          <Confirmed value={confirmed} set={(said) => set({ ...held, confirmed: said })} who={who} />
        )}
      </details>
    </div>
  );
}
