import { useState } from "react";
import { inline, isMap, read, type FieldInfo, type Fields as Form, type Value } from "./form";

type Wrong = { field: string; wrong: string; right: string };
type Shown = {
  wrong: readonly Wrong[];
  derived: Record<string, { value: string; from: string }>;
  refers: Record<string, readonly string[]>;
  locked?: readonly string[];
};

/** What a new record is asked for although it could be left out. */
const starts = ["pairs", "networks", "uplinks", "roles"];

/** The fields of a form: those that are needed or have a value stand open, the others can be added. */
export function Fields({
  fields,
  form,
  path = "",
  shown,
  set,
  first,
}: {
  fields: FieldInfo[];
  form: Form;
  path?: string;
  shown: Shown;
  set: (form: Form) => void;
  first?: boolean;
}) {
  const [asked, setAsked] = useState<string[]>([]);
  const has = (f: FieldInfo) =>
    f.required ||
    form[f.key] !== undefined ||
    asked.includes(f.key) ||
    shown.derived[at(path, f.key)] !== undefined ||
    (first && (f.refers || starts.includes(f.key)));
  // The ends of a tunnel stand beside each other; everything else one below the other.
  const ends = fields.filter(
    (f) => f.shape === "map" && (f.key === "a" || f.key === "b") && fields.some((g) => g.key === "a"),
  );
  const put = (key: string, value: Value | undefined) => {
    const next = { ...form };
    if (value === undefined) delete next[key];
    else next[key] = value;
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
              {words(f.key)}
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
  confirmed: by,
  set,
}: {
  f: FieldInfo;
  value?: Value;
  path: string;
  shown: Shown;
  first?: boolean;
  confirmed?: string;
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
      {by && <span className="src">{by}</span>}
      {derived && (
        <span className="src">
          <code>{derived.value}</code> derived: {derived.from}
        </span>
      )}
    </>
  );
  if (f.shape === "map")
    return (
      <fieldset>
        <legend>
          {words(f.key)} <span className="src">{f.about}</span>
        </legend>
        {below}
        <Fields fields={f.inside} form={isMap(value) ? value : {}} path={path} shown={shown} first={first} set={set} />
      </fieldset>
    );
  if (f.shape === "maps") {
    const items = Array.isArray(value) ? value : [];
    return (
      <fieldset>
        <legend>
          {words(f.key)} <span className="src">{f.about}</span>
        </legend>
        {below}
        {items.map((item, i) => (
          <div key={i} className="item">
            <Fields
              fields={f.inside}
              form={isMap(item) ? item : {}}
              path={`${path}[${isMap(item) ? String(Object.values(item)[0] ?? "") : i}]`}
              shown={shown}
              set={(v) => set(items.map((x, j) => (j === i ? v : x)))}
            />
            <button type="button" className="link src" onClick={() => set(items.filter((_, j) => j !== i))}>
              Remove {isMap(item) ? String(Object.values(item)[0] ?? "it") : "it"}
            </button>
          </div>
        ))}
        <button type="button" className="link src" onClick={() => set([...items, {}])}>
          Add one
        </button>
      </fieldset>
    );
  }
  // What somebody saw on a device: whoever types another value has not seen it there.
  const confirmation =
    isMap(value) &&
    typeof value.confirmed === "string" &&
    Object.keys(value).every((k) => k === "is" || k === "confirmed")
      ? value.confirmed
      : undefined;
  if (confirmation !== undefined && isMap(value))
    return <Field f={f} value={value.is} path={path} shown={shown} set={(v) => set(v)} confirmed={confirmation} />;
  const label = (
    <span className="labelled" title={f.about}>
      <span className={f.key === "a" || f.key === "b" ? f.key : undefined}>
        {f.key === "a" || f.key === "b" ? f.key.toUpperCase() : words(f.key)}
      </span>{" "}
      {f.about !== f.key && <span className="src">{f.about}</span>}
    </span>
  );
  const locked = shown.locked?.includes(f.key);
  if (f.shape === "text" && f.words.length > 0)
    return (
      <label className="field">
        {label}
        <select
          value={typeof value === "string" ? value : ""}
          onChange={(e) => set(e.target.value || undefined)}
          disabled={locked}
        >
          <option value=""></option>
          {f.words.map((w) => (
            <option key={w}>{w}</option>
          ))}
        </select>
        {below}
      </label>
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
        <textarea
          className="mono"
          rows={Math.min(12, text.split("\n").length + (list ? 1 : 0))}
          value={text}
          onChange={(e) => typed(e.target.value)}
          aria-invalid={wrong.length > 0}
        />
      ) : (
        <Line
          text={text}
          list={f.refers ? `of-${f.refers}` : undefined}
          wrong={wrong.length > 0}
          locked={locked}
          typed={typed}
        />
      )}
      {f.refers && shown.refers[f.refers] && (
        <datalist id={`of-${f.refers}`}>
          {shown.refers[f.refers].map((c) => (
            <option key={c} value={c} />
          ))}
        </datalist>
      )}
      {below}
    </label>
  );
}

/** A line keeps what is typed as it is typed: half of a structured value is not yet one. */
function Line({
  text,
  list,
  wrong,
  locked,
  typed,
}: {
  text: string;
  list?: string;
  wrong: boolean;
  locked?: boolean;
  typed: (t: string) => void;
}) {
  const [mine, setMine] = useState<string | null>(null);
  return (
    <input
      className="mono"
      value={mine ?? text}
      list={list}
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

const at = (path: string, key: string) => (path ? `${path}.${key}` : key);

/** `keyHeld` → key held; names of protocols keep their capitals. */
export const words = (key: string) =>
  ({
    ikeVersions: "IKE versions",
    ikev1LifetimeRule: "IKEv1 lifetime answer",
    dpd: "DPD",
    pfs: "PFS",
    mtu: "MTU",
    mssClamp: "MSS clamp",
    natTraversal: "NAT traversal",
    espLifetime: "ESP lifetime",
    ikeLifetime: "IKE lifetime",
    espProposals: "ESP proposals",
    ikeProposals: "IKE proposals",
  })[key] ?? key.replace(/([a-z0-9])([A-Z])/g, (_, x: string, y: string) => `${x} ${y.toLowerCase()}`);
