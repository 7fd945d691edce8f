import { cleanup, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { ReactNode } from "react";
import { Route, Routes } from "react-router";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { FindingPage } from "../src/service/api";
import { FindingsRoute } from "../src/findings/FindingsRoute";
import { OverTime } from "../src/findings/OverTime";
import { EditRoute, NewRoute } from "../src/records/EditRoute";
import type { FieldInfo } from "../src/records/form";
import { useMe } from "../src/service/session";
import { TodayRoute } from "../src/today/TodayRoute";
import { ActsOnMany } from "../src/tunnels/ActsOnMany";
import { answering, refused, says, shown, type Answers } from "./asking";

beforeEach(() => localStorage.clear());
afterEach(cleanup);

const me = { "GET /api/v1/session": { name: "ines", display: "Ines", roles: ["engineer"] } };
const field = (key: string, more: Partial<FieldInfo> = {}) =>
  ({
    key,
    shape: "text",
    required: false,
    about: key,
    refers: null,
    words: [],
    inside: [],
    control: "text",
    askedFirst: false,
    label: key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`),
    one: "item",
    ...more,
  }) as unknown as FieldInfo;
const written = (more: object = {}) => ({
  dryRun: true,
  kind: "site",
  code: "BRI-CHURN",
  version: 3,
  as: "described",
  differences: [],
  altered: [],
  derived: [],
  findingsAdded: [],
  findingsRemoved: [],
  tunnel: null,
  ...more,
});

/** As in the console, no page is shown before it is known who reads it. */
function Signed({ children }: { children: ReactNode }) {
  return useMe().data ? children : null;
}

const pages = (at: string) =>
  shown(
    <Signed>
      <Routes>
        <Route path="/new/:plural" element={<NewRoute />} />
        <Route path="/edit/:plural/:code" element={<EditRoute />} />
      </Routes>
    </Signed>,
    at,
  );

/** As a whole text that is pasted: letter by letter takes long on a busy machine. */
async function paste(into: HTMLElement, text: string) {
  await userEvent.click(into);
  await userEvent.paste(text);
}

describe("a record that is edited", () => {
  const site = {
    kind: "site",
    code: "BRI-CHURN",
    version: 3,
    form: { code: "BRI-CHURN", name: "Churn House", notes: "old" },
    fields: [field("code", { required: true }), field("name", { required: true }), field("notes")],
  };
  const answers = (more: Answers = {}) => ({
    ...me,
    "GET /api/v1/sites/BRI-CHURN/form": site,
    "PUT /api/v1/sites/BRI-CHURN": written(),
    ...more,
  });
  const name = () => screen.findByLabelText(/^name/) as Promise<HTMLInputElement>;

  it("keeps what was typed in this browser until it is saved", async () => {
    answering(answers());
    pages("/edit/sites/BRI-CHURN");
    await userEvent.type(await name(), " annexe");
    cleanup();
    pages("/edit/sites/BRI-CHURN");
    expect((await name()).value).toBe("Churn House annexe");
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(screen.getByTestId("where").textContent).toBe("/sites/BRI-CHURN"));
    cleanup();
    pages("/edit/sites/BRI-CHURN");
    expect((await name()).value).toBe("Churn House");
  });

  it("starts again from what is recorded", async () => {
    answering(answers());
    pages("/edit/sites/BRI-CHURN");
    await userEvent.type(await name(), " annexe");
    await userEvent.click(screen.getByRole("button", { name: "Start again" }));
    expect((await name()).value).toBe("Churn House");
    expect(screen.queryByRole("button", { name: "Start again" })).toBeNull();
  });

  it("is tried as it is typed and written with the version that it was typed over", async () => {
    const asked = answering(answers());
    pages("/edit/sites/BRI-CHURN");
    await userEvent.type(await name(), "!");
    await waitFor(() => expect(asked.some((a) => a.path.endsWith("?dryRun=true"))).toBe(true));
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => expect(asked.some((a) => a.path.endsWith("?dryRun=false"))).toBe(true));
    const puts = asked.filter((a) => a.method === "PUT");
    expect(puts.map((a) => a.version)).toEqual(puts.map(() => '"3"'));
    expect(puts.at(-1)!.body).toMatchObject({ form: { name: "Churn House!", notes: "old" } });
  });

  it("asks why when it corrects how something works, and is not saved without", async () => {
    answering(answers({ "PUT /api/v1/sites/BRI-CHURN": written({ as: "corrected", altered: ["networks"] }) }));
    pages("/edit/sites/BRI-CHURN");
    await userEvent.type(await name(), "!");
    const save = (await screen.findByRole("button", { name: "Save correction" })) as HTMLButtonElement;
    expect(save.disabled).toBe(true);
    await userEvent.type(screen.getByLabelText(/^Reason/), "always so");
    expect(save.disabled).toBe(false);
  });

  it("brings a colleague's write and this one together, and loses neither", async () => {
    const all = answers({
      "PUT /api/v1/sites/BRI-CHURN": refused(412, "tomas wrote it", { changed: [{ who: "tomas" }] }),
    });
    answering(all);
    pages("/edit/sites/BRI-CHURN");
    await userEvent.type(await name(), "!");
    all["GET /api/v1/sites/BRI-CHURN/form"] = { ...site, version: 4, form: { ...site.form, notes: "theirs" } };
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    expect(await screen.findByText(/tomas wrote BRI-CHURN while you were typing/)).toBeTruthy();
    await userEvent.click(screen.getAllByRole("button").at(-1)!);
    expect((await name()).value).toBe("Churn House!");
    expect((screen.getByLabelText(/^notes/) as HTMLTextAreaElement).value).toBe("theirs");
  });

  it("shows what is wrong in its own place, and what is not filled in only as still needed", async () => {
    const problems = [
      { field: "name", wrong: "it is longer than 200 characters", right: "a shorter name" },
      { field: "customer", wrong: "'customer' is missing", right: "the code of a customer" },
    ];
    answering(answers({ "PUT /api/v1/sites/BRI-CHURN": refused(422, "wrong", { problems }) }));
    pages("/edit/sites/BRI-CHURN");
    await userEvent.type(await name(), "!");
    expect(await screen.findByText("Still needed: customer.")).toBeTruthy();
    expect(screen.getByRole("alert").textContent).toBe("it is longer than 200 characters. Expected: a shorter name.");
    expect(screen.queryByText(/'customer' is missing/)).toBeNull();
  });

  it("changes to keepfile text and back, and does not leave a text that cannot be read", async () => {
    answering(answers());
    pages("/edit/sites/BRI-CHURN");
    await name();
    await userEvent.click(screen.getByRole("tab", { name: "As keepfile text" }));
    const text = screen.getByLabelText(/^The whole record/) as HTMLTextAreaElement;
    expect(text.value).toContain("name: Churn House");
    await userEvent.clear(text);
    await userEvent.type(text, "name: [[");
    expect(screen.getByRole("alert")).toBeTruthy();
    expect(screen.getByRole("tab", { name: "As fields" }).getAttribute("aria-disabled")).toBe("true");
  });
});

describe("a new record", () => {
  const blank = (kind: string, fields: FieldInfo[]) => ({ kind, code: "", version: 0, form: {}, fields });
  const code = () => screen.findByLabelText(/^code/) as Promise<HTMLInputElement>;

  it("follows its name with a code, and brings nothing of the one before back", async () => {
    const platform = blank("platform profile", [field("code", { required: true }), field("name", { required: true })]);
    answering({
      ...me,
      "GET /api/v1/forms/platforms": platform,
      "GET /api/v1/choices/platforms": { items: [] },
      "GET /api/v1/choices/code": { code: "teasel-minor" },
      "POST /api/v1/platforms": written({ as: "added" }),
    });
    pages("/new/platforms");
    await userEvent.type(await screen.findByLabelText(/^name/), "Teasel Minor");
    await waitFor(async () => expect((await code()).value).toBe("teasel-minor"));
    await userEvent.click(screen.getByRole("button", { name: "Add the platform profile" }));
    await waitFor(() => expect(screen.getByTestId("where").textContent).toBe("/platforms/BRI-CHURN"));
    cleanup();
    pages("/new/platforms");
    expect((await code()).value).toBe("");
    expect(localStorage.length).toBe(0);
  });

  it("lets a code that was suggested be emptied", async () => {
    answering({
      ...me,
      "GET /api/v1/forms/customers": blank("customer", [field("code"), field("name", { required: true })]),
      "GET /api/v1/choices/code": { code: "TEA" },
      "POST /api/v1/customers": written({ as: "added" }),
    });
    pages("/new/customers");
    await userEvent.type(await screen.findByLabelText(/^name/), "Teasel");
    await waitFor(async () => expect((await code()).value).toBe("TEA"));
    await userEvent.clear(await code());
    await userEvent.tab();
    expect((await code()).value).toBe("");
  });

  it("names what is still needed as it is called on the page", async () => {
    answering({
      ...me,
      "GET /api/v1/forms/gateways": blank("gateway", [
        field("uplinks", {
          shape: "maps",
          one: "uplink",
          inside: [field("label"), field("address", { required: true })],
        }),
        field("notes"),
      ]),
      "GET /api/v1/choices/code": { code: "x" },
      "POST /api/v1/gateways": refused(422, "wrong", {
        problems: [{ field: "uplinks[1].address", wrong: "'address' is missing", right: "an address" }],
      }),
    });
    pages("/new/gateways");
    await userEvent.type(await screen.findByLabelText(/^label/), "!");
    expect(await screen.findByText("Still needed: address of uplink 1.")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Add another uplink" }));
    expect(screen.getByRole("button", { name: "Remove uplink 2" })).toBeTruthy();
  });

  it("of a platform stands open in parts, each with what is unknown", async () => {
    const yesNo = { words: ["yes", "no"] };
    answering({
      ...me,
      "GET /api/v1/forms/platforms": blank("platform profile", [
        field("code", { required: true }),
        field("exchangeModes", { shape: "texts", words: ["main", "aggressive"] }),
        field("fallsBackToIkev1", { ...yesNo, label: "falls back to IKEv1" }),
        field("savedSeparately", yesNo),
      ]),
      "GET /api/v1/choices/platforms": { items: [] },
      "POST /api/v1/platforms": written({ as: "added" }),
    });
    pages("/new/platforms");
    const ike = await screen.findByRole("region", { name: "IKE 2 of 2 unknown" });
    await userEvent.click(within(ike).getByLabelText("main"));
    const fallsBack = within(ike).getByRole("radiogroup", { name: "falls back to IKEv1" });
    expect((within(fallsBack).getByLabelText("unknown") as HTMLInputElement).checked).toBe(true);
    await userEvent.click(within(fallsBack).getByText("no"));
    expect(await screen.findByRole("region", { name: "IKE nothing unknown" })).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Working on it" }));
    expect(document.activeElement).toBe(screen.getByRole("region", { name: /^Working on it 1 of 1 unknown/ }));
  });
});

describe("a tunnel that is filled in", () => {
  const gateway = (code: string, site: string) => ({
    code,
    site,
    platformName: "Teasel Minor",
    runBy: "us",
    uplinks: [],
  });
  const end = (site: string, prefix: string) => ({
    gateway: "x",
    site,
    customer: "BRI",
    timeZone: "Europe/London",
    networks: [{ prefix, name: "floor", inTunnel: false }],
    uplinks: [],
    sharedEntries: [],
  });
  const fields = [
    field("code", { required: true }),
    field("customer", { required: true }),
    field("name"),
    field("notes", { control: "long text" }),
    field("agreed", {
      shape: "map",
      inside: [
        field("suite"),
        field("ikeVersions", { shape: "any", control: "IKE versions", words: ["IKEv1", "IKEv2"] }),
        field("ikeProposals", { shape: "any", control: "IKE proposal" }),
        field("espProposals", { shape: "any", control: "ESP proposal" }),
        field("pairs", { askedFirst: true, shape: "maps" }),
        field("mtu", { shape: "any" }),
      ],
    }),
    field("a", {
      shape: "map",
      inside: [field("gateway"), field("peerAddress", { shape: "any", control: "address" })],
    }),
    field("b", {
      shape: "map",
      inside: [field("gateway"), field("peerAddress", { shape: "any", control: "address" })],
    }),
  ];
  const common = {
    a: "",
    b: "",
    version: "IKEv2",
    bothSpeak: true,
    ike: [{ proposal: "AES-256-CBC + DH 16", members: [] }],
    esp: [{ proposal: "AES-256-GCM-16", members: [] }],
  };
  const answers: Answers = {
    ...me,
    "GET /api/v1/forms/tunnels": { kind: "tunnel", code: "", version: 0, form: {}, fields },
    "GET /api/v1/choices/gateways": { items: [], more: false },
    "GET /api/v1/choices/suites": { items: [], more: false },
    "GET /api/v1/choices/customers": { items: [], more: false },
    "GET /api/v1/gateways/churn-gw1": gateway("churn-gw1", "Churn House"),
    "GET /api/v1/gateways/nettle-gw": gateway("nettle-gw", "Nettlebank"),
    "GET /api/v1/choices/new-tunnel": {
      code: "BRI-NETTLEBANK",
      name: "Churn House to Nettlebank",
      customer: "BRI",
      a: end("Churn House", "10.61.0.0/24"),
      b: end("Nettlebank", "10.62.12.0/24"),
    },
    "GET /api/v1/calc/common": common,
    "POST /api/v1/tunnels": written({ kind: "tunnel", as: "added" }),
  };
  async function between() {
    const asked = answering(answers);
    pages("/new/tunnels");
    for (const [label, code] of [
      ["A gateway", "churn-gw1"],
      ["B gateway", "nettle-gw"],
    ]) {
      await paste(await screen.findByRole("combobox", { name: label }), code);
      await userEvent.tab();
      await userEvent.keyboard("{Escape}");
    }
    await screen.findByLabelText("10.61.0.0/24 reaches 10.62.12.0/24");
    return asked;
  }
  const last = (asked: { method: string; body: unknown }[]) =>
    (asked.filter((a) => a.method === "POST").at(-1)?.body as { form: object } | undefined)?.form;

  it("asks which networks reach which only once both gateways are known", async () => {
    answering(answers);
    pages("/new/tunnels");
    await screen.findByRole("combobox", { name: "A gateway" });
    expect(screen.queryByText("How protected")).toBeNull();
  });

  it("names itself after its gateways, takes ticks for pairs, and the strongest that both support", async () => {
    const asked = await between();
    await userEvent.click(screen.getByLabelText("10.61.0.0/24 reaches 10.62.12.0/24"));
    await userEvent.click(await screen.findByRole("button", { name: "Use the strongest that both support" }));
    await waitFor(() =>
      expect(last(asked)).toEqual({
        code: "BRI-NETTLEBANK",
        customer: "BRI",
        name: "Churn House to Nettlebank",
        a: { gateway: "churn-gw1" },
        b: { gateway: "nettle-gw" },
        agreed: {
          pairs: [{ a: "10.61.0.0/24", b: "10.62.12.0/24" }],
          ikeVersions: "IKEv2",
          ikeProposals: ["AES-256-CBC + DH 16"],
          espProposals: ["AES-256-GCM-16"],
        },
      }),
    );
  });

  it("folds what few tunnels need, says how much of it is entered, and opens it where it is wrong", async () => {
    const problems = [{ field: "b.peerAddress", wrong: "'x' is no address", right: "such as 203.0.113.77" }];
    answers["POST /api/v1/tunnels"] = refused(422, "wrong", { problems });
    await between();
    const own = (name: string) => screen.getByText(name).closest("details")!;
    await waitFor(() => expect(own("What end B has of its own").open).toBe(true));
    expect(own("What end A has of its own").open).toBe(false);
    expect(own("What end A has of its own").textContent).toContain("nothing entered");
    answers["POST /api/v1/tunnels"] = written({ kind: "tunnel", as: "added" });
  });
});

describe("findings in a list", () => {
  const finding = (tunnel: string) =>
    ({
      tunnel,
      code: "PAIR-06",
      title: "lifetimes",
      subject: "ikeLifetime",
      digest: `d ${tunnel}`,
      severity: "risk",
      what: says("Lifetimes differ."),
      why: says("One end rekeys."),
      do: says("Set both."),
      evidence: [],
      standard: null,
      accepted: null,
      was: null,
      after: null,
      rowKey: null,
    }) as unknown as FindingPage;

  it("are accepted together and stay in sight with what became of them", async () => {
    const all: Answers = {
      ...me,
      "GET /api/v1/findings": { items: [finding("BRI-MILK"), finding("BRI-DEPOT")], cursor: null },
      "GET /api/v1/saved-filters": [],
      "GET /api/v1/choices/customers": { items: [], more: false },
      "GET /api/v1/tunnels/BRI-MILK": { version: 4 },
      "GET /api/v1/tunnels/BRI-DEPOT": { version: 9 },
      "POST /api/v1/tunnels/BRI-MILK/accept": {},
      "POST /api/v1/tunnels/BRI-DEPOT/accept": refused(412, "tomas wrote BRI-DEPOT meanwhile"),
    };
    const asked = answering(all);
    shown(<FindingsRoute />);
    await userEvent.click(await screen.findByLabelText(/^All 2 in sight/));
    const csv = screen.getByText("these as").querySelector("a")!.getAttribute("href")!;
    expect(new URLSearchParams(csv.split("?")[1]).getAll("only")).toEqual([
      "BRI-MILK PAIR-06 ikeLifetime",
      "BRI-DEPOT PAIR-06 ikeLifetime",
    ]);
    await userEvent.click(screen.getAllByRole("button", { name: "Accept" })[0]);
    const dialog = within(screen.getByRole("dialog"));
    await paste(dialog.getByLabelText("Why they can stay"), "replaced in spring");
    await userEvent.click(dialog.getAllByRole("spinbutton")[0]);
    await userEvent.keyboard("20270331");
    // What is accepted leaves the list behind the dialog, and not the dialog.
    all["GET /api/v1/findings"] = { items: [finding("BRI-DEPOT")], cursor: null };
    await userEvent.click(dialog.getByRole("button", { name: "Accept 2" }));
    await waitFor(() => expect(dialog.getByRole("alert").textContent).toContain("tomas wrote BRI-DEPOT"));
    expect(dialog.getByText("accepted")).toBeTruthy();
    expect(dialog.getByRole("button", { name: "Accept 1" })).toBeTruthy();
    expect(asked.filter((a) => a.method === "POST").map((a) => a.version)).toEqual(['"4"', '"9"']);
  });
});

describe("several tunnels", () => {
  const tunnels = ["BRI-MILK", "BRI-DEPOT"].map((code) => ({ code })) as never;

  it("are strengthened by a plan each, all with one reason", async () => {
    const asked = answering({
      ...me,
      "POST /api/v1/changes": { code: "BRI-0009" },
      "GET /api/v1/choices/suites": { items: [] },
    });
    shown(<ActsOnMany selected={tunnels} query={{}} clear={() => {}} />);
    await userEvent.click(screen.getByRole("button", { name: "Plan to strengthen" }));
    const draft = screen.getByRole("button", { name: "Draft 2" }) as HTMLButtonElement;
    expect(draft.disabled).toBe(true);
    await paste(screen.getByLabelText("Reason"), "DH 14 is weak");
    await userEvent.click(draft);
    await waitFor(() => expect(screen.getAllByText("BRI-0009").length).toBe(2));
    const bodies = asked.filter((a) => a.method === "POST").map((a) => a.body as { tunnel: string });
    expect(bodies.map((b) => b.tunnel)).toEqual(["BRI-MILK", "BRI-DEPOT"]);
    expect(bodies[0]).toMatchObject({ kind: "strengthen", reason: "DH 14 is weak", suite: null });
  });

  it("are confirmed at the end that was looked at, and at no other", async () => {
    const cell = (canBeConfirmed: boolean) => ({ text: "x", canBeConfirmed });
    const page = (code: string) => ({
      code,
      version: 2,
      rows: [
        { key: "pfs", a: cell(true), b: cell(true) },
        { key: "keyHeld", a: cell(false), b: cell(false) },
      ],
    });
    const asked = answering({
      ...me,
      "GET /api/v1/tunnels/BRI-MILK": page("BRI-MILK"),
      "GET /api/v1/tunnels/BRI-DEPOT": page("BRI-DEPOT"),
      "POST /api/v1/tunnels/BRI-MILK/confirm": { version: 3 },
      "POST /api/v1/tunnels/BRI-DEPOT/confirm": { version: 3 },
    });
    shown(<ActsOnMany selected={tunnels} query={{}} clear={() => {}} />);
    await userEvent.click(screen.getByRole("button", { name: "Confirm" }));
    await userEvent.click(screen.getByRole("radio", { name: "B" }));
    await userEvent.click(screen.getByRole("button", { name: "Confirm 2" }));
    await waitFor(() => expect(screen.getAllByText("1 value confirmed").length).toBe(2));
    expect(asked.filter((a) => a.method === "POST").map((a) => a.body)).toEqual(
      [0, 1].map(() => ({ end: "B", rows: ["pfs"], how: "read", date: null, value: null })),
    );
  });
});

describe("an empty service", () => {
  const nothing = {
    verdict: [],
    underWay: [],
    toReview: [],
    windows: [],
    mine: [],
    blocking: [],
    tunnels: 0,
  };

  it("says where to begin, in the order in which each rests on the one before", async () => {
    answering({ ...me, "GET /api/v1/today": nothing });
    shown(<TodayRoute />);
    const begin = await screen.findByRole("region", { name: "Where to begin" });
    expect(
      within(begin)
        .getAllByRole("link")
        .map((l) => l.getAttribute("href")),
    ).toEqual(["/import", "/new/platforms", "/new/customers", "/new/sites", "/new/gateways", "/changes/new-tunnel"]);
    expect(screen.queryByText(/None of 0 tunnels/)).toBeNull();
  });

  it("offers a reader nothing to do", async () => {
    answering({
      "GET /api/v1/session": { name: "bram", display: "Bram", roles: ["reader"] },
      "GET /api/v1/today": nothing,
    });
    shown(<TodayRoute />);
    expect(await screen.findByText("No tunnel is recorded yet.")).toBeTruthy();
    expect(screen.queryByRole("link", { name: "a customer" })).toBeNull();
  });

  it("is told quietly when there are too many tunnels to count week by week", async () => {
    answering({ "GET /api/v1/findings/over-time": refused(422, "Customer: there are more than 200 tunnels.") });
    shown(<OverTime />);
    expect(await screen.findByText("Customer: there are more than 200 tunnels.")).toBeTruthy();
    expect(screen.queryByRole("alert")).toBeNull();
  });
});
