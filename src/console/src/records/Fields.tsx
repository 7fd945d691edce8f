import { useState, type ReactNode } from "react";
import { KeyVersions } from "../parts/controls/KeyVersions";
import { State } from "../parts/controls/State";
import { inline, isMap, nameOf, read, type FieldInfo, type Fields as Form, type Value } from "./form";
import { heldOf, writtenHeld } from "./recordedValue";
import { aboutOf, aOrAn } from "./labels";
import { hasParts, hasTextsControl, TextField, TextsField, type Offered } from "./TextField";
import { Input, TextArea } from "../parts/controls/Input";

type Wrong = { field: string; wrong: string; right: string };
export type Shown = {
  wrong: readonly Wrong[];
  derived: Record<string, { value: string; from: string }>;
  locked?: readonly string[];
  /** Who fills it in: a confirmation is theirs. */
  who: string;
  /** What a choice is called that nobody has made: of a platform, unknown. */
  unset?: string;
  offered?: Offered;
  /** In which unit lifetimes are typed at each end, where the platforms say. */
  lifetimeUnits?: readonly { end: "A" | "B"; unit: string }[];
  /** Controls of single places, by their path: what needs to know more than its own field. */
  own?: Record<string, (value: Value | undefined, set: (v: Value | undefined) => void, f: FieldInfo) => ReactNode>;
};

/** So few plain values are asked as a whole: they belong together. */
const fewParts = 5;

const isWhole = (f: FieldInfo) =>
  f.inside.length <= fewParts && f.inside.every((part) => part.shape === "text" || part.shape === "texts");

/** The fields of a form: those that are needed or have a value stand open, the others can be added. */
export function Fields({
  fields,
  form,
  path = "",
  shown,
  set,
  first,
  all,
}: {
  fields: FieldInfo[];
  form: Form;
  path?: string;
  shown: Shown;
  set: (form: Form) => void;
  first?: boolean;
  /** Every field stands open. */
  all?: boolean;
}) {
  const [asked, setAsked] = useState<string[]>([]);
  const has = (f: FieldInfo) =>
    all ||
    f.required ||
    form[f.key] !== undefined ||
    asked.includes(f.key) ||
    shown.derived[at(path, f.key)] !== undefined ||
    (first && (f.refers || f.askedFirst));
  // The ends of a tunnel stand beside each other; everything else one below the other.
  const ends = fields.filter(
    (f) => f.shape === "map" && (f.key === "a" || f.key === "b") && fields.some((g) => g.key === "a"),
  );
  const put = (key: string, value: Value | undefined) => {
    const next = { ...form };
    if (value === undefined) {
      delete next[key];
      // A field that is emptied, to type it anew, stays where it was.
      if (!asked.includes(key)) setAsked([...asked, key]);
    } else next[key] = value;
    set(next);
  };
  const one = (f: FieldInfo) => (
    <Field
      key={f.key}
      f={f}
      value={form[f.key]}
      path={at(path, f.key)}
      shown={shown}
      first={first}
      set={(v) => put(f.key, v)}
    />
  );
  const rest = fields.filter((f) => !has(f) && !shown.locked?.includes(f.key));
  return (
    <>
      <div className="fieldgrid">{fields.filter((f) => has(f) && !ends.includes(f)).map(one)}</div>
      {ends.length === 2 && (
        <div className="cols even">
          {ends.map((f) => (
            <section key={f.key}>
              <h2 className={f.key}>End {f.key.toUpperCase()}</h2>
              <Fields
                fields={f.inside}
                form={isMap(form[f.key]) ? (form[f.key] as Form) : {}}
                path={at(path, f.key)}
                shown={shown}
                set={(v) => put(f.key, v)}
              />
            </section>
          ))}
        </div>
      )}
      {rest.length > 0 && (
        <p className="src addable">
          Add{" "}
          {rest.map((f) => (
            <button
              key={f.key}
              type="button"
              className="link src"
              title={f.about}
              onClick={() => setAsked([...asked, f.key])}
            >
              {f.label}
            </button>
          ))}
        </p>
      )}
    </>
  );
}

