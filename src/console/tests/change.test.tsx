import { cleanup, fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ActForm } from "../src/change/ActForm";
import { BeforeAfter } from "../src/change/BeforeAfter";
import { ChangeKeys } from "../src/change/ChangeKeys";
import { BeforeAndAfter, PendingValues, PlanFindings, Translations } from "../src/change/PlanParts";
import { Remarks } from "../src/change/Remarks";
import { WindowForm } from "../src/change/WindowForm";
import { change, step } from "./made";
import { answering, says, shown } from "./asking";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe("an act that asks first", () => {
  it.each([
    ["return", true],
    ["back-out", true],
    ["drop", false],
    ["review-after", false],
  ] as const)("%s takes a remark, required: %s", async (act, required) => {
    const told: unknown[] = [];
    shown(<ActForm act={act} asked="Why" code="BRI-0007" tell={(said) => told.push(said)} leave={() => {}} />);
    expect((screen.getAllByRole("button").at(-1) as HTMLButtonElement).disabled).toBe(required);
    await userEvent.type(screen.getByRole("textbox"), "because");
    await userEvent.click(screen.getAllByRole("button").at(-1)!);
    expect(told).toEqual([{ remark: "because", reviewer: "" }]);
  });

  it("urgent work names who has to confirm it before it says why", async () => {
    const told: unknown[] = [];
    shown(
      <ActForm
        act="urgent"
        asked="Why it cannot wait"
        code="BRI-0007"
        tell={(said) => told.push(said)}
        leave={() => {}}
      />,
    );
    expect(document.activeElement).toBe(screen.getAllByRole("textbox")[0]);
    await userEvent.keyboard("odile");
    await userEvent.type(screen.getAllByRole("textbox")[1], "the line is down{Enter}");
    expect(told).toEqual([{ reviewer: "odile", remark: "the line is down" }]);
  });
});

describe("the window", () => {
  it("is sent by the clock of the end that was chosen", async () => {
    const asked = answering({ "POST /api/v1/changes/BRI-0007/window": change() });
    shown(<WindowForm c={change()} may />);
    await userEvent.click(screen.getByRole("button", { name: "set it" }));
    fireEvent.change(screen.getByLabelText("begins"), { target: { value: "2026-12-03T22:00" } });
    await userEvent.selectOptions(screen.getByRole("combobox"), "B");
    await userEvent.click(screen.getByRole("button", { name: "Set" }));
    await waitFor(() => expect(asked.length).toBe(1));
    expect(asked[0].body).toEqual({
      start: null,
      localStart: "2026-12-03T22:00",
      minutes: 60,
      end: "B",
      whyShort: null,
      reason: null,
    });
  });

  it("is sent in UTC as a moment, and cleared as nothing", async () => {
    const c = change({ windowStart: "2026-12-03T22:00:00Z", windowMinutes: 45, windowAtA: "Thu 22:00" });
    const asked = answering({ "POST /api/v1/changes/BRI-0007/window": c });
    shown(<WindowForm c={c} may />);
    await userEvent.click(screen.getByRole("button", { name: "move it" }));
    await userEvent.selectOptions(screen.getByRole("combobox"), "UTC");
    await userEvent.click(screen.getByRole("button", { name: "Set" }));
    await waitFor(() => expect(asked.length).toBe(1));
    expect(asked[0].body).toEqual({
      start: "2026-12-03T22:00:00Z",
      localStart: null,
      minutes: 45,
      end: null,
      whyShort: null,
      reason: null,
    });
    await userEvent.click(screen.getByRole("button", { name: "move it" }));
    // A press right after another one is no second act.
    await waitFor(() => expect(screen.getByRole<HTMLButtonElement>("button", { name: "Clear" }).disabled).toBe(false));
    await userEvent.click(screen.getByRole("button", { name: "Clear" }));
    await waitFor(() => expect(asked.length).toBe(2));
    expect(asked[1].body).toMatchObject({ start: null, localStart: null, minutes: null });
  });

  it("is offered to nobody who may not set it, and at B only where the clock differs", () => {
    shown(<WindowForm c={change({ windowAtA: "Thu 22:00", windowAtB: "Thu 23:00" })} may={false} />);
    expect(screen.queryByRole("button")).toBeNull();
    expect(document.body.textContent).toContain("Thu 22:00; at B Thu 23:00");
    cleanup();
    shown(<WindowForm c={change({ windowAtA: "Thu 22:00", windowAtB: "Thu 22:00" })} may={false} />);
    expect(document.body.textContent).not.toContain("at B");
  });
});

