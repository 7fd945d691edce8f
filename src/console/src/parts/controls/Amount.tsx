import type { ReactNode } from "react";
import { Button, Group, Input, Label, NumberField } from "react-aria-components";

/** A number with its unit, typed or stepped. */
export function Amount(props: {
  label: ReactNode;
  unit: string;
  value: number;
  set: (value: number) => void;
  least?: number;
  most?: number;
  step?: number;
}) {
  const { label, unit, value, set, least, most, step } = props;
  return (
    <NumberField
      className="field amount"
      value={value}
      onChange={(n) => !Number.isNaN(n) && set(n)}
      minValue={least}
      maxValue={most}
      step={step}
    >
      <Label>{label}</Label>
      <Group className="stepper">
        <Button slot="decrement">−</Button>
        <Input className="mono" />
        <Button slot="increment">+</Button>
        <span className="src">{unit}</span>
      </Group>
    </NumberField>
  );
}