function Field({
  f,
  value,
  path,
  shown,
  first,
  set,
}: {
  f: FieldInfo;
  value?: Value;
  path: string;
  shown: Shown;
  first?: boolean;
  set: (v: Value | undefined) => void;
}) {
  const wrong = shown.wrong.filter(
    (w) => w.field === path || w.field.endsWith(`.${path}`) || path.endsWith(`.${w.field}`),
  );
  const derived = value === undefined || value === "" ? shown.derived[path] : undefined;
  const below = (
    <>
      {wrong.map((w, i) => (
        <span key={i} className="wrong" role="alert">
          {w.wrong}. Expected: {w.right}.
        </span>
      ))}
      {derived && (
        <span className="src">
          <code>{derived.value}</code> derived: {derived.from}
        </span>
      )}
    </>
  );
  const own = shown.own?.[path];
  if (own)
    return (
      <div className="full-row">
        {own(value, set, f)}
        {below}
      </div>
    );
  if (f.control === "key versions")
    return (
      <div>
        <KeyVersions label={f.label} held={isMap(value) ? value : {}} set={(held) => set(held as Value | undefined)} />
        {below}
      </div>
    );
  if (f.shape === "map")
    return (
      <fieldset>
        <legend>
          {f.label} {!f.about.startsWith(f.label) && <span className="src">{aboutOf(f.about)}</span>}
        </legend>
        {below}
        <Fields
          fields={f.inside}
          form={isMap(value) ? value : {}}
          path={path}
          shown={shown}
          first={first}
          all={isWhole(f)}
          set={set}
        />
      </fieldset>
    );
  if (f.shape === "maps") {
    const items = Array.isArray(value) ? value : [];
    return (
      <fieldset>
        <legend>
          {f.label} {!f.about.startsWith(f.label) && <span className="src">{aboutOf(f.about)}</span>}
        </legend>
        {below}
        {items.map((item, i) => (
          <div key={i} className="item">
            <Fields
              fields={f.inside}
              form={isMap(item) ? item : {}}
              path={`${path}[${isMap(item) ? nameOf(item) : i}]`}
              shown={shown}
              all={isWhole(f)}
              set={(v) => set(items.map((x, j) => (j === i ? v : x)))}
            />
            <button type="button" className="link src" onClick={() => set(items.filter((_, j) => j !== i))}>
              Remove {(isMap(item) && nameOf(item)) || `${f.one} ${i + 1}`}
            </button>
          </div>
        ))}
        <button type="button" className="link src" onClick={() => set([...items, {}])}>
          Add {items.length > 0 ? `another ${f.one}` : aOrAn(f.one)}
        </button>
      </fieldset>
    );
  }
  const locked = shown.locked?.includes(f.key);
  const name = f.label;
  const about = aboutOf(f.about);
  const help = about === f.key || about === name ? undefined : about;
  // A value that somebody can have confirmed, that is there for now, or that nobody knows yet.
  const listed = Array.isArray(value) && ["rows", "IKE proposal", "ESP proposal"].includes(f.control);
  const held = f.shape === "any" || isMap(value) ? heldOf(listed ? inline(value) : value) : undefined;
  if (held && (value !== undefined || f.shape === "any"))
    return (
      <div>
        <State
          label={name}
          held={held}
          who={shown.who}
          set={(next) => set(writtenHeld(next))}
          control={(text, put, label) => (
            <TextField
              f={f}
              label={label}
              value={text}
              set={(t) => put(t ?? "")}
              help={help}
              locked={locked}
              units={unitsAt(path, shown)}
              offered={shown.offered}
            />
          )}
        />
        {below}
      </div>
    );
  // What both ends agreed has its parts and no state of its own.
  if (hasParts(f))
    return (
      <div>
        <TextField
          f={f}
          label={name}
          value={value === undefined ? "" : inline(value)}
          set={(text) => set(text === undefined ? undefined : read(text))}
          help={help}
          locked={locked}
          units={unitsAt(path, shown)}
        />
        {below}
      </div>
    );
  if (f.shape === "text" && (value === undefined || typeof value === "string"))
    return (
      <div>
        <TextField
          f={f}
          label={name}
          value={value ?? ""}
          set={set}
          help={help}
          locked={locked}
          who={shown.who}
          unset={shown.unset}
        />
        {below}
      </div>
    );
  const texts = value === undefined ? [] : Array.isArray(value) ? value : [value];
  if ((f.shape === "texts" || f.shape === "any") && hasTextsControl(f) && texts.every((t) => typeof t === "string"))
    return (
      <div>
        <TextsField f={f} label={name} value={texts} set={set} help={help} offered={shown.offered} />
        {below}
      </div>
    );
  const label = (
    <span className="labelled" title={f.about}>
      <span className={f.key === "a" || f.key === "b" ? f.key : undefined}>{f.label}</span>{" "}
      {f.about !== f.key && <span className="src">{f.about}</span>}
    </span>
  );
  // Lists are typed one a line; what has parts of its own as it is written in a keepfile: {time: 3600 s, margin: 20 %}.
  const list =
    f.shape === "texts" || (f.shape === "any" && Array.isArray(value) && value.every((v) => typeof v === "string"));
  const text = value === undefined ? "" : Array.isArray(value) ? value.map(inline).join("\n") : inline(value);
  const many = list || Array.isArray(value) || f.key === "notes" || text.length > 60;
  const typed = (t: string) => {
    if (t === "") set(undefined);
    else if (list || Array.isArray(value)) set(t.split("\n").map((x) => (f.shape === "any" ? read(x) : x)));
    else set(f.shape === "any" ? read(t) : t);
  };
  return (
    <label className="field">
      {label}
      {many ? (
        <TextArea
          className="mono"
          rows={Math.min(12, text.split("\n").length + (list ? 1 : 0))}
          value={text}
          onChange={(e) => typed(e.target.value)}
          aria-invalid={wrong.length > 0}
        />
      ) : (
        <TypedLine text={text} wrong={wrong.length > 0} locked={locked} typed={typed} />
      )}
      {below}
    </label>
  );
}

/** A line keeps what is typed as it is typed: half of a structured value is not yet one. */
function TypedLine({
  text,
  wrong,
  locked,
  typed,
}: {
  text: string;
  wrong: boolean;
  locked?: boolean;
  typed: (t: string) => void;
}) {
  const [mine, setMine] = useState<string | null>(null);
  return (
    <Input
      className="mono"
      value={mine ?? text}
      aria-invalid={wrong}
      disabled={locked}
      onChange={(e) => {
        setMine(e.target.value);
        typed(e.target.value);
      }}
      onBlur={() => setMine(null)}
    />
  );
}

/** The units of the ends that a value is for: of both where they agreed it. */
const unitsAt = (path: string, shown: Shown) => {
  const end = /^([ab])\./.exec(path)?.[1]?.toUpperCase();
  return (shown.lifetimeUnits ?? []).filter((u) => end === undefined || u.end === end);
};

const at = (path: string, key: string) => (path ? `${path}.${key}` : key);
