import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, unwrap, version, type FindingPage, type Writer } from "../service/api";
import { reread } from "../service/queries";
import { useEngineer } from "../service/session";
import { Ask } from "./controls/Ask";
import { DayField } from "./controls/DateTimeFields";
import { day, Problem } from "./Page";
import { Sentence } from "./Sentence";
import { useWrite } from "./useWrite";

/** A finding opens with its severity as a word, then what, what to do; why and the values it rests on are one key away. */
export function Finding(props: {
  f: FindingPage;
  withTunnel?: boolean;
  /** It is of something that is only drafted: there is nothing yet to accept. */
  drafted?: boolean;
  /** Whether it is selected in a list, and how that is changed; without it none can be. */
  select?: { selected: boolean; put: (selected: boolean) => void };
}) {
  const { f, withTunnel, drafted, select } = props;
  const [asked, setAsked] = useState(false);
  const engineer = useEngineer();
  return (
    <div className={`finding${f.accepted ? " accepted" : ""}`}>
      {select && (
        <label className="tick">
          <input
            type="checkbox"
            className="inline"
            aria-label={`Select ${f.code} of ${f.tunnel}`}
            checked={select.selected}
            onChange={(e) => select.put(e.target.checked)}
          />
        </label>
      )}
      <span className={`sev ${f.severity}`}>{f.severity}</span> {f.was && <span className="src">was {f.was}</span>}{" "}
      {f.after && <span className="src">after {f.after}</span>} <span className="code">{f.code}</span>{" "}
      {withTunnel && (
        <Link className="mono plain" to={`/tunnels/${f.tunnel}`}>
          {f.tunnel}
        </Link>
      )}
      <p>
        <Sentence says={f.what} />
      </p>
      <p className="do">
        <Sentence says={f.do} />
      </p>
      {f.accepted && (
        <p className="src">
          accepted until {day(f.accepted.until)} by {f.accepted.by}: {f.accepted.reason}
        </p>
      )}
      <details>
        <summary>Why it matters</summary>
        <p>
          <Sentence says={f.why} /> {f.standard && <span className="src">{f.standard}</span>}
        </p>
        {f.evidence.map((e, i) => (
          <p key={i} className="src">
            {e.end && <b className={e.end.toLowerCase()}>{e.end} </b>}
            {e.label}: <code>{e.value}</code> {e.from}
          </p>
        ))}
        {engineer && !drafted && (
          <p>
            <button className="link src" onClick={() => setAsked(true)}>
              {f.accepted ? "Withdraw or extend the acceptance" : "Accept"}
            </button>
          </p>
        )}
      </details>
      {asked && <Accept f={f} onDone={() => setAsked(false)} />}
    </div>
  );
}

/** Accepts a finding as it is now: another value, and it opens again. */
export const acceptFinding = (api: Pick<Writer, "POST">, f: FindingPage, reason: string, until: string, at: number) =>
  unwrap(
    api.POST("/api/v1/tunnels/{code}/accept", {
      params: { path: { code: f.tunnel } },
      headers: version(at),
      body: { code: f.code, subject: f.subject, digest: f.digest, reason, until },
    }),
  );

/** Accepting says why, and until when; what was typed stays when the service refuses. */
function Accept({ f, onDone }: { f: FindingPage; onDone: () => void }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState(f.accepted?.reason ?? "");
  const [until, setUntil] = useState(f.accepted?.until ?? "");
  const send = useWrite({
    mutationFn: async (withdraw: boolean, writes) => {
      const path = { code: f.tunnel };
      const t = await unwrap(api.GET("/api/v1/tunnels/{code}", { params: { path } }));
      return withdraw
        ? unwrap(
            writes.POST("/api/v1/tunnels/{code}/withdraw-acceptance", {
              params: { path },
              headers: version(t.version),
              body: { code: f.code, subject: f.subject },
            }),
          )
        : acceptFinding(writes, f, reason, until, t.version);
    },
    onSuccess: () => {
      void reread(queries, { kind: "tunnel", code: f.tunnel });
      onDone();
    },
  });
  return (
    <Ask title={`Accept ${f.code} of ${f.tunnel}`} holds={reason !== (f.accepted?.reason ?? "")} onLeave={onDone}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate(false);
        }}
      >
        <p>
          <Sentence says={f.what} />
        </p>
        <label className="field">
          Why it can stay
          <input value={reason} onChange={(e) => setReason(e.target.value)} placeholder="replaced in spring" />
        </label>
        <DayField
          label="Until"
          value={until}
          set={setUntil}
          help="That day included. It opens again after it, or when its values change."
        />
        {send.error && <Problem error={send.error} />}
        <div className="acts">
          {f.accepted && (
            <button type="button" onClick={() => send.mutate(true)}>
              Withdraw acceptance
            </button>
          )}
          <button type="button" onClick={onDone}>
            Cancel
          </button>
          <button className="first" disabled={send.isPending}>
            Accept it
          </button>
        </div>
      </form>
    </Ask>
  );
}
