import { cleanup, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState, type ReactNode } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { Amount } from "../src/parts/controls/Amount";
import { Ask } from "../src/parts/controls/Ask";
import { Choice, YesNo, type Known } from "../src/parts/controls/Choice";
import { Codes } from "../src/parts/controls/Codes";
import { Copy } from "../src/parts/controls/Copy";
import { KeyVersions, type KeyVersionsHeld } from "../src/parts/controls/KeyVersions";
import { Rows, type Row } from "../src/parts/controls/Rows";
import { LifetimeField } from "../src/records/ValueFields";
import { PairTicks } from "../src/parts/controls/PairTicks";
import { Picker, PickOne } from "../src/parts/controls/Picker";
import { Prefixes } from "../src/parts/controls/Prefixes";
import { Proposals } from "../src/parts/controls/Proposals";
import { State, type Held } from "../src/parts/controls/State";
import { DayField, instantOf, shownIn, MomentField } from "../src/parts/controls/DateTimeFields";
import { answering, shown, type Asked } from "./asking";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

/** A control that holds its value itself; what it was set to is kept. */
function held<T>(first: T, control: (value: T, set: (value: T) => void) => ReactNode) {
  const set: T[] = [];
  function Holder() {
    const [value, put] = useState(first);
    return (
      <>
        {control(value, (next) => {
          set.push(next);
          put(next);
        })}
        <button>next</button>
      </>
    );
  }
  shown(<Holder />);
  return set;
}

/** Leaves the field. */
const elsewhere = () => userEvent.tab();

const gateways = {
  items: [
    { code: "ashlow-gw", name: "ashlow-gw", detail: "Ashlow creamery · Teasel Minor · 203.0.113.77" },
    { code: "churn-gw1", name: "churn-gw1", detail: "Churn House · Alderquay Major · 198.51.100.10" },
  ],
};

describe("a picker", () => {
  const picker = () => {
    const asked = answering({ "GET /api/v1/choices/gateways": gateways });
    const set = held("", (value, put) => <Picker of="gateways" label="Gateway" value={value} set={put} />);
    return { asked, set };
  };

  it("asks the service for what is typed, and shows what tells one from another", async () => {
    const { asked, set } = picker();
    await userEvent.type(screen.getByRole("combobox"), "churn");
    await waitFor(() => expect(asked.some((a) => a.path === "/api/v1/choices/gateways?q=churn")).toBe(true));
    const option = await screen.findByRole("option", { name: /^churn-gw1/ });
    expect(option.textContent).toContain("Churn House · Alderquay Major · 198.51.100.10");
    await userEvent.click(option);
    expect(set.at(-1)).toBe("churn-gw1");
    await elsewhere();
    // What was typed before it was chosen does not come back over the choice.
    expect(set.at(-1)).toBe("churn-gw1");
    expect((screen.getByRole("combobox") as HTMLInputElement).value).toBe("churn-gw1");
  });

  it("is worked by the keyboard alone", async () => {
    const { set } = picker();
    await userEvent.click(screen.getByRole("combobox"));
    await screen.findByRole("option", { name: /^ashlow-gw/ });
    await userEvent.keyboard("{ArrowDown}{ArrowDown}{Enter}");
    expect(set.at(-1)).toBe("churn-gw1");
  });

  it("takes a code that is pasted whole, whatever its case, and keeps one that it does not know", async () => {
    const { set } = picker();
    await userEvent.click(screen.getByRole("combobox"));
    await screen.findByRole("option", { name: /^ashlow-gw/ });
    await userEvent.paste("ASHLOW-GW");
    await elsewhere();
    expect(set.at(-1)).toBe("ashlow-gw");
    await userEvent.clear(screen.getByRole("combobox"));
    await userEvent.type(screen.getByRole("combobox"), "no-such-gw");
    await elsewhere();
    expect(set.at(-1)).toBe("no-such-gw");
  });

  it("takes the only one that fits what is typed, by Enter and by leaving", async () => {
    const { set } = picker();
    await userEvent.type(screen.getByRole("combobox"), "ashlow-g");
    // Two are listed, whatever is typed: none of them is meant.
    await elsewhere();
    expect(set.at(-1)).toBe("ashlow-g");
    cleanup();
    answering({ "GET /api/v1/choices/gateways": { items: gateways.items.slice(0, 1) } });
    const one = held("", (value, put) => <Picker of="gateways" label="Gateway" value={value} set={put} />);
    await userEvent.type(screen.getByRole("combobox"), "creamery");
    await waitFor(() => expect(screen.getByRole("combobox").getAttribute("aria-activedescendant")).toBeTruthy());
    await userEvent.keyboard("{Enter}");
    expect(one.at(-1)).toBe("ashlow-gw");
    await userEvent.clear(screen.getByRole("combobox"));
    await userEvent.type(screen.getByRole("combobox"), "cream");
    await elsewhere();
    await waitFor(() => expect(one.at(-1)).toBe("ashlow-gw"));
  });

  it("of a few narrows them by any word of them, and says when none fits", async () => {
    const uplinks = [
      { code: "fibre", name: "198.51.100.10", detail: "" },
      { code: "dsl", name: "203.0.113.9", detail: "" },
    ];
    held("", (value, put) => <PickOne label="Uplink" value={value} set={put} options={uplinks} />);
    await userEvent.type(screen.getByRole("combobox"), "203.0");
    expect((await screen.findAllByRole("option")).map((o) => o.textContent)).toEqual(["dsl 203.0.113.9 "]);
    await userEvent.type(screen.getByRole("combobox"), "x");
    expect(await screen.findByText("Nothing fits what is typed.")).toBeTruthy();
  });
});

