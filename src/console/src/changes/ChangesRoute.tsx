import { Link, useNavigate } from "react-router";
import { api, unwrap, type Contract } from "../service/api";
import type { Column } from "../parts/controls/List";
import { OneOf, ShowAll, useFilter, Words } from "../parts/Filters";
import { Listed } from "../parts/Listed";
import { Head, moment } from "../parts/Page";
import { CustomerField, usePages } from "../parts/morePages";
import { useEngineer } from "../service/session";
import { Calendar } from "./Calendar";
import { queryKeyOf } from "../service/questions";
import { Input } from "../parts/controls/Input";

const columns: Column<Contract["ChangeSummary"]>[] = [
  {
    id: "code",
    head: "Change",
    by: (c) => c.code,
    className: "w92",
    cell: (c) => (
      <Link className="mono" to={`/changes/${c.code}`}>
        {c.code}
      </Link>
    ),
  },
  { id: "title", head: "What", by: (c) => c.title, cell: (c) => c.title },
  { id: "tunnel", head: "Tunnel", by: (c) => c.tunnel, className: "mono w130", cell: (c) => c.tunnel },
  {
    id: "state",
    head: "State",
    by: (c) => c.state,
    className: "w150",
    cell: (c) => (
      <>
        {c.state}
        {c.failed > 0 && (
          <>
            , <span className="sev failed">step failed</span>
          </>
        )}
      </>
    ),
  },
  {
    id: "steps",
    head: "Steps",
    by: (c) => c.settled,
    className: "mono w84",
    cell: (c) => `${c.settled} of ${c.steps}`,
  },
  {
    id: "window",
    head: "Window",
    by: (c) => c.windowStart ?? "",
    className: "mono w170",
    cell: (c) => (c.windowStart ? moment(c.windowStart) : ""),
  },
  { id: "author", head: "Author", by: (c) => c.author, className: "w76", cell: (c) => c.author },
  {
    id: "written",
    head: "Written",
    by: (c) => c.writtenAt,
    className: "mono w170",
    cell: (c) => moment(c.writtenAt),
    hidden: true,
  },
];

export function ChangesRoute() {
  const { of, set } = useFilter();
  const go = useNavigate();
  const query = { state: of("state"), customer: of("customer"), author: of("author"), q: of("q") };
  const calendar = of("view") === "calendar";
  const list = usePages(queryKeyOf("changes", query), (cursor) =>
    unwrap(api.GET("/api/v1/changes", { params: { query: { ...query, cursor } } })),
  );
  const engineer = useEngineer();
  return (
    <>
      <Head
        title="Changes"
        sub={engineer ? "To plan one, open a tunnel or a gateway and choose Plan a change." : undefined}
      >
        {engineer && (
          <Link className="btn first" to="/changes/new-tunnel">
            Plan a new tunnel
          </Link>
        )}
      </Head>
      <nav className="tabs" aria-label="Views of changes">
        <button className="link" aria-pressed={!calendar} onClick={() => set("view", "")}>
          List
        </button>
        <button className="link" aria-pressed={calendar} onClick={() => set("view", "calendar")}>
          Calendar of windows
        </button>
      </nav>
      <div className="filters">
        <Words placeholder="cold store" />
        <CustomerField value={query.customer ?? ""} set={(v) => set("customer", v)} />
        <OneOf
          name="state"
          label="State"
          all="all"
          of={["open", "draft", "in review", "approved", "under way", "done", "backed out", "dropped"]}
        />
        <label>
          Author
          <Input
            key={query.author}
            defaultValue={query.author ?? ""}
            placeholder="sign-in name"
            onBlur={(e) => set("author", e.target.value.trim())}
            onKeyDown={(e) => e.key === "Enter" && set("author", e.currentTarget.value.trim())}
          />
        </label>
        <ShowAll />
      </div>
      {calendar ? (
        <Calendar query={query} />
      ) : (
        <Listed
          list={list}
          what="changes"
          empty="No change matches. To plan one, open a tunnel and choose Plan a change."
          columns={columns}
          keyOf={(c) => c.code}
          open={(c) => go(`/changes/${c.code}`)}
        />
      )}
    </>
  );
}
