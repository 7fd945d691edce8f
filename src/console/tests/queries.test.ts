import { describe, expect, it } from "vitest";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { questions, staleBy } from "../src/service/questions";
import { ask, mayShow, writtenBy, type Written } from "../src/service/queries";
import type { ChangePage } from "../src/service/api";

const change: Written = { kind: "change", code: "BRI-0001" };
const tunnel: Written = { kind: "tunnel", code: "BRI-ASHLOW" };
const person: Written = { kind: "person", code: "ines" };

describe("what is read again after something was written", () => {
  it.each([
    ["its own page", ask.change("BRI-0001").queryKey, change, true],
    ["the page of another change", ask.change("BRI-0002").queryKey, change, false],
    ["the list of changes", ["changes", ""], change, true],
    ["what waits for the asker", ask.today().queryKey, change, true],
    ["a tunnel, which names its open changes", ask.tunnel("BRI-ASHLOW").queryKey, change, true],
    ["findings, which no draft moves", ["findings", {}], change, false],
    ["a gateway, which no draft moves", ask.gateway("churn-gw1").queryKey, change, false],
    ["a platform profile", ask.platform("alderquay-major@1").queryKey, change, false],
    ["the list of tunnels", ["tunnels", {}], tunnel, true],
    ["findings", ["findings", {}], tunnel, true],
    ["a gateway, whose verdict is of its tunnels", ask.gateway("churn-gw1").queryKey, tunnel, true],
    ["a change, whose approval rests on it", ask.change("BRI-0001").queryKey, tunnel, true],
    ["people", ask.people().queryKey, tunnel, false],
    ["people", ask.people().queryKey, person, true],
    ["tunnels, which no person moves", ["tunnels", {}], person, false],
    ["the history", ["commits", {}], person, true],
    ["a form that is being typed", ["form", "sites", "SKE-LAB"], tunnel, false],
    ["a packet that was computed", ["packet", {}], tunnel, false],
    ["who is signed in", ["me"], tunnel, false],
  ])("%s", (_, key, written, expected) => expect(mayShow(key, [written])).toBe(expected));

  it("is everything that shows any of several records", () => {
    expect(mayShow(ask.people().queryKey, [tunnel, person])).toBe(true);
    expect(mayShow(["findings", {}], [change, person])).toBe(false);
  });

  it("reads everything but what is computed and typed when it does not know the kind", () => {
    const other = { kind: "observation", code: "x" };
    expect(mayShow(["tunnels"], [other])).toBe(true);
    expect(mayShow(["packet", {}], [other])).toBe(false);
    expect(mayShow(["form", "sites", "x"], [other])).toBe(false);
  });

  it("has its tunnels among it once a change is closed, and not before", () => {
    const page = { code: "BRI-0001", state: "under way", tunnels: [{ code: "BRI-ASHLOW" }] } as unknown as ChangePage;
    expect(writtenBy(page)).toEqual([change]);
    expect(writtenBy({ ...page, state: "done" })).toEqual([change, tunnel]);
  });
});

describe("keys", () => {
  it("tell the tunnel of today from the tunnel of a day, and keep both under its code", () => {
    const [now, then] = [ask.tunnel("T").queryKey, ask.tunnel("T", "2026-11-01").queryKey];
    expect(now).not.toEqual(then);
    expect(now.slice(0, 2)).toEqual(then.slice(0, 2));
  });

  it("are all different, and each says what makes its answer stale", () => {
    const factories = Object.values(ask) as ((...about: never[]) => { queryKey: readonly unknown[] })[];
    const keys = factories.map((f) => f(...(["x", "y"] as never[])).queryKey);
    expect(new Set(keys.map((k) => JSON.stringify(k))).size).toBe(keys.length);
    for (const key of keys) expect(staleBy(key), String(key[0])).toBeDefined();
  });

  it("are made of declared questions, everywhere, and no question is declared that nobody asks", () => {
    const files = readdirSync("src", { recursive: true, encoding: "utf8" }).filter((f) => /\.tsx?$/.test(f));
    const text = files.map((f) => readFileSync(join("src", f), "utf8")).join("\n");
    expect([...text.matchAll(/(queryKey: *|setQueryData\(|usePages\()\[/g)].map((m) => m[0])).toEqual([]);
    const asked = new Set([...text.matchAll(/queryKeyOf\(\s*"([^"]+)"/g)].map((m) => m[1]));
    expect([...asked].sort()).toEqual(Object.keys(questions).sort());
  });
});