describe("several records", () => {
  it("are chosen from those at hand, all at once, and taken away again", async () => {
    answering({ "GET /api/v1/choices/tunnels": { items: [] } });
    const atHand = ["BRI-DEPOT", "BRI-MILK"].map((code) => ({ code, name: code, detail: "" }));
    const set = held<string[]>([], (value, put) => (
      <Codes label="More tunnels" of="tunnels" value={value} set={put} atHand={atHand} />
    ));
    await userEvent.click(screen.getByRole("button", { name: "all 2" }));
    expect(set.at(-1)).toEqual(["BRI-DEPOT", "BRI-MILK"]);
    await userEvent.click(screen.getByRole("button", { name: /^Remove BRI-DEPOT/ }));
    expect(set.at(-1)).toEqual(["BRI-MILK"]);
  });
});

describe("prefixes", () => {
  const read = (asked: Asked[]) => asked.filter((a) => a.path.includes("/prefixes/read")).at(-1)?.path;
  const networks = [
    { prefix: "10.61.40.0/24", name: "cold store", inTunnel: false },
    { prefix: "10.61.0.0/24", name: "offices", inTunnel: true },
  ];
  const field = (answers: object[]) => {
    const asked = answering({ "GET /api/v1/choices/prefixes/read": { prefixes: answers } });
    const set = held<string[]>([], (value, put) => (
      <Prefixes label="Prefixes" value={value} set={put} networks={networks} />
    ));
    return { asked, set };
  };

  it("are pasted with any separator, each once, and taken away one by one", async () => {
    const { set, asked } = field([]);
    await userEvent.click(screen.getByLabelText("Prefixes"));
    await userEvent.paste("10.61.40.0/24, 10.62.0.0/24;10.61.40.0/24\n10.63.0.0/24");
    expect(set.at(-1)).toEqual(["10.61.40.0/24", "10.62.0.0/24", "10.63.0.0/24"]);
    await waitFor(() => expect(read(asked)).toContain("10.63.0.0"));
    await userEvent.click(screen.getByRole("button", { name: /^Remove 10.62.0.0/ }));
    expect(set.at(-1)).toEqual(["10.61.40.0/24", "10.63.0.0/24"]);
    await userEvent.click(screen.getByLabelText("Prefixes"));
    await userEvent.keyboard("{Backspace}");
    expect(set.at(-1)).toEqual(["10.61.40.0/24"]);
  });

  it("are named by the site's networks, which are offered as long as they are not in the tunnel", async () => {
    const { set } = field([]);
    expect(screen.queryByText("offices")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: /10.61.40.0\/24 cold store/ }));
    expect(set.at(-1)).toEqual(["10.61.40.0/24"]);
    expect(screen.getByRole("row").textContent).toContain("cold store");
  });

  it("say at once what the service finds wrong, and what overlaps", async () => {
    field([
      { text: "10.61.0.1/24", prefix: null, wrong: "10.61.0.1/24 has host bits", right: "10.61.0.0/24", overlaps: [] },
      { text: "10.61.0.0/25", prefix: "10.61.0.0/25", wrong: null, right: null, overlaps: ["10.61.0.0/24"] },
    ]);
    await userEvent.type(screen.getByLabelText("Prefixes"), "10.61.0.1/24 ");
    expect((await screen.findAllByRole("alert")).map((a) => a.textContent)).toEqual([
      "10.61.0.1/24 has host bits. Expected: 10.61.0.0/24.",
      "10.61.0.0/25 overlaps 10.61.0.0/24.",
    ]);
    expect(screen.getByLabelText("Prefixes").getAttribute("aria-invalid")).toBe("true");
  });

  it("take what is typed when the field is left, and nothing from an empty one", async () => {
    const { set } = field([]);
    await userEvent.type(screen.getByLabelText("Prefixes"), "10.61.40.0/24");
    await elsewhere();
    expect(set).toEqual([["10.61.40.0/24"]]);
    await userEvent.click(screen.getByLabelText("Prefixes"));
    await elsewhere();
    expect(set.length).toBe(1);
  });
});

