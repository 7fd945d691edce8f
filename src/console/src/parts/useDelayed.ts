import { useEffect, useState } from "react";

/** A value as it was some time ago: what follows it does not run with every letter. */
export function useDelayed<T>(value: T, milliseconds: number) {
  const [late, setLate] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setLate(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return late;
}
