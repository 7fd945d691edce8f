import createClient from "openapi-fetch";
import type { components, paths } from "../contract/schema";

export type Contract = components["schemas"];
export type TunnelPage = Contract["TunnelPage"];
export type ChangePage = Contract["ChangePage"];
export type FindingPage = Contract["FindingPage"];
export type Sentence = Contract["SentenceLine"];

/** A problem as the service tells it (RFC 9457), with the members that it adds. */
export interface ProblemDetails {
  title?: string;
  detail?: string;
  field?: string;
  [more: string]: unknown;
}

/** What the service refused: its own words, and the rest of the problem detail. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly more: ProblemDetails,
  ) {
    super(message);
  }
}

/** The service did this before, under the same key, and did not do it again. */
export class AlreadyDone extends Refused {
  constructor() {
    super(409, "This was done already. The page shows what came of it.", {});
  }
}

/** Calls carry a header of our own, without which the service takes no cookie for anything that changes something. */
const client = () => createClient<paths>({ baseUrl: "/", headers: { "X-Vellumkeep-Console": "1" } });

const plain = client();

/** Reads. What writes is given a client by useWrite, so that nothing is written without a key of its own. */
export const api: Pick<typeof plain, "GET"> = plain;

/** Calls that keep nothing: what a draft, a form or a file would do; and the door, where there is no act to repeat. */
export const looking: Pick<typeof plain, "POST" | "PUT" | "DELETE"> = plain;

export type Writer = Pick<typeof plain, "POST" | "PUT" | "DELETE"> & {
  /** The key of the next call, for those that this client does not make. */
  key: () => string;
};

/** A name for one act, which nothing else has. */
export const newAct = () => crypto.randomUUID();

/** A client for the calls of one act, each with a key (Idempotency-Key) that is the same when the act is sent again. */
export function writer(act: string): Writer {
  let calls = 0;
  const key = () => `${act}.${++calls}`;
  const keyed = client();
  keyed.use({
    onRequest({ request }) {
      request.headers.set("Idempotency-Key", key());
      return request;
    },
  });
  return { POST: keyed.POST, PUT: keyed.PUT, DELETE: keyed.DELETE, key };
}

let ended: (() => void) | undefined;

/** Who hears that the service no longer knows the session. */
export const onSessionEnded = (hear: () => void) => (ended = hear);

/** Unwraps an answer, or throws what the service said. */
export async function unwrap<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch {
    throw new Refused(0, "The service is not reachable. Nothing you typed is lost; try again when it is back.", {});
  }
  if (answer.response.headers.has("Idempotency-Replayed")) throw new AlreadyDone();
  if (answer.response.ok) return answer.data as T;
  const more = (answer.error ?? {}) as ProblemDetails;
  // What was sent before under this key was done, and something else was typed since.
  if (more.field === "Idempotency-Key") throw new AlreadyDone();
  if (answer.response.status === 401 && !answer.response.url.includes("/api/v1/session")) ended?.();
  throw new Refused(
    answer.response.status,
    more.detail ?? more.title ?? `The service answered ${answer.response.status}.`,
    more,
  );
}

/** Fetches what is not JSON; what the service says instead is thrown. */
export async function fetched(path: string): Promise<Response> {
  const answer = await fetch(path);
  if (answer.ok) return answer;
  const more = (await answer.json().catch(() => ({}))) as ProblemDetails;
  throw new Refused(answer.status, more.detail ?? more.title ?? `The service answered ${answer.status}.`, more);
}

export const version = (n: number) => ({ "If-Match": `"${n}"` });
