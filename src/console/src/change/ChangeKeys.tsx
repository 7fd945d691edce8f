import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { unwrap, type ChangePage, type Contract } from "../service/api";
import { reread } from "../service/queries";
import { Problem } from "../parts/Page";
import { useWrite } from "../parts/useWrite";
import { Input } from "../parts/controls/Input";

/** Keys that the change brings into use: made here, shown to who says why, compared by check code. */
export function ChangeKeys({ c, may }: { c: ChangePage; may: boolean }) {
  if (c.keys.length === 0) return null;
  return (
    <section aria-label="Keys">
      <h2>Keys</h2>
      {c.keys.map((k) => (
        <OneKey key={k.tunnel} c={c} k={k} may={may} />
      ))}
    </section>
  );
}

function OneKey({ c, k, may }: { c: ChangePage; k: Contract["ChangeKeyLine"]; may: boolean }) {
  const queries = useQueryClient();
  const [why, setWhy] = useState("");
  const [asking, setAsking] = useState(false);
  const make = useWrite({
    mutationFn: (_: void, api) =>
      unwrap(
        api.POST("/api/v1/tunnels/{code}/keys", { params: { path: { code: k.tunnel } }, body: { change: c.code } }),
      ),
    onSuccess: () => void reread(queries, { kind: "change", code: c.code }, { kind: "tunnel", code: k.tunnel }),
  });
  const show = useWrite({
    mutationFn: (_: void, api) =>
      unwrap(
        api.POST("/api/v1/tunnels/{code}/keys/{version}/show", {
          params: { path: { code: k.tunnel, version: k.version } },
          body: { reason: why },
        }),
      ),
    // The key stays on this page only, and goes with it: nothing keeps it.
    gcTime: 0,
  });
  return (
    <div className="akey">
      <code>{k.tunnel}</code> version {k.version}
      {k.replaces.length > 0 && ` for ${k.replaces.join(", ")}`} · {k.state}
      {k.checkCode && (
        <>
          {" "}
          · check code <b className="mono">{k.checkCode}</b>
        </>
      )}{" "}
      {k.state === "not made" ? (
        <button disabled={!may || make.isPending} onClick={() => make.mutate()}>
          Make it
        </button>
      ) : show.data ? (
        <button
          onClick={() => {
            show.reset();
            setAsking(false);
          }}
        >
          Hide
        </button>
      ) : (
        !asking && (
          <button disabled={!may} onClick={() => setAsking(true)}>
            Show it
          </button>
        )
      )}
      {asking && !show.data && (
        <form
          className="fill"
          onSubmit={(e) => {
            e.preventDefault();
            show.mutate();
          }}
        >
          <label>
            Reason to show it
            <Input autoFocus required value={why} onChange={(e) => setWhy(e.target.value)} />
          </label>
          <button disabled={show.isPending}>Show</button>
          <span className="src">recorded with your name, the time and your address</span>
        </form>
      )}
      {show.data && (
        <p className="key">
          <code>{show.data.grouped}</code>
          <span className="src">
            {show.data.bits} bits; the blanks are for reading aloud and not part of it.{" "}
            <button className="link" onClick={() => void navigator.clipboard.writeText(show.data.key)}>
              Copy
            </button>
          </span>
        </p>
      )}
      {(make.error ?? show.error) && <Problem error={(make.error ?? show.error)!} />}
    </div>
  );
}