describe("proposals", () => {
  it("are read by the service in any spelling, and stand in the order that is wanted", async () => {
    const asked = answering({
      "GET /api/v1/choices/proposals/read": {
        proposals: [{ proposal: "AES-256-CBC + HMAC-SHA2-256-128 + DH 14", strength: "112 bits" }],
        wrong: null,
        right: null,
      },
    });
    const set = held(["AES-128-GCM-16"], (value, put) => (
      <Proposals label="IKE proposals" of="IKE" value={value} set={put} />
    ));
    await userEvent.type(screen.getByLabelText("IKE proposals"), "aes256 sha256 group14{Enter}");
    await waitFor(() => expect(set.length).toBe(1));
    expect(asked.some((a) => a.path.includes("of=IKE&text=aes256%20sha256%20group14"))).toBe(true);
    expect(set[0]).toEqual(["AES-128-GCM-16", "AES-256-CBC + HMAC-SHA2-256-128 + DH 14"]);
    expect(await screen.findByText("112 bits")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: /^Prefer AES-256-CBC/ }));
    expect(set.at(-1)?.[0]).toBe("AES-256-CBC + HMAC-SHA2-256-128 + DH 14");
  });

  it("say which of those chosen and offered SHOULD NOT or MUST NOT be used", async () => {
    const weak = "DH 2 MUST NOT be used (RFC 8247 section 2.4)";
    answering({
      "GET /api/v1/choices/proposals/read": {
        proposals: [
          { proposal: "AES-128-CBC + DH 2", strength: "80 bits", weak },
          { proposal: "AES-256-CBC + DH 14", strength: "112 bits", weak: null },
        ],
      },
    });
    const set = held(["AES-128-CBC + DH 2"], (value, put) => (
      <Proposals label="IKE" of="IKE" value={value} set={put} offered={["AES-256-CBC + DH 14"]} />
    ));
    expect((await screen.findByText(weak)).closest(".chip")?.textContent).toContain("AES-128-CBC + DH 2");
    const offered = screen.getByRole("button", { name: /AES-256-CBC \+ DH 14/ });
    expect(offered.textContent).toContain("112 bits");
    expect(offered.textContent).not.toContain("be used");
    await userEvent.click(offered);
    expect(set.at(-1)).toEqual(["AES-128-CBC + DH 2", "AES-256-CBC + DH 14"]);
  });

  it("stay as typed where they cannot be read, with what would be right", async () => {
    answering({
      "GET /api/v1/choices/proposals/read": { proposals: [], wrong: "'aes999' is not known", right: "aes256gcm" },
    });
    const set = held<string[]>([], (value, put) => <Proposals label="ESP" of="ESP" value={value} set={put} />);
    await userEvent.type(screen.getByLabelText("ESP"), "aes999{Enter}");
    expect((await screen.findByRole("alert")).textContent).toBe("'aes999' is not known. Expected: aes256gcm.");
    expect((screen.getByLabelText("ESP") as HTMLInputElement).value).toBe("aes999");
    expect(set).toEqual([]);
  });
});

