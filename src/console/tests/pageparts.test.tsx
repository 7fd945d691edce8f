import { cleanup, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Calendar } from "../src/changes/Calendar";
import { KeysRoute } from "../src/keys/KeysRoute";
import { List, type Column } from "../src/parts/controls/List";
import { useKept } from "../src/parts/browserStore";
import { Keys } from "../src/parts/Keys";
import { day, Head } from "../src/parts/Page";
import { showTold, tell } from "../src/parts/notices";
import { useKey } from "../src/parts/useKey";
import { RolesField } from "../src/records/RolesField";
import {
  DpdField,
  IdentityField,
  InitiationField,
  LifetimeField,
  PfsField,
  WordsField,
} from "../src/records/ValueFields";
import { meantBy } from "../src/search/SearchField";
import { DueDates } from "../src/today/DueDates";
import { answering, refused, shown } from "./asking";

beforeEach(() => localStorage.clear());
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

interface Row {
  code: string;
  tunnels: number;
}

const columns: Column<Row>[] = [
  { id: "code", head: "Code", by: (r) => r.code, cell: (r) => <b>{r.code}</b> },
  { id: "tunnels", head: "Tunnels", by: (r) => r.tunnels, cell: (r) => r.tunnels },
  { id: "note", head: "Note", cell: () => "n", hidden: true },
];

const rows = [
  { code: "gw-10", tunnels: 1 },
  { code: "gw-2", tunnels: 30 },
  { code: "gw-1", tunnels: 4 },
];

const codes = () => [...document.querySelectorAll("tbody b")].map((b) => b.textContent);
const where = () => screen.getByTestId("where").textContent;

describe("a list", () => {
  const list = (more: object = {}, at = "/") =>
    shown(<List name="test" label="Gateways" columns={columns} rows={rows} keyOf={(r) => r.code} {...more} />, at);

  it("is sorted by any column in natural order, the other way, and as it came; the address says so", async () => {
    list();
    expect(codes()).toEqual(["gw-10", "gw-2", "gw-1"]);
    await userEvent.click(screen.getByRole("button", { name: /^Code/ }));
    expect([codes(), where()]).toEqual([["gw-1", "gw-2", "gw-10"], "/?sort=code"]);
    expect(screen.getByRole("columnheader", { name: /^Code/ }).getAttribute("aria-sort")).toBe("ascending");
    await userEvent.click(screen.getByRole("button", { name: /^Code/ }));
    expect([codes(), where()]).toEqual([["gw-10", "gw-2", "gw-1"], "/?sort=-code"]);
    await userEvent.click(screen.getByRole("button", { name: /^Code/ }));
    expect(where()).toBe("/");
    await userEvent.click(screen.getByRole("button", { name: /^Tunnels/ }));
    expect(codes()).toEqual(["gw-10", "gw-1", "gw-2"]);
  });

  it("opens sorted as the address says", () => {
    list({}, "/?sort=-tunnels");
    expect(codes()).toEqual(["gw-2", "gw-1", "gw-10"]);
  });

  it("has columns that are chosen, and remembers them", async () => {
    list();
    expect(screen.queryByRole("columnheader", { name: "Note" })).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Columns" }));
    await userEvent.click(await screen.findByLabelText("Note"));
    await userEvent.keyboard("{Escape}");
    expect(await screen.findByRole("columnheader", { name: "Note" })).toBeTruthy();
    cleanup();
    list();
    expect(screen.getByRole("columnheader", { name: "Note" })).toBeTruthy();
  });

  it("gives the rows that are selected, in their order, and selects all that it has", async () => {
    const acts = (selected: Row[]) => <output>{selected.map((r) => r.code).join(" ")}</output>;
    list({ acts }, "/?sort=code");
    await userEvent.click(screen.getByLabelText("Select gw-10"));
    await userEvent.click(screen.getByLabelText("Select gw-1"));
    expect(document.querySelector("output")?.textContent).toBe("gw-1 gw-10");
    expect(screen.getByText("2 selected")).toBeTruthy();
    await userEvent.click(screen.getByLabelText("Select all"));
    expect(document.querySelector("output")?.textContent).toBe("gw-1 gw-2 gw-10");
    await userEvent.click(screen.getByRole("button", { name: "Select none" }));
    expect(document.querySelector("output")).toBeNull();
  });

  it("reads what it lacks before it is sorted, and says that there is more until then", () => {
    const more = vi.fn();
    list({ more, hasMore: true });
    expect(document.body.textContent).toContain("3 read so far; there are more.");
    more.mockClear();
    cleanup();
    list({ more, hasMore: true }, "/?sort=code");
    expect(more).toHaveBeenCalled();
  });

  it("opens a row by a press beside its ticks and links", async () => {
    const opened: string[] = [];
    list({ open: (r: Row) => opened.push(r.code), acts: () => null });
    await userEvent.click(screen.getByText("gw-2"));
    await userEvent.click(screen.getByLabelText("Select gw-1"));
    expect(opened).toEqual(["gw-2"]);
  });
});

