import { useMutation } from "@tanstack/react-query";
import { Picker } from "../parts/controls/Picker";
import { Problem } from "../parts/Page";
import { formOf } from "./calls";
import { words } from "./Fields";
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

const named = ["code", "version", "name", "family", "notes", "retired"];

/** What a profile says nothing about: it counts as unknown wherever a tunnel ends on such a device. */
export function LeftUnknown({ fields, form }: { fields: readonly FieldInfo[]; form: Fields }) {
  const asked = fields.filter((f) => !named.includes(f.key) && f.shape !== "map");
  const open = asked.filter((f) => form[f.key] === undefined || form[f.key] === "");
  const defaults = fields.find((f) => f.key === "defaults");
  const given = isMap(form.defaults) ? Object.keys(form.defaults).length : 0;
  return (
    <section aria-label="What is unknown">
      <p role="status">
        <b>
          {open.length} of {asked.length}
        </b>{" "}
        abilities are unknown
        {defaults && (
          <>
            , and <b>{defaults.inside.length - given}</b> of {defaults.inside.length} defaults
          </>
        )}
        . What is unknown is never taken to be no.
      </p>
      {open.length > 0 && (
        <details>
          <summary className="src">Which</summary>
          <p className="src">{open.map((f) => words(f.key)).join(", ")}</p>
        </details>
      )}
    </section>
  );
}
