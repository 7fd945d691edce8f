import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import { afterEach, describe, expect, it } from "vitest";
import { Refused, type Contract, type TunnelPage } from "../src/service/api";
import { AsFile } from "../src/parts/AsFile";
import { AsOf } from "../src/parts/AsOf";
import { day, moment, Problem } from "../src/parts/Page";
import { Sentence } from "../src/parts/Sentence";
import { Stroke } from "../src/parts/Stroke";
import { Merge } from "../src/records/Merge";
import { placeOf, wordOf } from "../src/service/recordKinds";
import { CompareTable } from "../src/tunnel/CompareTable";
import { PairGrid } from "../src/tunnel/PairGrid";

afterEach(cleanup);

const shown = (what: React.ReactNode, at = "/") =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter initialEntries={[at]}>{what}</MemoryRouter>
    </QueryClientProvider>,
  );

describe("sentences", () => {
  const parts = [
    { kind: "tunnel", text: "BRI-ASHLOW" },
    { kind: "word", text: " at " },
    { kind: "end", text: "B" },
    { kind: "word", text: " expects " },
    { kind: "value", text: "10.61.0.0/24" },
  ];

  it("link tunnels, mark ends, and set values in the fixed-width face", () => {
    const { container } = shown(<Sentence says={{ text: "", parts } as unknown as Contract["SentenceLine"]} />);
    expect(screen.getByRole("link", { name: "BRI-ASHLOW" }).getAttribute("href")).toBe("/tunnels/BRI-ASHLOW");
    expect(container.querySelector("b.b")?.textContent).toBe("B");
    expect(container.querySelector("code")?.textContent).toBe("10.61.0.0/24");
    expect(container.textContent).toBe("BRI-ASHLOW at B expects 10.61.0.0/24");
  });

  it("say days by their year only when it is another, and moments in UTC", () => {
    expect(day("2026-11-03", "2026-11-27")).toBe("3 Nov");
    expect(day("2025-11-03", "2026-11-27")).toBe("3 Nov 2025");
    expect(day("2026-11-03")).toBe("3 Nov 2026");
    expect(moment("2026-11-03T22:15:40+00:00")).toBe("3 Nov 2026 22:15 UTC");
  });
});

describe("what was refused", () => {
  it("is told in the service's words, with each problem and each value that changed", async () => {
    const error = new Refused(422, "Two things are wrong.", {
      problems: [
        { line: 3, field: "a.gateway", wrong: "no gateway x", right: "churn-gw1" },
        { line: 9, field: "b.gateway", wrong: "no gateway y", right: "ashlow-gw" },
      ],
      changed: [{ path: "notes", before: "old", who: "tomas" }],
    });
    let again = 0;
    shown(<Problem error={error} again={() => again++} />);
    const told = within(screen.getByRole("alert"));
    expect(told.getByText(/Two things are wrong/)).toBeTruthy();
    expect(told.getAllByRole("listitem").map((l) => l.textContent)).toEqual([
      "Line 3, a.gateway: no gateway x. Expected: churn-gw1.",
      "Line 9, b.gateway: no gateway y. Expected: ashlow-gw.",
      "notes: old → nothing, tomas",
    ]);
    await userEvent.click(told.getByRole("button", { name: "Try again" }));
    expect(again).toBe(1);
  });

  it("never shows what is no sentence", () => {
    shown(<Problem error={{ stack: "at Program.cs" }} />);
    expect(screen.getByRole("alert").textContent).toBe("The console failed here. ");
  });
});

describe("the six forms", () => {
  it.each([
    ["whole", 1],
    ["dotted", 1],
    ["twoHairlines", 1],
    ["thin", 1],
    ["flag", 2],
    ["gap", 1],
  ] as const)("%s is drawn and has its word", (stroke, paths) => {
    const { container } = shown(<Stroke form={{ stroke, word: `word of ${stroke}` }} />);
    expect(screen.getByRole("img", { name: `word of ${stroke}` })).toBeTruthy();
    expect(container.querySelectorAll("path").length).toBe(paths);
  });

  it("are separated without their hue", () => {
    const forms = (["whole", "dotted", "twoHairlines", "thin", "flag", "gap"] as const).map((stroke) => {
      const { container } = shown(<Stroke form={{ stroke, word: "w" }} />);
      const drawn = container.querySelector("svg")!.innerHTML.replaceAll(/(stroke|fill)="var\([^"]*"/g, "");
      cleanup();
      return drawn;
    });
    expect(new Set(forms).size).toBe(6);
  });
});

