import { useEffect } from "react";
import type { Contract } from "../service/api";
import { Copy } from "../parts/controls/Copy";
import { useShortcuts } from "../parts/shortcuts";
import { isTyping } from "../parts/useKey";

type Step = Contract["StepPage"];

/** The values of the step at hand, each as a button that copies it; the key with its number does the same. */
export function CopyValues({ s }: { s: Step }) {
  const [shortcuts] = useShortcuts();
  const values = s.enter.filter((v) => !v.waits);
  useEffect(() => {
    if (!shortcuts) return;
    function copy(e: KeyboardEvent) {
      const n = Number(e.key);
      if (isTyping(e.target) || e.ctrlKey || e.metaKey || e.altKey || !(n >= 1 && n <= values.length)) return;
      document.querySelectorAll<HTMLButtonElement>(".athand .copy")[n - 1]?.click();
    }
    window.addEventListener("keydown", copy);
    return () => window.removeEventListener("keydown", copy);
  });
  return (
    <div className="values">
      {s.enter.map((v) => {
        const n = values.indexOf(v) + 1;
        return (
          <div className="value" key={v.label + v.text}>
            <span className="src">{v.label}</span>{" "}
            {v.waits ? (
              <span className="weak">pending: fill it in above first</span>
            ) : (
              <Copy text={v.text} label={v.label} shortcut={shortcuts && n < 10 ? String(n) : undefined} />
            )}
            {v.before && v.before !== v.text && <span className="was"> was {v.before}</span>}
            {v.onlyUntil && <span className="weak"> {v.onlyUntil}</span>}
          </div>
        );
      })}
      {s.remove.map((v) => (
        <div className="value" key={`out ${v.label}${v.text}`}>
          <span className="src">remove {v.label}</span> <Copy text={v.text} label={v.label} />
        </div>
      ))}
      {s.expect.map((v) => (
        <div className="value" key={`then ${v.label}${v.text}`}>
          <span className="src">{v.label}</span> <code className="wraps">{v.text}</code>
        </div>
      ))}
    </div>
  );
}

/** The exact values to enter that the sentence does not name already, and what the device holds afterwards. */
export function ValuesOf({ s }: { s: Step }) {
  return (
    <>
      {[...s.enter.filter((v) => !s.do.text.includes(v.text)), ...s.expect].map((v) => (
        <div className="more" key={v.label + v.text}>
          {v.label} {v.waits ? <span className="weak">pending</span> : <code className="wraps">{v.text}</code>}
          {v.before && v.before !== v.text && <span className="was"> was {v.before}</span>}
          {v.onlyUntil && <span className="weak"> {v.onlyUntil}</span>}
        </div>
      ))}
      {s.remove.map((v) => (
        <div className="more" key={`out ${v.label}${v.text}`}>
          remove {v.label} <code className="wraps">{v.text}</code>
        </div>
      ))}
    </>
  );
}
