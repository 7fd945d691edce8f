import { queryOptions, useQuery } from "@tanstack/react-query";
import { useSyncExternalStore } from "react";
import { api, Refused, unwrap } from "./api";
import { queryKeyOf } from "./questions";

/** Who is signed in; null when nobody is, so that asking again does not take the sign-in away from under what is being typed. */
export const askMe = queryOptions({
  queryKey: queryKeyOf("me"),
  queryFn: async () => {
    try {
      return await unwrap(api.GET("/api/v1/session"));
    } catch (e) {
      if (e instanceof Refused && e.status === 401) return null;
      throw e;
    }
  },
  staleTime: 60_000,
});

export const useMe = () => useQuery(askMe);

/** Whether whoever is signed in may change records; undefined until it is known. */
export const useEngineer = () => useMe().data?.roles.some((role) => role === "engineer" || role === "lead");

let ended = false;
const listeners = new Set<() => void>();

/** Says that the service no longer knows the session, or knows it again. */
export function sessionEnded(now: boolean) {
  if (ended === now) return;
  ended = now;
  listeners.forEach((l) => l());
}

/** Whether the session has ended under an open page. */
export const useSessionEnded = () =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => ended,
  );
