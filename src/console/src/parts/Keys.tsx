import { Link } from "react-router";
import { Ask } from "./controls/Ask";
import { useShortcuts } from "./shortcuts";

const keys: [string, string][] = [
  ["/", "goes to the search"],
  ["Enter", "in the search: opens what is meant"],
  ["↓ ↑", "among what was found"],
  ["?", "shows these keys"],
  ["v", "on a tunnel: all rows, or those worth a look"],
  ["1 to 9", "on a run sheet: copies that value of the step at hand"],
  ["Esc", "closes what is open"],
];

/** The keys that do something, and whether single keys do. */
export function Keys({ onLeave }: { onLeave: () => void }) {
  const [on, set] = useShortcuts();
  return (
    <Ask title="Keys" onLeave={onLeave}>
      <table>
        <tbody>
          {keys.map(([key, what]) => (
            <tr key={key}>
              <td className="w100">
                <kbd>{key}</kbd>
              </td>
              <td>{what}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <label className="plain field">
        <input type="checkbox" className="inline" checked={on} onChange={(e) => set(e.target.checked)} /> Single keys do
        this, without Ctrl or Alt
      </label>
      <div className="acts">
        <Link className="btn" to="/glossary" onClick={onLeave}>
          Glossary
        </Link>
        <button className="first" onClick={onLeave}>
          Close
        </button>
      </div>
    </Ask>
  );
}
