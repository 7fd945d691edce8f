import { describe, expect, it } from "vitest";
import { fromText, inline, merge, pruned, read, toText, type Fields, type Value } from "../src/records/form";

describe("a form", () => {
  it("leaves out what is empty, however deep, and keeps what is not", () => {
    expect(pruned({ a: "", b: " ", c: { d: "" }, e: ["", { f: "" }], g: "x" })).toEqual({ g: "x" });
    expect(pruned({ a: { b: [{ c: "1" }, { c: "" }] } })).toEqual({ a: { b: [{ c: "1" }] } });
    expect(pruned({ a: "" })).toBeUndefined();
  });

  it("is the same after it was written as text and read again", () => {
    const form: Fields = {
      code: "SKE-LAB",
      networks: [{ prefix: "10.0.0.0/24", name: "yes" }, { prefix: "2001:db8::/64" }],
      notes: "one: two\nthree # four",
      since: "2026-11-27",
    };
    expect(fromText(toText(form)).form).toEqual(form);
  });

  it("keeps every value a text: no number, no yes, no date is made of it", () => {
    expect(fromText("mtu: 1400\nreliable: yes\nsince: 2026-11-27\nempty: ~").form).toEqual({
      mtu: "1400",
      reliable: "yes",
      since: "2026-11-27",
      empty: "~",
    });
  });

  it.each(["just words", "- a\n- list", "a: [1, 2", "a: 1\na: 2"])("says why %j has no fields", (text) => {
    const { form, wrong } = fromText(text);
    expect(form).toBeUndefined();
    expect(wrong).toBeTruthy();
  });

  it.each<Value>(["plain", { a: "1", b: ["x", "y"] }, ["x", { y: "z" }], "10.0.0.0/24, any"])(
    "reads %j back from one line",
    (value) => expect(read(inline(value))).toEqual(value),
  );

  it("takes what cannot be read as it was typed", () => expect(read("[unfinished")).toBe("[unfinished"));
});

describe("two edits of one form", () => {
  const was: { name: string; notes: string; networks: Fields[] } = {
    name: "a",
    notes: "b",
    networks: [{ prefix: "10.0.0.0/24", name: "x" }, { prefix: "10.0.1.0/24" }],
  };

  it("both stand where they altered different things", () => {
    const { form, changed } = merge(was, { ...was, name: "theirs" }, { ...was, notes: "mine" }, new Set());
    expect(form).toEqual({ ...was, name: "theirs", notes: "mine" });
    expect(changed.map((m) => [m.path, m.clash])).toEqual([
      ["name", false],
      ["notes", false],
    ]);
  });

  it("stand item by item in a list", () => {
    const theirs: typeof was = {
      ...was,
      networks: [{ prefix: "10.0.0.0/24", name: "theirs" }, { prefix: "10.0.1.0/24" }],
    };
    const mine: typeof was = { ...was, networks: [...was.networks, { prefix: "10.0.2.0/24", name: "mine" }] };
    const { form, changed } = merge(was, theirs, mine, new Set());
    expect(form).toEqual({ ...was, networks: [theirs.networks[0], was.networks[1], mine.networks[2]] });
    expect(changed.every((m) => !m.clash)).toBe(true);
  });

  it("clash on the same value: mine stands until theirs is chosen", () => {
    const [theirs, mine] = [
      { ...was, name: "theirs" },
      { ...was, name: "mine" },
    ];
    expect(merge(was, theirs, mine, new Set()).changed).toEqual([
      { path: "name", was: "a", theirs: "theirs", mine: "mine", clash: true },
    ]);
    expect(merge(was, theirs, mine, new Set()).form).toEqual(mine);
    expect(merge(was, theirs, mine, new Set(["name"])).form).toEqual(theirs);
  });

  it("do not clash where both wrote the same", () => {
    const both = { ...was, name: "both" };
    const { form, changed } = merge(was, both, both, new Set());
    expect(form).toEqual(both);
    expect(changed.some((m) => m.clash)).toBe(false);
  });

  it("that removes what the other altered is a clash, and nothing is lost silently", () => {
    const { form, changed } = merge(was, { ...was, notes: "theirs" }, { name: "a", networks: was.networks }, new Set());
    expect(changed).toEqual([{ path: "notes", was: "b", theirs: "theirs", mine: undefined, clash: true }]);
    expect(form).toEqual({ name: "a", networks: was.networks });
  });

  it("give the other's form when mine is untouched, and mine when theirs is", () => {
    const other = { name: "z", notes: "b", extra: "new" };
    expect(merge(was, other, was, new Set()).form).toEqual(other);
    expect(merge(was, was, other, new Set()).form).toEqual(other);
  });
});
