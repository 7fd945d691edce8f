import type { ReactNode } from "react";
import { Input } from "../parts/controls/Input";

/** Some of several known words, each a tick. */
export function TickList(props: {
  label: ReactNode;
  words: readonly string[];
  chosen: readonly string[];
  put: (word: string, ticked: boolean) => void;
  help?: string;
}) {
  const { label, words, chosen, put, help } = props;
  return (
    <fieldset className={`field bare ticklist${words.length > 4 ? " long" : ""}`}>
      <legend className="small-head">{label}</legend>
      {words.map((w) => (
        <label key={w} className="plain beside">
          <Input
            type="checkbox"
            className="inline"
            checked={chosen.includes(w)}
            onChange={(e) => put(w, e.target.checked)}
          />{" "}
          {w}
        </label>
      ))}
      {help && <span className="src"> {help}</span>}
    </fieldset>
  );
}
