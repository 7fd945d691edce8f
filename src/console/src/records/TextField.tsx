import { Choice } from "../parts/controls/Choice";
import { Confirmed } from "../parts/controls/ConfirmedHow";
import { Line } from "../parts/controls/Line";
import { Picker, PickOne } from "../parts/controls/Picker";
import { Prefixes } from "../parts/controls/Prefixes";
import { Rows, type Row } from "../parts/controls/Rows";
import { Proposals } from "../parts/controls/Proposals";
import { DayField } from "../parts/controls/DateTimeFields";
import { zones } from "../parts/zones";
import { inline, read, type FieldInfo, type Value } from "./form";
import { kinds } from "../service/recordKinds";
import { RolesField } from "./RolesField";
import { TickList } from "./TickList";
import {
  DpdField,
  IdentityField,
  InitiationField,
  LifetimeField,
  PfsField,
  WordsField,
  type LifetimeUnits,
} from "./ValueFields";
import { TextArea, Select } from "../parts/controls/Input";

interface One {
  f: FieldInfo;
  label: string;
  value: string;
  set: (value: string | undefined) => void;
  help?: string;
  locked?: boolean;
  /** Who fills it in: a confirmation is theirs. */
  who?: string;
  /** What a choice is called that nobody has made. */
  unset?: string;
  units?: LifetimeUnits;
  offered?: Offered;
}

/** Proposals that both ends can do, strongest first. */
export interface Offered {
  IKE: readonly string[];
  ESP: readonly string[];
}

const layerOf = (f: FieldInfo) =>
  f.control === "IKE proposal" ? "IKE" : f.control === "ESP proposal" ? "ESP" : undefined;

/** Values that have parts: each with a control of its own. */
const ownFields: Record<string, typeof LifetimeField> = {
  "IKE versions": WordsField,
  lifetime: LifetimeField,
  PFS: PfsField,
  identity: IdentityField,
  initiation: InitiationField,
  DPD: DpdField,
};

/** Whether a value has parts that have a control of their own. */
export const hasParts = (f: FieldInfo) => f.shape !== "texts" && f.control in ownFields;

/** Choices of so few words that they stand in sight. */
const fewWords = 4;

/** The control of one text: by the kind of value that the field holds. */
export function TextField({ f, label, value, set, help, locked, who, unset, units, offered }: One) {
  const put = (text: string) => set(text === "" ? undefined : text);
  const kind = f.refers ? kinds.find((k) => k.word === f.refers) : undefined;
  if (kind) return <Picker of={kind.plural} label={label} value={value} set={put} help={help} required={f.required} />;
  const Own = ownFields[f.control];
  if (Own) return <Own label={label} value={value} set={put} words={f.words} help={help} units={units} />;
  const layer = layerOf(f);
  if (layer) {
    const now = value === "" ? [] : read(value);
    return (
      <Proposals
        label={label}
        of={layer}
        value={Array.isArray(now) ? now.map(String) : [value]}
        set={(all) => set(all.length === 0 ? undefined : inline(all))}
        offered={offered?.[layer]}
      />
    );
  }
  if (f.control === "rows") return <RowsField {...{ f, label, value, set, help }} />;
  if (f.words.length > 0 && f.words.length <= fewWords)
    return (
      <Choice
        label={label}
        inLine
        value={value}
        set={put}
        of={[
          ...f.words.map((w) => ({ value: w, label: w, disabled: locked })),
          ...(f.required ? [] : [{ value: "", label: f.words.includes("yes") ? "unknown" : (unset ?? "not set") }]),
        ]}
      />
    );
  if (f.words.length > 0)
    return (
      <label className="field">
        {label}
        <Select value={value} onChange={(e) => put(e.target.value)} disabled={locked}>
          <option value=""></option>
          {f.words.map((w) => (
            <option key={w}>{w}</option>
          ))}
        </Select>
        {help && <span className="src">{help}</span>}
      </label>
    );
  if (f.control === "time zone")
    return <PickOne label={label} value={value} set={put} options={zones()} help={help} placeholder="Europe/London" />;
  if (f.control === "confirmed") return <Confirmed value={value || undefined} set={set} who={who ?? ""} />;
  if (f.control === "day") return <DayField label={label} value={value} set={put} help={help} />;
  if (f.control === "long text")
    return (
      <label className="field">
        {label}
        <TextArea
          rows={Math.min(12, value.split("\n").length + 1)}
          value={value}
          onChange={(e) => put(e.target.value)}
        />
      </label>
    );
  const mono = ["prefix", "address"].includes(f.control) || f.key === "code";
  return <Line label={label} value={value} set={put} help={help} mono={mono} required={f.required} />;
}

/** The control of a list of texts, where the kind of value has one. */
export function TextsField(props: {
  f: FieldInfo;
  label: string;
  value: readonly string[];
  set: (value: Value | undefined) => void;
  help?: string;
  offered?: Offered;
}) {
  const { f, label, value, set, help, offered } = props;
  const put = (all: string[]) => set(all.length > 0 ? all : undefined);
  if (f.control === "roles") return <RolesField roles={f.words} value={value} set={put} />;
  if (f.control === "prefix") return <Prefixes label={label} value={value} set={put} help={help} />;
  const layer = layerOf(f);
  if (layer)
    return <Proposals label={label} of={layer} value={value} set={put} help={help} offered={offered?.[layer]} />;
  // A word that the list lacks stays; none at all means that nobody has said.
  if (f.words.length > 0)
    return (
      <TickList
        label={
          <>
            {label} {value.length === 0 && <span className="src">unknown</span>}
          </>
        }
        words={[...f.words, ...value.filter((v) => !f.words.includes(v))]}
        chosen={value}
        put={(word, ticked) => put(ticked ? [...value, word] : value.filter((v) => v !== word))}
        // Help that only names the words says nothing that the ticks do not.
        help={help && f.words.every((w) => help.includes(w)) ? undefined : help}
      />
    );
  return null;
}

/** Whether a list of texts has a control of its own. */
export const hasTextsControl = (f: FieldInfo) =>
  f.words.length > 0 || f.control === "prefix" || layerOf(f) !== undefined;

/** Rows of parts, which stand in the form as one text. */
function RowsField({ f, label, value, set }: One) {
  const rows = value === "" ? [] : (read(value) as Row[]);
  return (
    <Rows
      label={label}
      one={f.one}
      parts={f.inside.map((p) => ({ key: p.key, label: p.label, words: p.words }))}
      rows={rows}
      set={(next) => set(next.length === 0 ? undefined : inline(next))}
    />
  );
}
