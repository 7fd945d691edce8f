import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { unwrap } from "../service/api";
import { Problem } from "../parts/Page";
import { useWrite } from "../parts/useWrite";
import { queryKeyOf } from "../service/questions";
import { Input } from "../parts/controls/Input";

export function SignIn() {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const enter = useWrite({
    mutationFn: (_: void, api) => unwrap(api.POST("/api/v1/session", { body: { name: name.trim(), password } })),
    onSuccess: (me) => {
      queries.setQueryData(queryKeyOf("me"), me);
    },
  });
  useEffect(() => {
    document.title = "Sign in · Vellumkeep";
  }, []);
  return (
    <main className="signin">
      <h1>Vellumkeep</h1>
      <p className="soft">Both ends of every tunnel, and where they disagree before anyone touches a device.</p>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          enter.mutate();
        }}
      >
        <div className="field">
          <label>
            Name
            <Input autoFocus autoComplete="username" required value={name} onChange={(e) => setName(e.target.value)} />
          </label>
        </div>
        <div className="field">
          <label>
            Password
            <Input
              type="password"
              autoComplete="current-password"
              required
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </label>
        </div>
        {enter.error && <Problem error={enter.error} />}
        <button className="first" disabled={enter.isPending}>
          Sign in
        </button>
      </form>
    </main>
  );
}
