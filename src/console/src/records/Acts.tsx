import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { useEngineer, useMe } from "../service/session";
import { Ask } from "../parts/controls/Ask";
import { Problem } from "../parts/Page";
import { tell } from "../parts/notices";
import { formOf, retireRecord } from "./calls";
import { wordOf, type Plural } from "../service/recordKinds";
import { reread } from "../service/queries";
import { useWrite } from "../parts/useWrite";
import { Input } from "../parts/controls/Input";

/** What an engineer can do with a record that is there. People are looked after by leads. */
export function RecordActs({ plural, code, retired }: { plural: Plural; code: string; retired?: boolean }) {
  const may = useMe().data?.roles.some((r) => r === "lead" || (r === "engineer" && plural !== "people"));
  const [asked, setAsked] = useState(false);
  if (!may) return null;
  return (
    <>
      <Link className="btn" to={`/edit/${plural}/${code}`}>
        Edit
      </Link>
      {!retired && <button onClick={() => setAsked(true)}>{plural === "people" ? "Has left" : "Retire"}</button>}
      {asked && <Retire plural={plural} code={code} onDone={() => setAsked(false)} />}
    </>
  );
}

function Retire({ plural, code, onDone }: { plural: Plural; code: string; onDone: () => void }) {
  const queries = useQueryClient();
  const [reason, setReason] = useState("");
  const send = useWrite({
    mutationFn: async (_: void, api) =>
      retireRecord(api, plural, code, (await formOf(plural, code)).version, reason, false),
    onSuccess: () => {
      void reread(queries, { kind: wordOf(plural), code });
      tell({ text: plural === "people" ? `${code} can no longer sign in.` : `${code} is retired.` });
      onDone();
    },
  });
  return (
    <Ask
      title={plural === "people" ? `${code} has left` : `Retire the ${wordOf(plural)} ${code}`}
      holds={reason !== ""}
      onLeave={onDone}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate();
        }}
      >
        <p>
          {plural === "people"
            ? "They can no longer sign in, and all their sessions and tokens end. Their entries in the history stay."
            : "It stays in the history and can be read. New records cannot refer to it. A record that others refer to cannot be retired."}
        </p>
        <label className="field">
          Why
          <Input
            autoFocus
            required
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            placeholder={plural === "people" ? "took another job" : "the shop was closed"}
          />
        </label>
        {send.error && <Problem error={send.error} />}
        <div className="acts">
          <button type="button" onClick={onDone}>
            Cancel
          </button>
          <button className="first" disabled={send.isPending}>
            {plural === "people" ? "Has left" : "Retire"}
          </button>
        </div>
      </form>
    </Ask>
  );
}

/** A tunnel as the start of the next one: under a code of its own, nothing written yet. */
export function CopyTunnel({ code }: { code: string }) {
  const go = useNavigate();
  const [as, setAs] = useState<string | null>(null);
  if (as === null) return <button onClick={() => setAs(`${code.split("-")[0]}-`)}>Copy</button>;
  return (
    <form
      className="inlineform"
      onSubmit={(e) => {
        e.preventDefault();
        void go(`/new/tunnels?copy=${code}&as=${encodeURIComponent(as.trim())}`);
      }}
    >
      <Input
        className="mono"
        autoFocus
        required
        aria-label="The code of the new tunnel"
        value={as}
        onChange={(e) => setAs(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && setAs(null)}
      />
      <button>Copy to it</button>
    </form>
  );
}

export function AddRecord({ plural, word }: { plural: Plural; word: string }) {
  const may = useEngineer();
  if (!may) return null;
  return (
    <Link className="btn" to={`/new/${plural}`}>
      Add a {word}
    </Link>
  );
}
