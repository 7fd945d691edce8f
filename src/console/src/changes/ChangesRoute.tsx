import { Link, useSearchParams } from "react-router";
import { api, unwrap } from "../api";
import { Head, Problem, Waiting } from "../parts/Page";
import { More, usePages } from "../parts/pages";
import { ChangeTable } from "./ChangeTable";

export function ChangesRoute() {
  const [params, setParams] = useSearchParams();
  const state = params.get("state") ?? "";
  const list = usePages(["changes", state], (cursor) =>
    unwrap(api.GET("/api/v1/changes", { params: { query: { state: state || undefined, cursor } } })),
  );
  return (
    <>
      <Head title="Changes" sub="To plan a change, open a tunnel or a gateway and choose Plan a change.">
        <Link className="btn first" to="/changes/new-tunnel">
          Plan a new tunnel
        </Link>
      </Head>
      <div className="filters">
        <label>
          State
          <select value={state} onChange={(e) => setParams(e.target.value ? { state: e.target.value } : {})}>
            <option value="">all</option>
            {["open", "draft", "in review", "approved", "under way", "done", "backed out", "dropped"].map((s) => (
              <option key={s}>{s}</option>
            ))}
          </select>
        </label>
      </div>
      {list.isPending ? (
        <Waiting what="changes" />
      ) : list.error ? (
        <Problem error={list.error} again={() => list.refetch()} />
      ) : list.items.length === 0 ? (
        <p className="empty">No change is {state || "here"}.</p>
      ) : (
        <>
          <ChangeTable changes={list.items} />
          <More list={list} />
        </>
      )}
    </>
  );
}