describe("a choice", () => {
  it("is moved among by the arrows, and leaves out what is not possible", async () => {
    const set = held("a", (value, put) => (
      <Choice
        label="End"
        value={value}
        set={put}
        of={[
          { value: "a", label: "A" },
          { value: "b", label: "B", disabled: true },
          { value: "c", label: "us" },
        ]}
      />
    ));
    await userEvent.click(screen.getByRole("radio", { name: "A" }));
    await userEvent.keyboard("{ArrowDown}");
    expect(set.at(-1)).toBe("c");
  });

  it.each(["yes", "no", "unknown"] as const)("of what a device can do has the state %s", async (state) => {
    const other: Known = state === "yes" ? "no" : "yes";
    const set = held<Known>(other, (value, put) => <YesNo label="PFS" value={value} set={put} />);
    await userEvent.click(screen.getByRole("radio", { name: state }));
    expect(set).toEqual([state]);
  });
});

describe("an amount", () => {
  it("is typed or stepped, and stays within its bounds", async () => {
    const set = held(1425, (value, put) => (
      <Amount label="Length" unit="min" value={value} set={put} least={15} most={1440} step={15} />
    ));
    await userEvent.click(screen.getByRole("button", { name: /^More by/ }));
    expect(set.at(-1)).toBe(1440);
    await userEvent.clear(screen.getByRole("textbox"));
    await userEvent.type(screen.getByRole("textbox"), "5000");
    await elsewhere();
    expect(set.at(-1)).toBe(1440);
  });
});

describe("an amount whose least is no multiple of its step", () => {
  it("keeps what was set and what is typed, and steps from there", async () => {
    const set: number[] = [];
    function Length() {
      const [value, setValue] = useState(60);
      const put = (n: number) => {
        set.push(n);
        setValue(n);
      };
      return <Amount label="Length" unit="min" value={value} set={put} least={1} most={1440} step={15} />;
    }
    shown(<Length />);
    expect((screen.getByRole("textbox") as HTMLInputElement).value).toBe("60");
    await userEvent.click(screen.getByRole("button", { name: "More by 15 min" }));
    expect(set.at(-1)).toBe(75);
    await userEvent.clear(screen.getByRole("textbox"));
    await userEvent.type(screen.getByRole("textbox"), "50");
    await userEvent.tab();
    expect(set.at(-1)).toBe(50);
  });
});

describe("dates and times", () => {
  it.each([
    ["2026-12-03T22:00", "Europe/London", "2026-12-03T22:00:00.000Z"],
    ["2026-07-03T22:00", "Europe/London", "2026-07-03T21:00:00.000Z"],
    ["2026-12-03T22:00", "Asia/Kolkata", "2026-12-03T16:30:00.000Z"],
    ["2026-12-03T22:00", "Etc/UTC", "2026-12-03T22:00:00.000Z"],
    ["2026-03-29T03:30", "Europe/Paris", "2026-03-29T01:30:00.000Z"],
  ])("%s by the clock of %s is %s", (wall, zone, instant) => expect(instantOf(wall, zone).toISOString()).toBe(instant));

  it("show what the other place's clock shows then", () => {
    shown(
      <MomentField
        label="Begins"
        value="2026-12-03T22:00"
        set={() => {}}
        clock={{ name: "A", zone: "Europe/London" }}
        other={{ name: "B", zone: "Europe/Paris" }}
      />,
    );
    expect(document.body.textContent).toContain(`B ${shownIn(new Date("2026-12-03T22:00:00Z"), "Europe/Paris")}`);
    expect(shownIn(new Date("2026-12-03T22:00:00Z"), "Europe/Paris")).toContain("23:00");
  });

  it("take a day as year, month and day, whatever the browser's land", async () => {
    const set = held("", (value, put) => <DayField label="Until" value={value} set={put} />);
    await userEvent.click(screen.getAllByRole("spinbutton")[0]);
    await userEvent.keyboard("20270331");
    expect(set.at(-1)).toBe("2027-03-31");
  });
});

