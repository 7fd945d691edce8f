import "./look/index.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { onSessionEnded, Refused } from "./service/api";
import { keep, loadKept } from "./parts/browserStore";
import { ask } from "./service/queries";
import { askMe, sessionEnded } from "./service/session";

const queries = new QueryClient({
  defaultOptions: {
    // What the browser kept for a run sheet answers without a connection too.
    queries: {
      networkMode: "offlineFirst",
      staleTime: 5_000,
      retry: (n, error) => !(error instanceof Refused) && n < 2,
    },
    // Without a connection a write fails and says so; it does not wait and go out later unseen.
    mutations: { networkMode: "always" },
  },
});

// The first page that most people open is fetched, with what it shows, while the service is asked who they are.
if (location.pathname === "/") {
  void import("./today/TodayRoute");
  void queries.fetchQuery(askMe).then(
    (me) => me && queries.prefetchQuery(ask.today()),
    // What is wrong is told by the page itself.
    () => undefined,
  );
}

// Faces are as heavy as the page itself. A browser that has them takes them at once; on the very first visit they
// come after what is read.
const faces = "vellumkeep.faces";
// Without them the page stands in the faces of the machine.
const dress = () => import("./look/faces").then(() => keep(faces, true)).catch(() => false);
if (loadKept(faces)) void dress();
else setTimeout(() => void dress(), 3000);

onSessionEnded(() => sessionEnded(true));

createRoot(document.getElementById("root")!).render(
  <QueryClientProvider client={queries}>
    <BrowserRouter>
      <App />
    </BrowserRouter>
  </QueryClientProvider>,
);
