import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { RunSheet } from "../src/change/RunSheet";
import { Stopwatch } from "../src/change/Stopwatch";
import { change, step, working } from "./made";
import { answering, refused, shown, type Answers } from "./asking";

const ines = { name: "ines", roles: ["engineer"] };

/** The sheet as ines works it, once the console knows that it is her. */
async function worked(c: ReturnType<typeof working>, answers: Answers = {}) {
  const asked = answering({ "GET /api/v1/session": ines, ...answers });
  const made = shown(<RunSheet c={c} />);
  await screen.findByRole("region", { name: /at hand/ });
  return { asked: () => asked.filter((a) => a.method === "POST"), ...made };
}

/** A press is taken only once what it is on has stood for a moment. */
const press = async (name: string) => {
  const button = screen.getByRole("button", { name }) as HTMLButtonElement;
  await waitFor(() => expect(button.disabled).toBe(false), { timeout: 3000 });
  await userEvent.click(button);
};

afterEach(() => {
  cleanup();
  localStorage.clear();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe("the run sheet", () => {
  it("opens the first step that is not done, a failed one before those after it", async () => {
    await worked(working([step(1, { outcome: "done" }), step(2, { outcome: "failed" }), step(3)]));
    expect(screen.getByRole("region", { name: "Step 2, at hand" })).toBeTruthy();
  });

  it("opens none while nobody may work, and none when all are settled", () => {
    shown(<RunSheet c={change({ steps: [step(1)] })} />);
    expect(screen.queryByRole("region")).toBeNull();
    cleanup();
    shown(<RunSheet c={working([step(1, { outcome: "done" }), step(2, { outcome: "skipped" })])} />);
    expect(screen.queryByRole("region")).toBeNull();
  });

  it("stands each end's steps in that end's column, and ours across both", () => {
    const { container } = shown(
      <RunSheet c={change({ steps: [step(1), step(2, { where: "B" }), step(3, { where: "us", part: "prove" })] })} />,
    );
    expect(container.querySelector("div.inA")?.textContent).toContain("do 1");
    expect(container.querySelector("div.inA")?.textContent).not.toContain("do 2");
    expect(container.querySelector("div.inB")?.textContent).toContain("do 2");
    expect(container.querySelector("div.both")?.textContent).toContain("do 3");
    expect([...container.querySelectorAll("div.part")].map((p) => p.textContent)).toEqual(["build", "prove"]);
  });

  it("copies a value by its number, and none while somebody types", async () => {
    const copied: string[] = [];
    vi.stubGlobal("navigator", { ...navigator, clipboard: { writeText: async (t: string) => void copied.push(t) } });
    const enter = [
      { label: "local subnet", text: "10.61.40.0/24", before: null, waits: false },
      { label: "peer", text: "", before: null, waits: true },
      { label: "their subnet", text: "10.62.0.0/24", before: "10.62.1.0/24", waits: false },
    ];
    await worked(working([step(1, { enter })]));
    fireEvent.keyDown(window, { key: "2" });
    fireEvent.keyDown(window, { key: "3" });
    fireEvent.keyDown(window, { key: "1", ctrlKey: true });
    fireEvent.keyDown(screen.getByLabelText(/^Remark/), { key: "1" });
    expect(copied).toEqual(["10.62.0.0/24"]);
    expect(screen.getByText("pending: fill it in above first")).toBeTruthy();
    expect(screen.getAllByText(/was 10.62.1.0\/24/).length).toBeGreaterThan(0);
  });

  it("sends what was done with its proof, and what was set otherwise with the reason", async () => {
    const enter = [{ label: "local subnet", text: "10.61.40.0/24", before: null, waits: false }];
    const { asked } = await worked(working([step(1, { enter, needsProof: true }), step(2)]), {
      "POST /api/v1/changes/BRI-0007/steps/1": working([]),
    });
    await userEvent.type(screen.getByLabelText(/^Proof/), "counters rise");
    await userEvent.click(screen.getByLabelText(/set otherwise/));
    await userEvent.type(screen.getByLabelText("Set instead"), "10.61.40.0/25");
    await userEvent.type(screen.getByLabelText("Because"), "half is used");
    await press("Done");
    await waitFor(() => expect(asked().length).toBe(1));
    expect(asked()[0].body).toEqual({
      outcome: "done",
      remark: null,
      planned: "10.61.40.0/24",
      set: "10.61.40.0/25",
      reason: "half is used",
      proof: "counters rise",
      withoutProof: null,
      file: null,
      key: "k1",
      known: 0,
    });
  });

  it("takes no proving step as done without proof, or the reason why there is none", async () => {
    await worked(working([step(1, { needsProof: true }), step(2)]));
    await new Promise((r) => setTimeout(r, 700));
    expect((screen.getByRole("button", { name: "Done" }) as HTMLButtonElement).disabled).toBe(true);
    await userEvent.type(screen.getByLabelText(/why there is no proof/), "a trial");
    expect((screen.getByRole("button", { name: "Done" }) as HTMLButtonElement).disabled).toBe(false);
  });

  it("goes on by one press, and a second press of the same hand does nothing", async () => {
    const { asked } = await worked(working([step(1), step(2), step(3)]), {
      "POST /api/v1/changes/BRI-0007/steps/1": working([step(1, { outcome: "done" }), step(2), step(3)]),
    });
    await press("Done");
    await userEvent.click(screen.getByRole("button", { name: "Done" }));
    expect(screen.getByRole("region", { name: "Step 2, at hand" })).toBeTruthy();
    await waitFor(() => expect(asked().length).toBe(1));
    await new Promise((r) => setTimeout(r, 300));
    expect(asked().length).toBe(1);
  });

  it("stays with its step and what is typed while a colleague records it", async () => {
    const { again } = await worked(working([step(1), step(2)]));
    await userEvent.type(screen.getByLabelText(/^Remark/), "half way");
    const attempts = [{ outcome: "done", by: "tomas", at: "2026-11-28T22:00:00Z", remark: null, takenBack: null }];
    again(<RunSheet c={working([step(1, { outcome: "done", attempts }), step(2)])} />);
    expect(screen.getByRole("region", { name: "Step 1, at hand" }).textContent).toContain("Done by tomas");
    await userEvent.click(screen.getByRole("button", { name: "Go on" }));
    expect(screen.getByRole("region", { name: "Step 2, at hand" })).toBeTruthy();
  });

  it("keeps what the service refused with its reason, until somebody decides", async () => {
    const { asked } = await worked(working([step(1), step(2)]), {
      "POST /api/v1/changes/BRI-0007/steps/1": refused(409, "Step 1 was recorded as done by tomas at 22:00 UTC."),
    });
    await userEvent.type(screen.getByLabelText(/^Remark/), "seen on the screen");
    await press("Done");
    expect((await screen.findByRole("alert")).textContent).toContain("recorded as done by tomas");
    expect(asked().length).toBe(1);
    await userEvent.click(screen.getByRole("button", { name: "Throw mine away" }));
    await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
  });

  it("tells two values that are planned alike by their labels", async () => {
    const enter = ["rule in", "rule out"].map((label) => ({ label, text: "permit", before: null, waits: false }));
    await worked(working([step(1, { enter })]));
    await userEvent.click(screen.getByLabelText(/set otherwise/));
    expect([...screen.getByLabelText("Planned").querySelectorAll("option")].map((o) => o.textContent)).toEqual([
      "rule in",
      "rule out",
    ]);
  });

  it.each([
    ["2026-11-28T22:00:00Z", 60, "2026-11-28T22:10:00Z", "the window has 50 min left", false],
    ["2026-11-28T22:00:00Z", 60, "2026-11-28T22:57:00Z", "the window has 3 min left", false],
    ["2026-11-28T22:00:00Z", 60, "2026-11-28T22:58:00Z", "the window has 2 min left", true],
    ["2026-11-28T22:00:00Z", 60, "2026-11-28T23:20:00Z", "the window ended 20 min ago", true],
    ["2026-11-29T04:00:00Z", 60, "2026-11-28T22:00:00Z", "the window begins only in 6 h", true],
  ])("a window from %s of %i min says at %s: %s", (windowStart, windowMinutes, now, says, warns) => {
    vi.useFakeTimers({ now: new Date(now) });
    const statusHistory = [{ to: "under way", by: "ines", at: "2026-11-28T21:55:00Z", remark: null }];
    const c = working([step(1), step(2, { outcome: "done" })], { windowStart, windowMinutes, statusHistory });
    const { container } = shown(<Stopwatch c={c} />);
    const watch = container.querySelector("p.stopwatch")!;
    expect(watch.textContent).toContain(says);
    expect(watch.textContent).toContain("the open steps take 3 min");
    expect(watch.classList.contains("stopping")).toBe(warns);
  });

  it("links the proof of an attempt by its digest, and names what was set otherwise", () => {
    const attempts = [
      {
        outcome: "done",
        by: "ines",
        at: "2026-11-28T22:00:00Z",
        remark: null,
        set: "10.61.40.0/25",
        planned: "10.61.40.0/24",
        reason: "half is used",
        proof: null,
        file: { name: "screen.png", digest: "ab12", size: 20480 },
      },
    ];
    shown(<RunSheet c={change({ steps: [step(1, { outcome: "done", attempts })] })} />);
    const link = screen.getByRole("link", { name: "screen.png" });
    expect(link.getAttribute("href")).toBe("/api/v1/changes/BRI-0007/proof/ab12");
    expect(screen.getByText(/half is used/).textContent).toContain("set 10.61.40.0/25 instead of 10.61.40.0/24");
    expect(screen.getByText("20,480 octets")).toBeTruthy();
  });
});
