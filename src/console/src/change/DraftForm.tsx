import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { Refused, unwrap, version, type ChangePage, type Writer } from "../service/api";
import { Amount } from "../parts/controls/Amount";
import { Choice } from "../parts/controls/Choice";
import { Line } from "../parts/controls/Line";
import { tell } from "../parts/notices";
import { MomentField } from "../parts/controls/DateTimeFields";
import { Head, Problem } from "../parts/Page";
import { useDelayed } from "../parts/useDelayed";
import { useKeptForm } from "../parts/useKeptForm";
import { ask, reread } from "../service/queries";
import type { DraftNeeds } from "./draftNeeds";
import { DraftFields, kindsOfChange } from "./DraftFields";
import { LookedAt } from "./LookedAt";
import { blank, isEnough, requestOf, type About, type Kind, type Said } from "./request";
import { useWrite } from "../parts/useWrite";

/** What should be different, and beside it what that would do, before anything is kept. */
export function DraftForm(props: {
  who: string;
  about: About;
  title: string;
  kinds: readonly Kind[];
  first: Partial<Said>;
  beside: Omit<DraftNeeds, "said" | "put">;
  sites: { A: string; B: string };
}) {
  const { who, about, title, kinds, beside, sites } = props;
  const go = useNavigate();
  const queries = useQueryClient();
  const first: Said = { ...blank, ...props.first };
  const { form, values: said, put, forget } = useKeptForm<Said>(who, `draft.${about.code}.${first.kind}`, first);
  const body = requestOf(said, about);
  const enough = isEnough(said);
  // What it would do does not depend on why it is wanted, and follows what is typed a moment later.
  const asked = JSON.parse(useDelayed(JSON.stringify(said), 350)) as Said;
  const look = useQuery({
    ...ask.look({ ...requestOf(asked, about), reason: "look" }),
    enabled: enough && isEnough(asked),
    placeholderData: keepPreviousData,
  });
  const draft = useWrite({
    mutationFn: async (send: boolean, api) => {
      const made = await unwrap(api.POST("/api/v1/changes", { body }));
      // A draft that stops at review is still a draft: it is kept, and its page says why it was not sent.
      const sent = send && made.acts.some((a) => a.act === "submit" && a.allowed) ? await submitted(api, made) : made;
      return { made, sent };
    },
    onSuccess: ({ made, sent }) => {
      forget();
      void reread(
        queries,
        { kind: "change", code: made.code },
        ...made.tunnels.map((t) => ({ kind: "tunnel", code: t.code })),
      );
      queries.setQueryData(ask.change(sent.code).queryKey, sent);
      tell({
        text: sent.state === "in review" ? `${sent.code} was sent for review.` : `${sent.code} was drafted.`,
      });
      void go(`/changes/${sent.code}`);
    },
  });
  const missing = !enough || said.reason.trim() === "";
  return (
    <form
      className="drafting"
      onSubmit={form.handleSubmit(() => {
        if (!missing && !draft.isPending) draft.mutate(true);
      })}
    >
      <Head code={about.code === "new" ? undefined : about.code} title={title} sub="What should be different" />
      <div className="cols">
        <div className="form">
          {kinds.length > 1 && (
            <Choice
              label="What should be different"
              value={said.kind}
              set={(kind) => put({ kind })}
              of={kinds.map((kind) => ({
                value: kind,
                label: <b>{kindsOfChange[kind].name}</b>,
                about: kindsOfChange[kind].about,
              }))}
            />
          )}
          <DraftFields {...beside} said={said} put={put} />
          <Line
            label="Reason"
            value={said.reason}
            set={(reason) => put({ reason })}
            help="Why the change is wanted: the reviewer and the record read it."
          />
          <Window said={said} put={put} about={about} sites={sites} planned={look.data?.plannedMinutes} />
          {draft.error && <Problem error={draft.error} />}
          <div className="acts starts">
            <button className="first" disabled={missing || draft.isPending}>
              Send for review
            </button>
            <button type="button" disabled={missing || draft.isPending} onClick={() => draft.mutate(false)}>
              Keep as draft
            </button>
            <button
              type="button"
              onClick={() => {
                forget();
                void go(-1);
              }}
            >
              Cancel
            </button>
          </div>
          {missing && (
            <p className="src">
              {!enough ? "It needs what should be different" : ""}
              {!enough && said.reason.trim() === "" ? " and " : ""}
              {said.reason.trim() === "" ? (enough ? "It needs a reason" : "a reason") : ""}.
            </p>
          )}
        </div>
        <aside className="looked" aria-label="What it would do">
          <h2>What it would do</h2>
          {!enough ? (
            <p className="soft">Nothing yet. Say what should be different.</p>
          ) : look.error ? (
            <Problem error={look.error} />
          ) : look.data ? (
            <LookedAt c={look.data} stale={look.isFetching} />
          ) : (
            <p className="soft" role="status">
              Working it out …
            </p>
          )}
        </aside>
      </div>
    </form>
  );
}

async function submitted(api: Writer, made: ChangePage) {
  try {
    return await unwrap(
      api.POST("/api/v1/changes/{code}/submit", {
        params: { path: { code: made.code } },
        headers: version(made.version),
        body: { remark: null, step: null },
      }),
    );
  } catch (e) {
    if (!(e instanceof Refused)) throw e;
    tell({ text: `${made.code} was drafted, and not sent for review: ${e.message}` });
    return made;
  }
}

/** When the work may be done: by the clock of either site, with the other's beside. */
function Window(props: {
  said: Said;
  put: (some: Partial<Said>) => void;
  about: About;
  sites: { A: string; B: string };
  planned?: number;
}) {
  const { said, put, about, sites, planned = 0 } = props;
  const clockOf = (end: "A" | "B") => ({
    zone: about.zones[end],
    name: (
      <>
        at <span className={end.toLowerCase()}>{end}</span> {sites[end]}
      </>
    ),
  });
  const clock = said.clock === "UTC" ? { zone: "Etc/UTC", name: "UTC" } : clockOf(said.clock);
  const other = said.clock === "A" ? clockOf("B") : clockOf("A");
  return (
    <details className="field" open={said.start !== ""}>
      <summary>Window {said.start === "" && <span className="src">not set; it can be set later</span>}</summary>
      <div className="field pair">
        <MomentField label="Begins" value={said.start} set={(start) => put({ start })} clock={clock} other={other} />
        <Amount
          label="Length"
          unit="min"
          value={said.minutes}
          set={(minutes) => put({ minutes })}
          least={1}
          most={1440}
          step={15}
        />
      </div>
      <Choice
        label="By the clock"
        inLine
        value={said.clock}
        set={(of) => put({ clock: of })}
        of={[
          { value: "A", label: <span className="a">at A {sites.A}</span> },
          { value: "B", label: <span className="b">at B {sites.B}</span> },
          { value: "UTC", label: "UTC" },
        ]}
      />
      {planned > said.minutes && (
        <Line
          label={`Why ${said.minutes} min are enough for ${planned} min of work`}
          value={said.whyShort}
          set={(whyShort) => put({ whyShort })}
          help="Or choose a longer window. It stands in the record."
        />
      )}
    </details>
  );
}