describe("the calendar of windows", () => {
  const change = (code: string, windowStart: string) => ({
    code,
    title: `title of ${code}`,
    state: "approved",
    windowStart,
    windowMinutes: 45,
  });

  it("asks for the weeks of a month, all pages of them, and stands each window in its day", async () => {
    const asked = answering({
      "GET /api/v1/changes": {
        items: [change("BRI-0002", "2026-12-03T22:00:00Z"), change("BRI-0001", "2026-12-03T06:00:00Z")],
        cursor: null,
      },
    });
    shown(<Calendar query={{ customer: "BRI" }} />, "/changes?view=calendar&day=2026-12-15");
    await screen.findByText("December 2026");
    expect(asked[0].path).toContain("customer=BRI&windowFrom=2026-11-30&windowUntil=2027-01-03");
    const cell = screen.getByText("BRI-0001").closest("td")!;
    expect(
      within(cell)
        .getAllByRole("link")
        .map((l) => l.getAttribute("href")),
    ).toEqual(["/changes/BRI-0001", "/changes/BRI-0002"]);
    expect(cell.querySelector("time")?.getAttribute("dateTime")).toBe("2026-12-03");
    expect(document.body.textContent).toContain("2 windows begin in these days.");
  });

  it.each([
    ["Later", "/changes?day=2027-01-01"],
    ["Earlier", "/changes?day=2026-11-01"],
    ["Week", "/changes?day=2026-12-15&span=week"],
  ])("goes %s to %s", async (button, address) => {
    answering({ "GET /api/v1/changes": { items: [], cursor: null } });
    shown(<Calendar query={{}} />, "/changes?day=2026-12-15");
    await userEvent.click(await screen.findByRole("button", { name: button }));
    expect(where()).toBe(address);
  });

  it("shows this month where the address names a day that is none", async () => {
    answering({ "GET /api/v1/changes": { items: [], cursor: null } });
    shown(<Calendar query={{}} />, "/changes?day=2026-13-45");
    expect(await screen.findByText("No window begins in these days.", { exact: false })).toBeTruthy();
  });
});

describe("due dates", () => {
  const line = (kind: string, code: string, on: string, overdue = false) => ({
    kind,
    code,
    on,
    overdue,
    of: kind === "window" ? "change" : "tunnel",
    name: code,
    what: `what of ${code}`,
  });

  it("stand in words with a link each, what is overdue marked, and the later ones folded", async () => {
    const items = [
      line("temporary value", "TID-QUAY", "2026-11-26", true),
      line("window", "BRI-0003", "2026-12-01"),
      ...Array.from({ length: 12 }, (_, i) => line("key", `LAR-${i}`, "2026-12-20")),
    ];
    answering({ "GET /api/v1/due": { today: "2026-11-29", until: "2027-02-27", items, more: false } });
    shown(<DueDates />);
    const first = (await screen.findByText("what of TID-QUAY")).closest("tr")!;
    expect(first.textContent).toContain("overdue");
    expect(screen.getByRole("link", { name: "BRI-0003" }).getAttribute("href")).toBe("/changes/BRI-0003");
    expect(screen.getByRole("link", { name: "LAR-1" }).getAttribute("href")).toBe("/tunnels/LAR-1");
    expect(screen.getByText("2 later")).toBeTruthy();
  });

  it("say until when nothing falls due, and what the service says when it fails", async () => {
    answering({ "GET /api/v1/due": { today: "2026-11-29", until: "2027-02-27", items: [], more: false } });
    shown(<DueDates />);
    expect(await screen.findByText("Nothing falls due until 27 Feb 2027.")).toBeTruthy();
    cleanup();
    answering({ "GET /api/v1/due": refused(503, "The database does not answer.") });
    shown(<DueDates />);
    expect((await screen.findByRole("alert")).textContent).toContain("The database does not answer.");
  });
});

