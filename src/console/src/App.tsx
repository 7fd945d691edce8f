import { Suspense, useRef } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { looking, unwrap } from "./service/api";
import { late } from "./parts/late";
import { forgetOffline } from "./parts/offline";
import { Problem, Waiting } from "./parts/Page";
import { Shell } from "./Shell";
import { sessionEnded, useMe, useSessionEnded } from "./service/session";
import { SignIn } from "./signin/SignIn";
import { queryKeyOf } from "./service/questions";

// Hardly anybody needs these, and nobody at once.
const SignInAgain = late(() => import("./signin/SignInAgain"), "SignInAgain");
const OwnPassword = late(() => import("./people/OwnPassword"), "OwnPassword");

export function App() {
  const me = useMe();
  const go = useNavigate();
  const queries = useQueryClient();
  const ended = useSessionEnded();
  // Who was signed in when the session ended: the page stays open under the question for the password.
  const last = useRef(me.data);
  if (me.data) last.current = me.data;
  if (me.isPending) return <Waiting what="who you are" />;
  if (me.error && !last.current) return <Problem error={me.error} again={() => me.refetch()} />;
  const who = me.data ?? last.current;
  if (!who) return <SignIn />;
  const leave = () => {
    forgetOffline();
    last.current = null;
    sessionEnded(false);
    queries.setQueryData(queryKeyOf("me"), null);
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== "me" });
  };
  // A password that was given by somebody else opens nothing but its own replacement.
  if (who.mustReplacePassword)
    return (
      <Suspense fallback={<Waiting what="this page" />}>
        <OwnPassword onDone={() => me.refetch()} />
      </Suspense>
    );
  return (
    <Suspense fallback={<Waiting what="this page" />}>
      <Shell
        me={who.name}
        name={who.display}
        roles={who.roles}
        signOut={async () => {
          await unwrap(looking.DELETE("/api/v1/session", {}));
          void go("/");
          leave();
        }}
      />
      {(ended || me.data === null) && <SignInAgain who={who.name} leave={leave} />}
    </Suspense>
  );
}
