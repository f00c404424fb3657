import type { Sheet } from '../records.ts';

/** 1, 2, 5 × 10ⁿ each way (ISO 5455), from 1:1000 to 100:1, largest first; the value is paper mm per model mm. */
export const standardScales: readonly number[] = [
  ...[100, 50, 20, 10, 5, 2, 1],
  ...[2, 5, 10, 20, 50, 100, 200, 500, 1000].map((divisor) => 1 / divisor),
];

/**
 * Scales for pictures in which nothing is measured: finer steps, so that they fill their room. ISO 5455 leaves the choice
 * open where the recommended ones do not serve.
 */
export const pictorialScales: readonly number[] = [
  ...[100, 80, 60, 50, 40, 30, 25, 20, 15, 10, 8, 6, 5, 4, 3, 2.5, 2, 1.5, 1],
  ...[1, 10, 100, 1000].flatMap((decade) =>
    [1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 7.5, 10].map((divisor) => 1 / (divisor * decade)),
  ),
];

/**
 * The largest of these scales, standard ones unless said otherwise, at which a thing of this size fits the room; the
 * smallest one where none does.
 */
export function proposeScale(
  size: readonly [number, number],
  room: readonly [number, number],
  scales: readonly number[] = standardScales,
): number {
  return scales.find((scale) => size[0] * scale <= room[0] && size[1] * scale <= room[1]) ?? scales[scales.length - 1];
}

/** `1:5`, `2:1`, as in a title block. */
export function scaleText(scale: number): string {
  const rounded = (value: number) => String(Number(value.toPrecision(4)));
  return scale >= 1 ? `${rounded(scale)}:1` : `1:${rounded(1 / scale)}`;
}

/**
 * The scale in the title block: that of the views to scale when they agree, else of the first with a star; N/A where
 * there is none.
 */
export function commonScale(sheet: Pick<Sheet, 'views'>): string {
  const views = sheet.views.filter(({ notToScale }) => !notToScale);
  if (views.length === 0) return 'N/A';
  const [first] = views;
  const alike = views.length === sheet.views.length && views.every((view) => view.scale === first.scale);
  return scaleText(first.scale) + (alike ? '' : ' *');
}
