import { cleanup, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import { Play } from "../src/change/Play";
import type { Contract } from "../src/service/api";
import { change, step } from "./made";
import { says, shown } from "./asking";

afterEach(cleanup);

const at = (number: number, minute: number, gateway: string, where: "A" | "B", proves = false) => ({
  number,
  where,
  gateway,
  from: minute * 60,
  to: (minute + 3) * 60,
  proves,
});

/** Prepared for ten minutes; a key that is at one end alone for six, and a restart of twenty seconds. */
const played: Contract["PlayPage"] = {
  change: "BRI-0007",
  seconds: 25 * 60,
  workFrom: 10 * 60,
  steps: [
    { ...at(1, 7, "churn-gw1", "A") },
    at(2, 10, "churn-gw1", "A"),
    at(3, 13, "churn-gw1", "A"),
    at(4, 16, "pether-gw", "B"),
    at(5, 19, "pether-gw", "B", true),
    at(6, 22, "churn-gw1", "A"),
  ],
  tunnels: [
    {
      code: "BRI-PETHER",
      own: true,
      spans: [
        { from: 0, to: 16 * 60, state: "up", step: null, why: null },
        { from: 16 * 60, to: 19 * 60, state: "down", step: 3, why: says("the keys differ") },
        { from: 19 * 60, to: 25 * 60, state: "up", step: 4, why: null },
      ],
      restarts: [{ at: 13 * 60, step: 2, seconds: 20, certain: true, why: says("subnets changed at A") }],
    },
    {
      code: "QUI-BRI",
      own: false,
      spans: [{ from: 0, to: 25 * 60, state: "undetermined", step: null, why: null }],
      restarts: [],
    },
  ],
};

const playing = (more: object = {}) =>
  shown(<Play c={change({ play: played, steps: [1, 2, 3, 4, 5, 6].map((n) => step(n)), ...more })} />);

const lane = (name: string) => screen.getByText(name).closest<HTMLElement>(".lane")!;

const labels = (name: string, which: string) =>
  [...lane(name).querySelectorAll(which)].map((found) => found.textContent);

describe("a plan as it was played", () => {
  it("has a lane for each device with what is done in the window, and one run for steps that follow each other", () => {
    playing();
    expect(labels("churn-gw1", ".played")).toEqual(["2–3", "6"]);
    expect(labels("pether-gw", ".played")).toEqual(["4–5"]);
  });

  it("says how long a tunnel is down, and where it restarts", async () => {
    playing();
    const own = lane("BRI-PETHER");
    expect(labels("BRI-PETHER", ".told, .restart")).toEqual(["down, 3 min", "20 s"]);
    expect(own.querySelector<HTMLElement>(".down")!.style.left).toBe("40%");
    await userEvent.click(screen.getByRole("button", { name: "3" }));
    const row = screen.getByRole("row", { name: /BRI-PETHER/ });
    expect(row.textContent).toContain("down");
    expect(row.textContent).toContain("the keys differ");
  });

  it("shows an unknown state as such, and nobody presses what nothing brought about", () => {
    playing();
    expect(labels("QUI-BRI", ".told")).toEqual(["undetermined"]);
    expect(screen.getAllByRole("button").map((b) => b.textContent)).toEqual(["2", "3", "4"]);
  });

  it("counts by the clock of the window where there is one, and marks where the work stands", () => {
    const steps = [1, 2, 3, 4, 5, 6].map((n) => step(n, n < 4 ? { outcome: "done" } : {}));
    playing({ windowStart: "2026-12-03T22:00:00Z", windowMinutes: 30, state: "under way", steps });
    expect(screen.getByText("22:05")).toBeTruthy();
    expect(screen.getByTitle("now: step 4").style.left).toBe("20%");
  });

  it("is not there for a plan that was not played", () => {
    playing({ play: null });
    expect(screen.queryByText("What stops, and when")).toBeNull();
  });
});
