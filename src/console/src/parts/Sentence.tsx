import { Link } from "react-router";
import type { Contract, Sentence as SaidType } from "../service/api";

/** A sentence with its values in the fixed-width face, its ends in their hues, and its tunnels as links. */
export function Sentence({ says }: { says: SaidType }) {
  return (
    <>
      {says.parts.map((p, i) => {
        if (p.kind === "value") return <code key={i}>{p.text}</code>;
        if (p.kind === "end")
          return (
            <b key={i} className={p.text.toLowerCase()}>
              {p.text}
            </b>
          );
        if (p.kind === "tunnel")
          return (
            <Link key={i} className="mono" to={`/tunnels/${p.text}`}>
              {p.text}
            </Link>
          );
        return <span key={i}>{p.text}</span>;
      })}
    </>
  );
}

export function Verdict({ verdict }: { verdict: Contract["VerdictSentence"][] }) {
  return (
    <p className="verdict">
      {verdict.map((v, i) => (
        <span key={i} className={v.tone === "plain" ? undefined : v.tone}>
          <Sentence says={v.says} />{" "}
        </span>
      ))}
    </p>
  );
}
