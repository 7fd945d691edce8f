import type { ChangePage, Contract } from "../src/service/api";
import { says } from "./asking";

/** A step of end A that nobody has tried yet. */
export const step = (number: number, more: object = {}) =>
  ({
    number,
    key: `k${number}`,
    part: "build",
    where: "A",
    asked: null,
    do: says(`do ${number}`),
    enter: [],
    expect: [],
    remove: [],
    proof: null,
    needsProof: false,
    waits: null,
    minutes: 3,
    stops: null,
    undo: null,
    outcome: null,
    attempts: [],
    tunnel: "BRI-ASHLOW",
    takeBackUntil: null,
    alike: null,
    gateway: "churn-gw1",
    ...more,
  }) as Contract["StepPage"];

/** A draft about one tunnel, without a plan. */
export const change = (more: object = {}) =>
  ({
    code: "BRI-0007",
    version: 4,
    state: "draft",
    tunnel: "BRI-ASHLOW",
    a: { site: "Churn House", gateway: "churn-gw1", platform: "Northmere 4", takesEffect: "at once" },
    b: { site: "Ashlow", gateway: "ashlow-gw", platform: "Alderquay", takesEffect: "on commit" },
    tunnels: [{ code: "BRI-ASHLOW", before: [], after: [], interruption: null }],
    steps: [],
    acts: [],
    statusHistory: [],
    remarks: [],
    pending: [],
    filled: [],
    batches: [],
    differs: [],
    translations: [],
    touches: [],
    planFindings: [],
    keys: [],
    plannedMinutes: 30,
    windowStart: null,
    windowMinutes: null,
    windowAtA: null,
    windowAtB: null,
    ...more,
  }) as unknown as ChangePage;

/** A change under way, on which the asker may work. */
export const working = (steps: Contract["StepPage"][], more: object = {}) =>
  change({ state: "under way", steps, acts: [{ act: "step", allowed: true }], ...more });
