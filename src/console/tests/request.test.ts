import { describe, expect, it } from "vitest";
import { list, requestOf, type Asked, type Sentence } from "../src/change/request";

const asked = (kind: string, said: Sentence = {}, more: Partial<Asked> = {}): Asked => ({
  kind,
  code: "BRI-ASHLOW",
  reason: "the cold store",
  start: "",
  minutes: "60",
  end: "A",
  said,
  left: [],
  others: ["10.62.0.0/24", "10.62.1.0/24"],
  ...more,
});

describe("what the drafting form says", () => {
  it.each([
    ["10.0.0.0/24 10.0.1.0/24", ["10.0.0.0/24", "10.0.1.0/24"]],
    [" 10.0.0.0/24,\n10.0.1.0/24 ;", ["10.0.0.0/24", "10.0.1.0/24"]],
    ["", []],
  ])("reads %j as a list however it is parted", (text, parts) => expect(list(text)).toEqual(parts));

  it("has no window unless one begins, whatever its minutes are", () => {
    const without = requestOf(asked("rekey", {}, { minutes: "45" }));
    expect([without.windowStart, without.windowMinutes]).toEqual([null, null]);
    const within = requestOf(asked("rekey", {}, { start: "2026-12-03T22:00", minutes: "45" }));
    expect([within.windowStart, within.windowMinutes]).toEqual(["2026-12-03T22:00:00Z", 45]);
  });

  it("asks for all of the other side unless some of it was left out", () => {
    expect(requestOf(asked("subnets", { add: "10.61.40.0/24" })).reach).toBeNull();
    const some = requestOf(asked("subnets", { add: "10.61.40.0/24" }, { left: ["10.62.1.0/24"] }));
    expect(some.reach).toEqual(["10.62.0.0/24"]);
  });

  it("takes both sides of a tunnel and further tunnels in one request", () => {
    const request = requestOf(
      asked(
        "subnets",
        { add: "10.61.40.0/24", remove: "10.61.9.0/24", addOther: "10.62.9.0/24", removeOther: "", also: "BRI-PETHER" },
        { end: "B" },
      ),
    );
    expect(request).toMatchObject({
      tunnel: "BRI-ASHLOW",
      end: "B",
      add: ["10.61.40.0/24"],
      remove: ["10.61.9.0/24"],
      addOther: ["10.62.9.0/24"],
      removeOther: [],
      also: ["BRI-PETHER"],
    });
  });

  it.each([
    ["rekey", { also: "BRI-PETHER" }, { tunnel: "BRI-ASHLOW", also: ["BRI-PETHER"] }],
    ["strengthen", { suite: " sound@1 " }, { tunnel: "BRI-ASHLOW", suite: "sound@1" }],
    ["strengthen", { suite: "  " }, { suite: null }],
    ["retire", {}, { tunnel: "BRI-ASHLOW", kind: "retire" }],
    ["new tunnel", {}, { tunnel: "BRI-ASHLOW", kind: "new tunnel" }],
  ])("%s is about the tunnel, with what was said: %j", (kind, said, request) =>
    expect(requestOf(asked(kind, said as Sentence))).toMatchObject(request),
  );

  it.each([
    [
      "replace platform",
      { platform: "alderquay-major@1", beside: "" },
      { platform: "alderquay-major@1", beside: null },
    ],
    ["replace platform", { platform: "x@1", beside: "192.0.2.9" }, { beside: "192.0.2.9" }],
    ["address move", { address: "192.0.2.7", uplink: "" }, { address: "192.0.2.7", uplink: null }],
    ["address move", { address: "192.0.2.7", uplink: "fibre" }, { uplink: "fibre" }],
  ])("%s is about the gateway and no tunnel: %j", (kind, said, request) => {
    const made = requestOf(asked(kind, said as unknown as Sentence, { code: "churn-gw1" }));
    expect(made).toMatchObject({ ...request, gateway: "churn-gw1" });
    expect(made.tunnel).toBeNull();
  });

  it("takes a step a line, its part and its place first, and no empty line", () => {
    const steps = requestOf(asked("free", { steps: "build B Fit the spare  supply\n\n prove us Ask the depot" })).steps;
    expect(steps?.map((s) => [s.part, s.where, s.do])).toEqual([
      ["build", "B", "Fit the spare supply"],
      ["prove", "us", "Ask the depot"],
    ]);
  });

  it("names a tunnel that is not there yet alone, between two gateways", () => {
    const request = requestOf(
      asked("new", {
        newCode: "THR-PLATES-3",
        gatewayA: "thr-gw",
        gatewayB: "plates-gw",
        pairs: "10.50.0.0/24 - 10.51.0.0/24\n10.50.1.0/24 - 10.51.0.0/24\n",
      }),
    );
    expect([request.kind, request.tunnel]).toEqual(["new tunnel", null]);
    expect(request.new).toMatchObject({
      code: "THR-PLATES-3",
      name: null,
      customer: null,
      uplinkA: null,
      pairs: ["10.50.0.0/24 - 10.51.0.0/24", "10.50.1.0/24 - 10.51.0.0/24"],
    });
  });

  it("says nothing of another kind that was typed before the kind was chosen", () => {
    const request = requestOf(asked("rekey", { add: "10.61.40.0/24", suite: "sound@1", platform: "x@1" }));
    expect([request.add, request.suite, request.platform]).toEqual([null, undefined, undefined]);
  });
});
