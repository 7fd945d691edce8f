import type { RowData } from "@tanstack/react-table";
import type { ComponentProps, ReactNode } from "react";
import { List } from "./controls/List";
import { Problem, Waiting } from "./Page";

interface Read<T> {
  isPending: boolean;
  error: unknown;
  refetch: () => unknown;
  items: readonly T[];
  hasNextPage: boolean;
  isFetchingNextPage: boolean;
  fetchNextPage: () => unknown;
}

/** A list of a page: what stands while it is read, when it failed, when it is empty, and its rows. */
export function Listed<T extends RowData>({
  list,
  what,
  empty,
  ...shown
}: {
  list: Read<T>;
  what: string;
  empty: ReactNode;
} & Omit<ComponentProps<typeof List<T>>, "rows" | "more" | "hasMore" | "name" | "label">) {
  if (list.isPending) return <Waiting what={what} />;
  if (list.error) return <Problem error={list.error} again={() => list.refetch()} />;
  if (list.items.length === 0) return <p className="empty">{empty}</p>;
  return (
    <List
      {...shown}
      name={what}
      label={what[0].toUpperCase() + what.slice(1)}
      rows={list.items}
      more={list.isFetchingNextPage ? undefined : list.fetchNextPage}
      hasMore={list.hasNextPage}
    />
  );
}
