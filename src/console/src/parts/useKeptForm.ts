import { useEffect } from "react";
import { useForm, type DefaultValues, type FieldValues, type Path, type PathValue } from "react-hook-form";
import { keep, keptPlace, loadKept } from "./browserStore";

/** A form whose values are kept in this browser until it is written or thrown away. */
export function useKeptForm<T extends FieldValues>(who: string, what: string, first: T) {
  const key = keptPlace(who, what);
  const form = useForm<T>({ defaultValues: { ...first, ...loadKept<T>(key) } as DefaultValues<T> });
  const values = form.watch();
  const text = JSON.stringify(values);
  const untouched = text === JSON.stringify(first);
  useEffect(() => {
    keep(key, untouched ? undefined : JSON.parse(text));
  }, [key, text, untouched]);
  return {
    form,
    values,
    untouched,
    put: (some: Partial<T>) =>
      Object.entries(some).forEach(([name, value]) =>
        form.setValue(name as Path<T>, value as PathValue<T, Path<T>>, { shouldDirty: true }),
      ),
    forget: () => {
      keep(key, undefined);
      form.reset(first);
    },
  };
}
