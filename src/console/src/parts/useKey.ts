import { useEffect, useRef } from "react";
import { useShortcuts } from "./shortcuts";

/** Whether a key goes into something that is being typed. A radio button and a tick take no letters. */
export const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLTextAreaElement ||
  target instanceof HTMLSelectElement ||
  (target instanceof HTMLElement && (target.isContentEditable || target.role === "spinbutton")) ||
  (target instanceof HTMLInputElement && !["radio", "checkbox", "button", "submit", "file"].includes(target.type));

/** Does something on a single key, unless somebody types, a dialog is open, or single keys are turned off. */
export function useKey(key: string, act: () => void) {
  const [on] = useShortcuts();
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  useEffect(() => {
    if (!on) return;
    const pressed = (e: KeyboardEvent) => {
      if (e.key !== key || e.ctrlKey || e.metaKey || e.altKey || isTyping(e.target)) return;
      if (document.querySelector("[role=dialog]")) return;
      e.preventDefault();
      latest.current();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, [key, on]);
}
