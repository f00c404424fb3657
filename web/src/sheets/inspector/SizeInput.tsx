import { NumberInput } from '@mantine/core';
import { useState } from 'react';

/** A number, or nothing: then what the program takes stands there in grey. */
export function SizeInput({
  label,
  fitted,
  value,
  min,
  max,
  digits,
  onValue,
}: {
  label: string;
  fitted: string;
  value: number | undefined;
  min: number;
  max: number;
  digits: number;
  onValue: (value: number | null) => void;
}) {
  const [typed, setTyped] = useState<number | string>(value ?? '');
  const take = () => {
    const wanted = typed === '' ? undefined : Number(typed);
    if (wanted === value || (wanted !== undefined && !(wanted >= min && wanted <= max))) return;
    onValue(wanted ?? null);
  };
  return (
    <NumberInput
      mt={6}
      size="xs"
      label={label}
      placeholder={fitted}
      min={min}
      max={max}
      decimalScale={digits}
      value={typed}
      onChange={setTyped}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}
