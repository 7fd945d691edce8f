import { cleanup, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { FindingPage } from "../src/service/api";
import { Finding } from "../src/parts/FindingList";
import { SavedFilters } from "../src/parts/SavedFilters";
import { RecordActs, CopyTunnel } from "../src/records/Acts";
import { WhatItDoes } from "../src/records/WhatItDoes";
import { SearchRoute } from "../src/search/SearchRoute";
import { answering, says, shown } from "./asking";

afterEach(cleanup);

const me = (...roles: string[]) => ({ "GET /api/v1/session": { name: "ines", display: "Ines", roles } });

describe("a finding", () => {
  const finding = (more: object = {}) =>
    ({
      tunnel: "BRI-ASHLOW",
      code: "PAIR-06",
      subject: "ikeLifetime",
      digest: "d1",
      severity: "risk",
      what: says("Lifetimes differ."),
      why: says("One end rekeys."),
      do: says("Set both to 8 h."),
      evidence: [{ end: "A", label: "IKE lifetime", value: "8 h", from: "set" }],
      standard: "RFC 7296 2.8",
      accepted: null,
      ...more,
    }) as unknown as FindingPage;

  it("can be accepted by an engineer, with the values it rests on, and by no reader", async () => {
    const asked = answering({
      ...me("engineer"),
      "GET /api/v1/tunnels/BRI-ASHLOW": { version: 5 },
      "POST /api/v1/tunnels/BRI-ASHLOW/accept": {},
    });
    shown(<Finding f={finding()} />);
    await userEvent.click(await screen.findByRole("button", { name: "Accept", hidden: true }));
    await userEvent.type(screen.getByLabelText("Why it can stay"), "replaced in spring");
    await userEvent.click(screen.getAllByRole("spinbutton")[0]);
    await userEvent.keyboard("20270331");
    await userEvent.click(screen.getByRole("button", { name: "Accept it", hidden: true }));
    await waitFor(() => expect(asked.at(-1)?.method).toBe("POST"));
    expect(asked.at(-1)).toMatchObject({
      version: '"5"',
      body: {
        code: "PAIR-06",
        subject: "ikeLifetime",
        digest: "d1",
        reason: "replaced in spring",
        until: "2027-03-31",
      },
    });
    cleanup();
    answering(me("reader"));
    shown(<Finding f={finding()} />);
    await new Promise((r) => setTimeout(r, 20));
    expect(screen.queryByRole("button", { hidden: true })).toBeNull();
  });

  it("that is accepted says by whom, why and until when, and can be taken back", async () => {
    const asked = answering({
      ...me("lead"),
      "GET /api/v1/tunnels/BRI-ASHLOW": { version: 5 },
      "POST /api/v1/tunnels/BRI-ASHLOW/withdraw-acceptance": {},
    });
    const accepted = { by: "odile", reason: "known", until: "2027-03-31" };
    shown(<Finding f={finding({ accepted })} />);
    expect(screen.getByText("accepted until 31 Mar 2027 by odile: known")).toBeTruthy();
    await userEvent.click(await screen.findByRole("button", { name: /Withdraw or extend/, hidden: true }));
    await userEvent.click(screen.getByRole("button", { name: "Withdraw acceptance", hidden: true }));
    await waitFor(() => expect(asked.at(-1)?.path).toMatch(/withdraw-acceptance$/));
    expect(asked.at(-1)?.body).toEqual({ code: "PAIR-06", subject: "ikeLifetime" });
  });
});

describe("filters that are kept", () => {
  const kept = [
    { id: "1", name: "blocks", list: "tunnels", filter: "severity=blocks&customer=BRI", mine: true, by: "ines" },
    { id: "2", name: "theirs", list: "tunnels", filter: "customer=SAL", mine: false, by: "tomas" },
    { id: "3", name: "weak", list: "findings", filter: "code=STR-01", mine: true, by: "ines" },
  ];

  it("stand on their own list, the open one marked whatever the order of its parts", async () => {
    answering({ "GET /api/v1/saved-filters": kept });
    shown(<SavedFilters list="tunnels" />, "/tunnels?severity=blocks&customer=BRI");
    const link = await screen.findByRole("link", { name: "blocks" });
    expect(link.getAttribute("aria-current")).toBe("page");
    expect(screen.queryByRole("link", { name: "weak" })).toBeNull();
    expect(screen.getByRole("button").textContent).toBe("remove “blocks”");
  });

  it("of somebody else cannot be ended", async () => {
    answering({ "GET /api/v1/saved-filters": kept });
    shown(<SavedFilters list="tunnels" />, "/tunnels?customer=SAL");
    expect((await screen.findByRole("link", { name: "theirs" })).getAttribute("title")).toBe("shared by tomas");
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("are offered only where something is filtered, and sent as they stand", async () => {
    const asked = answering({ "GET /api/v1/saved-filters": [], "POST /api/v1/saved-filters": {} });
    shown(<SavedFilters list="findings" />, "/findings");
    expect(screen.queryByRole("button")).toBeNull();
    cleanup();
    shown(<SavedFilters list="findings" />, "/findings?code=STR-01");
    await userEvent.click(screen.getByRole("button", { name: "save this filter" }));
    await userEvent.keyboard("weak ones");
    await userEvent.click(screen.getByLabelText("for the whole team"));
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(asked.some((a) => a.method === "POST")).toBe(true));
    expect(asked.find((a) => a.method === "POST")!.body).toEqual({
      name: "weak ones",
      list: "findings",
      filter: "code=STR-01",
      shared: true,
    });
  });
});

describe("acts on a record", () => {
  it.each([
    ["sites", ["engineer"], true],
    ["sites", ["reader"], false],
    ["sites", ["reviewer"], false],
    ["people", ["engineer"], false],
    ["people", ["lead"], true],
  ] as const)("on %s are offered to %j: %s", async (plural, roles, offered) => {
    const asked = answering(me(...roles));
    shown(<RecordActs plural={plural} code="X" />);
    // On a busy machine the answer takes its time: what is offered is waited for, what is not has had time to come.
    if (offered) expect(await screen.findByRole("link", { name: "Edit" })).toBeTruthy();
    await waitFor(() => expect(asked.length).toBeGreaterThan(0));
    await new Promise((r) => setTimeout(r, 20));
    expect(screen.queryByRole("link", { name: "Edit" }) !== null).toBe(offered);
  });

  it("do not retire what is retired", async () => {
    answering(me("lead"));
    shown(<RecordActs plural="sites" code="X" retired />);
    expect(await screen.findByRole("link", { name: "Edit" })).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("copy a tunnel under a code of its own customer, and Escape leaves it", async () => {
    shown(<CopyTunnel code="BRI-ASHLOW" />);
    await userEvent.click(screen.getByRole("button", { name: "Copy" }));
    await userEvent.keyboard("{Escape}");
    await userEvent.click(screen.getByRole("button", { name: "Copy" }));
    await userEvent.type(screen.getByRole("textbox"), "NEW{Enter}");
    expect(screen.getByTestId("where").textContent).toBe("/new/tunnels?copy=BRI-ASHLOW&as=BRI-NEW");
  });
});

describe("what writing does", () => {
  const written = (more: object = {}) =>
    ({
      as: "altered",
      differences: [],
      altered: [],
      derived: [],
      findingsAdded: [],
      findingsRemoved: [],
      ...more,
    }) as unknown as Parameters<typeof WhatItDoes>[0]["w"];

  it.each([
    [{ as: "nothing" }, "No difference from the recorded values."],
    [{}, "It adds and removes no finding."],
    [{ as: "added", derived: [1] }, "1 value is derived.It adds and removes no finding."],
    [{ as: "added", derived: [1, 2] }, "2 values are derived.It adds and removes no finding."],
    [
      { differences: [{ path: "name", before: null, after: "x" }], altered: ["name"] },
      "name correctsnothing → xIt adds and removes no finding.",
    ],
  ])("%j is told as %s", (more, told) => {
    shown(<WhatItDoes w={written(more)} />);
    expect(screen.getByRole("status").textContent).toBe(told);
  });

  it("names the findings that come with how grave they are, and those that go", () => {
    const finding = { code: "PAIR-06", severity: "risk", tunnel: "BRI-ASHLOW", what: says("Lifetimes differ.") };
    shown(<WhatItDoes w={written({ findingsAdded: [finding], findingsRemoved: [{ ...finding, code: "PAIR-01" }] })} />);
    const told = screen.getByRole("status").textContent!;
    expect(told).toContain("adds, risk PAIR-06 BRI-ASHLOW");
    expect(told).toContain("removes PAIR-01 BRI-ASHLOW");
    expect(told).not.toContain("No finding");
  });
});

describe("the search", () => {
  const hit = (kind: string, code: string) => ({
    kind,
    code,
    name: `name of ${code}`,
    customer: "BRI",
    state: "",
    field: "address",
    fits: "10.61.0.0/24",
  });

  it("groups what it found by what it is, in one order, and moves among it with the arrows", async () => {
    answering({
      "GET /api/v1/search": {
        asked: "10.61",
        finding: null,
        hits: [hit("tunnel", "BRI-ASHLOW"), hit("site", "BRI-CHURN"), hit("tunnel", "BRI-DEPOT")],
        more: false,
      },
    });
    shown(<SearchRoute />, "/search?q=10.61");
    await screen.findByRole("link", { name: "BRI-ASHLOW" });
    const heads = screen.getAllByRole("heading").map((h) => h.textContent);
    expect(heads).toEqual(["Found for 10.61", "Tunnels", "Sites"]);
    await userEvent.keyboard("{ArrowDown}{ArrowDown}{ArrowDown}{ArrowDown}");
    const links = [...document.querySelectorAll("a.hit")];
    expect(document.activeElement).toBe(links.at(-1));
    await userEvent.keyboard("{ArrowUp}");
    expect(document.activeElement).toBe(links.at(-2));
  });

  it("says what the code of a finding is, and where it was found", async () => {
    answering({ "GET /api/v1/search": { asked: "pair-06", finding: "Lifetimes differ", hits: [], more: false } });
    shown(<SearchRoute />, "/search?q=pair-06");
    const link = await screen.findByRole("link", { name: "Findings with this code" });
    expect(link.getAttribute("href")).toBe("/findings?code=PAIR-06");
    expect(document.body.textContent).not.toContain("Nothing fits");
  });

  it("says what it looks for before anything is typed, and when nothing fits", async () => {
    answering({ "GET /api/v1/search": { asked: "zzz", finding: null, hits: [], more: false } });
    shown(<SearchRoute />, "/search");
    expect(document.body.textContent).toContain("Type a code, a name, an address");
    cleanup();
    shown(<SearchRoute />, "/search?q=zzz");
    expect(await screen.findByText(/Nothing fits “zzz”/)).toBeTruthy();
  });

  it("says when there may be more than it shows", async () => {
    const hits = Array.from({ length: 40 }, (_, i) => hit("site", `S-${i}`));
    answering({ "GET /api/v1/search": { asked: "s", finding: null, hits, more: true } });
    shown(<SearchRoute />, "/search?q=s");
    expect(await screen.findByText(/These are the first 40/)).toBeTruthy();
  });
});
