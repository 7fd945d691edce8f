import type { ComponentProps } from "react";

/** Rows and columns that are not sorted or picked from; lists are made by Listed. */
export function Table(props: ComponentProps<"table">) {
  return <table {...props} />;
}
