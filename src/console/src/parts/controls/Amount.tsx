import type { ReactNode } from "react";
import { Button, Group, Input, Label, NumberField } from "react-aria-components";

/** A number with its unit, typed or stepped. A step is how far a press goes; whatever is typed within the range stays. */
export function Amount(props: {
  label: ReactNode;
  unit: string;
  value: number;
  set: (value: number) => void;
  least?: number;
  most?: number;
  step?: number;
}) {
  const { label, unit, value, set, least = -Infinity, most = Infinity, step = 1 } = props;
  const press = (by: number) => set(Math.min(most, Math.max(least, value + by)));
  return (
    <NumberField
      className="field amount"
      value={value}
      onChange={(n) => !Number.isNaN(n) && set(n)}
      minValue={least === -Infinity ? undefined : least}
      maxValue={most === Infinity ? undefined : most}
    >
      <Label>{label}</Label>
      <Group className="stepper">
        <Button
          slot={null}
          aria-label={`Less by ${step} ${unit}`}
          isDisabled={value <= least}
          onPress={() => press(-step)}
        >
          −
        </Button>
        <Input className="mono" />
        <Button
          slot={null}
          aria-label={`More by ${step} ${unit}`}
          isDisabled={value >= most}
          onPress={() => press(step)}
        >
          +
        </Button>
        <span className="src">{unit}</span>
      </Group>
    </NumberField>
  );
}
