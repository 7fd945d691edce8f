import {
  columnVisibilityFeature,
  createColumnHelper,
  createSortedRowModel,
  rowSelectionFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type RowData,
  type RowSelectionState,
} from "@tanstack/react-table";
import { useWindowVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { Button, Dialog, DialogTrigger, Popover } from "react-aria-components";
import { useSearchParams } from "react-router";
import { keep, loadKept } from "../browserStore";

const features = tableFeatures({
  rowSortingFeature,
  columnVisibilityFeature,
  rowSelectionFeature,
  sortedRowModel: createSortedRowModel(),
});

/** A column: what it shows of a row, and what it is sorted by. */
export interface Column<T> {
  id: string;
  head: ReactNode;
  cell: (row: T) => ReactNode;
  /** Texts are sorted in natural order: 2 before 10. */
  by?: (row: T) => string | number;
  className?: string;
  /** Left out until somebody chooses it. */
  hidden?: boolean;
}

const natural = new Intl.Collator("en", { numeric: true, sensitivity: "base" });

type Sorted = string | number | null | undefined;

const inOrder = (x: Sorted, y: Sorted) =>
  typeof x === "number" && typeof y === "number" ? x - y : natural.compare(String(x ?? ""), String(y ?? ""));

/**
 * A list that is sorted by any column, whose columns are chosen and whose rows are selected. Only what can be visible is
 * drawn, so that tens of thousands scroll. The order stands in the address, so that a colleague opens the same.
 */
export function List<T extends RowData>(props: {
  /** Under which the chosen columns are kept in this browser. */
  name: string;
  columns: readonly Column<T>[];
  rows: readonly T[];
  keyOf: (row: T) => string;
  open?: (row: T) => void;
  /** What can be done to the selected rows; without it none can be selected. */
  acts?: (selected: T[], clear: () => void) => ReactNode;
  /** Reads more rows; the list has only its first ones until then. */
  more?: () => void;
  hasMore?: boolean;
  label: string;
}) {
  const { name, columns, rows, keyOf, open, acts, more, hasMore, label } = props;
  const [params, setParams] = useSearchParams();
  const order = params.get("sort") ?? "";
  const sorting = order ? [{ id: order.replace(/^-/, ""), desc: order.startsWith("-") }] : [];
  const kept = `vellumkeep.columns.${name}`;
  const [hidden, setHidden] = useState<string[]>(
    () => loadKept<string[]>(kept) ?? columns.filter((c) => c.hidden).map((c) => c.id),
  );
  const [selection, setSelection] = useState<RowSelectionState>({});
  const defined = useMemo(() => {
    const helper = createColumnHelper<typeof features, T>();
    return helper.columns(
      columns.map((c) =>
        helper.accessor((row) => c.by?.(row) ?? "", {
          id: c.id,
          enableSorting: c.by !== undefined,
          sortFn: (x, y, id) => inOrder(x.getValue<Sorted>(id), y.getValue<Sorted>(id)),
        }),
      ),
    );
  }, [columns]);
  const table = useTable({
    features,
    columns: defined,
    data: rows,
    getRowId: keyOf,
    enableRowSelection: acts !== undefined,
    state: {
      sorting,
      columnVisibility: Object.fromEntries(hidden.map((id) => [id, false])),
      rowSelection: selection,
    },
    onRowSelectionChange: (next) => setSelection((old) => (typeof next === "function" ? next(old) : next)),
  });
  const shown = table.getRowModel().rows;
  const visible = columns.filter((c) => !hidden.includes(c.id));
  const selected = shown.filter((r) => r.getIsSelected()).map((r) => r.original);
  const [every, setEvery] = useState(false);
  const none = () => {
    setEvery(false);
    setSelection({});
  };
  const sortBy = (id: string) => {
    const next = new URLSearchParams(params);
    if (order === id) next.set("sort", `-${id}`);
    else if (order === `-${id}`) next.delete("sort");
    else next.set("sort", id);
    setParams(next, { replace: true });
  };
  // An order is one of all rows: what was not read yet is read first.
  useEffect(() => {
    if (order && hasMore) more?.();
  }, [order, hasMore, more, rows.length]);

  // All means all that match, not those that were read so far.
  const { toggleAllRowsSelected } = table;
  useEffect(() => {
    if (!every) return;
    if (hasMore) more?.();
    toggleAllRowsSelected(true);
    // The table is made anew with every drawing; only rows that came are a reason.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [every, hasMore, rows.length]);

  const body = useRef<HTMLTableElement>(null);
  const drawn = useWindowVirtualizer({
    count: shown.length,
    estimateSize: () => 38,
    overscan: 16,
    scrollMargin: body.current?.offsetTop ?? 0,
    getItemKey: (i) => shown[i].id,
  });
  const items = drawn.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (hasMore && last > shown.length - 60) more?.();
  }, [hasMore, more, last, shown.length]);
  const margin = drawn.options.scrollMargin;
  const above = (items[0]?.start ?? 0) - (items.length ? margin : 0);
  const below = drawn.getTotalSize() + margin - (items.at(-1)?.end ?? margin);
  const width = visible.length + (acts ? 1 : 0);
  const gap = (height: number) =>
    height > 0 && (
      <tr aria-hidden="true" style={{ height }}>
        <td colSpan={width} />
      </tr>
    );
  return (
    <>
      <div className="listbar">
        {acts && selected.length > 0 ? (
          <>
            <b role="status">{selected.length} selected</b>
            {acts(selected, none)}
            <button className="link" onClick={none}>
              Select none
            </button>
          </>
        ) : (
          <span />
        )}
        <DialogTrigger>
          <Button className="link src">Columns</Button>
          <Popover className="choices-list columns-chosen">
            <Dialog aria-label="Columns">
              {columns.map((c) => (
                <label key={c.id} className="plain">
                  <input
                    type="checkbox"
                    className="inline"
                    checked={!hidden.includes(c.id)}
                    disabled={visible.length === 1 && !hidden.includes(c.id)}
                    onChange={(e) => {
                      const next = e.target.checked ? hidden.filter((id) => id !== c.id) : [...hidden, c.id];
                      keep(kept, next);
                      setHidden(next);
                    }}
                  />{" "}
                  {c.head}
                </label>
              ))}
            </Dialog>
          </Popover>
        </DialogTrigger>
      </div>
      <table ref={body} className="long wide-table" aria-label={label} aria-rowcount={shown.length}>
        <thead>
          <tr>
            {acts && (
              <th className="w30">
                <input
                  type="checkbox"
                  aria-label="Select all"
                  checked={shown.length > 0 && selected.length === shown.length}
                  onChange={(e) => {
                    setEvery(e.target.checked);
                    if (!e.target.checked) table.toggleAllRowsSelected(false);
                  }}
                />
              </th>
            )}
            {visible.map((c) => {
              const way = order === c.id ? "ascending" : order === `-${c.id}` ? "descending" : "none";
              return (
                <th key={c.id} className={c.className} aria-sort={c.by ? way : undefined}>
                  {c.by ? (
                    <button className="sorts" onClick={() => sortBy(c.id)}>
                      {c.head} <i aria-hidden="true">{way === "ascending" ? "↑" : way === "descending" ? "↓" : ""}</i>
                    </button>
                  ) : (
                    c.head
                  )}
                </th>
              );
            })}
          </tr>
        </thead>
        <tbody>
          {gap(above)}
          {items.map(({ index }) => {
            const row = shown[index];
            return (
              <tr
                key={row.id}
                ref={drawn.measureElement}
                data-index={index}
                className={open ? "go" : undefined}
                aria-selected={acts ? row.getIsSelected() : undefined}
                onClick={(e) => {
                  if (open && !(e.target as HTMLElement).closest("a, button, input, label")) open(row.original);
                }}
              >
                {acts && (
                  <td>
                    <label className="tick">
                      <input
                        type="checkbox"
                        aria-label={`Select ${row.id}`}
                        checked={row.getIsSelected()}
                        onChange={(e) => {
                          setEvery(false);
                          row.toggleSelected(e.target.checked);
                        }}
                      />
                    </label>
                  </td>
                )}
                {visible.map((c) => (
                  <td key={c.id} className={c.className}>
                    {c.cell(row.original)}
                  </td>
                ))}
              </tr>
            );
          })}
          {gap(below)}
        </tbody>
      </table>
      {hasMore && <p className="src">{shown.length} read so far; there are more.</p>}
    </>
  );
}
