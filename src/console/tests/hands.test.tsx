import { cleanup, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { TunnelPage } from "../src/service/api";
import { OverTime } from "../src/findings/OverTime";
import { Shown } from "../src/imports/Shown";
import { List } from "../src/parts/controls/List";
import { Tabs } from "../src/parts/controls/Tabs";
import { OneByOne } from "../src/parts/OneByOne";
import { PartsRoute } from "../src/gallery/PartsRoute";
import type { FieldInfo } from "../src/records/form";
import { LeftUnknown, StartFrom } from "../src/records/StartFrom";
import { UplinksDrawn } from "../src/records/UplinksDrawn";
import { SearchRoute } from "../src/search/SearchRoute";
import { Crossing } from "../src/drawn/Crossing";
import { PairGrid } from "../src/tunnel/PairGrid";
import { answering, shown } from "./asking";

beforeEach(() => localStorage.clear());
afterEach(cleanup);

describe("one act on several", () => {
  const items = ["QUI-OTT", "BRI-MILK", "TID-PUMP"];
  const Several = ({ act }: { act: (item: string) => Promise<string> }) => (
    <OneByOne
      title="Confirm 3 tunnels"
      items={items}
      nameOf={(i) => i}
      placeOf={(i) => `/tunnels/${i}`}
      act={act}
      verb="Confirm"
      ready
      onDone={() => {}}
    >
      {null}
    </OneByOne>
  );
  const outcomes = () => screen.getAllByRole("listitem").map((li) => li.textContent);

  it("says what became of each, and goes on after one that was refused", async () => {
    const act = async (item: string) => {
      if (item === "BRI-MILK") throw new Error("tomas wrote BRI-MILK meanwhile");
      return "confirmed";
    };
    shown(<Several act={act} />);
    await userEvent.click(screen.getByRole("button", { name: "Confirm 3" }));
    await waitFor(() =>
      expect(outcomes()).toEqual([
        "QUI-OTT confirmed",
        "BRI-MILK tomas wrote BRI-MILK meanwhile",
        "TID-PUMP confirmed",
      ]),
    );
  });

  it("tries again only what was refused", async () => {
    const asked: string[] = [];
    const act = async (item: string) => {
      asked.push(item);
      if (item === "BRI-MILK" && asked.length < 4) throw new Error("busy");
      return "confirmed";
    };
    shown(<Several act={act} />);
    await userEvent.click(screen.getByRole("button", { name: "Confirm 3" }));
    await userEvent.click(await screen.findByRole("button", { name: "Confirm 1" }));
    await screen.findByRole("button", { name: "Close" });
    expect(asked).toEqual([...items, "BRI-MILK"]);
    expect(screen.queryByRole("alert")).toBeNull();
  });
});

describe("selecting all of a list", () => {
  it("means all that match, also those that were not read yet", async () => {
    let rows = [{ code: "A-1" }, { code: "A-2" }];
    let more = true;
    const Part = () => (
      <List
        name="few"
        label="Few"
        rows={rows}
        keyOf={(r) => r.code}
        columns={[{ id: "code", head: "Code", cell: (r) => r.code }]}
        acts={(selected) => <span>{selected.map((r) => r.code).join(" ")}</span>}
        hasMore={more}
        more={() => {
          if (!more) return;
          rows = [...rows, { code: "A-3" }];
          more = false;
        }}
      />
    );
    const { again } = shown(<Part />);
    await userEvent.click(screen.getByLabelText("Select all"));
    again(<Part />);
    await waitFor(() => expect(screen.getByText("A-1 A-2 A-3")).toBeTruthy());
  });
});

describe("a gateway that is filled in", () => {
  const drawn = (uplinks: object[]) => {
    shown(<UplinksDrawn form={{ code: "ashlow-gw", uplinks } as never} />);
    return screen.getByRole("img").getAttribute("aria-label");
  };

  it("is drawn with what translates its address", () => {
    expect(drawn([{ label: "dsl", address: "192.168.7.2", nat: { kind: "1:1", publicAddress: "203.0.113.77" } }])).toBe(
      "Uplinks of ashlow-gw: dsl 192.168.7.2 behind 1:1, seen as 203.0.113.77",
    );
  });

  it("shows what is pending and what nobody has entered yet", () => {
    expect(drawn([{ label: "fibre", address: { pending: "the carrier", by: "2026-12-05" } }, { nat: {} }])).toBe(
      "Uplinks of ashlow-gw: fibre pending; uplink no address yet behind NAT, seen as unknown",
    );
  });
});

describe("a platform profile", () => {
  const field = (key: string, more: Partial<FieldInfo> = {}) =>
    ({ key, shape: "text", inside: [], words: [], ...more }) as unknown as FieldInfo;

  it("counts what it leaves unknown", () => {
    const fields = [
      field("code"),
      field("encryption"),
      field("savedSeparately"),
      field("heardOfLater"),
      field("defaults", { shape: "map", inside: [field("pfs"), field("dpd")] }),
    ];
    shown(
      <LeftUnknown fields={fields} form={{ code: "x", encryption: ["AES-256-CBC"], defaults: { pfs: "refused" } }} />,
    );
    expect(screen.getByRole("status").textContent).toBe(
      "2 of 3 abilities are unknown, and 1 of 2 defaults. What is unknown is never taken to be no.",
    );
    expect(screen.getAllByRole("listitem").map((li) => li.textContent)).toEqual([
      "IKE nothing unknown",
      "Algorithms and proposals nothing unknown",
      "Authentication and identities nothing unknown",
      "Subnets and child SAs nothing unknown",
      "Lifetimes and rekeys nothing unknown",
      // A field that no part names stands with the work on the device.
      "Working on it 2 unknown",
      "What a change interrupts nothing unknown",
    ]);
  });

  it("starts from one that is there without its code and its name, and keeps what was typed", async () => {
    answering({
      "GET /api/v1/choices/platforms": {
        items: [{ code: "teasel-minor@1", name: "Teasel Minor", detail: "" }],
        more: false,
      },
      "GET /api/v1/platforms/teasel-minor%401/form": {
        form: {
          code: "teasel-minor",
          version: "1",
          name: "Teasel Minor",
          family: "small router",
          forms: ["policy-based"],
        },
      },
    });
    let form: object = {};
    shown(<StartFrom form={{ family: "typed" }} set={(f) => (form = f)} />);
    await userEvent.type(screen.getByRole("combobox"), "teasel-minor@1");
    await userEvent.tab();
    await waitFor(() => expect(form).toEqual({ family: "typed", forms: ["policy-based"] }));
  });
});

const at = (more: object = {}) => ({
  selector: "yes",
  ruleIn: "yes",
  ruleOut: "yes",
  noNat: "yes",
  route: "yes",
  ...more,
});
const pair = (a: string, b: string, stroke = "whole", more: object = {}) => ({
  a,
  b,
  aName: null,
  bName: null,
  form: { stroke, word: stroke },
  says: null,
  after: null,
  code: null,
  atA: at(),
  atB: at(more),
});
const end = (name: string) => ({
  end: name,
  site: name,
  gateway: "gw",
  platform: "p",
  runBy: "us",
  owner: "x",
  outerAddress: "192.0.2.1",
  nat: null,
  addressIsDynamic: false,
});
const many = (pairs: object[]) =>
  ({
    code: "BRI-MANY",
    verdict: [],
    a: end("A"),
    b: end("B"),
    ike: { form: { stroke: "whole", word: "agrees" }, label: "IKEv2", says: null, after: null },
    pairs,
    planned: [],
  }) as unknown as TunnelPage;
const crossed = (as: number, bs: number) =>
  Array.from({ length: as }, (_, i) =>
    Array.from({ length: bs }, (_, j) => pair(`10.70.${i}.0/24`, `10.71.${j}.0/24`)),
  ).flat();

describe("a tunnel with many pairs", () => {
  it("is drawn with every subnet of both ends, also with ten on one side", () => {
    shown(<Crossing t={many(crossed(2, 10))} />);
    for (let j = 0; j < 10; j++) expect(screen.getByText(`10.71.${j}.0/24`)).toBeTruthy();
    expect(screen.getAllByText("20 pairs, whole: see the pair grid").length).toBeGreaterThan(0);
  });

  it("counts the subnets that have no room", () => {
    shown(<Crossing t={many(crossed(1, 30))} />);
    expect(screen.getByText("and 16 more")).toBeTruthy();
  });

  it("is grouped with what differs first, and what is alike is said once", async () => {
    const pairs = [...crossed(10, 20), pair("10.80.0.0/24", "10.71.0.0/24", "gap", { selector: "no" })];
    shown(<PairGrid t={many(pairs)} />);
    const groups = screen.getAllByRole("region");
    expect(groups.map((g) => g.getAttribute("aria-label"))).toEqual(["1 pairs: gap", "200 pairs: whole"]);
    expect(within(groups[0]).getByText("no selector")).toBeTruthy();
    expect(within(groups[1]).getAllByRole("listitem", { hidden: true }).length).toBe(1);
    await userEvent.click(screen.getByRole("button", { name: "as a grid" }));
    expect(screen.getAllByRole("columnheader").length).toBe(21);
  });

  it("stays a grid while it is small", () => {
    shown(<PairGrid t={many(crossed(3, 3))} />);
    expect(screen.getAllByRole("row").length).toBe(4);
  });
});

describe("small things", () => {
  it("offers what is free in a prefix that is searched for", async () => {
    answering({
      "GET /api/v1/search": { asked: "10.61.0.0/16", finding: null, hits: [], more: false },
      "GET /api/v1/addresses": { asked: "10.61.0.0/16", containing: [], within: [], free: ["10.61.1.0/24"] },
    });
    shown(<SearchRoute />, "/search?q=10.61.0.0/16");
    expect(await screen.findByRole("button", { name: "Copy free prefix 10.61.1.0/24" })).toBeTruthy();
  });

  it("links what was imported, and not what only would be", () => {
    const outcome = (dryRun: boolean) =>
      ({
        dryRun,
        added: [{ kind: "tunnel", code: "PEN-LIME", name: "Lime" }],
        changed: [],
        left: 0,
        findingsAdded: [],
        findingsRemoved: [],
      }) as never;
    const { again } = shown(<Shown o={outcome(true)} />);
    expect(screen.queryByRole("link")).toBeNull();
    again(<Shown o={outcome(false)} />);
    expect(screen.getByRole("link", { name: "PEN-LIME" }).getAttribute("href")).toBe("/tunnels/PEN-LIME");
  });

  it("has nothing to compare a first week with", async () => {
    answering({
      "GET /api/v1/findings/over-time": { points: [{ on: "2026-11-29", tunnels: 1, blocks: 0, degrades: 0, risk: 0 }] },
    });
    shown(<OverTime />);
    expect(await screen.findByText(/first recorded this week/)).toBeTruthy();
  });

  it("moves among tabs with the arrow keys", async () => {
    const chosen: string[] = [];
    shown(
      <Tabs
        label="How"
        chosen="fields"
        choose={(t) => chosen.push(t)}
        of={[
          { tab: "fields", title: "As fields" },
          { tab: "text", title: "As keepfile text" },
        ]}
      >
        x
      </Tabs>,
    );
    await userEvent.tab();
    await userEvent.keyboard("{ArrowRight}");
    expect(chosen).toEqual(["text"]);
  });

  it("has every control on one page, none of which asks for anything to be written", async () => {
    const asked = answering({});
    shown(<PartsRoute />);
    expect(screen.getAllByRole("heading", { level: 2 }).length).toBeGreaterThan(6);
    expect(asked.filter((a) => a.method !== "GET")).toEqual([]);
  });
});
