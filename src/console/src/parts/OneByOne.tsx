import { useRef, useState, type ReactNode } from "react";
import { Link } from "react-router";
import { useQueryClient } from "@tanstack/react-query";
import { newAct, writer, type Writer } from "../service/api";
import { Ask } from "./controls/Ask";

/** How far one of several has come. What was done stays done when a later one is refused. */
type Outcome = { done: ReactNode } | { refused: string } | "under way";

/**
 * One act on several records, one after the other, with what became of each. What is refused says why and can be tried
 * again; what was done is not done twice.
 */
export function OneByOne<T>(props: {
  title: string;
  items: readonly T[];
  /** The code of one, and the place where it is read. */
  nameOf: (item: T) => string;
  placeOf: (item: T) => string;
  /** Done to one, by a client of its own: what was not heard of is sent again as the same act. */
  act: (item: T, api: Writer) => Promise<ReactNode>;
  verb: string;
  /** Whether enough is said. */
  ready: boolean;
  /** Whether something was typed that leaving would lose. */
  holds?: boolean;
  onDone: () => void;
  children: ReactNode;
}) {
  const { title, items, nameOf, placeOf, act, verb, ready, holds, onDone, children } = props;
  const queries = useQueryClient();
  const [outcomes, setOutcomes] = useState<Record<string, Outcome>>({});
  const [running, setRunning] = useState(false);
  const acts = useRef("");
  acts.current ||= newAct();
  const taken = useRef(false);
  const isDone = (item: T) => {
    const outcome = outcomes[nameOf(item)];
    return typeof outcome === "object" && "done" in outcome;
  };
  const left = items.filter((i) => !isDone(i));
  const run = async () => {
    if (taken.current) return;
    taken.current = true;
    setRunning(true);
    for (const item of left) {
      const put = (outcome: Outcome) => setOutcomes((all) => ({ ...all, [nameOf(item)]: outcome }));
      put("under way");
      try {
        put({ done: await act(item, writer(`${acts.current}.${items.indexOf(item)}`)) });
      } catch (e) {
        put({ refused: e instanceof Error ? e.message : String(e) });
      }
    }
    setRunning(false);
    taken.current = false;
    void queries.invalidateQueries();
  };
  return (
    <Ask title={title} holds={running || holds} onLeave={onDone} wide>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void run();
        }}
      >
        {children}
        <ul className="outcomes" aria-label="What becomes of each">
          {items.map((item) => (
            <li key={nameOf(item)}>
              <Link className="mono plain" to={placeOf(item)}>
                {nameOf(item)}
              </Link>{" "}
              <Became outcome={outcomes[nameOf(item)]} />
            </li>
          ))}
        </ul>
        <div className="acts">
          <button type="button" disabled={running} onClick={onDone}>
            {left.length === 0 ? "Close" : "Cancel"}
          </button>
          {left.length > 0 && (
            <button className="first" disabled={running || !ready}>
              {verb} {left.length}
            </button>
          )}
        </div>
      </form>
    </Ask>
  );
}

function Became({ outcome }: { outcome?: Outcome }) {
  if (!outcome) return null;
  if (outcome === "under way") return <span className="src">under way …</span>;
  return "done" in outcome ? (
    <span className="sev holds">{outcome.done}</span>
  ) : (
    <span className="wrong" role="alert">
      {outcome.refused}
    </span>
  );
}
