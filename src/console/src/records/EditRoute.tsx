import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { api, unwrap, type Refused } from "../service/api";
import { Tabs } from "../parts/controls/Tabs";
import { Head, Problem, Waiting } from "../parts/Page";
import { UplinksDrawn } from "./UplinksDrawn";
import { LeftUnknown, StartFrom } from "./StartFrom";
import { emptyForm, formOf, type RecordForm, type RecordWritten } from "./calls";
import { Fields } from "./Fields";
import { fromText, toText, type Fields as Form } from "./form";
import { placeOf, type Plural } from "../service/recordKinds";
import { Merge } from "./Merge";
import { usePairsControl } from "./PairsField";
import { PlatformFields } from "./PlatformFields";
import { useSuggestedCode } from "./suggested";
import { TunnelDrawn } from "./TunnelDrawn";
import { TunnelFields } from "./TunnelFields";
import { useRecordForm, type Filling } from "./useRecordForm";
import { WhatItDoes } from "./WhatItDoes";
import { queryKeyOf } from "../service/questions";
import { Input, TextArea } from "../parts/controls/Input";

/** What a new record of a kind begins with, because it needs one of each. */
const begun: Partial<Record<Plural, Form>> = {
  sites: { networks: [{}] },
  gateways: { uplinks: [{ label: "internet" }] },
  platforms: { version: "1" },
  suites: { version: "1" },
};

/** What is said above a new record, where nothing of it is derived. */
const saysFirst: Partial<Record<Plural, string>> = {
  platforms: "What the device can do, from its manual or from the device. What nobody says stays unknown.",
  suites: "Settings that tunnels can share, by code and version.",
  people: "Who signs in, and what they may do for which customers.",
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
    queryKey: queryKeyOf("new", plural, copy, as),
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
    queryKey: queryKeyOf("form", plural, code),
    queryFn: () => formOf(plural, code),
    staleTime: Infinity,
    gcTime: 0,
  });
  if (form.isPending) return <Waiting what={code} />;
  if (form.error) return <Problem error={form.error} again={() => form.refetch()} />;
  return <Edit key={plural + code} plural={plural} base={form.data} />;
}

function Edit({ plural, base, copied }: { plural: Plural; base: RecordForm; copied?: string }) {
  const [params] = useSearchParams();
  const f = useRecordForm(plural, base, base.version === 0 ? `new ${params}` : base.code);
  const { form, setForm, text, unread, adding, word } = f;
  const pairs = usePairsControl(form);
  useSuggestedCode(adding && !copied ? plural : undefined, form, (code) => setForm({ ...form, code }));
  const shown = {
    wrong: f.problems,
    derived: f.derived,
    who: f.who,
    unset: plural === "platforms" ? "unknown" : undefined,
    own: { "agreed.pairs": pairs },
    locked: !adding && plural === "people" ? ["code"] : [],
  };
  return (
    <>
      <Head
        code={adding ? undefined : base.code}
        title={adding ? (copied ? `New tunnel from ${copied}` : `New ${word}`) : `Edit ${word}`}
        sub={
          adding
            ? (saysFirst[plural] ?? "Derived values are filled in and marked as derived. What you type replaces them.")
            : `version ${f.over.version}; a change to how tunnels work needs a reason`
        }
      />
      {plural === "platforms" && adding && <StartFrom form={form} set={setForm} />}
      <Tabs
        label="How it is filled in"
        chosen={text === null ? "fields" : "text"}
        choose={(tab) => f.setText(tab === "text" ? toText(f.send.form) : null)}
        of={[
          { tab: "fields", title: "As fields", disabled: unread !== undefined },
          { tab: "text", title: "As keepfile text" },
        ]}
      >
        {f.theirs ? (
          <Merge
            code={base.code}
            was={f.over.form}
            theirs={f.theirs.form as Form}
            mine={f.send.form}
            who={[
              ...new Set(
                ((f.write.error as Refused | null)?.more.changed as { who: string }[] | undefined)?.map((m) => m.who) ??
                  [],
              ),
            ]}
            onDone={f.merged}
          />
        ) : (
          <form
            className={plural === "tunnels" ? "cols even-wide" : "cols"}
            onSubmit={(e) => {
              e.preventDefault();
              if (!f.write.isPending) f.write.mutate();
            }}
          >
            <div className="recordform">
              {text !== null ? (
                <KeepfileText text={text} unread={unread} setText={f.setText} setForm={setForm} />
              ) : plural === "tunnels" ? (
                <TunnelFields fields={base.fields} form={form} set={setForm} shown={shown} adding={adding} />
              ) : plural === "platforms" ? (
                <PlatformFields fields={base.fields} form={form} set={setForm} shown={shown} />
              ) : (
                <Fields fields={base.fields} form={form} set={setForm} first={adding} shown={shown} />
              )}
            </div>
            <Beside plural={plural} base={base} f={f} />
          </form>
        )}
      </Tabs>
    </>
  );
}

/** What writing it would do, what is still needed, and the presses that write it or throw it away. */
function Beside({ plural, base, f }: { plural: Plural; base: RecordForm; f: Filling }) {
  const { adding, word, write, preview, refused, sentOnce, unread } = f;
  return (
    <aside className="stays">
      {plural === "gateways" && <UplinksDrawn form={f.form} />}
      {plural === "platforms" && <LeftUnknown fields={base.fields} form={f.form} />}
      {plural === "tunnels" && <TunnelDrawn tunnel={f.touched ? (preview.data?.tunnel ?? undefined) : undefined} />}
      <h2>What it does</h2>
      {!f.touched && <p className="soft">You have not altered anything yet.</p>}
      {f.touched && !refused && preview.data && <WhatItDoes w={preview.data} />}
      {refused && sentOnce && <Problem error={refused} />}
      {!sentOnce &&
        f.problems.map((p) => (
          <p key={p.field + p.wrong} className="wrong">
            <code>{p.field}</code>: {p.wrong}. Expected: {p.right}.
          </p>
        ))}
      {refused && !sentOnce && f.missing.length > 0 && (
        <p className="soft" role="status">
          Still needed: {f.missing.join(", ")}.
        </p>
      )}
      {write.error && write.error !== refused && <Problem error={write.error} />}
      {preview.error && preview.error !== refused && !write.error && <Problem error={preview.error} />}
      {f.corrects && (
        <label className="field">
          Reason <span className="src">why the record was wrong, or what happened</span>
          <Input
            value={f.reason}
            onChange={(e) => f.setReason(e.target.value)}
            placeholder="the device has always had this"
          />
        </label>
      )}
      <div className="acts">
        <Link className="btn" to={adding ? `/${plural}` : placeOf(word, base.code)}>
          Leave
        </Link>
        {f.touched && (
          <button type="button" onClick={f.discard}>
            Start again
          </button>
        )}
        <button
          className="first"
          disabled={!f.touched || write.isPending || unread !== undefined || (f.corrects && f.reason.trim() === "")}
        >
          {adding ? `Add the ${word}` : f.corrects ? "Save correction" : "Save"}
        </button>
      </div>
      {f.touched && <p className="src">What you typed is kept in this browser until you save it or start again.</p>}
    </aside>
  );
}

/** The whole record as it is written in a keepfile. */
function KeepfileText(props: {
  text: string;
  unread?: string;
  setText: (text: string) => void;
  setForm: (form: Form) => void;
}) {
  const { text, unread, setText, setForm } = props;
  return (
    <label className="field">
      The whole record in keepfile text
      <TextArea
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
  );
}

export type { RecordWritten };
