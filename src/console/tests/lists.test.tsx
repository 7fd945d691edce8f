import { cleanup, fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import { GlossaryRoute } from "../src/glossary/GlossaryRoute";
import { AuditRoute } from "../src/history/AuditRoute";
import { Differences, RecordHistory } from "../src/records/RecordHistory";
import { TunnelsRoute } from "../src/tunnels/TunnelsRoute";
import { answering, refused, shown } from "./asking";

afterEach(cleanup);

const place = () => screen.getByTestId("where").textContent!;
const lastAsked = (asked: { path: string }[], path: string) =>
  asked.filter((a) => a.path.startsWith(path)).at(-1)?.path;

describe("the list of tunnels", () => {
  const answers = {
    "GET /api/v1/session": { name: "ines", roles: ["engineer"], allCustomers: true },
    "GET /api/v1/tunnels": { items: [], cursor: null },
    "GET /api/v1/saved-filters": [],
    "GET /api/v1/records/customers": { items: [{ code: "BRI", name: "Brindlecombe Dairies" }] },
  };

  it("asks what its address says, and nothing that the address does not say", async () => {
    const asked = answering(answers);
    shown(<TunnelsRoute />, "/tunnels?customer=BRI&severity=blocks&asOf=2026-11-01");
    await screen.findByText(/^No tunnel matches/);
    const query = new URL(lastAsked(asked, "/api/v1/tunnels")!, "http://here").searchParams;
    expect(Object.fromEntries(query)).toEqual({ customer: "BRI", severity: "blocks", asOf: "2026-11-01" });
  });

  it("follows what is typed once the typing rests, and keeps the other filters", async () => {
    const asked = answering(answers);
    shown(<TunnelsRoute />, "/tunnels?state=planned");
    await userEvent.type(screen.getByLabelText("Words, an address or a prefix"), "10.61.8.20 ");
    await waitFor(() => expect(place()).toBe("/tunnels?state=planned&q=10.61.8.20"));
    await waitFor(() => expect(lastAsked(asked, "/api/v1/tunnels")).toContain("q=10.61.8.20"));
    const searches = asked.filter((a) => a.path.includes("q="));
    expect(searches).toHaveLength(1);
  });

  it("takes a customer only when one is named whole, in any case", async () => {
    answering(answers);
    shown(<TunnelsRoute />, "/tunnels");
    await waitFor(() => expect(document.querySelector("datalist option")).toBeTruthy());
    fireEvent.change(screen.getByLabelText(/^Customer/), { target: { value: "br" } });
    expect(place()).toBe("/tunnels");
    fireEvent.change(screen.getByLabelText(/^Customer/), { target: { value: "bri" } });
    await waitFor(() => expect(place()).toBe("/tunnels?customer=BRI"));
  });

  it("drops every filter and what was typed at once", async () => {
    answering(answers);
    shown(<TunnelsRoute />, "/tunnels?q=mill&state=planned");
    await userEvent.click(screen.getByRole("button", { name: "Show all" }));
    expect(place()).toBe("/tunnels");
    expect((screen.getByLabelText("Words, an address or a prefix") as HTMLInputElement).value).toBe("");
  });
});

describe("the audit list", () => {
  const entry = (who: string, outcome: string) => ({
    at: "2026-11-27T22:40:05Z",
    who,
    what: "sign in",
    outcome,
    about: "",
    from: "192.0.2.7",
  });

  it("goes back page by page, and marks what was refused", async () => {
    const asked = answering({ "GET /api/v1/audit": { items: [entry("tomas", "refused")], cursor: "41" } });
    shown(<AuditRoute />, "/audit?outcome=refused");
    const row = (await screen.findByText("192.0.2.7")).closest("tr")!;
    expect(within(row).getByText("refused").className).toBe("stops");
    expect(within(row).getByText(/22:40:05/)).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Show older" }));
    await waitFor(() => expect(lastAsked(asked, "/api/v1/audit")).toBe("/api/v1/audit?outcome=refused&before=41"));
  });

  it("of one person opens from the name, and a field counts when it is left or Enter is pressed", async () => {
    const asked = answering({ "GET /api/v1/audit": { items: [entry("tomas", "done")], cursor: null } });
    shown(<AuditRoute />, "/audit");
    await userEvent.click(await screen.findByRole("button", { name: "tomas" }));
    await waitFor(() => expect(place()).toBe("/audit?who=tomas"));
    await userEvent.type(await screen.findByLabelText("From"), "2026-11-01{Enter}");
    await waitFor(() => expect(lastAsked(asked, "/api/v1/audit")).toBe("/api/v1/audit?who=tomas&from=2026-11-01"));
  });

  it("says what the service refuses", async () => {
    answering({ "GET /api/v1/audit": refused(422, "from: '2026-13-45' is not a day.") });
    shown(<AuditRoute />, "/audit?from=2026-13-45");
    await screen.findByText(/'2026-13-45' is not a day/);
  });
});

describe("the history of a record", () => {
  const version = (n: number) => ({
    version: n,
    at: "2026-11-20T09:00:00Z",
    who: "ines",
    what: "edit",
    differences: [],
  });

  it("holds the two versions chosen last against each other, the earlier first", async () => {
    const asked = answering({
      "GET /api/v1/tunnels/BRI-ASHLOW/history": [version(3), version(2), version(1)],
      "GET /api/v1/tunnels/BRI-ASHLOW/versions": {
        differences: [{ path: "b.pfs", before: "DH 14", after: null }],
      },
    });
    shown(<RecordHistory plural="tunnels" code="BRI-ASHLOW" />);
    const [third, second, first] = await screen.findAllByRole("checkbox");
    for (const box of [first, third, second]) await userEvent.click(box);
    await waitFor(() => expect(lastAsked(asked, "/api/v1/tunnels/BRI-ASHLOW/versions")).toContain("from=2&to=3"));
    expect((first as HTMLInputElement).checked).toBe(false);
    expect((await screen.findByText("pfs")).closest("div")!.textContent).toBe("B pfs DH 14 → nothing");
  });

  it("gives a difference of an end the hue of that end, and one of neither end none", () => {
    shown(
      <Differences
        none=""
        of={[
          { path: "a.mtu", before: null, after: "1400" },
          { path: "state", before: "planned", after: "building" },
        ]}
      />,
    );
    expect(document.querySelectorAll("b.a")).toHaveLength(1);
    expect(document.querySelectorAll("b")).toHaveLength(1);
    expect(screen.getByText("state").closest("div")!.textContent).toBe("state planned → building");
  });
});

describe("the glossary", () => {
  it("has the words that are ours and every code, each with its meaning", async () => {
    answering({
      "GET /api/v1/glossary": {
        words: [{ term: "fix", meaning: "the smallest alteration" }],
        codes: [{ term: "PAIR-05", meaning: "PFS mismatch" }],
      },
    });
    shown(<GlossaryRoute />, "/glossary");
    const words = await screen.findByRole("region", { name: "Our own words" });
    expect(within(words).getByText("fix").closest("tr")!.textContent).toBe("fixthe smallest alteration");
    const codes = screen.getByRole("region", { name: "Finding codes" });
    expect(within(codes).getByText("PAIR-05").closest("tr")!.textContent).toBe("PAIR-05PFS mismatch");
  });
});
