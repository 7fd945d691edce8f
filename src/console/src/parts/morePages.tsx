import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { api, unwrap } from "../service/api";
import { queryKeyOf } from "../service/questions";

type PageOf<T> = { items: T[]; cursor?: string | null };

/** A list that comes in pages: what was read so far, and the next page when there is one. */
export function usePages<T>(key: readonly unknown[], read: (cursor: string | undefined) => Promise<PageOf<T>>) {
  const list = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => read(pageParam),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.cursor ?? undefined,
    placeholderData: (last) => last,
  });
  return {
    ...list,
    items: list.data?.pages.flatMap((p) => p.items) ?? [],
    count: `${list.data?.pages.flatMap((p) => p.items).length ?? 0}${list.hasNextPage ? " and more" : ""}`,
  };
}

export function More({
  list,
}: {
  list: { hasNextPage: boolean; isFetchingNextPage: boolean; fetchNextPage: () => unknown };
}) {
  if (!list.hasNextPage) return null;
  return (
    <p>
      <button onClick={() => list.fetchNextPage()} disabled={list.isFetchingNextPage}>
        Show more
      </button>
    </p>
  );
}

/** A customer by code, typed or picked: there may be thousands. */
export function CustomerField({
  value,
  set,
  label = "Customer",
}: {
  value: string;
  set: (code: string) => void;
  label?: string;
}) {
  const customers = useQuery({
    queryKey: queryKeyOf("names", "customers", "all"),
    queryFn: async () =>
      (
        await unwrap(
          api.GET("/api/v1/records/{kind}", { params: { path: { kind: "customers" }, query: { most: 5000 } } }),
        )
      ).items,
    staleTime: 60_000,
  });
  return (
    <label key={value}>
      {label}
      <input
        className="mono"
        list="customers"
        defaultValue={value}
        placeholder="all"
        onChange={(e) => {
          const typed = e.target.value.trim().toUpperCase();
          if (typed === "" || customers.data?.some((c) => c.code.toUpperCase() === typed)) set(typed);
        }}
      />
      <datalist id="customers">
        {customers.data?.map((c) => (
          <option key={c.code} value={c.code}>
            {c.name}
          </option>
        ))}
      </datalist>
    </label>
  );
}
