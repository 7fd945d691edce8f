import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { RunSheet } from "../src/change/RunSheet";
import { change, step, working } from "./made";
import { answering, refused, shown } from "./asking";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe("the run sheet", () => {
  it("opens the first step that is not done, a failed one before those after it", () => {
    shown(<RunSheet c={working([step(1, { outcome: "done" }), step(2, { outcome: "failed" }), step(3)])} />);
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
    shown(<RunSheet c={working([step(1, { enter })])} />);
    fireEvent.keyDown(window, { key: "2" });
    fireEvent.keyDown(window, { key: "3" });
    fireEvent.keyDown(window, { key: "1", ctrlKey: true });
    fireEvent.keyDown(screen.getByLabelText(/^Remark/), { key: "1" });
    expect(copied).toEqual(["10.62.0.0/24"]);
    expect(screen.getByText("pending: fill it in above first")).toBeTruthy();
    expect(screen.getAllByText(/was 10.62.1.0\/24/).length).toBeGreaterThan(0);
  });

  it("sends what was done with its proof, and what was set otherwise with the reason", async () => {
    const asked = answering({ "POST /api/v1/changes/BRI-0007/steps/1": working([]) });
    const enter = [{ label: "local subnet", text: "10.61.40.0/24", before: null, waits: false }];
    shown(<RunSheet c={working([step(1, { enter })])} />);
    await userEvent.type(screen.getByLabelText(/^Proof/), "counters rise");
    await userEvent.click(screen.getByLabelText(/set otherwise/));
    await userEvent.type(screen.getByLabelText("Set instead"), "10.61.40.0/25");
    await userEvent.type(screen.getByLabelText("Because"), "half is used");
    await userEvent.click(screen.getByRole("button", { name: "Done" }));
    await waitFor(() => expect(asked.length).toBe(1));
    expect(asked[0].body).toEqual({
      outcome: "done",
      remark: null,
      planned: "10.61.40.0/24",
      set: "10.61.40.0/25",
      reason: "half is used",
      proof: "counters rise",
      withoutProof: null,
      file: null,
    });
  });

  it("keeps what was typed when the service refuses, and says why", async () => {
    answering({ "POST /api/v1/changes/BRI-0007/steps/1": refused(409, "Step 1 waits for a value that is pending.") });
    shown(<RunSheet c={working([step(1)])} />);
    await userEvent.type(screen.getByLabelText(/^Remark/), "seen on the screen");
    await userEvent.click(screen.getByRole("button", { name: "Failed" }));
    expect((await screen.findByRole("alert")).textContent).toContain("waits for a value");
    expect((screen.getByLabelText(/^Remark/) as HTMLInputElement).value).toBe("seen on the screen");
  });

  it("tells two values that are planned alike by their labels", async () => {
    const enter = ["rule in", "rule out"].map((label) => ({ label, text: "permit", before: null, waits: false }));
    shown(<RunSheet c={working([step(1, { enter })])} />);
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
    const { container } = shown(
      <RunSheet c={working([step(1), step(2, { outcome: "done" })], { windowStart, windowMinutes, statusHistory })} />,
    );
    const watch = [...container.querySelectorAll("p")].find((p) => p.textContent?.includes("since it began"))!;
    expect(watch.textContent).toContain(says);
    expect(watch.textContent).toContain("the open steps take 3 min");
    expect(watch.className).toBe(warns ? "stopping" : "src");
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
