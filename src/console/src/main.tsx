import "@fontsource-variable/inter";
import "@fontsource-variable/jetbrains-mono";
import "@fontsource-variable/source-serif-4";
import "./look/index.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { App } from "./App";
import { onSessionEnded, Refused } from "./api";
import { sessionEnded } from "./session";

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

// The first page that most people open is fetched while the service is asked who they are.
if (location.pathname === "/") void import("./today/TodayRoute");

onSessionEnded(() => sessionEnded(true));

const router = createBrowserRouter([{ path: "*", element: <App /> }]);

createRoot(document.getElementById("root")!).render(
  <QueryClientProvider client={queries}>
    <RouterProvider router={router} />
  </QueryClientProvider>,
);
