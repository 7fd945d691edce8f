import { useState } from "react";
import { cleanup, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { Contract, TunnelPage } from "../src/service/api";
import { Ladder } from "../src/tunnel/Ladder";
import { CompareTable } from "../src/tunnel/CompareTable";
import { useSeen, type Place } from "../src/tunnel/Seen";
import { PairGrid } from "../src/tunnel/PairGrid";
import { span, Timeline } from "../src/tunnel/Timeline";
import { answering, refused, says, shown } from "./asking";

afterEach(cleanup);

describe("looking at an end", () => {
  const cell = (more: object = {}) => ({
    text: "8 h",
    source: "set",
    confirmed: null,
    canBeConfirmed: true,
    canBeCorrected: true,
    ...more,
  });
  const row = (key: string, a: object = {}, b: object = {}) => ({
    key,
    label: key,
    a: cell(a),
    b: cell(b),
    form: { stroke: "whole", word: "agrees" },
    worthALook: true,
    codes: [],
  });
  const page = (...rows: object[]) =>
    ({
      code: "BRI-ASHLOW",
      version: 7,
      a: { site: "Churn" },
      b: { site: "Ashlow" },
      rows,
    }) as unknown as TunnelPage;
  function Table({ t }: { t: TunnelPage }) {
    const seen = useSeen();
    const [correcting, correct] = useState<Place | null>(null);
    return <CompareTable t={t} all hands={{ seen, correcting, correct }} />;
  }

  it("confirms several values of both ends at once, B's on the version that A's made", async () => {
    const asked = answering({ "POST /api/v1/tunnels/BRI-ASHLOW/confirm": { version: 8 } });
    shown(<Table t={page(row("ikeLifetime"), row("pfs"), row("dpd"))} />);
    await userEvent.click(screen.getByLabelText("ikeLifetime: seen at A"));
    await userEvent.click(screen.getByLabelText("pfs: seen at A"));
    await userEvent.click(screen.getByLabelText("dpd: seen at B"));
    expect(screen.getByRole("status").textContent).toBe("Seen: 2 at A, 1 at B");
    await userEvent.selectOptions(screen.getByLabelText("How it was confirmed"), "in its saved configuration");
    await userEvent.click(screen.getByRole("button", { name: "Confirm 3 values" }));
    await waitFor(() => expect(screen.queryByRole("status")).toBeNull());
    expect(asked.map((a) => [a.version, a.body])).toEqual([
      ['"7"', { end: "A", rows: ["ikeLifetime", "pfs"], how: "saved configuration", date: null, value: null }],
      ['"8"', { end: "B", rows: ["dpd"], how: "saved configuration", date: null, value: null }],
    ]);
  });

  it("ticks all that can be confirmed at an end with one press, and takes them back with another", async () => {
    shown(<Table t={page(row("pfs"), row("keyHeld", { canBeConfirmed: false }), row("dpd"))} />);
    const all = screen.getByLabelText("Seen at A: all of them");
    await userEvent.click(all);
    expect(screen.getByRole("button", { name: "Confirm 2 values" })).toBeTruthy();
    await userEvent.click(all);
    expect(screen.queryByRole("button", { name: /^Confirm/ })).toBeNull();
  });

  it("keeps what was ticked when somebody was quicker, and says so", async () => {
    answering({ "POST /api/v1/tunnels/BRI-ASHLOW/confirm": refused(412, "tomas wrote BRI-ASHLOW since you read it.") });
    shown(<Table t={page(row("pfs"))} />);
    await userEvent.click(screen.getByLabelText("pfs: seen at B"));
    await userEvent.click(screen.getByRole("button", { name: "Confirm 1 value" }));
    expect((await screen.findByRole("alert")).textContent).toContain("tomas wrote");
    expect((screen.getByLabelText("pfs: seen at B") as HTMLInputElement).checked).toBe(true);
  });

  it("offers nothing to tick or to correct where nothing can be", () => {
    shown(<Table t={page(row("addressOfA", { canBeConfirmed: false, canBeCorrected: false }))} />);
    expect(screen.queryByLabelText("addressOfA: seen at A")).toBeNull();
    expect(screen.queryByRole("button", { name: "addressOfA: correct at A" })).toBeNull();
    expect(screen.getByRole("button", { name: "addressOfA: correct at B" })).toBeTruthy();
  });

  it("corrects in the row itself, with a reason, and keeps both when somebody was quicker", async () => {
    const asked = answering({
      "POST /api/v1/tunnels/BRI-ASHLOW/correct": refused(412, "tomas wrote BRI-ASHLOW since you read it."),
      "GET /api/v1/forms/tunnels": { fields: [] },
    });
    shown(<Table t={page(row("replayWindow"))} />);
    await userEvent.click(screen.getByRole("button", { name: "replayWindow: correct at A" }));
    await userEvent.type(screen.getByLabelText("What A really has"), "128");
    const press = screen.getByRole("button", { name: "Correct at A" }) as HTMLButtonElement;
    expect(press.disabled).toBe(true);
    await userEvent.type(screen.getByLabelText("Why the record was wrong"), "read again");
    await userEvent.click(press);
    expect((await screen.findByRole("alert")).textContent).toContain("tomas wrote");
    expect((screen.getByLabelText("What A really has") as HTMLInputElement).value).toBe("128");
    expect(asked.find((a) => a.method === "POST")!.body).toMatchObject({
      end: "A",
      row: "replayWindow",
      value: "128",
      reason: "read again",
    });
  });

  it("enters what was unknown without asking why the record was wrong", async () => {
    answering({ "GET /api/v1/forms/tunnels": { fields: [] } });
    shown(<Table t={page(row("mtu", { text: null, canBeConfirmed: false }))} />);
    await userEvent.click(screen.getByRole("button", { name: "mtu: enter at A" }));
    await userEvent.type(screen.getByLabelText("What A really has"), "1400");
    expect((screen.getByRole("button", { name: "Enter at A" }) as HTMLButtonElement).disabled).toBe(false);
  });
});

describe("the grid of pairs", () => {
  const end = (more: object = {}) => ({
    selector: "yes",
    ruleIn: "yes",
    ruleOut: "yes",
    noNat: "not needed",
    route: "yes",
    ...more,
  });
  const pair = (a: string, b: string, atA: object = {}, atB: object = {}) => ({
    a,
    b,
    aName: `of ${a}`,
    bName: null,
    form: { stroke: "gap", word: "one end only" },
    atA: end(atA),
    atB: end(atB),
  });
  const grid = (pairs: object[]) =>
    shown(<PairGrid t={{ pairs } as unknown as TunnelPage} />).container.querySelectorAll("tbody tr");

  it("has A's subnets down and B's across, and says what is not wanted between them", () => {
    const rows = grid([pair("10.1.0.0/24", "10.9.0.0/24"), pair("10.2.0.0/24", "10.8.0.0/24")]);
    expect([...rows].map((r) => r.querySelector("th code")!.textContent)).toEqual(["10.1.0.0/24", "10.2.0.0/24"]);
    expect([...document.querySelectorAll("thead code")].map((c) => c.textContent)).toEqual([
      "10.9.0.0/24",
      "10.8.0.0/24",
    ]);
    expect([...rows].map((r) => [...r.querySelectorAll("td")].map((c) => c.textContent === "not wanted"))).toEqual([
      [false, true],
      [true, false],
    ]);
  });

  it("names what is missing at which end, and what is not known, and leaves out what is not needed", () => {
    const [row] = grid([pair("10.1.0.0/24", "10.9.0.0/24", { ruleIn: "no" }, { route: "unknown" })]);
    const [a, b] = row.querySelectorAll("td > div");
    expect(a.textContent).toBe("A selector · no inbound rule · outbound rule · route");
    expect(a.querySelector(".stops")?.textContent).toBe("no inbound rule");
    expect(b.textContent).toBe("B selector · inbound rule · outbound rule · route unknown");
  });
});

describe("times", () => {
  it.each([
    [30, "30 s"],
    [60, "1 min"],
    [90, "90 s"],
    [3600, "1 h"],
    [5400, "90 min"],
    [28800, "8 h"],
    [86400, "24 h"],
    [129600, "36 h"],
    [172800, "2 d"],
    [7300, "2.0 h"],
  ])("%i seconds are said as %s", (seconds, told) => expect(span(seconds)).toBe(told));

  const timeline = (marks: object[]) => ({
    length: 86400,
    marks,
    lives: [
      { layer: "IKE", end: "A", drops: 28800, rekeysFrom: 25000, rekeysTo: 25000 },
      { layer: "IKE", end: "B", drops: null, rekeysFrom: null, rekeysTo: null },
      { layer: "ESP", end: "A", drops: 3600, rekeysFrom: null, rekeysTo: null },
    ],
  });

  it("begin with what bites in sight, and have all of it on request", async () => {
    const lost = { layer: "ESP", kind: "lost", by: "B", from: 3600, to: 3600 };
    shown(<Timeline t={timeline([lost]) as unknown as Contract["TimelinePage"]} />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toMatch(/^Rekeys over 2.5 h\. ESP lost by B at 1 h/);
    await userEvent.click(screen.getByRole("button", { name: "show all 24 h" }));
    expect(screen.getByRole("img").getAttribute("aria-label")).toMatch(/^Rekeys over 24 h/);
    expect(screen.getByText("drops at 1 h")).toBeTruthy();
  });

  it("say of a lifetime when it ends and when it is renewed, and what of it is not known", () => {
    shown(<Timeline t={timeline([]) as unknown as Contract["TimelinePage"]} />);
    expect(screen.getByText(/^SA expires at 8 h · rekey at 6\.9 h$/)).toBeTruthy();
    expect(screen.getByText("lifetime unknown")).toBeTruthy();
    expect(screen.getByText("SA expires at 1 h · margin unknown")).toBeTruthy();
    expect(screen.queryByRole("button")).toBeNull();
  });
});

describe("the ladder", () => {
  const message = (number: number, from: string, more: object = {}) => ({
    number,
    from,
    name: number < 3 ? "IKE_SA_INIT request" : "IKE_AUTH request",
    carries: says(`carries ${number}`),
    decides: null,
    ifFixed: false,
    ...more,
  });
  const side = (stops: object[], exchanges: object[]) =>
    ({
      title: says("A begins"),
      initiator: "A",
      outcome: stops.length ? "stops" : "up",
      stops,
      exchanges,
    }) as unknown as Contract["RehearsedSide"];
  const ends = [
    { end: "A", site: "Churn" },
    { end: "B", site: "Ashlow" },
  ] as unknown as Contract["EndPage"][];

  it("has a rung for each message, and no gap where nothing refuses", () => {
    const { container } = shown(<Ladder side={side([], [message(1, "A"), message(2, "B")])} a={ends[0]} b={ends[1]} />);
    expect(screen.getByText("1 · IKE_SA_INIT: carries 1")).toBeTruthy();
    expect(container.querySelector(".stopped")).toBeNull();
  });

  it("says at the gap which end refuses, with what notify, and what lies beyond as if fixed", () => {
    const stop = {
      exchange: 2,
      refusedBy: "B",
      kind: "refused",
      notify: "NO_PROPOSAL_CHOSEN",
      code: "PAIR-01",
      why: says("B accepts none of A's proposals."),
      pairs: [],
    };
    const { container } = shown(
      <Ladder
        side={side([stop], [message(1, "A"), message(2, "B"), message(3, "A", { ifFixed: true })])}
        a={ends[0]}
        b={ends[1]}
      />,
    );
    expect(container.querySelectorAll(".stopped").length).toBe(1);
    expect(container.querySelector(".stopped")?.textContent).toContain("Stops here. B refuses.");
    expect(container.querySelector(".stopped code")?.textContent).toBe("NO_PROPOSAL_CHOSEN");
    expect(screen.getByText("3 · if fixed: IKE_AUTH: carries 3")).toBeTruthy();
    expect(screen.getByRole("group").getAttribute("aria-label")).toBe(
      "A begins: stops. B accepts none of A's proposals.",
    );
  });

  it("says of silence that the end does not respond", () => {
    const stop = {
      exchange: 1,
      refusedBy: null,
      kind: "no response",
      notify: "no response",
      code: "ADR-01",
      why: says("B is not reached."),
      pairs: [],
    };
    const { container } = shown(<Ladder side={side([stop], [message(1, "A")])} a={ends[0]} b={ends[1]} />);
    expect(container.querySelector(".stopped")?.textContent).toContain("B does not respond.");
    expect(container.querySelector(".stopped code")).toBeNull();
  });
});
