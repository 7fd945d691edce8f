import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";

/** A filter in the address, so that a colleague opens the same list. */
export function useFilter() {
  const [params, setParams] = useSearchParams();
  return {
    params,
    of: (key: string) => params.get(key) || undefined,
    set: (key: string, value: string) => {
      const next = new URLSearchParams(params);
      if ((next.get(key) ?? "") === value) return;
      if (value) next.set(key, value);
      else next.delete(key);
      setParams(next, { replace: true });
    },
    clear: () => setParams({}),
  };
}

/** Words that a list is narrowed by, a moment after the last letter. */
export function Words({ placeholder }: { placeholder: string }) {
  const { of, set } = useFilter();
  const now = of("q") ?? "";
  const [text, setText] = useState(now);
  const [seen, setSeen] = useState(now);
  // Whoever clears the filters clears the field too.
  if (seen !== now) {
    setSeen(now);
    if (text.trim() !== now) setText(now);
  }
  useEffect(() => {
    const timer = setTimeout(() => set("q", text.trim()), 250);
    return () => clearTimeout(timer);
    // Only what is typed starts the wait: the address may move meanwhile.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [text]);
  return (
    <label className="wide">
      Words, an address or a prefix
      <input className="mono" value={text} onChange={(e) => setText(e.target.value)} placeholder={placeholder} />
    </label>
  );
}

/** Takes every filter away; shown only while there is one. */
export function ShowAll() {
  const { params, clear } = useFilter();
  const filters = [...params.keys()].filter((k) => k !== "sort");
  return filters.length > 0 ? <button onClick={clear}>Show all</button> : null;
}

export function OneOf(props: { name: string; label: string; all: string; of: readonly (string | [string, string])[] }) {
  const { of, set } = useFilter();
  return (
    <label>
      {props.label}
      <select value={of(props.name) ?? ""} onChange={(e) => set(props.name, e.target.value)}>
        <option value="">{props.all}</option>
        {props.of.map((o) => {
          const [value, word] = typeof o === "string" ? [o, o] : o;
          return (
            <option key={value} value={value}>
              {word}
            </option>
          );
        })}
      </select>
    </label>
  );
}
