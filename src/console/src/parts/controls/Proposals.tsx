import { useState, type ReactNode } from "react";
import { Button, Tag, TagGroup, TagList } from "react-aria-components";
import { api, unwrap, type Contract } from "../../api";

/**
 * Proposals in their order, strongest first as a rule. What is typed is read by the service in any spelling that a sheet
 * can have: aes256 sha256 group14.
 */
export function Proposals(props: {
  label: ReactNode;
  of: "IKE" | "ESP";
  value: readonly string[];
  set: (proposals: string[]) => void;
  /** What both ends can do, to choose from. */
  offered?: readonly string[];
  help?: ReactNode;
}) {
  const { label, of, value, set, offered = [], help } = props;
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState("");
  const [strengths, setStrengths] = useState<Record<string, string>>({});
  const take = async (typed: string) => {
    if (typed.trim() === "") return;
    const read: Contract["ProposalsRead"] = await unwrap(
      api.GET("/api/v1/choices/proposals/read", { params: { query: { of, text: typed } } }),
    );
    if (read.wrong) {
      setWrong(`${read.wrong}. Expected: ${read.right}.`);
      return;
    }
    setWrong("");
    setText("");
    setStrengths({ ...strengths, ...Object.fromEntries(read.proposals.map((p) => [p.proposal, p.strength ?? ""])) });
    set([...new Set([...value, ...read.proposals.map((p) => p.proposal)])]);
  };
  const move = (at: number) => set([...value.slice(0, at - 1), value[at], value[at - 1], ...value.slice(at + 1)]);
  return (
    <div className="field prefixes">
      {value.length > 0 && (
        <TagGroup aria-label={`${of} proposals chosen`} onRemove={(keys) => set(value.filter((p) => !keys.has(p)))}>
          <TagList className="chips" items={value.map((p, at) => ({ id: p, at }))}>
            {(p) => (
              <Tag textValue={p.id} className="chip">
                <span className="src">{p.at + 1}</span> <code>{p.id}</code>
                {strengths[p.id] && <span className="src">{strengths[p.id]}</span>}
                {p.at > 0 && (
                  <Button slot={null} aria-label={`Prefer ${p.id}`} onPress={() => move(p.at)}>
                    ↑
                  </Button>
                )}
                <Button slot="remove" aria-label={`Remove ${p.id}`}>
                  ×
                </Button>
              </Tag>
            )}
          </TagList>
        </TagGroup>
      )}
      <label>
        {label}
        <input
          className="mono"
          value={text}
          spellCheck={false}
          placeholder={of === "IKE" ? "aes256 sha256 group14" : "aes256gcm"}
          aria-invalid={wrong !== ""}
          onChange={(e) => setText(e.target.value)}
          onBlur={() => void take(text)}
          onKeyDown={(e) => {
            if (e.key !== "Enter" || text.trim() === "") return;
            e.preventDefault();
            void take(text);
          }}
        />
      </label>
      {wrong && (
        <span className="wrong" role="alert">
          {wrong}
        </span>
      )}
      {help && <span className="src">{help}</span>}
      {offered.length > 0 && (
        <div className="offered">
          {offered
            .filter((p) => !value.includes(p))
            .slice(0, 6)
            .map((p) => (
              <button key={p} type="button" onClick={() => set([...value, p])}>
                <code>{p}</code>
              </button>
            ))}
        </div>
      )}
    </div>
  );
}
