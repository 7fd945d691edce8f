import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Button, Tag, TagGroup, TagList } from "react-aria-components";
import { api, unwrap, type Contract } from "../../service/api";
import { queryKeyOf } from "../../service/questions";

/** How many are offered to choose from. */
const most = 6;

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
  const free = offered.filter((p) => !value.includes(p)).slice(0, most);
  const all = [...value, ...free];
  const graded = useQuery({
    queryKey: queryKeyOf("read proposals", of, all),
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/v1/choices/proposals/read", { params: { query: { of, text: all.join("\n") } }, signal })),
    enabled: all.length > 0,
    staleTime: Infinity,
    placeholderData: (last) => last,
    retry: false,
  });
  const grade = (proposal: string) => {
    const found = graded.data?.proposals.find((p) => p.proposal === proposal);
    return (
      <>
        {found?.strength && <span className="src">{found.strength}</span>}
        {found?.weak && <span className="src weak">{found.weak}</span>}
      </>
    );
  };
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
    set([...new Set([...value, ...read.proposals.map((p) => p.proposal)])]);
  };
  const move = (at: number) => set([...value.slice(0, at - 1), value[at], value[at - 1], ...value.slice(at + 1)]);
  return (
    <div className="field prefixes proposals">
      {value.length > 0 && (
        <TagGroup aria-label={`${of} proposals chosen`} onRemove={(keys) => set(value.filter((p) => !keys.has(p)))}>
          <TagList className="chips" items={value.map((p, at) => ({ id: p, at }))}>
            {(p) => (
              <Tag textValue={p.id} className="chip">
                <span className="src">{p.at + 1}</span> <code>{p.id}</code>
                {grade(p.id)}
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
      {free.length > 0 && (
        <div className="offered">
          {free.map((p) => (
            <button key={p} type="button" onClick={() => set([...value, p])}>
              <code>{p}</code> {grade(p)}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
