import { useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import { unwrap, type ChangePage } from "../service/api";
import { ask, reread } from "../service/queries";
import { Problem } from "../parts/Page";
import { Sentence, Verdict } from "../parts/Sentence";
import { useWrite } from "../parts/useWrite";
import { Input } from "../parts/controls/Input";
import { Table } from "../parts/Table";

/** What a reviewer would look for in the plan. */
export function PlanFindings({ c }: { c: ChangePage }) {
  if (c.planFindings.length === 0) return null;
  return (
    <section aria-label="Findings on the plan">
      {c.planFindings.map((f, i) => (
        <p className="planfinding" key={i}>
          <span className={`sev ${f.severity}`}>{f.severity}</span> <code>{f.code}</code> <Sentence says={f.what} />{" "}
          <span className="src">
            <Sentence says={f.do} />
          </span>
        </p>
      ))}
    </section>
  );
}

/** Values that nobody knows yet, each with a place to fill it in. */
export function PendingValues({ c, may }: { c: ChangePage; may: boolean }) {
  const queries = useQueryClient();
  const [values, setValues] = useState<Record<number, string>>({});
  const fill = useWrite({
    mutationFn: (number: number, api) =>
      unwrap(
        api.POST("/api/v1/changes/{code}/fill", {
          params: { path: { code: c.code } },
          body: { number, value: values[number] ?? "" },
        }),
      ),
    onSuccess: (page) => {
      queries.setQueryData(ask.change(c.code).queryKey, page);
      // The value stands in the record that waited for it, a tunnel or a gateway.
      void reread(queries, { kind: "change", code: c.code }, { kind: "gateway", code: "" });
    },
  });
  if (c.pending.length === 0 && c.filled.length === 0) return null;
  const row = (number: number, label: string, word: string, says: ReactNode) => (
    <form
      className="fill"
      key={number}
      onSubmit={(e) => {
        e.preventDefault();
        fill.mutate(number);
      }}
    >
      <label>
        {label}
        <Input
          className="mono"
          required
          disabled={!may}
          value={values[number] ?? ""}
          onChange={(e) => setValues({ ...values, [number]: e.target.value })}
        />
      </label>
      <button disabled={!may || fill.isPending}>{word}</button>
      <span className="src">{says}</span>
    </form>
  );
  return (
    <section aria-label={c.pending.length > 0 ? "Pending values" : "Values filled in"}>
      <h2>{c.pending.length > 0 ? "Pending values" : "Values filled in"}</h2>
      {c.pending.map((p) =>
        row(
          p.number,
          p.label,
          "Fill in",
          <>
            {p.whoKnows ? `from ${p.whoKnows}` : "nobody is named who supplies it"}
            {p.by && `, by ${p.by}`};{" "}
            {p.steps.length === 1 ? `step ${p.steps[0]} needs` : `steps ${p.steps.join(", ")} need`} it. Approval stays
            when it is filled in.
          </>,
        ),
      )}
      {c.filled.map((f) =>
        may ? (
          row(
            f.number,
            f.label,
            "Correct",
            <>
              <code>{f.value}</code>, filled in by {f.by}. Steps that entered it are open again when it is corrected.
            </>,
          )
        ) : (
          <p key={f.number}>
            {f.label} <code>{f.value}</code>, filled in by {f.by}.
          </p>
        ),
      )}
      {fill.error && <Problem error={fill.error} />}
    </section>
  );
}

/** Every setting carried to another platform; what is kept as it is stands folded. */
export function Translations({ c }: { c: ChangePage }) {
  const [all, setAll] = useState(false);
  if (c.translations.length === 0) return null;
  const altered = c.translations.filter((t) => t.carries !== "kept" || t.before !== t.after);
  const many = new Set(c.translations.map((t) => t.tunnel)).size > 1;
  // What goes the same way on several tunnels is said once.
  const same = new Map<string, typeof altered>();
  for (const t of all ? c.translations : altered) {
    const key = [t.what, t.before, t.after, t.carries, t.why.text].join("|");
    same.set(key, [...(same.get(key) ?? []), t]);
  }
  return (
    <section aria-label="Carried over">
      <h2>Carried over to the new platform</h2>
      <Table>
        <thead>
          <tr>
            {many && <th className="w100">Tunnel</th>}
            <th className="w150">Setting</th>
            <th className="w230">was</th>
            <th className="w230">becomes</th>
            <th>why</th>
          </tr>
        </thead>
        <tbody>
          {[...same].map(([key, [t, ...others]]) => (
            <tr key={key}>
              {many && (
                <td className="mono">
                  {[t, ...others].map((x) => (
                    <div key={x.tunnel}>
                      <b className={x.end.toLowerCase()}>{x.end}</b> {x.tunnel}
                    </div>
                  ))}
                </td>
              )}
              <td>{t.what}</td>
              <td className="mono was wraps">{t.before ?? "nothing"}</td>
              <td className="mono wraps">
                {t.carries === "impossible" ? (
                  <span className="sev blocks">impossible</span>
                ) : t.carries === "changed" ? (
                  <b>{t.after}</b>
                ) : (
                  t.after
                )}
              </td>
              <td className="soft">
                <Sentence says={t.why} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <button className="link" onClick={() => setAll(!all)}>
        {all ? "Only what changes" : `${c.translations.length - altered.length} more are not changed`}
      </button>
    </section>
  );
}

/** What each tunnel of the change does before and after, how long it carries nothing, and which others are affected. */
export function BeforeAndAfter({ c }: { c: ChangePage }) {
  const planned = !["done", "backed out", "dropped"].includes(c.state);
  return (
    <section aria-label="What it does to tunnels">
      {c.tunnels
        .filter((t) => t.before.length + t.after.length > 0)
        .map((t) => (
          <div className="thenow" key={t.code}>
            <div>
              <Link className="mono" to={`/tunnels/${t.code}`}>
                {t.code}
              </Link>{" "}
              <span className="src">{planned ? "now" : "before, as planned"}</span>
              <Verdict verdict={t.before} />
            </div>
            <div>
              <span className="src">{planned ? "after" : "after, as planned"}</span>
              <Verdict verdict={t.after} />
              {t.interruption && (
                <p className="stopping">
                  <Sentence says={t.interruption} />
                </p>
              )}
            </div>
          </div>
        ))}
      {c.touches.length > 0 && (
        <>
          <h2>Other tunnels that are affected</h2>
          {c.touches.map((t) => (
            <p key={t.tunnel}>
              <Sentence says={t.how} />
            </p>
          ))}
        </>
      )}
    </section>
  );
}
