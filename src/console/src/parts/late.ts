import { lazy, type ComponentType } from "react";

/** Milliseconds until a script that did not come is asked for again. */
const again = 5_000;

/**
 * A part around the page whose script comes late. A page that lost its connection stands without it, and the script is
 * asked for until it comes.
 */
// A component is given any properties: which, the one that is loaded says.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export function late<K extends string, C extends ComponentType<any>>(load: () => Promise<Record<K, C>>, name: K) {
  const come = async (): Promise<{ default: C }> => {
    try {
      return { default: (await load())[name] };
    } catch {
      await new Promise((r) => setTimeout(r, again));
      return come();
    }
  };
  return lazy(come);
}
