import { type ReactNode } from "react";
import { FieldError, Input, Label, Text, TextField } from "react-aria-components";

/** A line of text with its help and what is wrong with it. */
export function Line(props: {
  label: ReactNode;
  value: string;
  set: (value: string) => void;
  help?: ReactNode;
  wrong?: string;
  mono?: boolean;
  required?: boolean;
  autoFocus?: boolean;
  placeholder?: string;
}) {
  const { label, value, set, help, wrong, mono, required, autoFocus, placeholder } = props;
  return (
    <TextField
      className="field"
      value={value}
      onChange={set}
      isInvalid={!!wrong}
      isRequired={required}
      validationBehavior="aria"
    >
      <Label>{label}</Label>
      <Input className={mono ? "mono" : undefined} autoFocus={autoFocus} placeholder={placeholder} />
      {help && (
        <Text slot="description" className="src">
          {help}
        </Text>
      )}
      {wrong && <FieldError className="wrong">{wrong}</FieldError>}
    </TextField>
  );
}
