import { describe, expect, it } from "vitest";
import { blank, isEnough, requestOf, type About, type Kind, type Said } from "../src/change/request";

const about: About = {
  code: "BRI-ASHLOW",
  behind: { A: ["10.61.0.0/24"], B: ["10.62.0.0/24", "10.62.1.0/24"] },
  zones: { A: "Europe/London", B: "Europe/Paris" },
};
const said = (kind: Kind, more: Partial<Said> = {}): Said => ({ ...blank, kind, reason: "the cold store", ...more });

describe("what the drafting form says", () => {
  it("has no window unless one begins, whatever its minutes are", () => {
    const without = requestOf(said("rekey", { minutes: 45 }), about);
    expect([without.windowLocalStart, without.windowMinutes, without.windowZone]).toEqual([null, null, null]);
  });

  it.each([
    ["A", "Europe/London"],
    ["B", "Europe/Paris"],
    ["UTC", "Etc/UTC"],
  ] as const)("has its window by the clock of %s: %s", (clock, zone) => {
    const within = requestOf(said("rekey", { start: "2026-12-03T22:00", minutes: 45, clock }), about);
    expect(within).toMatchObject({ windowLocalStart: "2026-12-03T22:00", windowZone: zone, windowMinutes: 45 });
  });

  it("asks for all of the other side unless some of it was left out", () => {
    expect(requestOf(said("subnets", { add: ["10.61.40.0/24"] }), about)).toMatchObject({ reach: null });
    const some = requestOf(said("subnets", { add: ["10.61.40.0/24"], left: ["10.62.1.0/24"] }), about);
    expect(some).toMatchObject({ reach: ["10.62.0.0/24"] });
    const other = requestOf(said("subnets", { end: "B", add: ["10.62.9.0/24"], left: ["10.61.0.0/24"] }), about);
    expect(other).toMatchObject({ reach: [] });
  });

  it("takes both sides of a tunnel and further tunnels in one request", () => {
    const lists = { remove: ["10.61.9.0/24"], addOther: ["10.62.9.0/24"], also: ["BRI-PETHER"] };
    expect(requestOf(said("subnets", { ...lists, end: "B", add: ["10.61.40.0/24"] }), about)).toMatchObject({
      tunnel: "BRI-ASHLOW",
      end: "B",
      add: ["10.61.40.0/24"],
      removeOther: [],
      ...lists,
    });
  });

  it.each([
    ["rekey", { also: ["BRI-PETHER"] }, { tunnel: "BRI-ASHLOW", also: ["BRI-PETHER"] }],
    ["strengthen", { suite: " sound@1 " }, { tunnel: "BRI-ASHLOW", suite: "sound@1" }],
    ["strengthen", { suite: "  " }, { suite: null }],
    ["retire", {}, { tunnel: "BRI-ASHLOW", kind: "retire" }],
    ["new tunnel", {}, { tunnel: "BRI-ASHLOW", kind: "new tunnel" }],
  ] as const)("%s is about the tunnel, with what was said: %j", (kind, more, request) =>
    expect(requestOf(said(kind, more as Partial<Said>), about)).toMatchObject(request),
  );

  it.each([
    ["replace platform", { platform: "alderquay-major@1" }, { platform: "alderquay-major@1", beside: null }],
    ["replace platform", { platform: "x@1", beside: "192.0.2.9" }, { beside: "192.0.2.9" }],
    ["address move", { address: "192.0.2.7" }, { address: "192.0.2.7", uplink: null }],
    ["address move", { address: "192.0.2.7", uplink: "fibre" }, { uplink: "fibre" }],
  ] as const)("%s is about the gateway and no tunnel: %j", (kind, more, request) => {
    const made = requestOf(said(kind, more), { ...about, code: "churn-gw1" });
    expect(made).toMatchObject({ ...request, gateway: "churn-gw1" });
    expect(made).not.toHaveProperty("tunnel");
  });

  it("takes the steps that say something, in their order", () => {
    const step = (part: string, where: string, what: string) => ({
      part,
      where,
      do: what,
      minutes: null,
      stops: null,
      undo: null,
    });
    const steps = [step("build", "B", "Fit the spare"), step("build", "B", "  "), step("prove", "us", "Ask the depot")];
    expect(requestOf(said("free", { steps }), about)).toMatchObject({
      steps: [{ do: "Fit the spare" }, { do: "Ask the depot" }],
    });
  });

  it("names a tunnel that is not there yet alone, between two gateways", () => {
    const pairs = [{ a: "10.50.0.0/24", b: "10.51.0.0/24" }];
    const request = requestOf(
      said("new", { newCode: "THR-PLATES-3", gatewayA: "thr-gw", gatewayB: "plates-gw", pairs }),
      about,
    );
    expect(request).not.toHaveProperty("tunnel");
    expect(request).toMatchObject({
      kind: "new tunnel",
      new: {
        code: "THR-PLATES-3",
        name: null,
        customer: null,
        uplinkA: null,
        pairs: ["10.50.0.0/24 - 10.51.0.0/24"],
      },
    });
  });

  it("says nothing of another kind that was entered before the kind was chosen", () => {
    const request = requestOf(said("rekey", { add: ["10.61.40.0/24"], suite: "sound@1", platform: "x@1" }), about);
    expect(Object.keys(request)).not.toContain("add");
    expect(Object.keys(request)).not.toContain("suite");
    expect(Object.keys(request)).not.toContain("platform");
  });

  it.each([
    ["subnets", {}, false],
    ["subnets", { removeOther: ["10.62.1.0/24"] }, true],
    ["rekey", {}, true],
    ["replace platform", {}, false],
    ["address move", { address: "192.0.2.7" }, true],
    ["free", { steps: [] }, false],
    ["new", { gatewayA: "a", gatewayB: "b", newCode: "X-1" }, false],
    ["new", { gatewayA: "a", gatewayB: "b", newCode: "X-1", pairs: [{ a: "x", b: "y" }] }, true],
  ] as const)("%s with %j is enough to look: %s", (kind, more, enough) =>
    expect(isEnough(said(kind, more as Partial<Said>))).toBe(enough),
  );
});
