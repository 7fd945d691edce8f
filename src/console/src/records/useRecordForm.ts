import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { looking, Refused } from "../service/api";
import { tell } from "../parts/notices";
import { useDelayed } from "../parts/useDelayed";
import { useKeptForm } from "../parts/useKeptForm";
import { reread } from "../service/queries";
import { useMe } from "../service/session";
import { addRecord, formOf, writeRecord, type RecordForm } from "./calls";
import { readable } from "./labels";
import { fromText, pruned, toText, type Fields } from "./form";
import { placeOf, wordOf, type Plural } from "../service/recordKinds";
import { useWrite } from "../parts/useWrite";
import { queryKeyOf } from "../service/questions";

interface Typed {
  form: Fields;
  reason: string;
  /** What it was typed over: a colleague's write meanwhile is told from it. */
  over: { form: Fields; version: number };
}

export interface Wrong {
  field: string;
  wrong: string;
  right: string;
}

/** A record being filled in: kept in this browser until it is written or thrown away, and tried as it is typed. */
export function useRecordForm(plural: Plural, base: RecordForm, key: string) {
  const go = useNavigate();
  const queries = useQueryClient();
  const who = useMe().data?.name ?? "";
  const word = wordOf(plural);
  const adding = base.version === 0;
  const begun = base.form as Fields;
  const first: Typed = { form: begun, reason: "", over: { form: begun, version: base.version } };
  const kept = useKeptForm<Typed>(who, `record.${plural}.${key}`, first);
  const { form, reason, over } = kept.values;
  const [text, setText] = useState<string | null>(null);
  const [theirs, setTheirs] = useState<RecordForm | null>(null);
  const unread = text === null ? undefined : fromText(text).wrong;
  const send = { form: (pruned(form) ?? {}) as Fields, reason };
  const touched = JSON.stringify(send.form) !== JSON.stringify(pruned(over.form) ?? {});
  const sent = useDelayed(JSON.stringify(send.form), 400);
  const preview = useQuery({
    queryKey: queryKeyOf("preview", plural, base.code, over.version, sent),
    queryFn: () =>
      adding
        ? addRecord(looking, plural, { form: JSON.parse(sent) as Fields }, true)
        : writeRecord(looking, plural, base.code, over.version, { form: JSON.parse(sent) as Fields }, true),
    enabled: touched && unread === undefined,
    retry: false,
    staleTime: Infinity,
    placeholderData: (last) => last,
  });
  const write = useWrite({
    mutationFn: (_: void, api) =>
      adding ? addRecord(api, plural, send, false) : writeRecord(api, plural, base.code, over.version, send, false),
    onSuccess: (w) => {
      kept.forget();
      queries.removeQueries({ queryKey: queryKeyOf("preview") });
      void reread(queries, { kind: word, code: w.code });
      tell({ text: `${w.code} is ${w.as}.` });
      void go(placeOf(word, w.code));
    },
    // Somebody was faster: theirs is read, and both are shown beside each other.
    onError: async (e) => {
      if (e instanceof Refused && e.status === 412) setTheirs(await formOf(plural, base.code));
    },
  });
  const refused = [write.error, preview.error].find((e): e is Refused => e instanceof Refused && e.status === 422);
  const told = (refused?.more.problems as Wrong[] | undefined) ?? [];
  // What nobody has filled in yet is wrong only once it is sent.
  const sentOnce = write.error !== null;
  const unfilled = (p: Wrong) => p.wrong.endsWith("is missing");
  return {
    who,
    word,
    adding,
    form,
    reason,
    over,
    text,
    unread,
    theirs,
    touched,
    preview,
    write,
    refused,
    sentOnce,
    send,
    problems: told.filter((p) => sentOnce || !unfilled(p)),
    missing: told.filter(unfilled).map((p) => readable(base.fields, p.field)),
    derived: Object.fromEntries((preview.data?.derived ?? []).map((d) => [d.path, d])),
    corrects: !adding && (preview.data?.altered.length ?? 0) > 0,
    setForm: (next: Fields) => kept.put({ form: next }),
    setReason: (next: string) => kept.put({ reason: next }),
    setText,
    discard: () => {
      kept.forget();
      setText(null);
      write.reset();
    },
    /** A colleague's write was looked at, and both were brought together. */
    merged: (next: Fields) => {
      kept.put({ form: next, over: { form: theirs!.form as Fields, version: theirs!.version } });
      if (text !== null) setText(toText(next));
      setTheirs(null);
      write.reset();
    },
  };
}

export type Filling = ReturnType<typeof useRecordForm>;
