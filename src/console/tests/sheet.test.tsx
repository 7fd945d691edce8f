import { cleanup, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import { ImportRoute } from "../src/imports/ImportRoute";
import { SheetPage } from "../src/imports/SheetPage";
import { answering, refused, shown } from "./asking";

afterEach(cleanup);

const file = () => new File(["1"], "pennyroyal.csv", { lastModified: 1 });
const column = (letter: string, heading: string, field: string, more: object = {}) => ({
  column: letter,
  heading,
  field,
  sure: true,
  samples: ["PEN-1", "PEN-2"],
  ...more,
});
const outcome = (more: object = {}) => ({
  name: "pennyroyal.csv",
  headingRow: 2,
  columns: [column("A", "Name", "tunnel"), column("B", "Near", "a.outer", { sure: false })],
  fields: [
    { field: "tunnel", about: "its code" },
    { field: "a.outer", about: "outer address of end A" },
    { field: "notes", about: "anything else" },
  ],
  tunnels: 4,
  leftOut: 0,
  problems: [],
  notes: [],
  outcome: { dryRun: true, added: [], changed: [], left: 0, findingsAdded: [], findingsRemoved: [] },
  ...more,
});
const unread = { row: 9, column: "H", cell: "ten", wrong: "'ten' is not a prefix", right: "10.61.0.0/24" };
const look = "POST /api/v1/import/sheet";
const others = { "GET /api/v1/records/customers": { items: [{ code: "PEN", name: "Pennyroyal" }], cursor: null } };

describe("a sheet before it is imported", () => {
  it("is only looked at: every question is a dry run", async () => {
    const asked = answering({ [look]: outcome(), ...others });
    shown(<SheetPage file={file()} />);
    expect(await screen.findByText(/4 tunnels can be read from pennyroyal.csv/)).toBeTruthy();
    expect(screen.getByText(/every cell was read/)).toBeTruthy();
    const posts = asked.filter((a) => a.method === "POST");
    expect(posts.length).toBe(1);
    expect(posts[0].path).toContain("dryRun=true");
  });

  it("names every cell that cannot be read, and is not imported until they are left out knowingly", async () => {
    const asked = answering({ [look]: outcome({ tunnels: 3, leftOut: 1, problems: [unread] }), ...others });
    shown(<SheetPage file={file()} />);
    const row = (await screen.findByText("ten")).closest("tr")!;
    expect(row.textContent).toBe("9Hten'ten' is not a prefix. Expected: 10.61.0.0/24.");
    expect(screen.getByText(/1 is left out for 1 cell that cannot be read/)).toBeTruthy();
    const button = screen.getByRole<HTMLButtonElement>("button", { name: "Import 3 tunnels" });
    expect(button.disabled).toBe(true);
    await userEvent.click(screen.getByRole("checkbox"));
    await waitFor(() => expect(button.disabled).toBe(false));
    expect(asked.at(-1)!.path).toContain("leaveOut=true");
  });

  it("asks again with what a column is taken for, and says which of them are a guess", async () => {
    const asked = answering({ [look]: outcome(), ...others });
    shown(<SheetPage file={file()} />);
    const guess = await screen.findByLabelText("Column B, Near");
    expect(guess.closest("td")!.textContent).toContain("not certain");
    expect(screen.getByLabelText("Column A, Name").closest("td")!.textContent).not.toContain("not certain");
    await userEvent.selectOptions(guess, "notes");
    await waitFor(() => expect(decodeURIComponent(asked.at(-1)!.path)).toContain("column=B=notes"));
  });

  it("asks again for whom, where the sheet does not say", async () => {
    const asked = answering({ [look]: outcome(), ...others });
    shown(<SheetPage file={file()} />);
    const whose = await screen.findByLabelText(/Customer, if the sheet/);
    await waitFor(() => expect(document.querySelector("datalist option")).toBeTruthy());
    await userEvent.type(whose, "pen");
    await waitFor(() => expect(asked.some((a) => a.path.includes("customer=PEN"))).toBe(true));
  });

  it("is not imported where nothing of it could be worked out", async () => {
    answering({ [look]: outcome({ outcome: null, tunnels: 0 }), ...others });
    shown(<SheetPage file={file()} />);
    expect((await screen.findByRole<HTMLButtonElement>("button", { name: "Import 0 tunnels" })).disabled).toBe(true);
  });

  it("that is none is refused in the service's words", async () => {
    answering({ [look]: refused(422, "The file is not a sheet. Expected: XLSX or CSV."), ...others });
    shown(<SheetPage file={file()} />);
    expect((await screen.findByRole("alert")).textContent).toContain("The file is not a sheet.");
  });

  it("tells what was decided while reading, with its row and column", async () => {
    answering({
      [look]: outcome({
        notes: [
          { row: 8, column: null, text: "which pairs are wanted is unknown" },
          { row: null, column: "N", text: "nothing of it was read" },
        ],
      }),
      ...others,
    });
    shown(<SheetPage file={file()} />);
    expect(await screen.findByText("2 things were decided while reading")).toBeTruthy();
    const told = [...document.querySelectorAll("details p")].map((p) => p.textContent!.replace(/\s+/g, " ").trim());
    expect(told).toEqual(["row 8 which pairs are wanted is unknown", "column N nothing of it was read"]);
  });
});

describe("a file that is dropped", () => {
  const choose = async (name: string, text = "1") => {
    const input = document.querySelector<HTMLInputElement>("input[type=file]")!;
    await userEvent.upload(input, new File([text], name), { applyAccept: false });
  };

  it("is a sheet or a keepfile by its name", async () => {
    answering({ [look]: outcome(), ...others });
    shown(<ImportRoute />);
    await choose("pennyroyal.csv");
    expect(await screen.findByText(/4 tunnels can be read/)).toBeTruthy();
    await choose("all.yaml", "vellumkeep: keepfile/1\nsites: []\n");
    expect(await screen.findByText(/3 lines/)).toBeTruthy();
    expect(screen.queryByText(/can be read/)).toBeNull();
  });

  it("as a keepfile is not imported before it was looked at", async () => {
    answering({ "POST /api/v1/import": outcome().outcome, ...others });
    shown(<ImportRoute />);
    await choose("all.yaml", "1");
    const take = await screen.findByRole<HTMLButtonElement>("button", { name: "Import" });
    expect(take.disabled).toBe(true);
    await userEvent.click(screen.getByRole("button", { name: "Show what it would do" }));
    expect(await screen.findByText(/Nothing was changed yet/)).toBeTruthy();
    expect(take.disabled).toBe(false);
  });
});
