/** Currencies, ISO 4217: amounts in two of them are as different as lengths and masses, since rates are nobody's here. */
export const currencies = [
  ...['EUR', 'USD', 'GBP', 'CHF', 'SEK', 'NOK', 'DKK', 'ISK', 'PLN', 'CZK', 'CAD', 'AUD', 'NZD', 'JPY', 'CNY', 'INR'],
] as const;

/** Powers of length, mass, time and of each currency: what can be added and compared. */
export type Dimension = readonly number[];
const BASES: readonly string[] = ['mm', 'kg', 'day', ...currencies];
const dimension = (...powers: number[]): Dimension => BASES.map((_, at) => powers[at] ?? 0);
export const PLAIN: Dimension = dimension();

export interface Unit {
  readonly dimension: Dimension;
  /** Multiplies a value in this unit to mm, kg or day and their powers. */
  readonly factor: number;
}

const LENGTHS: Readonly<Record<string, number>> = {
  µm: 0.001,
  um: 0.001,
  mm: 1,
  cm: 10,
  dm: 100,
  m: 1000,
  km: 1e6,
  in: 25.4,
  inch: 25.4,
  '"': 25.4,
  ft: 304.8,
};
const MASSES: Readonly<Record<string, number>> = {
  mg: 1e-6,
  g: 0.001,
  kg: 1,
  t: 1000,
  lb: 0.45359237,
  oz: 0.028349523125,
};
const TIMES: Readonly<Record<string, number>> = {
  s: 1 / 86400,
  min: 1 / 1440,
  h: 1 / 24,
  d: 1,
  day: 1,
  days: 1,
  week: 7,
  weeks: 7,
};

const known = new Map<string, Unit>([
  ['', { dimension: PLAIN, factor: 1 }],
  ['%', { dimension: PLAIN, factor: 0.01 }],
]);
for (const [name, factor] of Object.entries(LENGTHS)) {
  known.set(name, { dimension: dimension(1), factor });
  for (const [power, marks] of [
    [2, ['²', '2', '^2']],
    [3, ['³', '3', '^3']],
  ] as const)
    for (const mark of marks) known.set(name + mark, { dimension: dimension(power), factor: factor ** power });
}
for (const [name, factor] of Object.entries(MASSES)) known.set(name, { dimension: dimension(0, 1), factor });
for (const [name, factor] of Object.entries(TIMES)) known.set(name, { dimension: dimension(0, 0, 1), factor });
for (const [name, factor] of [
  ['ml', 1e3],
  ['cl', 1e4],
  ['l', 1e6],
  ['L', 1e6],
] as const)
  known.set(name, { dimension: dimension(3), factor });
for (const name of currencies) known.set(name, { dimension: BASES.map((base) => (base === name ? 1 : 0)), factor: 1 });

/** The unit of this name, or null for one that is not known: its values can be shown but not converted. */
export const unitOf = (name: string): Unit | null => known.get(name.trim().replace(/\*\*|\^/, '^')) ?? null;

export const sameDimension = (one: Dimension, two: Dimension): boolean => one.every((power, at) => power === two[at]);

/** The value in another unit; null where they do not measure the same. */
export function convert(value: number, from: string, to: string): number | null {
  if (from === to) return value;
  const one = unitOf(from),
    two = unitOf(to);
  return one && two && sameDimension(one.dimension, two.dimension) ? (value * one.factor) / two.factor : null;
}

const RAISED = ['', '', '²', '³'];

/** The name of the unit that values of this dimension are kept in: mm, mm², kg, kg/mm; empty for plain numbers. */
export function baseUnit(of: Dimension): string {
  const part = (wanted: 1 | -1) =>
    of
      .flatMap((power, at) =>
        power * wanted > 0 ? [BASES[at] + (RAISED[power * wanted] ?? `^${power * wanted}`)] : [],
      )
      .join('·');
  const [top, bottom] = [part(1), part(-1)];
  return bottom ? `${top || '1'}/${bottom}` : top;
}

/** In words, for a sentence. */
export const dimensionWords = (of: Dimension): string => words.get(of.join()) ?? `a value in ${baseUnit(of)}`;
const words = new Map([
  [PLAIN.join(), 'a plain number'],
  [dimension(1).join(), 'a length'],
  [dimension(2).join(), 'an area'],
  [dimension(3).join(), 'a volume'],
  [dimension(0, 1).join(), 'a mass'],
  [dimension(0, 0, 1).join(), 'a time'],
]);
