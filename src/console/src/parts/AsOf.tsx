import { useSearchParams } from "react-router";
import { day } from "./Page";

/** The day as of which a page is shown: now, unless one is given. */
export function AsOf() {
  const [params, setParams] = useSearchParams();
  const asOf = params.get("asOf") ?? "";
  return (
    <label key={asOf}>
      As of
      <input
        className="mono"
        defaultValue={asOf}
        placeholder="now"
        title="year-month-day, such as 2026-11-01; empty for now"
        onBlur={(e) => set(e.target.value.trim())}
        onKeyDown={(e) => e.key === "Enter" && set(e.currentTarget.value.trim())}
      />
    </label>
  );
  function set(value: string) {
    if (value === asOf) return;
    const next = new URLSearchParams(params);
    if (value) next.set("asOf", value);
    else next.delete("asOf");
    setParams(next);
  }
}

/** Says on every page of the past that it is one. */
export function Past({ asOf }: { asOf: string }) {
  const [params, setParams] = useSearchParams();
  return (
    <div className="notice past" role="status">
      This is how it was recorded at the end of {day(asOf)}. Findings and verdicts are worked out from those records.{" "}
      <button
        className="link"
        onClick={() => {
          const next = new URLSearchParams(params);
          next.delete("asOf");
          setParams(next);
        }}
      >
        Back to now
      </button>
    </div>
  );
}
