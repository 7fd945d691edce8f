import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useBlocker, useNavigate, useParams, useSearchParams } from "react-router";
import { api, Refused, unwrap } from "../api";
import { reread } from "../queries";
import { useMe } from "../session";
import { Head, Problem, Waiting } from "../parts/Page";
import { Ask } from "../parts/controls/Ask";
import { useDelayed } from "../parts/useDelayed";
import { addRecord, emptyForm, formOf, writeRecord, type RecordForm, type RecordWritten } from "./calls";
import { Fields, words } from "./Fields";
import { fromText, pruned, toText, type Fields as Form } from "./form";
import { placeOf, wordOf, type Plural } from "./kinds";
import { tell } from "../parts/told";
import { Merge } from "./Merge";
import { usePairsControl } from "./PairsField";
import { useSuggestedCode } from "./suggested";
import { WhatItDoes } from "./WhatItDoes";

/** What a new record of a kind begins with, because it needs one of each. */
const begun: Partial<Record<Plural, Form>> = {
  sites: { networks: [{}] },
  gateways: { uplinks: [{ label: "internet" }] },
};

/** What is asked first: whose it is, then its name; the code follows from both. */
const asksFirst = ["customer", "site", "name", "code"];

function inOrder<T extends { key: string }>(fields: readonly T[]): T[] {
  const place = (f: T) => (asksFirst.includes(f.key) ? asksFirst.indexOf(f.key) : asksFirst.length);
  return [...fields].sort((x, y) => place(x) - place(y));
}

/** A new record, empty, or a copy of a tunnel as the start of the next one. */
export function NewRoute() {
  const plural = useParams().plural as Plural;
  const [params] = useSearchParams();
  const [copy, as] = [params.get("copy"), params.get("as")];
  const start = useQuery({
    queryKey: ["new", plural, copy, as],
    queryFn: () =>
      copy && as
        ? unwrap(api.GET("/api/v1/tunnels/{code}/copy", { params: { path: { code: copy }, query: { newCode: as } } }))
        : emptyForm(plural),
    staleTime: Infinity,
  });
  if (start.isPending) return <Waiting what="the form" />;
  if (start.error) return <Problem error={start.error} again={() => start.refetch()} />;
  const given = Object.fromEntries([...params].filter(([k]) => k !== "copy" && k !== "as"));
  return (
    <Edit
      key={plural + copy + as}
      plural={plural}
      base={{
        ...start.data,
        form: { ...begun[plural], ...(start.data.form as Form), ...given },
        fields: inOrder(start.data.fields),
      }}
      copied={copy ?? undefined}
    />
  );
}

/** A record that is there. It is read once: what others write meanwhile is brought in when it is sent. */
export function EditRoute() {
  const { plural, code } = useParams() as { plural: Plural; code: string };
  const form = useQuery({
    queryKey: ["form", plural, code],
    queryFn: () => formOf(plural, code),
    staleTime: Infinity,
    gcTime: 0,
  });
  if (form.isPending) return <Waiting what={code} />;
  if (form.error) return <Problem error={form.error} again={() => form.refetch()} />;
  return <Edit key={plural + code} plural={plural} base={form.data} />;
}