describe("a value to copy", () => {
  it("is copied whole and says so", async () => {
    const copied: string[] = [];
    vi.stubGlobal("navigator", { ...navigator, clipboard: { writeText: async (t: string) => void copied.push(t) } });
    shown(<Copy text="10.61.40.0/24" label="local subnet" shortcut="1" />);
    const button = screen.getByRole("button", { name: "Copy local subnet 10.61.40.0/24" });
    await userEvent.click(button);
    expect(copied).toEqual(["10.61.40.0/24"]);
    expect(screen.getByRole("status", { hidden: true }).textContent).toContain("copied");
  });
});

describe("pairs", () => {
  const side = (site: string, ...prefixes: string[]) => ({
    site,
    networks: prefixes.map((prefix) => ({ prefix, name: `lan ${prefix}` })),
  });

  it("are ticked one by one or all, and those of the record that no network has are there too", async () => {
    answering({ "GET /api/v1/choices/prefixes/read": { prefixes: [] } });
    const set = held([{ a: "10.9.0.0/24", b: "10.2.0.0/24" }], (value, put) => (
      <PairTicks a={side("Loom", "10.1.0.0/24")} b={side("Weir", "10.2.0.0/24")} pairs={value} set={put} />
    ));
    expect((screen.getByLabelText("10.9.0.0/24 reaches 10.2.0.0/24") as HTMLInputElement).checked).toBe(true);
    await userEvent.click(screen.getByLabelText("10.1.0.0/24 reaches 10.2.0.0/24"));
    expect(set.at(-1)?.length).toBe(2);
    await userEvent.click(screen.getByRole("button", { name: "None" }));
    expect(set.at(-1)).toEqual([]);
    await userEvent.click(screen.getByRole("button", { name: "All" }));
    expect(set.at(-1)).toEqual([{ a: "10.1.0.0/24", b: "10.2.0.0/24" }]);
  });
});

describe("the state of a value", () => {
  const state = (first: Held) =>
    held(first, (value, put) => (
      <State
        label="peer address"
        who="ines"
        held={value}
        set={put}
        control={(text, set, label) => (
          <label key={label}>
            {label}
            <input value={text} onChange={(e) => set(e.target.value)} />
          </label>
        )}
      />
    ));

  it("is no longer confirmed once another value is typed: nobody has seen that one", async () => {
    const set = state({ state: "known", value: "203.0.113.7", confirmed: "read 2026-11-03 by tomas" });
    await userEvent.type(screen.getByLabelText("peer address"), "7");
    expect(set.at(-1)).toEqual({ state: "known", value: "203.0.113.77", confirmed: undefined });
  });

  it("is confirmed by whoever says so, today", async () => {
    const set = state({ state: "known", value: "203.0.113.7" });
    await userEvent.selectOptions(screen.getByLabelText("Confirmed"), "saved configuration");
    const today = new Date().toISOString().slice(0, 10);
    expect(set.at(-1)).toMatchObject({ confirmed: `saved configuration ${today} by ines` });
  });

  it("keeps the value when it is there only for now, and asks what it must become and why", async () => {
    const set = state({ state: "known", value: "203.0.113.7" });
    await userEvent.click(screen.getByRole("radio", { name: "only for now" }));
    await userEvent.type(screen.getByLabelText("What it must become"), "x");
    await userEvent.type(screen.getByLabelText("Why it is there for now"), "y");
    expect(set.at(-1)).toEqual({
      state: "temporary",
      value: "203.0.113.7",
      final: "x",
      reason: "y",
      deadline: "",
    });
  });

  it("asks who will know what nobody knows yet, and for no value", async () => {
    const set = state({ state: "known", value: "" });
    await userEvent.click(screen.getByRole("radio", { name: "not known yet" }));
    await userEvent.type(screen.getByLabelText("Who will know it"), "W");
    expect(set.at(-1)).toEqual({ state: "pending", who: "W", by: "" });
    expect(screen.queryByRole("textbox", { name: "peer address" })).toBeNull();
  });
});

