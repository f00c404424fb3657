/** 1, 2, 5 × 10ⁿ each way (ISO 5455), from 1:1000 to 100:1, largest first; the value is paper mm per model mm. */
export const standardScales: readonly number[] = [
  ...[100, 50, 20, 10, 5, 2, 1],
  ...[2, 5, 10, 20, 50, 100, 200, 500, 1000].map((divisor) => 1 / divisor),
];

/** The largest standard scale at which a thing of this size fits the room; the smallest one where none does. */
export function proposeScale(size: readonly [number, number], room: readonly [number, number]): number {
  return (
    standardScales.find((scale) => size[0] * scale <= room[0] && size[1] * scale <= room[1]) ??
    standardScales[standardScales.length - 1]
  );
}

/** `1:5`, `2:1`, as in a title block. */
export function scaleText(scale: number): string {
  const rounded = (value: number) => String(Number(value.toPrecision(4)));
  return scale >= 1 ? `${rounded(scale)}:1` : `1:${rounded(1 / scale)}`;
}
