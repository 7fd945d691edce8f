import { cleanup, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { Route, Routes } from "react-router";
import { afterEach, describe, expect, it } from "vitest";
import { GatewaysRoute } from "../src/places/GatewaysRoute";
import { PlatformRoute, PlatformsRoute, SuiteRoute } from "../src/platforms/PlatformRoutes";
import { OffersRoute, SiteRoute } from "../src/sites/SiteRoutes";
import { SitesRoute } from "../src/sites/SitesRoute";
import { answering, refused, says, shown } from "./asking";

afterEach(cleanup);

const engineer = { name: "ines", roles: ["engineer"], allCustomers: true };
const reader = { name: "bram", roles: ["reader"], allCustomers: true };
const at = (path: string, element: React.ReactNode, address: string) =>
  shown(
    <Routes>
      <Route path={path} element={element} />
    </Routes>,
    address,
  );

describe("lists of places", () => {
  const site = (code: string) => ({ code, name: `Site ${code}`, state: null });

  it("go on where there is more, for one customer as for all", async () => {
    const asked = answering({
      "GET /api/v1/session": engineer,
      "GET /api/v1/sites": { items: [site("BRI-CHURN")], cursor: "BRI-CHURN" },
    });
    shown(<SitesRoute />, "/sites?customer=BRI");
    await screen.findByRole("heading", { name: "Sites of BRI" });
    expect(await screen.findByText("1 and more")).toBeTruthy();
    await waitFor(() => expect(asked.some((a) => a.path === "/api/v1/sites?customer=BRI&cursor=BRI-CHURN")).toBe(true));
  });

  it("of standing offers go on as well", async () => {
    const asked = answering({
      "GET /api/v1/session": engineer,
      "GET /api/v1/offers": { items: [{ code: "SKE-PARTNERS", name: "Partners", state: null }], cursor: "SKE" },
    });
    shown(<OffersRoute />);
    await userEvent.click(await screen.findByRole("button", { name: "Show more" }));
    await waitFor(() => expect(asked.some((a) => a.path === "/api/v1/offers?cursor=SKE")).toBe(true));
  });

  it("offer to add one to whoever may", async () => {
    const sites = { items: [site("BRI-CHURN")], cursor: null };
    answering({ "GET /api/v1/session": engineer, "GET /api/v1/sites": sites });
    shown(<SitesRoute />);
    expect((await screen.findByRole("link", { name: "Add a site" })).getAttribute("href")).toBe("/new/sites");
    cleanup();
    answering({ "GET /api/v1/session": reader, "GET /api/v1/sites": sites });
    shown(<SitesRoute />);
    await screen.findByText("BRI-CHURN");
    expect(screen.queryByRole("link", { name: "Add a site" })).toBeNull();
  });

  it("of gateways say how many tunnels of each are blocked", async () => {
    const gateway = (code: string, blocked: number) => ({
      code,
      site: "Churn House",
      customer: "BRI",
      outer: "198.51.100.10",
      platform: "Alderquay Major",
      tunnels: 5,
      blocked,
    });
    answering({
      "GET /api/v1/session": engineer,
      "GET /api/v1/gateways": { items: [gateway("churn-gw1", 2), gateway("mill-gw", 0)], cursor: null },
    });
    shown(<GatewaysRoute />);
    const row = (await screen.findByText("churn-gw1")).closest("tr")!;
    expect(within(row).getByText("2").className).toBe("stops");
    expect(screen.getByText("mill-gw").closest("tr")!.querySelector(".stops")).toBeNull();
  });

  it("tell what the service says when it does not respond", async () => {
    answering({ "GET /api/v1/session": engineer, "GET /api/v1/sites": refused(503, "The database does not answer.") });
    shown(<SitesRoute />);
    expect((await screen.findByRole("alert")).textContent).toContain("The database does not answer.");
  });
});

describe("a site", () => {
  const network = (prefix: string, more: object = {}) => ({
    prefix,
    presentedAs: null,
    name: "lan",
    purpose: null,
    carried: [],
    testPoints: [],
    ...more,
  });
  const page = (more: object = {}) => ({
    code: "BRI-CHURN",
    name: "Churn House",
    customer: "BRI",
    customerName: "Brindlecombe Dairies",
    timeZone: "Europe/London",
    retired: null,
    verdict: [{ tone: "plain", says: says("Four tunnels end here.") }],
    notes: null,
    networks: [],
    gateways: [],
    tunnels: [],
    tunnelsInAll: 0,
    ...more,
  });
  const open = (of: object) => {
    answering({
      "GET /api/v1/session": engineer,
      "GET /api/v1/sites/BRI-CHURN": of,
      "GET /api/v1/records/sites/BRI-CHURN/history": [],
    });
    at("/sites/:code", <SiteRoute />, "/sites/BRI-CHURN");
  };

  it("says of each network which tunnels carry it, at which of their ends, and as what", async () => {
    open(
      page({
        networks: [
          network("10.61.0.0/24", {
            carried: [
              { tunnel: "BRI-ASHLOW", end: "A" },
              { tunnel: "QUI-BRI", end: "B" },
            ],
            testPoints: [{ address: "10.61.0.20", service: "ping", confirmedBy: "the shift lead" }],
          }),
          network("10.90.0.0/25", { presentedAs: "10.93.0.0/25" }),
        ],
      }),
    );
    const carried = (await screen.findByText("10.61.0.0/24")).closest("tr")!;
    expect(carried.textContent).toContain("BRI-ASHLOW as end A");
    expect(carried.textContent).toContain("QUI-BRI as end B");
    expect(carried.textContent).toContain("10.61.0.20 ping, ask the shift lead");
    expect(carried.textContent).toContain("unchanged");
    const translated = screen.getByText("10.90.0.0/25").closest("tr")!;
    expect(translated.textContent).toContain("10.93.0.0/25");
    expect(translated.textContent).toContain("no tunnel");
  });

  it("says that nothing is recorded where nothing is", async () => {
    open(page());
    expect(await screen.findByText("No network is recorded.")).toBeTruthy();
    expect(screen.getByText("No gateways.")).toBeTruthy();
    expect(screen.getByText("Four tunnels end here.")).toBeTruthy();
  });
});

describe("platforms", () => {
  const summary = (code: string, more: object = {}) => ({
    code,
    name: code.toUpperCase(),
    family: "router",
    ikeVersions: ["IKEv2"],
    gateways: 3,
    supportEnds: null,
    unknown: 0,
    ...more,
  });
  const common = (more: object = {}) => ({
    a: "ONE",
    b: "TWO",
    version: "IKEv2",
    bothSpeak: true,
    ike: [],
    esp: [],
    groups: [],
    notCommon: [],
    unknown: [],
    ...more,
  });

  it("are compared two by two, the pair standing in the address", async () => {
    const asked = answering({
      "GET /api/v1/session": reader,
      "GET /api/v1/platforms": [summary("one"), summary("two", { unknown: 3 }), summary("none", { ikeVersions: [] })],
      "GET /api/v1/calc/common": common(),
    });
    shown(<PlatformsRoute />, "/platforms");
    expect(await screen.findByText("Nothing, according to the two profiles.")).toBeTruthy();
    // Those that say nothing are not offered first.
    expect(asked.some((a) => a.path === "/api/v1/calc/common?a=one&b=two&version=IKEv2")).toBe(true);
    expect(screen.getByRole("link", { name: "TWO" }).closest("tr")!.textContent).toContain("3 things");
    await userEvent.selectOptions(screen.getByLabelText("Under"), "IKEv1");
    await waitFor(() => expect(screen.getByTestId("where").textContent).toBe("/platforms?ike=IKEv1"));
  });

  it("that do not speak one version are told to have none", async () => {
    answering({
      "GET /api/v1/session": reader,
      "GET /api/v1/platforms": [summary("one"), summary("two")],
      "GET /api/v1/calc/common": common({ bothSpeak: false }),
    });
    shown(<PlatformsRoute />, "/platforms");
    expect(await screen.findByText("ONE and TWO do not both speak IKEv2.")).toBeTruthy();
  });

  it("say what results are left open by, and how many gateways there are beyond those named", async () => {
    answering({
      "GET /api/v1/session": reader,
      "GET /api/v1/platforms/one": {
        ...summary("one"),
        silent: ["its retransmission schedule", "what is manual"],
        can: [{ what: "IKE versions", value: "IKEv2" }],
        does: [],
        defaults: [],
        gateways: ["a-gw", "b-gw"],
        gatewaysInAll: 900,
        notes: null,
      },
    });
    at("/platforms/:code", <PlatformRoute />, "/platforms/one");
    expect(await screen.findByText(/does not say its retransmission schedule; what is manual/)).toBeTruthy();
    expect(screen.getByText(/The first 2 of 900/)).toBeTruthy();
    expect(screen.getByRole("heading", { name: "Can" })).toBeTruthy();
    expect(screen.queryByRole("heading", { name: "Does" })).toBeNull();
  });

  it("a suite says how many tunnels use it, not how many are named", async () => {
    answering({
      "GET /api/v1/session": reader,
      "GET /api/v1/suites/BRI-STANDARD%403": {
        code: "BRI-STANDARD@3",
        about: "as agreed in spring",
        ike: [
          { proposal: "AES-128-CBC + HMAC-SHA1-96 + DH 2", layer: "IKE", bits: 0, weakest: "DH 2", word: "MUST NOT" },
        ],
        esp: [],
        settings: [],
        tunnels: [],
        tunnelsInAll: 612,
      },
    });
    at("/suites/:code", <SuiteRoute />, "/suites/BRI-STANDARD@3");
    expect(await screen.findByText("used by 612 tunnels")).toBeTruthy();
    const grade = screen.getByText("MUST NOT");
    expect(grade.className).toContain("stops");
    expect(grade.closest("tr")!.textContent).toContain("< 80");
    expect(screen.getByText("ESP: none, as far as is said.")).toBeTruthy();
  });
});
