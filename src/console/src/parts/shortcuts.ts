import { useSyncExternalStore } from "react";

const key = "vellumkeep.shortcuts";
const listeners = new Set<() => void>();

const on = () => localStorage.getItem(key) !== "off";

/** Whether single keys do something in this browser, and how to alter it (WCAG 2.2, 2.1.4). */
export function useShortcuts() {
  const value = useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, on);
  return [
    value,
    (next: boolean) => {
      if (next) localStorage.removeItem(key);
      else localStorage.setItem(key, "off");
      listeners.forEach((l) => l());
    },
  ] as const;
}
