import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { Contract } from "../src/service/api";
import { CalculationsRoute } from "../src/calculations/CalculationsRoute";
import { Ladder } from "../src/tunnel/Ladder";
import { span, Timeline } from "../src/tunnel/Timeline";
import { answering, refused, says, shown } from "./asking";

afterEach(cleanup);

const end = (name: string, site: string) => ({ end: name, site }) as Contract["EndPage"];
const message = (number: number, from: string, more: object = {}) => ({
  number,
  name: number === 1 ? "IKE_SA_INIT request" : "quick mode 1",
  from,
  carries: says(`message ${number}`),
  decides: null,
  ifFixed: false,
  ...more,
});
const side = (more: object = {}) =>
  ({
    initiator: "B",
    title: says("B initiates, IKEv2"),
    outcome: "down",
    exchanges: [message(1, "B"), message(2, "A"), message(3, "B", { ifFixed: true })],
    stops: [],
    ...more,
  }) as unknown as Contract["RehearsedSide"];
const stop = (more: object = {}) => ({
  exchange: 2,
  exchangeName: "",
  refusedBy: "A",
  kind: "refused",
  notify: "NO_PROPOSAL_CHOSEN",
  code: "PAIR-03",
  rowKey: null,
  why: says("Nothing in common."),
  pairs: [],
  ...more,
});
const drawn = (of: Contract["RehearsedSide"]) =>
  shown(<Ladder side={of} a={end("A", "Churn House")} b={end("B", "Ashlow")} />);

describe("the ladder", () => {
  it("stands whoever starts on the left, and each message points at whom it is for", () => {
    drawn(side());
    const sites = [...document.querySelectorAll("text.site")].map((t) => [t.textContent, t.getAttribute("x")]);
    expect(sites).toEqual([
      ["B Ashlow", "0"],
      ["A Churn House", "740"],
    ]);
    const tips = [...document.querySelectorAll('path[fill="var(--ink)"]')].map((p) => p.getAttribute("d")!);
    expect(tips[0]).toMatch(/^M691 .*l-9/);
    expect(tips[1]).toMatch(/^M49 .*l9/);
  });

  it("names the exchange of IKEv2, and what lies beyond the stop as supposed", () => {
    drawn(side({ stops: [stop()] }));
    const lines = [...document.querySelectorAll('text[text-anchor="middle"]')].map((t) => t.textContent);
    expect(lines).toEqual(["1 · IKE_SA_INIT: message 1", "2 · message 2", "3 · if fixed: message 3"]);
    expect(document.querySelectorAll('path[stroke-dasharray="0.1 6"]').length).toBeGreaterThan(0);
  });

  it("breaks the line at the end that refuses, with the notify, the code and the reason", () => {
    drawn(side({ stops: [stop()] }));
    const box = document.querySelector("foreignObject")!;
    expect(box.textContent).toContain("A refuses");
    expect(box.textContent).toContain("NO_PROPOSAL_CHOSEN");
    expect(box.textContent).toContain("PAIR-03");
    expect(box.textContent).toContain("Nothing in common.");
  });

  it("says who does not answer where nothing comes back, and shows no notify", () => {
    drawn(side({ stops: [stop({ exchange: 1, refusedBy: null, kind: "no response", notify: "no response" })] }));
    const box = document.querySelector("foreignObject")!;
    expect(box.textContent).toContain("A does not respond");
    expect(box.querySelector("code")).toBeNull();
  });

  it("is read out with its outcome and every reason", () => {
    drawn(side({ stops: [stop(), stop({ exchange: 0, why: says("B responds only.") })] }));
    expect(screen.getByRole("group").getAttribute("aria-label")).toBe(
      "B initiates, IKEv2: down. Nothing in common. B responds only.",
    );
    // What happens before the first message has no rung.
    expect(document.querySelectorAll("foreignObject")).toHaveLength(1);
  });
});

