import { describe, expect, it } from "vitest";
import type { ChangePage } from "../src/service/api";
import { isOpen, nextStep, offline, TickQueue, type Tick } from "../src/change/ticks";
import { heldOf, writtenHeld } from "../src/records/recordedValue";
import { step } from "./made";

const tick = (key: string, more: Partial<Tick> = {}): Tick =>
  ({ key, number: 1, known: 0, at: "2026-11-28T22:00:00Z", body: { outcome: "done" }, ...more }) as Tick;

/** A queue against a service that answers each tick in turn: sent, away, or refused with these words. */
function queue(answers: (true | typeof offline | string)[], kept: Tick[] = []) {
  const sent: string[] = [];
  let saved: Tick[] = kept;
  const made = new TickQueue({
    load: () => kept,
    save: (ticks) => {
      saved = ticks;
      return true;
    },
    send: async (t) => {
      const answer = answers.shift() ?? true;
      if (answer === offline) throw offline;
      if (typeof answer === "string") throw new Error(answer);
      sent.push(t.key);
      return {} as ChangePage;
    },
    sent: () => {},
    changed: () => {},
  });
  return { made, sent, saved: () => saved.map((t) => t.key) };
}

const settled = () => new Promise((r) => setTimeout(r, 5));

describe("ticks that are kept here", () => {
  it("are sent in order and forgotten once the service has them", async () => {
    const { made, sent, saved } = queue([]);
    made.add(tick("a"));
    made.add(tick("b"));
    await settled();
    expect([sent, saved()]).toEqual([["a", "b"], []]);
  });

  it("wait while the service is away, and go out in order when it is back", async () => {
    const { made, sent, saved } = queue([offline]);
    made.add(tick("a"));
    await settled();
    expect([sent, saved()]).toEqual([[], ["a"]]);
    made.add(tick("b"));
    await settled();
    expect([sent, saved()]).toEqual([["a", "b"], []]);
  });

  it("stop at the first that is refused, until somebody throws it away or sends it again", async () => {
    const { made, sent, saved } = queue(["recorded by ines", true, "recorded by ines"]);
    made.add(tick("a"));
    made.add(tick("b"));
    await settled();
    expect([sent, saved(), made.all[0].refused]).toEqual([[], ["a", "b"], "recorded by ines"]);
    made.again("a", 1);
    await settled();
    expect([sent, made.all.map((t) => t.key), made.all[0].refused]).toEqual([["a"], ["b"], "recorded by ines"]);
    made.drop("b");
    await settled();
    expect([sent, saved()]).toEqual([["a"], []]);
  });

  it("are one where a step is pressed twice, and are found again after a reload", async () => {
    const { made, saved } = queue([offline, offline]);
    made.add(tick("a"));
    made.add(tick("a"));
    await settled();
    expect(saved()).toEqual(["a"]);
    const again = queue([], [tick("a"), tick("b")]);
    await again.made.go();
    expect(again.sent).toEqual(["a", "b"]);
  });

  it("say which step is open, and which comes next after the one at hand", () => {
    const c = { steps: [step(1, { outcome: "done" }), step(2), step(3), step(4)] } as ChangePage;
    expect(isOpen(c.steps[1], [tick("k2")])).toBe(false);
    expect(nextStep(c, [])).toBe("k2");
    expect(nextStep(c, [tick("k3")], "k2")).toBe("k4");
    expect(nextStep(c, [tick("k3"), tick("k4")], "k4")).toBe("k2");
    expect(nextStep(c, [tick("k2"), tick("k3"), tick("k4")], "k4")).toBeUndefined();
  });
});

describe("a value with its state", () => {
  it.each([
    ["10.61.0.1"],
    [{ is: "10.61.0.1", confirmed: "read 2026-11-03 by tomas" }],
    [{ pending: "Wren", by: "2026-12-05" }],
    [{ temporary: "203.0.113.9", final: "203.0.113.8", reason: "bring-up", deadline: "2026-12-01" }],
    [{ is: { time: "3600 min" }, confirmed: "typed 2026-03-14 by ines" }],
  ])("is read and written alike: %j", (value) => expect(writtenHeld(heldOf(value)!)).toEqual(value));

  it("has none where nothing is said, and none where it has parts and no state", () => {
    expect(writtenHeld(heldOf(undefined)!)).toBeUndefined();
    expect(heldOf({ time: "3600 s" })).toBeUndefined();
  });
});
