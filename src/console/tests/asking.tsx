import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter, useLocation } from "react-router";
import { answer } from "./setup";

/** A call as the service would have got it. */
export interface Asked {
  method: string;
  path: string;
  body: unknown;
  version: string | null;
}

/** What the service would answer: a body, or a status with a problem. */
export type Answers = Record<string, unknown>;

/** An answer that refuses, in the service's own form. */
export const refused = (status: number, detail: string, more: object = {}) => ({ refuses: status, detail, ...more });

/** Answers every call from a table of "METHOD /path"; what is asked is kept, and what the table lacks is not found. */
export function answering(answers: Answers): Asked[] {
  const asked: Asked[] = [];
  answer.fetch = async (input) => {
    const request = input as Request;
    const url = new URL(request.url);
    const text = await request.text();
    asked.push({
      method: request.method,
      path: url.pathname + url.search,
      body: text ? JSON.parse(text) : null,
      version: request.headers.get("If-Match"),
    });
    const found = answers[`${request.method} ${url.pathname}`] as Record<string, unknown> | undefined;
    if (found === undefined) return Response.json({ detail: `There is no ${url.pathname}.` }, { status: 404 });
    const status = (found?.refuses as number) ?? 200;
    return Response.json(found, { status });
  };
  return asked;
}

function Where() {
  const at = useLocation();
  return <span data-testid="where">{at.pathname + at.search}</span>;
}

/** A part of the console within what every page has: a cache of its own, and a place. It can be shown again, altered. */
export const shown = (what: ReactNode, at = "/") => {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const within = (part: ReactNode) => (
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={[at]}>
        {part}
        <Where />
      </MemoryRouter>
    </QueryClientProvider>
  );
  const made = render(within(what));
  return { ...made, again: (part: ReactNode) => made.rerender(within(part)) };
};

/** A sentence of the service of plain words. */
export const says = (text: string) => ({ text, parts: [{ kind: "word", text }] });