describe("the hours after", () => {
  it.each([
    [59, "59 s"],
    [90, "90 s"],
    [120, "2 min"],
    [3600, "1 h"],
    [5400, "90 min"],
    [9000, "2.5 h"],
    [86400, "24 h"],
    [172800, "2 d"],
  ])("say %i seconds as %s", (seconds, text) => expect(span(seconds)).toBe(text));

  const times = (more: object = {}) =>
    ({
      length: 86400,
      lives: [
        { end: "A", layer: "ESP", rekeysFrom: 2880, rekeysTo: 2880, drops: 3600 },
        { end: "B", layer: "ESP", rekeysFrom: null, rekeysTo: null, drops: null },
      ],
      marks: [],
      notes: [],
      ...more,
    }) as Contract["TimelinePage"];
  const mark = (kind: string, from: number, to: number, more: object = {}) => ({
    kind,
    layer: "ESP",
    by: "A",
    from,
    to,
    ...more,
  });

  it("tell of each end when it rekeys and ends, or that it is not known", () => {
    shown(<Timeline t={times()} />);
    const box = [...document.querySelectorAll("text.onground")].map((t) => t.textContent);
    expect(box).toEqual(["SA expires at 1 h · rekey at 48 min", "lifetime unknown"]);
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("open on the moment that something is lost, and are shown whole on request", async () => {
    const marks = [mark("rekey refused", 2880, 2880), mark("lost", 3600, 3600)];
    shown(<Timeline t={times({ marks })} />);
    const lost = () => [...document.querySelectorAll("text.tstops")].map((t) => t.textContent);
    expect(lost()).toEqual(["drops at 1 h", "refused 48 min"]);
    const drawnTo = () =>
      Number(document.querySelectorAll('path[stroke="var(--ink)"]')[1].getAttribute("d")!.split("H")[1]);
    const near = drawnTo();
    await userEvent.click(screen.getByRole("button", { name: "show all 24 h" }));
    expect(drawnTo()).toBeLessThan(near);
    expect(screen.getByRole("button", { name: "show the first 2.5 h" })).toBeTruthy();
  });

  it("are read out with what happens first", () => {
    shown(<Timeline t={times({ marks: [mark("rekey", 2880, 3000), mark("rekey", 6000, 6000, { by: "B" })] })} />);
    expect(screen.getByRole("img").getAttribute("aria-label")).toBe(
      "Rekeys over 24 h. ESP rekey by A at 48 min to 50 min, ESP rekey by B at 100 min",
    );
  });
});

describe("calculations", () => {
  const packet = {
    linkMtu: 1500,
    terms: [
      { what: "outer IPv4 header", octets: 20 },
      { what: "ESP header", octets: 8 },
    ],
    left: 1472,
    alignment: 16,
    aligned: 1472,
    inside: [],
    inner: 1470,
    mssIPv4: 1430,
    mssIPv6: 1410,
    note: null,
  };

  it("show the working, and ask again once a field is left", async () => {
    const asked = answering({ "GET /api/v1/calc/packet": packet });
    shown(<CalculationsRoute />, "/calculations");
    expect(await screen.findByText("rounded down to whole blocks of 16")).toBeTruthy();
    const rows = screen.getAllByRole("row").map((r) => r.textContent);
    expect(rows).toEqual([
      "1500link MTU",
      "−20outer IPv4 header",
      "−8ESP header",
      "=1472left for the encrypted part",
      "=1472rounded down to whole blocks of 16",
      "−2trailer",
      "=1470largest inner packet",
    ]);
    const mtu = screen.getByLabelText(/Link MTU/);
    await userEvent.clear(mtu);
    await userEvent.type(mtu, "1400");
    expect(asked).toHaveLength(1);
    fireEvent.blur(mtu);
    await waitFor(() => expect(asked.at(-1)?.path).toContain("mtu=1400"));
    expect(screen.getByTestId("where").textContent).toBe("/calculations?mtu=1400");
  });

  it("have their answer in the address, so that it can be sent to somebody", async () => {
    const asked = answering({
      "GET /api/v1/calc/prefix/free": { did: "free", prefixes: [], result: [], working: ["no place"] },
    });
    shown(<CalculationsRoute />, "/calculations?calc=prefix&do=free&prefix=10.61.0.0/24&of=10.61.0.0/24&length=26");
    expect(await screen.findByText("None.")).toBeTruthy();
    expect(asked[0].path).toBe("/api/v1/calc/prefix/free?prefix=10.61.0.0%2F24&less=10.61.0.0%2F24&length=26");
  });

  it("read a bare number in every unit and take it for none", async () => {
    answering({
      "GET /api/v1/calc/lifetime": {
        typed: "28800",
        seconds: null,
        readings: [
          { unit: "seconds", reads: "8 hours", seconds: 28800 },
          { unit: "minutes", reads: "20 days", seconds: 1728000 },
        ],
      },
    });
    shown(<CalculationsRoute />, "/calculations?calc=lifetime&time=28800");
    expect(await screen.findByText(/has no unit/)).toBeTruthy();
    expect(screen.getAllByRole("row").map((r) => r.textContent)).toEqual([
      "seconds8 hours28800 s",
      "minutes20 days1728000 s",
    ]);
  });

  it("refuse in the service's words", async () => {
    answering({ "GET /api/v1/calc/grade": refused(422, "'ROT-13' is not an algorithm that is known here.") });
    shown(<CalculationsRoute />, "/calculations?calc=grade&proposal=ROT-13");
    expect((await screen.findByRole("alert")).textContent).toContain("ROT-13");
  });

  it("start afresh when another is chosen", async () => {
    answering({
      "GET /api/v1/calc/packet": packet,
      "GET /api/v1/calc/detect": { dpd: "x", version: "IKEv2", schedule: null, seconds: null, working: "unknown" },
    });
    shown(<CalculationsRoute />, "/calculations?mtu=1400");
    await userEvent.click(screen.getByRole("link", { name: "Failure detection" }));
    expect(await screen.findByText("Undetermined when a dead peer is detected.")).toBeTruthy();
    expect(screen.getByTestId("where").textContent).toBe("/calculations?calc=detect");
  });
});
