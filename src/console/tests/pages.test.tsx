import { cleanup, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { Contract } from "../src/service/api";
import { ChangesRoute } from "../src/changes/ChangesRoute";
import { FindingsRoute } from "../src/findings/FindingsRoute";
import { Shown } from "../src/imports/Shown";
import { ReplacePassword } from "../src/people/ReplacePassword";
import { TodayRoute } from "../src/today/TodayRoute";
import { answering, refused, says, shown } from "./asking";

afterEach(cleanup);

const summary = (code: string, more: object = {}) => ({
  code,
  title: `title of ${code}`,
  tunnel: "BRI-ASHLOW",
  state: "draft",
  author: "ines",
  settled: 0,
  steps: 17,
  failed: 0,
  windowStart: null,
  ...more,
});
const finding = (code: string, severity: string, more: object = {}) => ({
  tunnel: "BRI-ASHLOW",
  code,
  severity,
  subject: "",
  what: says(`what ${code}`),
  why: says("why"),
  do: says("do"),
  evidence: [],
  accepted: null,
  ...more,
});
const today = (more: object = {}) => ({
  verdict: [{ tone: "plain", says: says("Two changes wait.") }],
  underWay: [],
  toReview: [],
  windows: [],
  mine: [],
  blocking: [],
  tunnels: 38,
  ...more,
});

describe("today", () => {
  it("has what waits under its heading, and no heading where nothing does", async () => {
    answering({
      "GET /api/v1/today": today({
        underWay: [summary("BRI-0002", { state: "under way", settled: 11, failed: 1 })],
        mine: [summary("BRI-0004")],
        blocking: [finding("PAIR-01", "blocks")],
      }),
    });
    shown(<TodayRoute />);
    await screen.findByText("Under way");
    expect(screen.getAllByRole("heading", { level: 2 }).map((h) => h.textContent)).toEqual([
      "Under way",
      "Yours",
      "Due in the next 90 days",
      "Findings that block",
      "Findings over time",
    ]);
    const row = screen.getByRole("link", { name: "BRI-0002" }).closest("tr")!;
    expect(row.textContent).toContain("11 of 17");
    expect(row.querySelector(".sev.failed")?.textContent).toBe("step failed");
    expect(screen.getByRole("link", { name: "BRI-0004" }).closest("tr")!.querySelector(".sev.failed")).toBeNull();
  });

  it("says over how many tunnels nothing blocks", async () => {
    answering({ "GET /api/v1/today": today() });
    shown(<TodayRoute />);
    expect(await screen.findByText("None of 38 tunnels has a finding that blocks.")).toBeTruthy();
  });

  it("is asked for again when the service was away", async () => {
    answering({ "GET /api/v1/today": refused(503, "The database does not answer.") });
    shown(<TodayRoute />);
    expect((await screen.findByRole("alert")).textContent).toContain("The database does not answer.");
    answering({ "GET /api/v1/today": today() });
    await userEvent.click(screen.getByRole("button", { name: "Try again" }));
    expect(await screen.findByText(/has a finding that blocks/)).toBeTruthy();
  });
});

describe("the list of findings", () => {
  const items = [
    finding("PAIR-01", "blocks"),
    finding("STR-03", "risk", { accepted: { by: "odile", reason: "known", until: "2027-03-31" } }),
    finding("DOC-01", "note"),
  ];
  const codes = () => [...document.querySelectorAll(".finding .code")].map((c) => c.textContent);

  it("leaves out notes and what is accepted until they are asked for, and counts what it shows", async () => {
    answering({ "GET /api/v1/findings": { items, cursor: null } });
    shown(<FindingsRoute />, "/findings");
    await waitFor(() => expect(codes()).toEqual(["PAIR-01"]));
    expect(document.body.textContent).toContain("1, worst first; 1 accepted");
    await userEvent.click(screen.getByRole("button", { name: "Show 1 accepted" }));
    await waitFor(() => expect(codes()).toEqual(["PAIR-01", "STR-03"]));
    await userEvent.click(screen.getByRole("button", { name: "Hide accepted" }));
    await waitFor(() => expect(codes()).toEqual(["PAIR-01"]));
  });

  it("asks the service for what is filtered, and shows notes where they are", async () => {
    const asked = answering({ "GET /api/v1/findings": { items: [items[2]], cursor: null } });
    shown(<FindingsRoute />, "/findings?severity=note");
    await waitFor(() => expect(codes()).toEqual(["DOC-01"]));
    expect(asked.some((a) => a.path === "/api/v1/findings?severity=note")).toBe(true);
    await userEvent.type(screen.getByLabelText("Code"), "DOC-01{Enter}");
    await waitFor(() => expect(asked.some((a) => a.path === "/api/v1/findings?code=DOC-01&severity=note")).toBe(true));
  });

  it("says that there is more, and reads it on request", async () => {
    const asked = answering({ "GET /api/v1/findings": { items: [items[0]], cursor: "2000" } });
    shown(<FindingsRoute />, "/findings");
    await screen.findByText(/1 and more, worst first/);
    await userEvent.click(screen.getByRole("button", { name: "Show more" }));
    await waitFor(() => expect(asked.some((a) => a.path === "/api/v1/findings?cursor=2000")).toBe(true));
  });

  it("says so when nothing was found", async () => {
    answering({ "GET /api/v1/findings": { items: [], cursor: null } });
    shown(<FindingsRoute />, "/findings?code=PAIR-09");
    expect(await screen.findByText("No findings.")).toBeTruthy();
  });
});

describe("the list of changes", () => {
  it("is asked for by state, which stands in the address", async () => {
    const asked = answering({ "GET /api/v1/changes": { items: [summary("BRI-0003")], cursor: null } });
    shown(<ChangesRoute />, "/changes");
    await screen.findByRole("link", { name: "BRI-0003" });
    await userEvent.selectOptions(screen.getByLabelText("State"), "in review");
    await waitFor(() => expect(asked.at(-1)?.path).toBe("/api/v1/changes?state=in%20review"));
    expect(screen.getByTestId("where").textContent).toBe("/changes?state=in+review");
  });

  it("names the state in which no change is", async () => {
    answering({ "GET /api/v1/changes": { items: [], cursor: null } });
    shown(<ChangesRoute />, "/changes?state=approved");
    expect(
      await screen.findByText("No change matches. To plan one, open a tunnel and choose Plan a change."),
    ).toBeTruthy();
  });
});

describe("what an import does", () => {
  const outcome = (more: object) =>
    ({
      dryRun: true,
      added: [{ kind: "tunnel", code: "BRI-NEW", name: "New" }],
      changed: [{ kind: "site", code: "BRI-CHURN", differences: [{ path: "notes", before: null, after: "x" }] }],
      left: 7,
      findingsAdded: [finding("PAIR-01", "blocks")],
      findingsRemoved: [],
      ...more,
    }) as unknown as Contract["ImportOutcome"];

  it("is not yet done after a dry run, and done after the other", () => {
    shown(<Shown o={outcome({})} />);
    expect(screen.getByRole("status").textContent).toBe(
      "Nothing was changed yet. 1 would be added, 1 changed, 7 already so.",
    );
    cleanup();
    shown(<Shown o={outcome({ dryRun: false })} />);
    expect(screen.getByRole("status").textContent).toBe("Imported. 1 added, 1 changed, 7 already so.");
  });

  it("names each record that comes, each value that changes, and the findings that come with them", () => {
    shown(<Shown o={outcome({})} />);
    expect(screen.getAllByRole("row").map((r) => within(r).getAllByRole("cell")[0].textContent)).toEqual([
      "added",
      "changed",
      "blocks",
    ]);
    expect(document.body.textContent).toContain("notes: nothing → x");
  });
});

describe("one's own password", () => {
  it("is not sent while the two new ones differ, and is gone from the page once it was replaced", async () => {
    const asked = answering({ "POST /api/v1/session/password": {} });
    shown(<ReplacePassword />);
    const [old, next, again] = [...document.querySelectorAll<HTMLInputElement>("input[type=password]")];
    await userEvent.type(old, "cold-store-1");
    await userEvent.type(next, "four unrelated words");
    await userEvent.type(again, "four unrelated word{Enter}");
    expect(screen.getByRole("alert").textContent).toContain("differ");
    expect(asked).toEqual([]);
    await userEvent.type(again, "s{Enter}");
    await waitFor(() => expect(asked.length).toBe(1));
    expect(asked[0].body).toEqual({ old: "cold-store-1", new: "four unrelated words" });
    await waitFor(() => expect([old.value, next.value, again.value]).toEqual(["", "", ""]));
  });

  it("keeps what was typed when it is refused", async () => {
    answering({ "POST /api/v1/session/password": refused(422, "New: it is too easily guessed.") });
    shown(<ReplacePassword />);
    const fields = [...document.querySelectorAll<HTMLInputElement>("input[type=password]")];
    for (const field of fields) await userEvent.type(field, "password");
    await userEvent.keyboard("{Enter}");
    expect(await screen.findByText(/too easily guessed/)).toBeTruthy();
    expect(fields.map((f) => f.value)).toEqual(["password", "password", "password"]);
  });
});
