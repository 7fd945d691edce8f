import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { unwrap } from "../service/api";
import { Ask } from "../parts/controls/Ask";
import { Problem } from "../parts/Page";
import { rereadAll } from "../service/queries";
import { sessionEnded } from "../service/session";
import { useWrite } from "../parts/useWrite";
import { queryKeyOf } from "../service/questions";
import { Input } from "../parts/controls/Input";

/** The session ended while a page was open: the password is asked for over the page, and nothing on it is lost. */
export function SignInAgain({ who, leave }: { who: string; leave: () => void }) {
  const queries = useQueryClient();
  const [password, setPassword] = useState("");
  const enter = useWrite({
    mutationFn: (_: void, api) => unwrap(api.POST("/api/v1/session", { body: { name: who, password } })),
    onSuccess: (me) => {
      queries.setQueryData(queryKeyOf("me"), me);
      sessionEnded(false);
      void rereadAll(queries);
    },
  });
  return (
    <Ask title="Your session ended" holds onLeave={() => {}}>
      <p>What you typed is still on the page. Enter your password to go on as {who}.</p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          enter.mutate();
        }}
      >
        <label className="field">
          Password
          <Input
            autoFocus
            type="password"
            autoComplete="current-password"
            required
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        </label>
        {enter.error && <Problem error={enter.error} />}
        <div className="acts">
          <button type="button" onClick={leave}>
            Sign in as somebody else
          </button>
          <button className="first" disabled={enter.isPending}>
            Go on
          </button>
        </div>
      </form>
    </Ask>
  );
}
