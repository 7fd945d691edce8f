import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { unwrap } from "../service/api";
import { ask } from "../service/queries";
import { Problem } from "./Page";
import { useWrite } from "./useWrite";

/** Filters kept under a name: opened with one click, kept with another. */
export function SavedFilters({ list }: { list: "tunnels" | "findings" }) {
  const queries = useQueryClient();
  const [params] = useSearchParams();
  const [asked, setAsked] = useState(false);
  const [name, setName] = useState("");
  const [shared, setShared] = useState(false);
  const kept = useQuery(ask.savedFilters());
  const again = () => queries.invalidateQueries(ask.savedFilters());
  const keep = useWrite({
    mutationFn: (_: void, api) =>
      unwrap(api.POST("/api/v1/saved-filters", { body: { name, list, filter: params.toString(), shared } })),
    onSuccess: () => {
      setAsked(false);
      setName("");
      void again();
    },
  });
  const remove = useWrite({
    mutationFn: (id: string, api) => unwrap(api.DELETE("/api/v1/saved-filters/{id}", { params: { path: { id } } })),
    onSuccess: again,
  });
  const here = params.toString();
  const mine = kept.data?.filter((k) => k.list === list) ?? [];
  const open = mine.find((k) => new URLSearchParams(k.filter).toString() === here);
  return (
    <div className="kept">
      {mine.length > 0 && <span className="src">Saved filters</span>}
      {mine.map((k) => (
        <Link
          key={k.id}
          to={`/${list}?${k.filter}`}
          aria-current={open?.id === k.id ? "page" : undefined}
          title={k.mine ? undefined : `shared by ${k.by}`}
        >
          {k.name}
        </Link>
      ))}
      {open?.mine && (
        <button className="link src" onClick={() => remove.mutate(open.id)}>
          remove “{open.name}”
        </button>
      )}
      {here !== "" && !open && !asked && (
        <button className="link src" onClick={() => setAsked(true)}>
          save this filter
        </button>
      )}
      {asked && (
        <form
          className="filters"
          onSubmit={(e) => {
            e.preventDefault();
            keep.mutate();
          }}
        >
          <label>
            Name
            <input
              autoFocus
              required
              value={name}
              onChange={(e) => setName(e.target.value)}
              placeholder="blocks at Brindlecombe"
            />
          </label>
          <label className="plainly">
            <input type="checkbox" checked={shared} onChange={(e) => setShared(e.target.checked)} /> for the whole team
          </label>
          <button>Save</button>
          <button type="button" onClick={() => setAsked(false)}>
            Cancel
          </button>
          {keep.error && <Problem error={keep.error} />}
        </form>
      )}
    </div>
  );
}
