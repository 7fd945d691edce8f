import { useQuery } from "@tanstack/react-query";
import { useId, useState, type ReactNode } from "react";
import { Button, Tag, TagGroup, TagList } from "react-aria-components";
import { api, unwrap } from "../../service/api";
import { queryKeyOf } from "../../service/questions";

export interface Network {
  prefix: string;
  name: string;
  inTunnel?: boolean;
}

/**
 * Prefixes as chips. Several are pasted at once with any separator; host bits, overlaps and what is no prefix are said
 * at once, and what is known at the site is named and can be chosen.
 */
export function Prefixes(props: {
  label: ReactNode;
  value: readonly string[];
  set: (prefixes: string[]) => void;
  networks?: readonly Network[];
  help?: ReactNode;
  autoFocus?: boolean;
}) {
  const { label, value, set, networks = [], help, autoFocus } = props;
  const [text, setText] = useState("");
  const id = useId();
  const take = (typed: string) => {
    const words = typed.split(/[\s,;|]+/).filter(Boolean);
    set([...new Set([...value, ...words])]);
    setText("");
  };
  const read = useQuery({
    queryKey: queryKeyOf("read prefixes", value),
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/choices/prefixes/read", { params: { query: { text: value.join(" ") } }, signal })),
    enabled: value.length > 0,
    staleTime: Infinity,
  });
  const problems =
    value.length === 0
      ? []
      : (read.data?.prefixes ?? []).flatMap((p) => [
          ...(p.wrong ? [`${p.wrong}. Expected: ${p.right}.`] : []),
          ...p.overlaps.map((o) => `${p.text} overlaps ${o}.`),
        ]);
  const nameOf = (prefix: string) => networks.find((n) => n.prefix === prefix)?.name;
  const offered = networks.filter((n) => !value.includes(n.prefix) && !n.inTunnel);
  return (
    <div className="field prefixes">
      <label className="react-aria-Label" htmlFor={`${id}-field`}>
        {label}
      </label>
      {value.length > 0 && (
        <TagGroup aria-label="Chosen" onRemove={(keys) => set(value.filter((p) => !keys.has(p)))}>
          <TagList className="chips" items={value.map((p) => ({ id: p }))}>
            {(p) => (
              <Tag textValue={p.id} className="chip">
                <code>{p.id}</code> {nameOf(p.id)}
                <Button slot="remove" aria-label={`Remove ${p.id}`}>
                  ×
                </Button>
              </Tag>
            )}
          </TagList>
        </TagGroup>
      )}
      <input
        className="mono"
        id={`${id}-field`}
        aria-describedby={`${id}-said`}
        aria-invalid={problems.length > 0}
        // The first thing to type on a page that was opened to type it.

        autoFocus={autoFocus}
        value={text}
        spellCheck={false}
        placeholder="10.61.40.0/24"
        onChange={(e) => (/[\s,;|]/.test(e.target.value) ? take(e.target.value) : setText(e.target.value))}
        onPaste={(e) => {
          e.preventDefault();
          take(e.clipboardData.getData("text"));
        }}
        onBlur={() => text.trim() && take(text)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && text.trim()) {
            e.preventDefault();
            take(text);
          }
          if (e.key === "Backspace" && text === "" && value.length > 0) set(value.slice(0, -1));
        }}
      />
      <div id={`${id}-said`}>
        {problems.map((p) => (
          <span key={p} className="wrong" role="alert">
            {p}
          </span>
        ))}
        {help && <span className="src">{help}</span>}
      </div>
      {offered.length > 0 && (
        <div className="offered">
          {offered.map((n) => (
            <button key={n.prefix} type="button" onClick={() => set([...value, n.prefix])}>
              <code>{n.prefix}</code> {n.name}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
