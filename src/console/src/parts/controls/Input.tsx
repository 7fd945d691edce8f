import type { ComponentProps } from "react";

/** A value that is typed or ticked. Codes and addresses are no words of a language: nothing is underlined in them. */
export function Input(props: ComponentProps<"input">) {
  return <input spellCheck={false} {...props} />;
}

/** A text of several lines. */
export function TextArea(props: ComponentProps<"textarea">) {
  return <textarea spellCheck={false} {...props} />;
}

/** One of a few words. */
export function Select(props: ComponentProps<"select">) {
  return <select {...props} />;
}
