import { Refused } from "../api";

export type Step = { doing: string; done: number; of: number };

/** Sends a file and hears how far it is, line by line; the last line is the outcome, or what was refused. */
export async function watched<T>(
  path: string,
  query: URLSearchParams,
  body: BodyInit,
  type: string,
  told: (step: Step) => void,
): Promise<T> {
  query.set("progress", "true");
  let answer;
  try {
    answer = await fetch(`${path}?${query}`, {
      method: "POST",
      body,
      headers: { "Content-Type": type, "X-Vellumkeep-Console": "1" },
    });
  } catch {
    throw new Refused(0, "The service is not reachable. Nothing was imported; try again when it is back.", {});
  }
  if (!answer.ok || !answer.body) {
    const more = (await answer.json().catch(() => ({}))) as Record<string, unknown>;
    throw new Refused(answer.status, String(more.detail ?? `The service answered ${answer.status}.`), more);
  }
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  for (let rest = ""; ;) {
    const { value, done } = await reader.read();
    const lines = (rest + (value ?? "")).split("\n");
    rest = lines.pop()!;
    for (const line of lines) {
      const said = JSON.parse(line) as Step & { outcome?: T; problem?: Record<string, unknown>; status?: number };
      if (said.outcome !== undefined) return said.outcome;
      if (said.problem) throw new Refused(said.status!, String(said.problem.detail), said.problem);
      told(said);
    }
    if (done)
      throw new Refused(0, "The response ended too early. Look whether it was imported before sending it again.", {});
  }
}

export const stepText = (s: Step) =>
  s.of === 0 ? "Reading …" : `${s.done.toLocaleString("en-GB")} of ${s.of.toLocaleString("en-GB")} ${s.doing} …`;
