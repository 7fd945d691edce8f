import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState, type CSSProperties } from "react";
import { unwrap, type Contract } from "../service/api";
import { moment, Problem } from "../parts/Page";
import { Sentence } from "../parts/Sentence";
import { ask, reread, writtenBy } from "../service/queries";
import { ValuesOf } from "./StepValues";
import type { Tick } from "./ticks";
import { useWrite } from "../parts/useWrite";

type Step = Contract["StepPage"];

/** One step of the sheet, with what was recorded of it. */
export function StepRow(props: {
  code: string;
  s: Step;
  many: boolean;
  open: boolean;
  kept?: Tick;
  onChoose?: () => void;
}) {
  const { code, s, many, open, kept, onChoose } = props;
  return (
    <div
      className={`step ${s.outcome ?? ""} ${open ? "now" : ""}`}
      id={`step-${s.number}`}
      style={{ "--number": s.number } as CSSProperties}
    >
      <i className="tickbox" aria-hidden="true" />
      {onChoose ? (
        <button className="link n" onClick={onChoose} aria-label={`Work on step ${s.number}`}>
          {s.number}
        </button>
      ) : (
        <span className="n">{s.number}</span>
      )}
      <div>
        <span className="do">
          {s.where !== "us" && <b className={`print-only ${s.where.toLowerCase()}`}>{s.where} </b>}
          {s.outcome && <span className={`sev ${s.outcome}`}>{s.outcome} </span>}
          {kept && <span className="sev weak">{kept.body.outcome}, not sent </span>}
          {s.asked && <b>Ask {s.asked}: </b>}
          <Sentence says={s.do} /> {s.stops && <span className="stopping">{<Sentence says={s.stops} />}</span>}
        </span>
        {many && s.gateway && !s.do.text.includes(s.gateway) && (
          <span className="src">
            {" "}
            on <code>{s.gateway}</code>
            {s.tunnel && !s.do.text.includes(s.tunnel) && `, for ${s.tunnel}`}
          </span>
        )}
        <ValuesOf s={s} />
        {!s.outcome && s.proof && (
          <div className="more">
            proof: <Sentence says={s.proof} />
          </div>
        )}
        {s.attempts.map((a, i) => (
          <Attempt key={i} code={code} a={a} />
        ))}
        {onChoose && s.takeBackUntil && <TakeBack code={code} s={s} until={s.takeBackUntil} />}
        <div className="remark-room" aria-hidden="true" />
      </div>
      <span className="t src">{s.minutes} min</span>
    </div>
  );
}

function Attempt({ code, a }: { code: string; a: Contract["AttemptLine"] }) {
  const told = a.remark || a.set || a.proof || a.file || a.withoutProof || a.takenBack || a.outcome !== "done";
  return (
    <div className={`more${a.takenBack ? " was" : ""}`}>
      <span className={`sev ${a.outcome}`}>{a.outcome}</span> by {a.by}, {moment(a.at)}
      {a.takenBack && ` (taken back by ${a.takenBack.by}, ${moment(a.takenBack.at)})`}
      {told && a.set && (
        <>
          : set <code>{a.set}</code> instead of <code>{a.planned}</code>, {a.reason}
        </>
      )}
      {a.remark && `: ${a.remark}`}
      {a.withoutProof && `, without proof: ${a.withoutProof}`}
      {a.proof && <pre className="proof">{a.proof}</pre>}
      {a.file && (
        <div>
          proof:{" "}
          <a className="mono" href={`/api/v1/changes/${code}/proof/${a.file.digest}`} download={a.file.name}>
            {a.file.name}
          </a>{" "}
          <span title={`SHA-256 ${a.file.digest}`}>{a.file.size.toLocaleString("en")} octets</span>
        </div>
      )}
    </div>
  );
}

/** Takes a tick back that was a slip; it stays in the record. */
function TakeBack({ code, s, until }: { code: string; s: Step; until: string }) {
  const queries = useQueryClient();
  const [over, setOver] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setOver(true), Math.max(0, Date.parse(until) - Date.now()));
    return () => clearTimeout(timer);
  }, [until]);
  const back = useWrite({
    mutationFn: (_: void, api) =>
      unwrap(api.POST("/api/v1/changes/{code}/steps/{step}/take-back", { params: { path: { code, step: s.number } } })),
    onSuccess: (page) => {
      queries.setQueryData(ask.change(code).queryKey, page);
      void reread(queries, ...writtenBy(page));
    },
  });
  if (over) return null;
  return (
    <div>
      <button className="link src" disabled={back.isPending} onClick={() => back.mutate()}>
        Take step {s.number} back
      </button>{" "}
      <span className="src">until {until.slice(11, 16)} UTC</span>
      {back.error && <Problem error={back.error} />}
    </div>
  );
}
