import { useState } from "react";
import { useSearchParams } from "react-router";
import { api, unwrap, type FindingPage } from "../service/api";
import { AsFile, SelectedAsFile } from "../parts/AsFile";
import { Finding } from "../parts/FindingList";
import { SavedFilters } from "../parts/SavedFilters";
import { CustomerField, More, usePages } from "../parts/morePages";
import { Head, Problem, Waiting } from "../parts/Page";
import { useEngineer } from "../service/session";
import { AcceptMany, keyOf } from "./AcceptMany";
import { queryKeyOf } from "../service/questions";
import { Input, Select } from "../parts/controls/Input";

export function FindingsRoute() {
  const [params, setParams] = useSearchParams();
  const query = {
    customer: params.get("customer") || undefined,
    code: params.get("code") || undefined,
    severity: params.get("severity") || undefined,
  };
  const list = usePages(queryKeyOf("findings", query), (cursor) =>
    unwrap(
      api.GET("/api/v1/findings", { params: { query: { ...query, cursor: cursor ? Number(cursor) : undefined } } }),
    ),
  );
  const engineer = useEngineer();
  const [ticked, setTicked] = useState<readonly string[]>([]);
  // Those that were selected when it was asked: what is accepted leaves the list.
  const [accepting, setAccepting] = useState<readonly FindingPage[] | null>(null);
  const all = params.get("accepted") === "shown";
  const shown = list.items.filter(
    (f) => (all || !f.accepted) && (query.severity || query.code || f.severity !== "note"),
  );
  const accepted = list.items.filter(
    (f) => f.accepted && (query.severity || query.code || f.severity !== "note"),
  ).length;
  const selected = shown.filter((f) => ticked.includes(keyOf(f)));
  const set = (key: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(key, value);
    else next.delete(key);
    setParams(next);
  };
  return (
    <>
      <Head
        title="Findings"
        sub={
          list.data
            ? `${shown.length}${list.hasNextPage ? " and more" : ""}, worst first${accepted > 0 ? `; ${accepted} accepted` : ""}`
            : undefined
        }
      >
        <AsFile path="/api/v1/findings" query={query} />
      </Head>
      <SavedFilters list="findings" />
      <div className="filters">
        <label>
          Severity
          <Select value={query.severity ?? ""} onChange={(e) => set("severity", e.target.value)}>
            <option value="">all but notes</option>
            {["blocks", "degrades", "risk", "note"].map((s) => (
              <option key={s}>{s}</option>
            ))}
          </Select>
        </label>
        <CustomerField value={query.customer ?? ""} set={(v) => set("customer", v)} />
        <label>
          Code
          <Input
            className="mono"
            placeholder="PAIR-05"
            defaultValue={query.code ?? ""}
            onBlur={(e) => set("code", e.target.value.trim())}
            onKeyDown={(e) => e.key === "Enter" && set("code", e.currentTarget.value.trim())}
          />
        </label>
        {accepted > 0 && (
          <button onClick={() => set("accepted", all ? "" : "shown")}>
            {all ? "Hide accepted" : `Show ${accepted} accepted`}
          </button>
        )}
      </div>
      {list.isPending ? (
        <Waiting what="findings" />
      ) : list.error ? (
        <Problem error={list.error} again={() => list.refetch()} />
      ) : shown.length === 0 ? (
        <p className="empty">No findings.</p>
      ) : (
        <>
          {engineer && (
            <div className="listbar">
              <label className="plain">
                <Input
                  type="checkbox"
                  className="inline"
                  checked={selected.length === shown.length}
                  onChange={(e) => setTicked(e.target.checked ? shown.map(keyOf) : [])}
                />{" "}
                All {shown.length} in sight
              </label>
              {selected.length > 0 && (
                <>
                  <b role="status">{selected.length} selected</b>
                  <button onClick={() => setAccepting(selected)}>Accept</button>
                  <SelectedAsFile path="/api/v1/findings" query={query} keys={selected.map(keyOf)} />
                </>
              )}
            </div>
          )}
          {shown.map((f) => (
            <Finding
              key={keyOf(f)}
              f={f}
              withTunnel
              select={
                engineer
                  ? {
                      selected: ticked.includes(keyOf(f)),
                      put: (on) => setTicked(on ? [...ticked, keyOf(f)] : ticked.filter((k) => k !== keyOf(f))),
                    }
                  : undefined
              }
            />
          ))}
        </>
      )}
      {accepting && (
        <AcceptMany
          findings={accepting}
          onDone={() => {
            setAccepting(null);
            setTicked([]);
          }}
        />
      )}
      <More list={list} />
    </>
  );
}
