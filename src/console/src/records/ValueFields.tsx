import { isMap, inline, read, type Value } from "./form";
import { TickList } from "./TickList";
import { Input, Select } from "../parts/controls/Input";

/** In which unit the operators of the ends type lifetimes. */
export type LifetimeUnits = readonly { end: "A" | "B"; unit: string }[];

interface Of {
  label: string;
  value: string;
  set: (value: string) => void;
  words: readonly string[];
  help?: string;
  units?: LifetimeUnits;
}

/** Which of some words, as a list: the IKE versions of an end. */
export function WordsField({ label, value, set, words }: Of) {
  const now = read(value);
  const chosen = Array.isArray(now) ? now.map(String) : value === "" ? [] : [value];
  const put = (word: string, ticked: boolean) => {
    const next = words.filter((x) => (x === word ? ticked : chosen.includes(x)));
    set(next.length === 0 ? "" : inline(next));
  };
  return <TickList label={label} words={words} chosen={chosen} put={put} />;
}

/** How a unit of time is written beside its number. */
const written: Record<string, string> = { seconds: "s", minutes: "min", hours: "h" };
const secondsIn: Record<string, number> = { s: 1, min: 60, h: 3600 };

const part = (v: Value | undefined) => (typeof v === "string" ? v : "");

/** A lifetime: a time in the unit of that device, and data and margin where it has them. */
export function LifetimeField({ label, value, set, words, help, units: ofEnds = [] }: Of) {
  const now = read(value);
  const fields = isMap(now) ? now : value === "" ? {} : { time: value };
  const [, typed = "", unit = ""] = /^([\d,. ]*)([A-Za-z]*)$/.exec(part(fields.time).trim()) ?? [];
  const amount = typed.trim();
  const put = (key: string, text: string) => {
    const next = { ...fields, [key]: text };
    const kept = Object.fromEntries(Object.entries(next).filter(([, v]) => v !== ""));
    set(Object.keys(kept).length === 0 ? "" : inline(kept));
  };
  const units = words.map((w) => written[w] ?? w);
  const known = units.includes(unit) || unit === "" ? units : [...units, unit];
  const first = (ofEnds[0] && written[ofEnds[0].unit]) ?? "s";
  const number = Number(amount.replace(/[, ]/g, ""));
  const seconds = number > 0 ? number * (secondsIn[unit || first] ?? 0) : 0;
  return (
    <fieldset className="field bare lifetime">
      <legend className="small-head">{label}</legend>
      <span className="parts">
        <Input
          className="mono"
          inputMode="numeric"
          aria-label={`${label}: time`}
          value={amount}
          onChange={(e) => put("time", e.target.value === "" ? "" : `${e.target.value} ${unit || first}`)}
        />
        <Select
          aria-label={`${label}: unit`}
          value={unit || first}
          onChange={(e) => put("time", amount === "" ? "" : `${amount} ${e.target.value}`)}
        >
          {known.map((u) => (
            <option key={u}>{u}</option>
          ))}
        </Select>
        <Input
          className="mono"
          aria-label={`${label}: data`}
          placeholder="data, 4 GB"
          value={part(fields.data)}
          onChange={(e) => put("data", e.target.value)}
        />
        <Input
          className="mono"
          aria-label={`${label}: margin`}
          placeholder="margin, 10 %"
          value={part(fields.margin)}
          onChange={(e) => put("margin", e.target.value)}
        />
      </span>
      <span className="src">
        {seconds > 0 ? <Readings seconds={seconds} unit={unit || first} ofEnds={ofEnds} /> : help}
      </span>
    </fieldset>
  );
}

/** What is typed at each end for a time, in the unit of its device. */
function Readings({ seconds, unit, ofEnds }: { seconds: number; unit: string; ofEnds: LifetimeUnits }) {
  if (ofEnds.length === 0) return unit === "s" ? null : <>{seconds.toLocaleString("en")} s</>;
  return ofEnds.map(({ end, unit }) => {
    const its = written[unit] ?? "s";
    const typed = seconds / (secondsIn[its] ?? 1);
    return (
      <span key={end} className="reading">
        <b className={end.toLowerCase()}>{end}</b> types{" "}
        {Number.isInteger(typed) ? `${typed.toLocaleString("en")} ${its}` : `no whole number of ${unit}`}{" "}
      </span>
    );
  });
}

