import { useState } from "react";
import { unwrap } from "../service/api";
import { Problem } from "../parts/Page";
import { useWrite } from "../parts/useWrite";
import { Input } from "../parts/controls/Input";

/** Replaces one's own password; also where somebody has to before anything else. */
export function ReplacePassword({ onDone }: { onDone?: () => void }) {
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const [again, setAgain] = useState("");
  const send = useWrite({
    mutationFn: (_: void, api) => unwrap(api.POST("/api/v1/session/password", { body: { old, new: next } })),
    onSuccess: () => {
      setOld("");
      setNext("");
      setAgain("");
      onDone?.();
    },
  });
  const differs = again !== "" && again !== next;
  return (
    <form
      className="form"
      onSubmit={(e) => {
        e.preventDefault();
        if (!differs) send.mutate();
      }}
    >
      <label className="field">
        Current password
        <Input
          type="password"
          autoComplete="current-password"
          required
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
      </label>
      <label className="field">
        New password <span className="src">twelve characters or more; four unrelated words are good</span>
        <Input
          type="password"
          autoComplete="new-password"
          required
          value={next}
          onChange={(e) => setNext(e.target.value)}
        />
      </label>
      <label className="field">
        Repeat the new password
        <Input
          type="password"
          autoComplete="new-password"
          required
          value={again}
          onChange={(e) => setAgain(e.target.value)}
        />
        {differs && (
          <span className="wrong" role="alert">
            The two new passwords differ.
          </span>
        )}
      </label>
      {send.error && <Problem error={send.error} />}
      {send.isSuccess && (
        <p className="notice" role="status">
          Password replaced. Your other sessions have ended.
        </p>
      )}
      <button disabled={send.isPending || differs}>Replace the password</button>
    </form>
  );
}
