import { useEffect, useState } from "react";

/** Where what somebody types is kept in this browser until it is written or thrown away: by person and record. */
export const keptPlace = (who: string, what: string) => `vellumkeep.typed.${who}.${what}`;

const load = <T>(key: string): T | undefined => {
  try {
    const text = localStorage.getItem(key);
    return text === null ? undefined : (JSON.parse(text) as T);
  } catch {
    return undefined;
  }
};

/** Keeps a value in this browser; false when the browser has no room or does not let it. */
export function keep(key: string, value: unknown) {
  try {
    if (value === undefined) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(value));
    return true;
  } catch {
    return false;
  }
}

/**
 * State that outlives the page: a reload, a session that ends or a wrong press takes nothing away. The third member
 * forgets it, once it was written or thrown away.
 */
export function useKept<T>(who: string, what: string, first: T) {
  const key = keptPlace(who, what);
  const [state, setState] = useState(() => ({ key, value: load<T>(key) ?? first }));
  // Another record under the same component starts with what was kept of that one.
  const value = state.key === key ? state.value : (load<T>(key) ?? first);
  const same = JSON.stringify(value) === JSON.stringify(first);
  const text = JSON.stringify(value);
  useEffect(() => {
    keep(key, same ? undefined : JSON.parse(text));
  }, [key, same, text]);
  return [
    value,
    (next: T) => setState({ key, value: next }),
    () => {
      keep(key, undefined);
      setState({ key, value: first });
    },
  ] as const;
}

/** Whether something that was typed before was found again. */
export const wasKept = (who: string, what: string) => load(keptPlace(who, what)) !== undefined;

export { load as loadKept };