/** PFS: whether, and with which DH group. */
export function PfsField({ label, value, set, words }: Of) {
  const word = [...words].sort((x, y) => y.length - x.length).find((w) => value.startsWith(w)) ?? "";
  const group = value
    .slice(word.length)
    .replace(/^\s*DH\s*/i, "")
    .trim();
  const put = (w: string, g: string) => set(w === "" ? "" : g === "" || w === words.at(-1) ? w : `${w} DH ${g}`);
  return (
    <fieldset className="field bare">
      <legend className="small-head">{label}</legend>
      <span className="parts">
        <Select aria-label={`${label}: whether`} value={word} onChange={(e) => put(e.target.value, group)}>
          <option value=""></option>
          {words.map((w) => (
            <option key={w}>{w}</option>
          ))}
        </Select>
        {word !== "" && word !== words.at(-1) && (
          <label className="plain">
            DH{" "}
            <Input
              className="mono inline"
              size={6}
              aria-label={`${label}: DH group`}
              value={group}
              placeholder="of IKE"
              onChange={(e) => put(word, e.target.value)}
            />
          </label>
        )}
      </span>
    </fieldset>
  );
}

/** An identity: its type, and its value. */
export function IdentityField({ label, value, set, words, help }: Of) {
  const kind = words.find((w) => value.startsWith(`${w} `)) ?? words[1] ?? "";
  const rest = value.startsWith(`${kind} `) ? value.slice(kind.length + 1) : value;
  const put = (k: string, text: string) => set(text === "" ? "" : `${k} ${text}`);
  return (
    <fieldset className="field bare">
      <legend className="small-head">{label}</legend>
      <span className="parts">
        <Select aria-label={`${label}: type`} value={kind} onChange={(e) => put(e.target.value, rest)}>
          {words.map((w) => (
            <option key={w}>{w}</option>
          ))}
        </Select>
        <Input
          className="mono wide"
          aria-label={`${label}: value`}
          value={rest}
          onChange={(e) => put(kind, e.target.value)}
        />
      </span>
      {help && <span className="src">{help}</span>}
    </fieldset>
  );
}

/** Who begins: one word for each end where both are said, else one. */
export function InitiationField({ label, value, set, words }: Of) {
  const now = read(value);
  const one = (end: string, held: string, put: (w: string) => void) => (
    <label key={end} className="plain">
      {end && <b className={end.toLowerCase()}>{end} </b>}
      <Select aria-label={`${label} ${end}`.trim()} value={held} onChange={(e) => put(e.target.value)}>
        <option value=""></option>
        {words.map((w) => (
          <option key={w}>{w}</option>
        ))}
      </Select>
    </label>
  );
  return (
    <fieldset className="field bare">
      <legend className="small-head">{label}</legend>
      <span className="parts">
        {isMap(now)
          ? (["a", "b"] as const).map((end) =>
              one(end.toUpperCase(), part(now[end]), (w) => set(inline({ ...now, [end]: w }))),
            )
          : one("", value, set)}
      </span>
    </fieldset>
  );
}

/** DPD: how often, how many tries, and what then; or off. */
export function DpdField({ label, value, set, words }: Of) {
  const [, every = "", tries = "", then = ""] = /^(.*?)\s+x\s+(\d*)\s*,\s*(.*)$/.exec(value) ?? [];
  const off = value === "off";
  const put = (e: string, t: string, a: string) => set(`${e} x ${t}, ${a}`);
  return (
    <fieldset className="field bare">
      <legend className="small-head">{label}</legend>
      <span className="parts">
        <label className="plain">
          <Input
            type="checkbox"
            className="inline"
            checked={value !== "" && !off}
            onChange={(e) => set(e.target.checked ? `20 s x 5, ${words.at(-1)}` : "off")}
          />{" "}
          {off ? "off" : value === "" ? "not set" : "on"}
        </label>
        {value !== "" && !off && (
          <>
            <Input
              className="mono"
              size={6}
              aria-label={`${label}: interval`}
              value={every}
              onChange={(e) => put(e.target.value, tries, then)}
            />
            x
            <Input
              className="mono"
              size={3}
              inputMode="numeric"
              aria-label={`${label}: tries`}
              value={tries}
              onChange={(e) => put(every, e.target.value, then)}
            />
            <Select aria-label={`${label}: then`} value={then} onChange={(e) => put(every, tries, e.target.value)}>
              {words.map((w) => (
                <option key={w}>{w}</option>
              ))}
            </Select>
          </>
        )}
      </span>
    </fieldset>
  );
}
