import { useMutation } from "@tanstack/react-query";
import { Picker } from "../parts/controls/Picker";
import { Problem } from "../parts/Page";
import { formOf } from "./calls";
import { sections, unknownIn } from "./platformSections";
import { isMap, type FieldInfo, type Fields } from "./form";

/** A profile begins from one that is there, without its code, version and name, or from nothing. */
export function StartFrom({ form, set }: { form: Fields; set: (form: Fields) => void }) {
  const start = useMutation({
    mutationFn: (code: string) => formOf("platforms", code),
    onSuccess: (from) => {
      const copied = { ...(from.form as Fields) };
      for (const own of ["code", "version", "name", "retired"]) delete copied[own];
      set({ ...copied, ...form });
    },
  });
  return (
    <div className="startfrom">
      <Picker
        of="platforms"
        label="Start from a profile"
        value=""
        set={(code) => code && start.mutate(code)}
        placeholder="or fill it in from nothing"
        help="What you have typed already stays; the rest is taken over."
      />
      {start.error && <Problem error={start.error} />}
    </div>
  );
}

/** What a profile says nothing about: it counts as unknown wherever a tunnel ends on such a device. */
export function LeftUnknown({ fields, form }: { fields: readonly FieldInfo[]; form: Fields }) {
  const parts = sections(fields).filter((s) => s.abilities);
  const asked = parts.reduce((sum, s) => sum + s.fields.length, 0);
  const unknown = parts.reduce((sum, s) => sum + unknownIn(s, form), 0);
  const defaults = fields.find((f) => f.key === "defaults");
  const given = isMap(form.defaults) ? Object.keys(form.defaults).length : 0;
  return (
    <section aria-label="What is unknown">
      <p role="status">
        <b>
          {unknown} of {asked}
        </b>{" "}
        abilities are unknown
        {defaults && (
          <>
            , and <b>{defaults.inside.length - given}</b> of {defaults.inside.length} defaults
          </>
        )}
        . What is unknown is never taken to be no.
      </p>
      <ul className="unknowns">
        {parts.map((s) => (
          <li key={s.id}>
            <button type="button" className="link" onClick={() => document.getElementById(s.id)?.focus()}>
              {s.title}
            </button>{" "}
            <span className="src">
              {unknownIn(s, form) === 0 ? "nothing unknown" : `${unknownIn(s, form)} unknown`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