describe("the plan", () => {
  it("sets off what is new among what stays", () => {
    const differs = [
      {
        end: "A",
        what: "local subnets",
        before: "10.0.0.0/24",
        after: "10.0.0.0/24, 10.0.1.0/24",
        added: ["10.0.1.0/24"],
      },
      { end: null, what: "agreed pairs", before: "3", after: "4", added: ["10.0.1.0/24 - 10.9.0.0/24"] },
    ];
    const { container } = shown(<BeforeAfter c={change({ differs })} />);
    expect([...container.querySelectorAll("td.wraps b")].map((b) => b.textContent)).toEqual([
      "10.0.1.0/24",
      "10.0.1.0/24 - 10.9.0.0/24",
    ]);
    expect(container.querySelector("td b.a")?.textContent).toBe("A ");
  });

  const carried = (what: string, carries: string, more: object = {}) => ({
    tunnel: "TID-PUMP",
    end: "A",
    what,
    before: "x",
    after: carries === "kept" ? "x" : "y",
    carries,
    why: says(`why ${what}`),
    ...more,
  });

  it("shows what moves to another platform first, and what is kept only when asked", async () => {
    const translations = [carried("dpd", "kept"), carried("lifetime", "changed"), carried("suite", "impossible")];
    const { container } = shown(<Translations c={change({ translations })} />);
    const rows = () => [...container.querySelectorAll("tbody tr")].map((r) => r.querySelector("td")!.textContent);
    expect(rows()).toEqual(["lifetime", "suite"]);
    expect(container.querySelector(".sev.blocks")?.textContent).toBe("impossible");
    await userEvent.click(screen.getByRole("button", { name: "1 more are not changed" }));
    expect(rows()).toEqual(["dpd", "lifetime", "suite"]);
  });

  it("says once what goes the same way on several tunnels", () => {
    const translations = [
      carried("dpd", "changed"),
      carried("dpd", "changed", { tunnel: "TID-MILL", end: "B" }),
      carried("dpd", "changed", { tunnel: "TID-YARD", after: "z" }),
    ];
    const { container } = shown(<Translations c={change({ translations })} />);
    const rows = [...container.querySelectorAll("tbody tr")].map((r) => r.querySelector("td")!.textContent);
    expect(rows).toEqual(["A TID-PUMPB TID-MILL", "A TID-YARD"]);
  });

  it("names who will know a pending value, by when, and the steps that wait", async () => {
    const pending = [
      { number: 1, label: "outer address of B", whoKnows: "Wren at Plates", by: "3 Dec", steps: [4, 7] },
      { number: 2, label: "identity", whoKnows: null, by: null, steps: [5] },
    ];
    const asked = answering({ "POST /api/v1/changes/BRI-0007/fill": change() });
    const { container } = shown(<PendingValues c={change({ pending })} may />);
    expect([...container.querySelectorAll("form .src")].map((s) => s.textContent)).toEqual([
      "from Wren at Plates, by 3 Dec; steps 4, 7 need it. Approval stays when it is filled in.",
      "nobody is named who supplies it; step 5 needs it. Approval stays when it is filled in.",
    ]);
    await userEvent.type(screen.getByLabelText("identity"), "fqdn b.example{Enter}");
    await waitFor(() => expect(asked.length).toBe(1));
    expect(asked[0].body).toEqual({ number: 2, value: "fqdn b.example" });
  });

  it("says now and after while it is planned, and as planned once it is done", () => {
    const tunnels = [
      {
        code: "BRI-ASHLOW",
        before: [{ tone: "holds", says: says("It comes up.") }],
        after: [{ tone: "holds", says: says("It stays up.") }],
        interruption: says("Nothing passes for 2 min."),
      },
      { code: "BRI-NEW", before: [], after: [], interruption: null },
    ];
    const { container } = shown(<BeforeAndAfter c={change({ tunnels })} />);
    expect(container.querySelectorAll(".thenow").length).toBe(1);
    expect(container.querySelector(".thenow")?.textContent).toContain("now");
    expect(screen.getByText("Nothing passes for 2 min.").closest(".stopping")).toBeTruthy();
    cleanup();
    const done = shown(<BeforeAndAfter c={change({ tunnels, state: "done" })} />);
    expect([...done.container.querySelectorAll(".src")].map((s) => s.textContent)).toEqual([
      "before, as planned",
      "after, as planned",
    ]);
  });

  it("has each finding on the plan with what to do, and nothing where there is none", () => {
    const planFindings = [
      { severity: "risk", code: "PLAN-03", what: says("No step proves it."), do: says("Add one.") },
    ];
    shown(<PlanFindings c={change({ planFindings })} />);
    expect(screen.getByRole("region").textContent).toBe("risk PLAN-03 No step proves it. Add one.");
    cleanup();
    shown(<PlanFindings c={change()} />);
    expect(screen.queryByRole("region")).toBeNull();
  });
});

