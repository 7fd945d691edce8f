import { api, unwrap, version, type Contract, type Writer } from "../service/api";
import type { Fields } from "./form";
import type { Plural } from "../service/recordKinds";

export type RecordForm = Contract["RecordForm"];
export type RecordWritten = Contract["RecordWritten"];

/** The calls that stand under every plural alike; their types are those of one of them. */
const of = (plural: Plural) => `/api/v1/${plural}/{code}` as "/api/v1/sites/{code}";

/** A client that writes, or one for calls that keep nothing. */
type Sending = Pick<Writer, "POST" | "PUT">;

type Send = { form?: Fields; text?: string; reason?: string };

const body = (s: Send) => ({
  form: (s.form ?? null) as never,
  text: s.text ?? null,
  set: null,
  reason: s.reason?.trim() || null,
});

export const formOf = (plural: Plural, code: string, asOf?: string) =>
  unwrap(api.GET(`${of(plural)}/form` as "/api/v1/sites/{code}/form", { params: { path: { code }, query: { asOf } } }));

export const emptyForm = (plural: Plural) => unwrap(api.GET(`/api/v1/forms/${plural}` as "/api/v1/forms/sites", {}));

export const addRecord = (api: Sending, plural: Plural, send: Send, dryRun: boolean) =>
  unwrap(api.POST(`/api/v1/${plural}` as "/api/v1/sites", { params: { query: { dryRun } }, body: body(send) }));

export const writeRecord = (api: Sending, plural: Plural, code: string, n: number, send: Send, dryRun: boolean) =>
  unwrap(api.PUT(of(plural), { params: { path: { code }, query: { dryRun } }, headers: version(n), body: body(send) }));

export const retireRecord = (api: Sending, plural: Plural, code: string, n: number, reason: string, dryRun: boolean) =>
  unwrap(
    api.POST(`${of(plural)}/retire` as "/api/v1/sites/{code}/retire", {
      params: { path: { code }, query: { dryRun } },
      headers: version(n),
      body: { reason },
    }),
  );

export const historyOf = (plural: Plural, code: string) =>
  unwrap(api.GET(`${of(plural)}/history` as "/api/v1/sites/{code}/history", { params: { path: { code } } }));

export const compareVersions = (plural: Plural, code: string, from: number, to: number) =>
  unwrap(
    api.GET(`${of(plural)}/versions` as "/api/v1/sites/{code}/versions", {
      params: { path: { code }, query: { from, to } },
    }),
  );
