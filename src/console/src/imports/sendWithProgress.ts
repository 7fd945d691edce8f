import { AlreadyDone, Refused, type ProblemDetails } from "../service/api";

export type Step = { doing: string; done: number; of: number };

/** Sends a file and hears how far it is, line by line; the last line is the outcome, or what was refused. */
export async function sendWithProgress<T>(
  path: string,
  query: URLSearchParams,
  body: BodyInit,
  type: string,
  key: string,
  onStep: (step: Step) => void,
): Promise<T> {
  query.set("progress", "true");
  let answer;
  try {
    answer = await fetch(`${path}?${query}`, {
      method: "POST",
      body,
      headers: { "Content-Type": type, "X-Vellumkeep-Console": "1", "Idempotency-Key": key },
    });
  } catch {
    throw new Refused(0, "The service is not reachable. Nothing was imported; try again when it is back.", {});
  }
  if (answer.headers.has("Idempotency-Replayed")) throw new AlreadyDone();
  if (!answer.ok || !answer.body) {
    const more = (await answer.json().catch(() => ({}))) as ProblemDetails;
    throw new Refused(answer.status, more.detail ?? `The service answered ${answer.status}.`, more);
  }
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  for (let rest = ""; ;) {
    const { value, done } = await reader.read();
    const lines = (rest + (value ?? "")).split("\n");
    rest = lines.pop()!;
    for (const text of lines) {
      const line = JSON.parse(text) as Step & { outcome?: T; problem?: Record<string, unknown>; status?: number };
      if (line.outcome !== undefined) return line.outcome;
      if (line.problem) throw new Refused(line.status!, String(line.problem.detail), line.problem);
      onStep(line);
    }
    if (done)
      throw new Refused(0, "The response ended too early. Check whether it was imported before you send it again.", {});
  }
}

export const stepText = (s: Step) =>
  s.of === 0 ? "Reading …" : `${s.done.toLocaleString("en-GB")} of ${s.of.toLocaleString("en-GB")} ${s.doing} …`;