function Edit({ plural, base: first, copied }: { plural: Plural; base: RecordForm; copied?: string }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const word = wordOf(plural);
  const adding = first.version === 0;
  const [base, setBase] = useState({ form: first.form as Form, version: first.version });
  const [form, setForm] = useState(first.form as Form);
  const [text, setText] = useState<string | null>(null);
  const [reason, setReason] = useState("");
  const [theirs, setTheirs] = useState<RecordForm | null>(null);
  const left = useRef(false);
  const unread = text === null ? undefined : fromText(text).wrong;
  const send = { form: (pruned(form) ?? {}) as Form, reason };
  const touched = JSON.stringify(send.form) !== JSON.stringify(pruned(base.form) ?? {});
  const sent = useDelayed(JSON.stringify(send.form), 400);
  const preview = useQuery({
    queryKey: ["preview", plural, first.code, base.version, sent],
    queryFn: () =>
      adding
        ? addRecord(plural, { form: JSON.parse(sent) }, true)
        : writeRecord(plural, first.code, base.version, { form: JSON.parse(sent) }, true),
    enabled: touched && unread === undefined,
    retry: false,
    staleTime: Infinity,
    placeholderData: (last) => last,
  });
  const write = useMutation({
    mutationFn: () =>
      adding ? addRecord(plural, send, false) : writeRecord(plural, first.code, base.version, send, false),
    onSuccess: (w) => {
      left.current = true;
      queries.removeQueries({ queryKey: ["preview"] });
      void reread(queries, { kind: word, code: w.code });
      tell({ text: `${w.code} is ${w.as}.` });
      void go(placeOf(word, w.code));
    },
    // Somebody was faster: theirs is read, and both are shown beside each other.
    onError: async (e) => {
      if (e instanceof Refused && e.status === 412) setTheirs(await formOf(plural, first.code));
    },
  });
  // What was typed is not lost by a click beside it.
  const leaving = useBlocker(() => touched && !left.current);
  const who = useMe().data?.name ?? "";
  const pairs = usePairsControl(form);
  useSuggestedCode(adding && !copied ? plural : undefined, form, (code) => setForm({ ...form, code }));
  const refused = [write.error, preview.error].find((e): e is Refused => e instanceof Refused && e.status === 422);
  const told = (refused?.more.problems as { field: string; wrong: string; right: string }[] | undefined) ?? [];
  // What nobody has filled in yet is wrong only once it is sent.
  const sentOnce = write.error !== null;
  const problems = told.filter((p) => sentOnce || !p.wrong.endsWith("is missing"));
  const missing = told.filter((p) => p.wrong.endsWith("is missing")).map((p) => words(p.field));
  const derived = Object.fromEntries((preview.data?.derived ?? []).map((d) => [d.path, d]));
  const corrects = !adding && (preview.data?.altered.length ?? 0) > 0;

  return (
    <>
      <Head
        code={adding ? undefined : first.code}
        title={adding ? (copied ? `New tunnel from ${copied}` : `New ${word}`) : `Edit ${word}`}
        sub={
          adding
            ? "Derived values are filled in and marked as derived. What you type replaces them."
            : `version ${base.version}; a change to how tunnels work needs a reason`
        }
      />
      <div className="tabs">
        <button
          type="button"
          className="link"
          aria-pressed={text === null}
          disabled={unread !== undefined}
          onClick={() => setText(null)}
        >
          As fields
        </button>
        <button type="button" className="link" aria-pressed={text !== null} onClick={() => setText(toText(send.form))}>
          As keepfile text
        </button>
      </div>
      {theirs ? (
        <Merge
          code={first.code}
          was={base.form}
          theirs={theirs.form as Form}
          mine={send.form}
          who={[
            ...new Set(
              ((write.error as Refused | null)?.more.changed as { who: string }[] | undefined)?.map((m) => m.who) ?? [],
            ),
          ]}
          onDone={(merged) => {
            setBase({ form: theirs.form as Form, version: theirs.version });
            setForm(merged);
            if (text !== null) setText(toText(merged));
            setTheirs(null);
            write.reset();
          }}
        />
      ) : (
        <form
          className="cols"
          onSubmit={(e) => {
            e.preventDefault();
            write.mutate();
          }}
        >
          <div className="recordform">
            {text === null ? (
              <Fields
                fields={first.fields}
                form={form}
                set={setForm}
                first={adding}
                shown={{
                  wrong: problems,
                  derived,
                  who,
                  own: { "agreed.pairs": pairs },
                  locked: adding ? [] : plural === "people" ? ["code"] : [],
                }}
              />
            ) : (
              <label className="field">
                The whole record in keepfile text
                <textarea
                  className="mono"
                  rows={26}
                  value={text}
                  spellCheck={false}
                  onChange={(e) => {
                    setText(e.target.value);
                    const { form: read } = fromText(e.target.value);
                    if (read) setForm(read);
                  }}
                />
                {unread && (
                  <span className="wrong" role="alert">
                    {unread}
                  </span>
                )}
              </label>
            )}
          </div>
          <aside className="stays">
            <h2>What it does</h2>
            {!touched && <p className="soft">You have not altered anything yet.</p>}
            {touched && !refused && preview.data && <WhatItDoes w={preview.data} />}
            {refused && (sentOnce || problems.length > 0) && <Problem error={refused} />}
            {refused && !sentOnce && missing.length > 0 && (
              <p className="soft" role="status">
                Still needed: {missing.join(", ")}.
              </p>
            )}
            {write.error && write.error !== refused && <Problem error={write.error} />}
            {preview.error && preview.error !== refused && !write.error && <Problem error={preview.error} />}
            {corrects && (
              <label className="field">
                Reason <span className="src">why the record was wrong, or what happened</span>
                <input
                  value={reason}
                  onChange={(e) => setReason(e.target.value)}
                  placeholder="the device has always had this"
                />
              </label>
            )}
            <div className="acts">
              <Link className="btn" to={adding ? `/${plural}` : placeOf(word, first.code)}>
                Cancel
              </Link>
              <button
                className="first"
                disabled={!touched || write.isPending || unread !== undefined || (corrects && reason.trim() === "")}
              >
                {adding ? `Add the ${word}` : corrects ? "Save correction" : "Save"}
              </button>
            </div>
          </aside>
        </form>
      )}
      {leaving.state === "blocked" && (
        <Ask title="Not saved" onLeave={() => leaving.reset()}>
          <p>Your entries are not saved yet.</p>
          <div className="acts">
            <button onClick={() => leaving.proceed()}>Discard them</button>
            <button className="first" autoFocus onClick={() => leaving.reset()}>
              Stay here
            </button>
          </div>
        </Ask>
      )}
    </>
  );
}

export type { RecordWritten };
