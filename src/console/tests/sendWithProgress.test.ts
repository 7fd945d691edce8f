// @vitest-environment node
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterEach, describe, expect, it } from "vitest";
import { Refused } from "../src/service/api";
import { stepText, sendWithProgress, type Step } from "../src/imports/sendWithProgress";

let server: Server | undefined;
afterEach(() => server?.close());

/** A service that answers in these pieces, and what it was asked. */
async function answering(status: number, ...pieces: string[]) {
  const asked = { url: "", header: "" };
  server = createServer(async (request, answer) => {
    asked.url = request.url ?? "";
    asked.header = String(request.headers["x-vellumkeep-console"]);
    for await (const _ of request) void _;
    answer.writeHead(status, { "Content-Type": "application/x-ndjson" });
    for (const piece of pieces) {
      answer.write(piece);
      await new Promise((go) => setTimeout(go, 5));
    }
    answer.end();
  });
  await new Promise<void>((go) => server!.listen(0, "127.0.0.1", go));
  return { path: `http://127.0.0.1:${(server.address() as AddressInfo).port}/import`, asked };
}

const send = (path: string, told: (s: Step) => void = () => {}) =>
  sendWithProgress<{ rows: number }>(
    path,
    new URLSearchParams({ dryRun: "true" }),
    "text",
    "text/plain",
    "one-act",
    told,
  );

describe("a file that is sent and sendWithProgress", () => {
  it("tells each step and gives the outcome, also where a line comes in pieces", async () => {
    const { path, asked } = await answering(
      200,
      '{"doing":"rows read","done":1,"of":2}\n{"doing":"rows ',
      'read","done":2,"of":2}\n',
      '{"outcome":{"rows":2}}\n',
    );
    const steps: Step[] = [];
    expect(await send(path, (s) => steps.push(s))).toEqual({ rows: 2 });
    expect(steps.map((s) => s.done)).toEqual([1, 2]);
    expect(asked.url).toBe("/import?dryRun=true&progress=true");
    expect(asked.header).toBe("1");
  });

  it("throws what was refused before it began, in the service's words", async () => {
    const { path } = await answering(413, '{"detail":"The file has 9 MB, at most 4."}');
    await expect(send(path)).rejects.toMatchObject({ status: 413, message: "The file has 9 MB, at most 4." });
  });

  it("throws what was refused while it went, with its problems", async () => {
    const { path } = await answering(
      200,
      '{"doing":"rows read","done":1,"of":2}\n{"status":422,"problem":{"detail":"Line 2: no code.","problems":[{"line":2}]}}\n',
    );
    const refused = await send(path).catch((e: unknown) => e as Refused);
    expect(refused).toBeInstanceOf(Refused);
    expect((refused as Refused).more.problems).toEqual([{ line: 2 }]);
  });

  it("does not call an answer that ended early an import", async () => {
    const { path } = await answering(200, '{"doing":"rows read","done":1,"of":2}\n');
    await expect(send(path)).rejects.toThrow(/Check whether it was imported/);
  });

  it("says that nothing was imported when nobody answers", async () => {
    const { path } = await answering(200);
    server!.close();
    await expect(send(path)).rejects.toThrow(/not reachable. Nothing was imported/);
  });

  it("counts in words", () => {
    expect(stepText({ doing: "rows read", done: 1200, of: 45000 })).toBe("1,200 of 45,000 rows read …");
    expect(stepText({ doing: "x", done: 0, of: 0 })).toBe("Reading …");
  });
});
