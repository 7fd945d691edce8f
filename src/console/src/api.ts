import createClient from "openapi-fetch";
import type { components, paths } from "./contract/schema";

export type Contract = components["schemas"];
export type TunnelPage = Contract["TunnelPage"];
export type ChangePage = Contract["ChangePage"];
export type FindingPage = Contract["FindingPage"];
export type Sentence = Contract["SentenceLine"];

/** What the service refused: its own words, and the rest of the problem detail. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly more: Record<string, unknown>,
  ) {
    super(message);
  }
}

/** Calls carry a header of our own, without which the service takes no cookie for anything that changes something. */
export const api = createClient<paths>({ baseUrl: "/", headers: { "X-Vellumkeep-Console": "1" } });

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
  if (answer.response.ok) return answer.data as T;
  const more = (answer.error ?? {}) as Record<string, unknown>;
  if (answer.response.status === 401 && !answer.response.url.includes("/api/v1/session")) ended?.();
  throw new Refused(
    answer.response.status,
    String(more.detail ?? more.title ?? `The service answered ${answer.response.status}.`),
    more,
  );
}

/** Fetches what is not JSON; what the service says instead is thrown. */
export async function fetched(path: string): Promise<Response> {
  const answer = await fetch(path);
  if (answer.ok) return answer;
  const more = (await answer.json().catch(() => ({}))) as Record<string, unknown>;
  throw new Refused(answer.status, String(more.detail ?? more.title ?? `The service answered ${answer.status}.`), more);
}

export const version = (n: number) => ({ "If-Match": `"${n}"` });