describe("keys of a change", () => {
  const key = (more: object = {}) => ({
    tunnel: "BRI-SPARES",
    version: 2,
    replaces: [],
    state: "prepared",
    checkCode: "7KQ-2M4",
    ...more,
  });

  it("are shown only after why was said, in groups that are no part of the key, and hidden again", async () => {
    const asked = answering({
      "POST /api/v1/tunnels/BRI-SPARES/keys/2/show": { key: "abcdefgh", grouped: "abcd efgh", bits: 160 },
    });
    shown(<ChangeKeys c={change({ keys: [key()] })} may />);
    expect(asked).toEqual([]);
    await userEvent.click(screen.getByRole("button", { name: "Show it" }));
    await userEvent.type(screen.getByRole("textbox"), "entering it at churn-gw1{Enter}");
    expect(await screen.findByText("abcd efgh")).toBeTruthy();
    expect(asked[0].body).toEqual({ reason: "entering it at churn-gw1" });
    await userEvent.click(screen.getByRole("button", { name: "Hide" }));
    expect(screen.queryByText("abcd efgh")).toBeNull();
  });

  it("are made by who may, for this change", async () => {
    const asked = answering({ "POST /api/v1/tunnels/BRI-SPARES/keys": {} });
    shown(<ChangeKeys c={change({ keys: [key({ state: "not made", checkCode: null })] })} may />);
    await userEvent.click(screen.getByRole("button", { name: "Make it" }));
    await waitFor(() => expect(asked.length).toBeGreaterThan(0));
    expect(asked[0].body).toEqual({ change: "BRI-0007" });
    cleanup();
    shown(<ChangeKeys c={change({ keys: [key()] })} may={false} />);
    expect((screen.getByRole("button", { name: "Show it" }) as HTMLButtonElement).disabled).toBe(true);
  });
});

describe("remarks", () => {
  beforeEach(() => vi.useRealTimers());
  const steps = [step(3, { enter: [{ label: "local subnet", text: "10.61.40.0/24", before: null, waits: false }] })];

  it("may be on a step and on one of its values, and are gone from the form once they are told", async () => {
    const asked = answering({ "POST /api/v1/changes/BRI-0007/remark": change({ steps }) });
    shown(<Remarks c={change({ steps })} />);
    expect(screen.queryByLabelText("on its value")).toBeNull();
    await userEvent.type(screen.getByLabelText("Remark"), "is that right?");
    await userEvent.type(screen.getByLabelText("on step"), "3");
    await userEvent.selectOptions(screen.getByLabelText("on its value"), "local subnet");
    await userEvent.click(screen.getByRole("button", { name: "Add remark" }));
    await waitFor(() => expect((screen.getByLabelText("Remark") as HTMLInputElement).value).toBe(""));
    expect(asked[0].body).toEqual({ remark: "is that right?", step: 3, value: "local subnet" });
  });

  it("stand with who said them and where", () => {
    const remarks = [{ by: "tomas", step: 3, value: "local subnet", text: "Too wide", at: "2026-11-28T09:00:00Z" }];
    shown(<Remarks c={change({ steps, remarks })} />);
    const told = within(document.body).getByText(/Too wide/);
    expect(told.textContent).toContain("tomas on step 3, local subnet: Too wide");
  });
});
