import { cleanup, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { Route, Routes } from "react-router";
import { afterEach, describe, expect, it } from "vitest";
import { AuditRoute } from "../src/history/AuditRoute";
import { HistoryRoute } from "../src/history/HistoryRoute";
import { AccessRoute } from "../src/people/AccessRoute";
import { PeopleRoute, PersonRoute } from "../src/people/PeopleRoute";
import { SignIn } from "../src/signin/SignIn";
import { answering, refused, shown } from "./asking";

afterEach(cleanup);

const lead = { name: "odile", roles: ["lead"], allCustomers: true };
const chrome = "Mozilla/5.0 (X11; Linux) AppleWebKit/537.36 Chrome/156.0 Safari/537.36 from 192.0.2.9";
const session = (id: string, more: object = {}) => ({
  id,
  began: "2026-11-24T08:00:00Z",
  lastActive: "2026-11-24T09:30:00Z",
  from: chrome,
  current: false,
  ...more,
});
const token = (id: string, more: object = {}) => ({
  id,
  name: "laptop",
  most: "reader",
  made: "2026-11-01T08:00:00Z",
  used: null,
  expires: "2026-12-01T08:00:00Z",
  ...more,
});
const access = (more: object = {}) => ({ name: "odile", sessions: [], tokens: [], ...more });

describe("one's own access", () => {
  const own = (of: object) => ({
    "GET /api/v1/access": of,
    "GET /api/v1/session": lead,
    "DELETE /api/v1/sessions/s2": {},
    "DELETE /api/v1/tokens/t1": {},
  });

  it("ends every session but the one that is looked from", async () => {
    const asked = answering(own(access({ sessions: [session("s1", { current: true }), session("s2")] })));
    shown(<AccessRoute />);
    const mine = (await screen.findByText("this one")).closest("tr")!;
    expect(within(mine).queryByRole("button")).toBeNull();
    expect(mine.textContent).toContain("Chrome from 192.0.2.9");
    await userEvent.click(screen.getByRole("button", { name: "End it" }));
    await waitFor(() =>
      expect(asked.some((a) => a.method === "DELETE" && a.path === "/api/v1/sessions/s2")).toBe(true),
    );
  });

  it("says when a token was used last, or that it never was", async () => {
    answering(own(access({ tokens: [token("t1"), token("t2", { used: "2026-11-20T10:00:00Z" })] })));
    shown(<AccessRoute />);
    await screen.findAllByText("laptop", { exact: false });
    const lines = screen.getAllByRole("row").map((r) => r.textContent);
    expect(lines[0]).toContain("never used");
    expect(lines[1]).toContain("last used 20 Nov");
  });

  it("says that nothing stands where nothing does", async () => {
    answering(own(access()));
    shown(<AccessRoute />);
    expect(await screen.findByText("No tokens.")).toBeTruthy();
    expect(screen.getByText("No browser is signed in.")).toBeTruthy();
  });

  it("makes a token that is bounded and shown once", async () => {
    const asked = answering({
      ...own(access()),
      "POST /api/v1/tokens": { id: "t9", name: "laptop", token: "vk_made-just-now", expiresAt: "2026-12-01T00:00:00Z" },
    });
    shown(<AccessRoute />);
    await userEvent.type(await screen.findByLabelText("Reason"), "laptop");
    await userEvent.selectOptions(screen.getByLabelText("At most"), "engineer");
    await userEvent.click(screen.getByRole("button", { name: "Make a token" }));
    expect(await screen.findByText("vk_made-just-now")).toBeTruthy();
    expect(asked.find((a) => a.method === "POST")?.body).toEqual({ name: "laptop", days: 30, most: "engineer" });
  });
});

describe("a person", () => {
  const person = (more: object = {}) => ({
    person: { name: "bram", called: "Bram Veldt", roles: ["reader", "engineer for SAL"], left: null },
    reach: "bram@quillhaven.example",
    hasPassword: true,
    lockedUntil: null,
    notes: null,
    access: access({ name: "bram", sessions: [session("s7")], tokens: [token("t7")] }),
    ...more,
  });
  const at = (of: object, more: object = {}) =>
    answering({
      "GET /api/v1/people/bram": of,
      "GET /api/v1/session": lead,
      "GET /api/v1/records/people/bram/history": [],
      ...more,
    });
  const page = () =>
    shown(
      <Routes>
        <Route path="/people/:code" element={<PersonRoute />} />
      </Routes>,
      "/people/bram",
    );

  it.each([
    [{}, "Can sign in."],
    [{ hasPassword: false }, "Has no password yet"],
    [{ lockedUntil: "2026-11-24T10:00:00Z" }, "Locked until"],
    [
      { person: { name: "bram", called: "Bram Veldt", roles: ["reader"], left: "2026-11-20" } },
      "cannot sign in; all sessions and tokens have ended",
    ],
  ])("is told to stand as they do: %o", async (more, says) => {
    at(person(more));
    page();
    expect(await screen.findByText(says, { exact: false })).toBeTruthy();
  });

  it("who has left is given no password", async () => {
    at(person({ person: { name: "bram", called: "Bram Veldt", roles: [], left: "2026-11-20" } }));
    page();
    await screen.findByText(/Left 20 Nov/);
    expect(screen.queryByRole("button", { name: "Set a new password" })).toBeNull();
  });

  it("is given a password that is shown once", async () => {
    at(person(), { "POST /api/v1/people/bram/password": { name: "bram", password: "tern-olive-gate" } });
    page();
    await userEvent.click(await screen.findByRole("button", { name: "Set a new password" }));
    expect((await screen.findByText("tern-olive-gate")).closest(".notice")?.textContent).toContain(
      "It must be replaced",
    );
  });

  it("whose session was ended is read again, and the session is gone from the page", async () => {
    at(person(), { "DELETE /api/v1/people/bram/sessions/s7": {} });
    page();
    const row = (await screen.findByText("192.0.2.9")).closest("tr")!;
    at(person({ access: access({ name: "bram" }) }), { "DELETE /api/v1/people/bram/sessions/s7": {} });
    await userEvent.click(within(row).getByRole("button", { name: "End it" }));
    expect(await screen.findByText("No browser is signed in.")).toBeTruthy();
  });

  it("is in the list with roles and for whom, and those who left set off", async () => {
    answering({
      "GET /api/v1/people": [
        { name: "bram", called: "Bram Veldt", roles: ["reader", "engineer for SAL"], left: null },
        { name: "gone", called: "Gone Away", roles: ["reader"], left: "2026-10-01" },
      ],
      "GET /api/v1/session": lead,
    });
    shown(<PeopleRoute />);
    const row = (await screen.findByText("bram")).closest("tr")!;
    expect(row.textContent).toContain("reader for all customers · engineer for SAL only");
    expect(screen.getByText("gone").closest("tr")!.textContent).toContain("left 1 Oct");
    expect(screen.getByText(/^1 who can sign in/)).toBeTruthy();
    expect(screen.getByRole("link", { name: "Add a person" })).toBeTruthy();
  });

  it("is added by a lead alone", async () => {
    answering({
      "GET /api/v1/people": [{ name: "bram", called: "Bram Veldt", roles: ["reader"], left: null }],
      "GET /api/v1/session": { ...lead, roles: ["engineer"] },
    });
    shown(<PeopleRoute />);
    await screen.findByText("bram");
    expect(screen.queryByRole("link", { name: "Add a person" })).toBeNull();
    expect(screen.queryByRole("link", { name: "bram" })).toBeNull();
  });
});

describe("signing in", () => {
  it("keeps what was typed when it is refused, in the service's words", async () => {
    answering({ "POST /api/v1/session": refused(401, "Name or password is wrong.") });
    shown(<SignIn />);
    await userEvent.type(screen.getByLabelText("Name"), "ines");
    await userEvent.type(screen.getByLabelText("Password"), "not-this-one");
    await userEvent.click(screen.getByRole("button", { name: "Sign in" }));
    expect((await screen.findByRole("alert")).textContent).toContain("Name or password is wrong.");
    expect((screen.getByLabelText("Name") as HTMLInputElement).value).toBe("ines");
    expect((screen.getByLabelText("Password") as HTMLInputElement).value).toBe("not-this-one");
  });

  it("takes blanks off the name and none off the password", async () => {
    const asked = answering({ "POST /api/v1/session": lead });
    shown(<SignIn />);
    await userEvent.type(screen.getByLabelText("Name"), " ines ");
    await userEvent.type(screen.getByLabelText("Password"), " a b ");
    await userEvent.click(screen.getByRole("button", { name: "Sign in" }));
    await waitFor(() => expect(asked).toHaveLength(1));
    expect(asked[0].body).toEqual({ name: "ines", password: " a b " });
  });

  it("says so when nobody answers at all", async () => {
    const { answer } = await import("./setup");
    answer.fetch = () => Promise.reject(new TypeError("network"));
    shown(<SignIn />);
    await userEvent.type(screen.getByLabelText("Name"), "ines");
    await userEvent.type(screen.getByLabelText("Password"), "x");
    await userEvent.click(screen.getByRole("button", { name: "Sign in" }));
    expect((await screen.findByRole("alert")).textContent).toContain("The service is not reachable");
  });
});

describe("the history", () => {
  const commit = (number: number, at: string, more: object = {}) => ({
    number,
    at,
    who: "tomas",
    what: "edit",
    change: null,
    reason: null,
    digest: `${number}abcdef0123456789`,
    records: [{ kind: "site", code: "BRI-CHURN", version: 2 }],
    wrote: 1,
    ...more,
  });

  it("heads each day once, newest first, and links what was written", async () => {
    answering({
      "GET /api/v1/session": lead,
      "GET /api/v1/history": {
        items: [
          commit(9, "2026-11-24T10:00:00Z"),
          commit(8, "2026-11-24T09:00:00Z", { change: "BRI-0003", reason: "the lease ended" }),
          commit(7, "2026-11-23T23:59:00Z", { wrote: 40 }),
        ],
        cursor: null,
      },
    });
    shown(<HistoryRoute />, "/history");
    await screen.findByText("the lease ended");
    expect([...document.querySelectorAll(".dayhead")].map((d) => d.textContent)).toEqual([
      "24 Nov 2026",
      "23 Nov 2026",
    ]);
    expect(screen.getByRole("link", { name: "BRI-0003" }).getAttribute("href")).toBe("/changes/BRI-0003");
    expect(screen.getByText("and 39 more", { exact: false })).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Show older" })).toBeNull();
  });

  it("is narrowed to a person by their name, which stands in the address", async () => {
    const asked = answering({
      "GET /api/v1/session": lead,
      "GET /api/v1/history": { items: [commit(9, "2026-11-24T10:00:00Z")], cursor: "9" },
    });
    shown(<HistoryRoute />, "/history");
    await userEvent.click(await screen.findByRole("button", { name: "tomas" }));
    await waitFor(() => expect(asked.some((a) => a.path === "/api/v1/history?who=tomas")).toBe(true));
    expect(screen.getByTestId("where").textContent).toBe("/history?who=tomas");
    await userEvent.click(await screen.findByRole("button", { name: "Show older" }));
    await waitFor(() => expect(asked.some((a) => a.path === "/api/v1/history?who=tomas&before=9")).toBe(true));
    await userEvent.click(screen.getByRole("button", { name: "Show all" }));
    await waitFor(() => expect(screen.getByTestId("where").textContent).toBe("/history"));
  });

  it.each([
    [{ commits: 120, broken: null, digest: "feed", differs: [] }, "notice", "All 120 commits are intact"],
    [{ commits: 120, broken: 31, digest: "feed", differs: [] }, "problem", "Commit 31 is broken"],
    [{ commits: 120, broken: null, digest: "feed", differs: ["site X stands otherwise"] }, "problem", "site X stands"],
  ])("is verified on request, and says so when it does not hold", async (verified, look, says) => {
    answering({
      "GET /api/v1/session": lead,
      "GET /api/v1/history": { items: [], cursor: null },
      "GET /api/v1/history/verified": verified,
    });
    shown(<HistoryRoute />, "/history");
    await userEvent.click(await screen.findByRole("button", { name: "Verify the chain" }));
    const told = await screen.findByText(says, { exact: false });
    expect(told.closest(`.${look}`)).toBeTruthy();
  });

  it("is verified by leads alone", async () => {
    answering({
      "GET /api/v1/session": { ...lead, roles: ["engineer"] },
      "GET /api/v1/history": { items: [], cursor: null },
    });
    shown(<HistoryRoute />, "/history");
    expect(await screen.findByText("No commit matches. Remove a filter.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Verify the chain" })).toBeNull();
    expect(screen.queryByRole("link", { name: "Audit list" })).toBeNull();
  });
});

describe("the audit list", () => {
  const line = (more: object = {}) => ({
    at: "2026-11-24T10:00:07Z",
    who: "mallory",
    what: "sign in",
    outcome: "refused",
    about: "wrong password",
    from: "192.0.2.66",
    ...more,
  });

  it("sets off what was refused and is narrowed by outcome", async () => {
    const asked = answering({ "GET /api/v1/audit": { items: [line(), line({ outcome: "done" })], cursor: null } });
    shown(<AuditRoute />, "/history/audit");
    await waitFor(() => expect(document.querySelectorAll("td.stops")).toHaveLength(1));
    await userEvent.selectOptions(screen.getByLabelText("Outcome"), "refused");
    await waitFor(() => expect(asked.some((a) => a.path === "/api/v1/audit?outcome=refused")).toBe(true));
  });
});