describe("the page of keys", () => {
  const key = (tunnel: string, more: object = {}) => ({
    tunnel,
    tunnelName: tunnel,
    version: 2,
    state: "in use",
    bits: 160,
    checkCode: "7KQ-2M4",
    madeBy: "ines",
    madeAt: "2025-11-01T00:00:00Z",
    due: "2026-11-01",
    change: "BRI-0001",
    viewedBy: ["tomas", "ines"],
    ...more,
  });

  it("tells age, due day and who has viewed each, and asks for one person's", async () => {
    const asked = answering({
      "GET /api/v1/session": { name: "ines", roles: ["engineer"] },
      "GET /api/v1/keys": {
        items: [key("BRI-MILK"), key("BRI-DEPOT", { bits: 0, due: null, viewedBy: [] })],
        more: false,
      },
    });
    shown(<KeysRoute />, "/keys?viewedBy=tomas");
    const row = (await screen.findByText("BRI-MILK")).closest("tr")!;
    expect(row.textContent).toContain("tomas, ines");
    expect(row.querySelector(".stops")?.textContent).toBe("1 Nov 2026");
    const other = screen.getByText("BRI-DEPOT").closest("tr")!;
    expect(other.textContent).toContain("unknown");
    expect(other.textContent).toContain("nobody");
    expect(asked.some((a) => a.path === "/api/v1/keys?viewedBy=tomas")).toBe(true);
  });
});

describe("values with parts", () => {
  const set = (control: (put: (v: string) => void) => React.ReactNode) => {
    const said: string[] = [];
    shown(<>{control((v) => said.push(v))}</>);
    return said;
  };

  it("a lifetime keeps its unit, says the seconds, and is empty without a time", async () => {
    const said = set((put) => (
      <LifetimeField label="ESP lifetime" value="{ time: 60 min }" set={put} words={["seconds", "minutes", "hours"]} />
    ));
    expect(document.body.textContent).toContain("3,600 s");
    await userEvent.selectOptions(screen.getByLabelText("ESP lifetime: unit"), "h");
    await userEvent.type(screen.getByLabelText("ESP lifetime: data"), "4");
    await userEvent.clear(screen.getByLabelText("ESP lifetime: time"));
    expect(said).toEqual(["{ time: 60 h }", "{ time: 60 min, data: 4 }", ""]);
  });

  it("PFS has a group unless it is refused", async () => {
    const words = ["required", "optional", "accepts only", "refused"];
    const said = set((put) => <PfsField label="PFS" value="accepts only DH 14" set={put} words={words} />);
    expect((screen.getByLabelText("PFS: DH group") as HTMLInputElement).value).toBe("14");
    await userEvent.selectOptions(screen.getByLabelText("PFS: whether"), "refused");
    await userEvent.selectOptions(screen.getByLabelText("PFS: whether"), "required");
    expect(said).toEqual(["refused", "required DH 14"]);
  });

  it("an identity has a type and a value", async () => {
    const said = set((put) => (
      <IdentityField label="sent" value="fqdn a.example" set={put} words={["address", "fqdn", "e-mail"]} />
    ));
    await userEvent.selectOptions(screen.getByLabelText("sent: type"), "e-mail");
    await userEvent.type(screen.getByLabelText("sent: value"), "x");
    expect(said).toEqual(["e-mail a.example", "fqdn a.examplex"]);
  });

  it("who initiates is said for each end where both are, else once", async () => {
    const words = ["always", "on traffic", "responds only"];
    const said = set((put) => (
      <InitiationField label="initiation" value="{ a: always, b: responds only }" set={put} words={words} />
    ));
    await userEvent.selectOptions(screen.getByLabelText("initiation B"), "always");
    cleanup();
    const one = set((put) => <InitiationField label="initiation" value="always" set={put} words={words} />);
    await userEvent.selectOptions(screen.getByLabelText("initiation"), "on traffic");
    expect([said, one]).toEqual([["{ a: always, b: always }"], ["on traffic"]]);
  });

  it("DPD is off, or an interval, tries and what then", async () => {
    const words = ["give up", "try again"];
    const said = set((put) => <DpdField label="DPD" value="20 s x 5, try again" set={put} words={words} />);
    await userEvent.selectOptions(screen.getByLabelText("DPD: then"), "give up");
    await userEvent.click(screen.getByRole("checkbox"));
    expect(said).toEqual(["20 s x 5, give up", "off"]);
  });

  it("a list of words keeps their order, and is nothing when none is left", async () => {
    const words = ["IKEv1", "IKEv2"];
    const said = set((put) => <WordsField label="IKE versions" value="[ IKEv2 ]" set={put} words={words} />);
    await userEvent.click(screen.getByLabelText("IKEv1"));
    await userEvent.click(screen.getByLabelText("IKEv2"));
    expect(said).toEqual(["[ IKEv1, IKEv2 ]", ""]);
  });

  it("roles are for all customers, or for those that are named", async () => {
    answering({ "GET /api/v1/choices/customers": { items: [{ code: "BRI", name: "Brindlecombe", detail: "" }] } });
    const said: string[][] = [];
    shown(
      <RolesField roles={["reader", "engineer"]} value={["engineer for SAL, TID"]} set={(v) => void said.push(v)} />,
    );
    await userEvent.click(screen.getByLabelText("reader"));
    await userEvent.click(screen.getByRole("button", { name: /^Remove TID/ }));
    await userEvent.click(screen.getByLabelText("engineer"));
    expect(said).toEqual([["engineer for SAL, TID", "reader"], ["engineer for SAL"], []]);
  });
});