describe("lists", () => {
  it("go out as files with the filter that is shown and nothing that is not set", () => {
    shown(<AsFile path="/api/v1/tunnels" query={{ customer: "BRI", state: undefined, q: "a b" }} />);
    expect(screen.getAllByRole("link").map((l) => l.getAttribute("href"))).toEqual([
      "/api/v1/tunnels?customer=BRI&q=a+b&as=csv",
      "/api/v1/tunnels?customer=BRI&q=a+b&as=xlsx",
    ]);
  });

  it("are asked for as of a day when the field is left or Enter is pressed", async () => {
    shown(<AsOf />, "/tunnels?customer=BRI");
    const field = screen.getByLabelText("As of") as HTMLInputElement;
    await userEvent.type(field, "2026-11-01{Enter}");
    expect((screen.getByLabelText("As of") as HTMLInputElement).defaultValue).toBe("2026-11-01");
  });
});

describe("kinds of record", () => {
  it.each([
    ["change", "BRI-0001", "/changes/BRI-0001"],
    ["platform profile", "x@1", "/platforms/x@1"],
    ["person", "ines", "/people/ines"],
    ["something else", "x", "/"],
  ])("a %s stands in its place", (word, code, place) => expect(placeOf(word, code)).toBe(place));

  it("have their words", () => expect([wordOf("sites"), wordOf("people")]).toEqual(["site", "person"]));
});

const cell = (text: string, canBeSet = true) => ({
  text,
  source: "set",
  confirmed: null,
  canBeConfirmed: canBeSet,
  canBeCorrected: canBeSet,
});
const row = (key: string, stroke: string, worthALook: boolean) => ({
  key,
  label: key,
  a: cell("x", key !== "fixed"),
  b: cell("y", key !== "fixed"),
  form: { stroke, word: stroke },
  codes: [],
  worthALook,
});
const page = (rows: unknown[]) =>
  ({ a: { site: "Churn" }, b: { site: "Ashlow" }, rows, pairs: [] }) as unknown as TunnelPage;

describe("the comparison", () => {
  const rows = [
    row("fine", "whole", false),
    row("risky", "flag", true),
    row("fixed", "gap", true),
    row("weak", "thin", true),
  ];
  const labels = () =>
    screen
      .getAllByRole("row")
      .slice(1)
      .map((r) => r.querySelector("td")!.textContent);

  it("has what is worth a look first, the worst first, and leaves out what agrees", () => {
    shown(<CompareTable t={page(rows)} all={false} />);
    expect(labels()).toEqual(["fixed", "weak", "risky"]);
  });

  it("has every row in its own order when all are asked for", () => {
    shown(<CompareTable t={page(rows)} all />);
    expect(labels()).toEqual(["fine", "risky", "fixed", "weak"]);
  });

  it("says so when all rows agree", () => {
    shown(<CompareTable t={page([rows[0]])} all={false} />);
    expect(screen.getByText(/The one row agrees as recorded; 2 values were not confirmed/)).toBeTruthy();
  });

  it("says when no pair is agreed", () => {
    shown(<PairGrid t={page([])} />);
    expect(screen.getByText(/No subnet pair is agreed/)).toBeTruthy();
  });
});

describe("two edits of one record", () => {
  it("ask for a choice where both altered a value, and give what was chosen", async () => {
    const done: unknown[] = [];
    shown(
      <Merge
        code="SKE-LAB"
        was={{ name: "a", notes: "b" }}
        theirs={{ name: "theirs", notes: "b" }}
        mine={{ name: "mine", notes: "typed" }}
        who={["tomas"]}
        onDone={(form) => done.push(form)}
      />,
    );
    expect(screen.getByText(/tomas wrote SKE-LAB while you were typing/)).toBeTruthy();
    const choices = screen.getAllByRole("radio");
    expect(choices.length).toBe(2);
    expect((choices[1] as HTMLInputElement).checked).toBe(true);
    await userEvent.click(choices[0]);
    await userEvent.click(screen.getAllByRole("button").at(-1)!);
    expect(done).toEqual([{ name: "theirs", notes: "typed" }]);
  });
});
