import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, told } from "../api";
import { Head, Problem, Waiting } from "../parts/Page";

export function DraftRoute() {
  const code = useParams().code!;
  const go = useNavigate();
  const queries = useQueryClient();
  const page = useQuery({ queryKey: ["tunnel", code], queryFn: () => told(api.GET("/api/v1/tunnels/{code}", { params: { path: { code } } })) });
  const [end, setEnd] = useState<"A" | "B">("A");
  const [add, setAdd] = useState("");
  const [left, setLeft] = useState<string[]>([]);
  const [why, setWhy] = useState("");
  const [start, setStart] = useState("");
  const [minutes, setMinutes] = useState("45");
  const others = page.data ? [...new Map(page.data.pairs.map((p) => (end === "A" ? [p.b, p.bName] : [p.a, p.aName]) as [string, string | null]))] : [];
  const draft = useMutation({
    mutationFn: () =>
      told(
        api.POST("/api/v1/changes", {
          body: {
            tunnel: page.data!.code,
            end,
            add: add.split(/[\s,;]+/).filter(Boolean),
            reach: left.length > 0 ? others.map(([p]) => p).filter((p) => !left.includes(p)) : null,
            title: null,
            why,
            windowStart: start ? `${start}:00Z` : null,
            windowMinutes: start ? Number(minutes) : null,
          },
        }),
      ),
    onSuccess: (c) => {
      void queries.invalidateQueries();
      go(`/changes/${c.code}`);
    },
  });
  if (page.isPending) return <Waiting what={code} />;
  if (page.error) return <Problem error={page.error} again={() => page.refetch()} />;
  const t = page.data;
  const near = end === "A" ? t.a : t.b;
  return (
    <form
      className="form"
      onSubmit={(e) => {
        e.preventDefault();
        draft.mutate();
      }}
    >
      <Head
        code={t.code}
        title="Add subnets"
        sub="Say what should be different; both ends' entries, rules and routes, the proof and the way back are worked out."
      />
      <fieldset className="field" style={{ border: 0, padding: 0 }}>
        <legend style={{ fontWeight: 560, fontSize: 12.5 }}>The new prefixes are behind</legend>
        {(["A", "B"] as const).map((e) => (
          <label key={e} style={{ display: "inline-block", marginRight: 20, marginTop: 4 }}>
            <input
              type="radio"
              name="end"
              style={{ display: "inline", width: "auto" }}
              checked={end === e}
              onChange={() => {
                setEnd(e);
                setLeft([]);
              }}
            />{" "}
            <span className={e.toLowerCase()}>
              {e} {e === "A" ? t.a.site : t.b.site}
            </span>
          </label>
        ))}
      </fieldset>
      <div className="field">
        <label>
          Prefixes
          <textarea className="mono" rows={2} required value={add} onChange={(e) => setAdd(e.target.value)} placeholder="10.61.40.0/24" />
          <span className="src">
            networks at {near.site}: {near.networks.join(", ")}
          </span>
        </label>
      </div>
      {others.length > 0 && (
        <fieldset className="field" style={{ border: 0, padding: 0 }}>
          <legend style={{ fontWeight: 560, fontSize: 12.5 }}>They should reach</legend>
          {others.map(([p, name]) => (
            <label key={p} style={{ fontWeight: 400 }}>
              <input
                type="checkbox"
                style={{ display: "inline", width: "auto" }}
                checked={!left.includes(p)}
                onChange={(e) => setLeft(e.target.checked ? left.filter((x) => x !== p) : [...left, p])}
              />{" "}
              <code>{p}</code> {name}
            </label>
          ))}
        </fieldset>
      )}
      <div className="field">
        <label>
          What it is for
          <input required value={why} onChange={(e) => setWhy(e.target.value)} />
        </label>
      </div>
      <div className="field pair">
        <label>
          Window begins, UTC
          <input type="datetime-local" value={start} onChange={(e) => setStart(e.target.value)} />
        </label>
        <label>
          Minutes
          <input type="number" min={1} max={1440} value={minutes} onChange={(e) => setMinutes(e.target.value)} />
        </label>
      </div>
      {draft.error && <Problem error={draft.error} />}
      <div className="acts" style={{ justifyContent: "flex-start" }}>
        <button className="first" disabled={draft.isPending}>
          Make the plan
        </button>
        <button type="button" onClick={() => go(`/tunnels/${t.code}`)}>
          Leave it
        </button>
      </div>
    </form>
  );
}
