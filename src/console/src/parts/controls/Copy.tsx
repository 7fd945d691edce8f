import { useEffect, useState } from "react";

/** A value that a press copies, as it is pasted into a device. It says so for two seconds. */
export function Copy({ text, shortcut, label }: { text: string; shortcut?: string; label: string }) {
  const [copied, setCopied] = useState(false);
  useEffect(() => {
    if (!copied) return;
    const timer = setTimeout(() => setCopied(false), 2000);
    return () => clearTimeout(timer);
  }, [copied]);
  return (
    <button
      type="button"
      className="copy"
      aria-label={`Copy ${label} ${text}`}
      onClick={() => {
        void navigator.clipboard?.writeText(text);
        setCopied(true);
      }}
    >
      <code>{text}</code>
      <span className="src" role="status">
        {copied ? "copied" : "copy"} {shortcut && <kbd>{shortcut}</kbd>}
      </span>
    </button>
  );
}
