import { queryOptions, type QueryClient, type QueryKey } from "@tanstack/react-query";
import { isKind, queryKeyOf, staleBy } from "./questions";
import { api, looking, fetched, unwrap, type ChangePage, type Contract } from "./api";

/** What is asked of the service, each question with its key: pages ask through these and nowhere else. */
export const ask = {
  today: () => queryOptions({ queryKey: queryKeyOf("today"), queryFn: () => unwrap(api.GET("/api/v1/today")) }),

  due: () => queryOptions({ queryKey: queryKeyOf("due"), queryFn: () => unwrap(api.GET("/api/v1/due")) }),
  keys: (viewedBy?: string) =>
    queryOptions({
      queryKey: queryKeyOf("keys", viewedBy ?? null),
      queryFn: () => unwrap(api.GET("/api/v1/keys", { params: { query: { viewedBy } } })),
    }),

  findingsOverTime: (customer?: string) =>
    queryOptions({
      queryKey: queryKeyOf("findings over time", customer ?? null),
      queryFn: () => unwrap(api.GET("/api/v1/findings/over-time", { params: { query: { customer } } })),
      staleTime: 60_000,
      retry: false,
    }),

  tunnel: (code: string, asOf?: string) =>
    queryOptions({
      queryKey: queryKeyOf("tunnel", code, asOf ?? null),
      queryFn: () => unwrap(api.GET("/api/v1/tunnels/{code}", { params: { path: { code }, query: { asOf } } })),
    }),
  tunnelChoices: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("tunnel choices", code),
      queryFn: () => unwrap(api.GET("/api/v1/tunnels/{code}/choices", { params: { path: { code } } })),
    }),
  gatewayChoices: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("gateway choices", code),
      queryFn: () => unwrap(api.GET("/api/v1/gateways/{code}/choices", { params: { path: { code } } })),
    }),
  newTunnel: (gatewayA: string, gatewayB: string) =>
    queryOptions({
      queryKey: queryKeyOf("new tunnel", gatewayA, gatewayB),
      queryFn: () => unwrap(api.GET("/api/v1/choices/new-tunnel", { params: { query: { gatewayA, gatewayB } } })),
      retry: false,
    }),
  /** What a draft would do; nothing is kept. */
  look: (body: Contract["DraftChange"]) =>
    queryOptions({
      queryKey: queryKeyOf("look", body),
      queryFn: ({ signal }) =>
        unwrap(looking.POST("/api/v1/changes", { params: { query: { dryRun: true } }, body, signal })),
      retry: false,
      staleTime: 30_000,
    }),
  rehearsal: (code: string, version: number) =>
    queryOptions({
      queryKey: queryKeyOf("rehearsal", code, version),
      queryFn: () => unwrap(api.GET("/api/v1/tunnels/{code}/rehearsal", { params: { path: { code } } })),
    }),

  change: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("change", code),
      queryFn: () => unwrap(api.GET("/api/v1/changes/{code}", { params: { path: { code } } })),
    }),

  gateway: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("gateway", code),
      queryFn: () => unwrap(api.GET("/api/v1/gateways/{code}", { params: { path: { code } } })),
    }),
  customer: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("customer", code),
      queryFn: () => unwrap(api.GET("/api/v1/customers/{code}", { params: { path: { code } } })),
    }),
  site: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("site", code),
      queryFn: () => unwrap(api.GET("/api/v1/sites/{code}", { params: { path: { code } } })),
    }),
  offer: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("offer", code),
      queryFn: () => unwrap(api.GET("/api/v1/offers/{code}/form", { params: { path: { code } } })),
    }),

  platforms: () =>
    queryOptions({ queryKey: queryKeyOf("platforms"), queryFn: () => unwrap(api.GET("/api/v1/platforms")) }),
  platform: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("platform", code),
      queryFn: () => unwrap(api.GET("/api/v1/platforms/{code}", { params: { path: { code } } })),
    }),
  suites: () => queryOptions({ queryKey: queryKeyOf("suites"), queryFn: () => unwrap(api.GET("/api/v1/suites")) }),
  suite: (code: string) =>
    queryOptions({
      queryKey: queryKeyOf("suite", code),
      queryFn: () => unwrap(api.GET("/api/v1/suites/{code}", { params: { path: { code } } })),
    }),
  common: (a: string, b: string, version?: string) =>
    queryOptions({
      queryKey: queryKeyOf("common", a, b, version ?? null),
      queryFn: () => unwrap(api.GET("/api/v1/calc/common", { params: { query: { a, b, version } } })),
    }),

  people: () => queryOptions({ queryKey: queryKeyOf("people"), queryFn: () => unwrap(api.GET("/api/v1/people")) }),
  person: (name: string) =>
    queryOptions({
      queryKey: queryKeyOf("person", name),
      queryFn: () => unwrap(api.GET("/api/v1/people/{name}", { params: { path: { name } } })),
    }),
  access: () => queryOptions({ queryKey: queryKeyOf("access"), queryFn: () => unwrap(api.GET("/api/v1/access")) }),
  glossary: () =>
    queryOptions({
      queryKey: queryKeyOf("glossary"),
      queryFn: () => unwrap(api.GET("/api/v1/glossary")),
      staleTime: Infinity,
    }),

  savedFilters: () =>
    queryOptions({ queryKey: queryKeyOf("saved filters"), queryFn: () => unwrap(api.GET("/api/v1/saved-filters")) }),

  search: (q: string) =>
    queryOptions({
      queryKey: queryKeyOf("search", q),
      queryFn: ({ signal }) => unwrap(api.GET("/api/v1/search", { params: { query: { q } }, signal })),
    }),
  drawing: (path: string) =>
    queryOptions({
      queryKey: queryKeyOf("drawing", path),
      queryFn: async () => (await fetched(`${path}${path.includes("?") ? "&" : "?"}links=true`)).text(),
    }),
};

/** A record that somebody wrote: what it is, and its code. */
export type Written = { kind: string; code: string };

/** What an act on a change wrote: the change, and once it is closed the tunnels that it was about. */
export const writtenBy = (c: ChangePage): Written[] => [
  { kind: "change", code: c.code },
  ...(c.state === "done" ? c.tunnels.map((t) => ({ kind: "tunnel", code: t.code })) : []),
];

/** Whether what a query shows can have changed with what was written. */
export function mayShow(key: QueryKey, written: readonly Written[]): boolean {
  const [what, code] = key.map(String);
  const by = staleBy(key);
  if (by === "every writing") return true;
  if (typeof by === "string") return false;
  const kinds: readonly string[] = by;
  return written.some((w) => (what === w.kind && code === w.code) || kinds.includes(w.kind) || !isKind(w.kind));
}

/** Reads again what shows what was written, and nothing else. */
export const reread = (queries: QueryClient, ...written: Written[]) =>
  queries.invalidateQueries({ predicate: (q) => mayShow(q.queryKey, written) });

/** Reads again everything that is shown: many records were written, or nobody knows which. */
export const rereadAll = (queries: QueryClient) =>
  queries.invalidateQueries({ predicate: (q) => staleBy(q.queryKey) !== "never under whoever types" });
