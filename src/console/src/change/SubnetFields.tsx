import { Choice } from "../parts/controls/Choice";
import { Codes } from "../parts/controls/Codes";
import { Prefixes } from "../parts/controls/Prefixes";
import type { DraftNeeds } from "./draftNeeds";
import { Input } from "../parts/controls/Input";

/** Prefixes to add and to remove, and which of the other side they shall reach. */
export function SubnetFields({ said, put, tunnel: t, choices }: DraftNeeds) {
  if (!t) return null;
  const [near, far] = said.end === "A" ? [t.a, t.b] : [t.b, t.a];
  const at = said.end === "A" ? choices?.a : choices?.b;
  const beyond = said.end === "A" ? choices?.b : choices?.a;
  const behind = [...new Map(t.pairs.map((p) => (said.end === "A" ? [p.a, p.aName] : [p.b, p.bName])))];
  const others = [...new Map(t.pairs.map((p) => (said.end === "A" ? [p.b, p.bName] : [p.a, p.aName])))];
  return (
    <>
      <Choice
        label="The prefixes are behind"
        inLine
        value={said.end}
        set={(end) => put({ end, left: [] })}
        of={(["A", "B"] as const).map((e) => ({
          value: e,
          label: (
            <span className={e.toLowerCase()}>
              {e} {e === "A" ? t.a.site : t.b.site}
            </span>
          ),
        }))}
      />
      <Prefixes
        label="Prefixes to add"
        value={said.add}
        set={(add) => put({ add })}
        networks={at?.networks}
        autoFocus
        help={`Networks at ${near.site} can be chosen; any other prefix of the site can be typed or pasted.`}
      />
      {others.length > 0 && said.add.length > 0 && (
        <fieldset className="field bare">
          <legend className="small-head">They must reach, at {far.site}</legend>
          {others.map(([p, name]) => (
            <label key={p} className="plain">
              <Input
                type="checkbox"
                className="inline"
                checked={!said.left.includes(p)}
                onChange={(e) => put({ left: e.target.checked ? said.left.filter((x) => x !== p) : [...said.left, p] })}
              />{" "}
              <code>{p}</code> {name}
            </label>
          ))}
        </fieldset>
      )}
      {behind.length > 0 && (
        <fieldset className="field bare">
          <legend className="small-head">Remove</legend>
          {behind.map(([p, name]) => (
            <label key={p} className="plain">
              <Input
                type="checkbox"
                className="inline"
                checked={said.remove.includes(p)}
                onChange={(e) =>
                  put({ remove: e.target.checked ? [...said.remove, p] : said.remove.filter((x) => x !== p) })
                }
              />{" "}
              <code>{p}</code> {name}
            </label>
          ))}
        </fieldset>
      )}
      <details>
        <summary className="src">Prefixes behind the other end too</summary>
        <Prefixes
          label={`Prefixes to add behind ${said.end === "A" ? "B" : "A"}, ${far.site}`}
          value={said.addOther}
          set={(addOther) => put({ addOther })}
          networks={beyond?.networks}
        />
        <Prefixes
          label={`Prefixes to remove behind ${said.end === "A" ? "B" : "A"}, ${far.site}`}
          value={said.removeOther}
          set={(removeOther) => put({ removeOther })}
        />
      </details>
      <Codes
        label="The same on more tunnels"
        of="tunnels"
        value={said.also}
        set={(also) => put({ also })}
        atHand={at?.beside}
        help={`Tunnels with an end at ${near.site}, such as the fallback: one plan for all.`}
      />
    </>
  );
}
