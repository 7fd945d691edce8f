import { Codes } from "../parts/controls/Codes";
import { Input } from "../parts/controls/Input";

interface Grant {
  role: string;
  /** Codes of the customers it is for; none: all of them. */
  of: string[];
}

const read = (text: string): Grant => {
  const [role, codes] = text.split(" for ", 2);
  return { role: role.trim(), of: (codes ?? "").split(/[\s,]+/).filter(Boolean) };
};

const write = (g: Grant) => (g.of.length > 0 ? `${g.role} for ${g.of.join(", ")}` : g.role);

/** What somebody may do, and for which customers. */
export function RolesField(props: {
  roles: readonly string[];
  value: readonly string[];
  set: (value: string[]) => void;
}) {
  const { roles, value, set } = props;
  const grants = value.map(read);
  return (
    <fieldset className="field bare">
      <legend className="small-head">roles</legend>
      {roles.map((role) => {
        const at = grants.findIndex((g) => g.role === role);
        const held = grants[at];
        return (
          <div key={role}>
            <label className="plain">
              <Input
                type="checkbox"
                className="inline"
                checked={held !== undefined}
                onChange={(e) =>
                  set(
                    (e.target.checked ? [...grants, { role, of: [] }] : grants.filter((g) => g.role !== role)).map(
                      write,
                    ),
                  )
                }
              />{" "}
              {role} {held && held.of.length === 0 && <span className="src">for all customers</span>}
            </label>
            {held && (
              <Codes
                label={`${role}: only for these customers`}
                of="customers"
                value={held.of}
                set={(of) => set(grants.map((g, i) => write(i === at ? { role, of } : g)))}
              />
            )}
          </div>
        );
      })}
    </fieldset>
  );
}