describe("what Enter opens", () => {
  const hit = (kind: string, code: string, field = "name") =>
    ({ kind, code, field }) as Parameters<typeof meantBy>[1][0];

  it.each([
    ["bri-ashlow", [hit("site", "BRI-ASHLOW"), hit("tunnel", "BRI-ASHLOW")], "tunnel BRI-ASHLOW"],
    [
      "ashl",
      [hit("site", "BRI-ASHLOW"), hit("tunnel", "BRI-ASHLOW"), hit("gateway", "ashlow-gw")],
      "tunnel BRI-ASHLOW",
    ],
    ["churn", [hit("site", "BRI-CHURN"), hit("tunnel", "BRI-ASHLOW"), hit("tunnel", "BRI-DEPOT")], ""],
    ["10.61.8.20", [hit("site", "BRI-CHURN", "network"), hit("tunnel", "BRI-ASHLOW", "local")], ""],
    ["ott", [hit("customer", "OTT"), hit("tunnel", "QUI-OTT")], "customer OTT"],
    ["seal", [hit("gateway", "tid-seal-gw")], "gateway tid-seal-gw"],
    ["zzz", [], ""],
  ])("for %s is the one that is meant", (q, hits, meant) => {
    const found = meantBy(q, hits);
    expect(found ? `${found.kind} ${found.code}` : "").toBe(meant);
  });
});

describe("around every page", () => {
  it("a page says its title, and its heading is at hand", () => {
    shown(<Head code="BRI-0007" title="Add the cold store" />);
    expect(document.title).toBe("BRI-0007 Add the cold store · Vellumkeep");
    expect(document.activeElement).toBe(screen.getByRole("heading", { level: 1 }));
  });

  it("a day that is none is shown as it was typed", () =>
    expect([day("2026-13-45"), day("2026-11-03", "2026-11-29")]).toEqual(["2026-13-45", "3 Nov"]));

  it("single keys act unless somebody types or has turned them off", async () => {
    let pressed = 0;
    function Page() {
      useKey("v", () => pressed++);
      return (
        <>
          <input aria-label="field" />
          <input type="radio" aria-label="radio" />
        </>
      );
    }
    shown(<Page />);
    await userEvent.keyboard("v");
    await userEvent.click(screen.getByLabelText("radio"));
    await userEvent.keyboard("v");
    await userEvent.type(screen.getByLabelText("field"), "v");
    expect(pressed).toBe(2);
    cleanup();
    shown(<Keys onLeave={() => {}} />);
    await userEvent.click(screen.getByRole("checkbox"));
    cleanup();
    shown(<Page />);
    await userEvent.keyboard("v");
    expect(pressed).toBe(2);
  });

  it("what is typed is found again by the same person alone, until it is thrown away", async () => {
    function Typed({ who }: { who: string }) {
      const [value, set, forget] = useKept(who, "draft", "");
      return (
        <>
          <input value={value} onChange={(e) => set(e.target.value)} />
          <button onClick={forget}>forget</button>
        </>
      );
    }
    const value = () => (screen.getByRole("textbox") as HTMLInputElement).value;
    shown(<Typed who="ines" />);
    await userEvent.type(screen.getByRole("textbox"), "cold store");
    cleanup();
    shown(<Typed who="tomas" />);
    expect(value()).toBe("");
    cleanup();
    shown(<Typed who="ines" />);
    expect(value()).toBe("cold store");
    await userEvent.click(screen.getByRole("button"));
    cleanup();
    shown(<Typed who="ines" />);
    expect(value()).toBe("");
  });

  it("what is told before anybody shows it is told once somebody does, in order", async () => {
    const told: string[] = [];
    tell({ text: "one" });
    tell({ text: "two" });
    showTold((d) => told.push(d.text));
    tell({ text: "three" });
    await waitFor(() => expect(told).toEqual(["one", "two", "three"]));
  });
});