describe("a dialog", () => {
  it("is left by Escape, unless something would be lost", async () => {
    let left = 0;
    shown(
      <Ask title="Retire it" onLeave={() => left++}>
        <input aria-label="why" />
      </Ask>,
    );
    await userEvent.keyboard("{Escape}");
    expect(left).toBe(1);
    cleanup();
    shown(
      <Ask title="Retire it" holds onLeave={() => left++}>
        <input aria-label="why" />
      </Ask>,
    );
    await userEvent.keyboard("{Escape}");
    expect(left).toBe(1);
    expect(screen.getByRole("dialog", { name: "Retire it" })).toBeTruthy();
  });
});

describe("key versions", () => {
  const versions = (first: KeyVersionsHeld) =>
    held<KeyVersionsHeld | undefined>(first, (value, put) => (
      <KeyVersions label="key version" held={value ?? {}} set={put} />
    ));

  it("are one list for both directions, typed with whatever is between them", async () => {
    const set = versions({ both: ["3"] });
    await userEvent.type(screen.getByLabelText("Version"), ", 4");
    expect(set.at(-1)).toEqual({ both: ["3", "4"] });
    expect((screen.getByLabelText("Version") as HTMLInputElement).value).toBe("3, 4");
    await userEvent.clear(screen.getByLabelText("Version"));
    expect(set.at(-1)).toBeUndefined();
  });

  it("are parted by direction without losing what was entered, and brought together again", async () => {
    const set = versions({ both: ["3"] });
    await userEvent.click(screen.getByText("one for each direction"));
    expect(set.at(-1)).toEqual({ send: ["3"], receive: ["3"] });
    await userEvent.type(screen.getByLabelText("Receives with"), " 4");
    expect(set.at(-1)).toEqual({ send: ["3"], receive: ["3", "4"] });
    await userEvent.click(screen.getByText("the same both ways"));
    expect(set.at(-1)).toEqual({ both: ["3", "4"] });
  });
});

describe("rows", () => {
  const parts = [
    { key: "way", label: "way", words: ["both", "in", "out"] },
    { key: "local", label: "local", words: [] },
  ];
  const rules = (first: Row[]) =>
    held(first, (value, put) => <Rows label="firewall rules" one="rule" parts={parts} rows={value} set={put} />);

  it("are added with the choices of the row above, and taken away singly", async () => {
    const set = rules([{ way: "in", local: "10.61.0.0/24" }]);
    await userEvent.click(screen.getByRole("button", { name: "Add a rule" }));
    expect(set.at(-1)?.[1]).toEqual({ way: "in", local: "" });
    await userEvent.type(screen.getByLabelText("rule 2: local"), "10.62.4.0/24");
    await userEvent.selectOptions(screen.getByLabelText("rule 2: way"), "out");
    await userEvent.click(screen.getByRole("button", { name: "Remove rule 1" }));
    expect(set.at(-1)).toEqual([{ way: "out", local: "10.62.4.0/24" }]);
  });

  it("keep a word that the list does not have", () => {
    rules([{ way: "sideways", local: "" }]);
    expect((screen.getByLabelText("rule 1: way") as HTMLSelectElement).value).toBe("sideways");
  });
});

describe("a lifetime", () => {
  const units = [
    { end: "A", unit: "minutes" },
    { end: "B", unit: "hours" },
  ] as const;

  it("begins in the unit of the first end, and says what each end types", async () => {
    const set = held("", (value, put) => (
      <LifetimeField
        label="IKE lifetime"
        value={value}
        set={put}
        words={["seconds", "minutes", "hours"]}
        units={units}
      />
    ));
    await userEvent.type(screen.getByLabelText("IKE lifetime: time"), "480");
    expect(set.at(-1)).toBe("{ time: 480 min }");
    expect(screen.getByRole("group").textContent).toContain("A types 480 min B types 8 h");
    await userEvent.type(screen.getByLabelText("IKE lifetime: time"), "{Backspace}1");
    expect(screen.getByRole("group").textContent).toContain("A types 481 min B types no whole number of hours");
  });
});
