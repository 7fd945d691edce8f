import { Fields, type Shown } from "./Fields";
import { type FieldInfo, type Fields as Form } from "./form";
import { sections, unknownIn } from "./platformSections";

/** What a kind of device can do: tick lists and choices in the order in which a tunnel needs them, each with what is unknown. */
export function PlatformFields(props: {
  fields: readonly FieldInfo[];
  form: Form;
  set: (form: Form) => void;
  shown: Shown;
}) {
  const { fields, form, set, shown } = props;
  const parted = sections(fields);
  return (
    <>
      {parted.map((s) => {
        const unknown = unknownIn(s, form);
        return (
          <section key={s.title} className="formpart" id={s.id} tabIndex={-1} aria-labelledby={`${s.id}-title`}>
            <h2 id={`${s.id}-title`}>
              {s.title}{" "}
              {s.abilities && (
                <span className="src">
                  {unknown === 0 ? "nothing unknown" : `${unknown} of ${s.fields.length} unknown`}
                </span>
              )}
            </h2>
            {s.about && <p className="src">{s.about}</p>}
            <Fields fields={s.fields} form={form} set={set} shown={shown} all={s.abilities || s.id === "named"} />
          </section>
        );
      })}
    </>
  );
}
