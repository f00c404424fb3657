import { refOf, refsOf, textOf, type StepFile } from './file.ts';
import { isEnumeration, isTyped } from './values.ts';

/** A length unit of the file: what to multiply by to get mm, and its name in words. */
export interface LengthUnit {
  readonly toMm: number;
  readonly name: string;
  /** False where the file gives none and mm was assumed. */
  readonly given: boolean;
}

const SI_PREFIX: Readonly<Record<string, readonly [number, string]>> = {
  EXA: [1e18, 'E'], PETA: [1e15, 'P'], TERA: [1e12, 'T'], GIGA: [1e9, 'G'], MEGA: [1e6, 'M'], KILO: [1e3, 'k'], HECTO: [1e2, 'h'],
  DECA: [1e1, 'da'], DECI: [1e-1, 'd'], CENTI: [1e-2, 'c'], MILLI: [1e-3, 'm'], MICRO: [1e-6, 'µ'], NANO: [1e-9, 'n'], PICO: [1e-12, 'p'],
};
const SI_SYMBOL: Readonly<Record<string, string>> = {
  METRE: 'm', GRAM: 'g', SECOND: 's', RADIAN: 'rad', STERADIAN: 'sr', NEWTON: 'N', PASCAL: 'Pa', JOULE: 'J', WATT: 'W', KELVIN: 'K', DEGREE_CELSIUS: '°C',
};
const ASSUMED: LengthUnit = { toMm: 1, name: 'mm', given: false };

/** The length unit of a representation context (GLOBAL_UNIT_ASSIGNED_CONTEXT); mm where it has none. */
export function lengthUnitOf(file: StepFile, context: number): LengthUnit {
  for (const unit of refsOf(file.record(context, 'GLOBAL_UNIT_ASSIGNED_CONTEXT')?.[0])) {
    if (file.is(unit, 'LENGTH_UNIT')) return readLength(file, unit, 0) ?? ASSUMED;
  }
  return ASSUMED;
}

function readLength(file: StepFile, unit: number, level: number): LengthUnit | null {
  if (level > 8) return null; // units defined by one another
  const si = file.record(unit, 'SI_UNIT');
  if (si) {
    const prefix = isEnumeration(si[si.length - 2]) ? (si[si.length - 2] as { enumeration: string }).enumeration : '';
    const [factor, letter] = SI_PREFIX[prefix] ?? [1, ''];
    return { toMm: factor * 1000, name: `${letter}m`, given: true };
  }
  const conversion = file.record(unit, 'CONVERSION_BASED_UNIT');
  if (!conversion) return null;
  const measure = refOf(conversion[conversion.length - 1]);
  const measureRecord = measure === null ? null : (file.record(measure, 'LENGTH_MEASURE_WITH_UNIT') ?? file.record(measure, 'MEASURE_WITH_UNIT'));
  const base = refOf(measureRecord?.[1]);
  const size = measureRecord?.[0];
  const value = isTyped(size) ? size.value : size;
  const baseUnit = base === null ? null : readLength(file, base, level + 1);
  if (!baseUnit || typeof value !== 'number' || !(value > 0)) return null;
  return { toMm: value * baseUnit.toMm, name: textOf(conversion[conversion.length - 2]).toLowerCase() || 'unit of its own', given: true };
}

/** A unit's symbol as a drafter writes it (mm, kg, N); empty where it has none, as for counts and ratios. */
export function unitSymbol(file: StepFile, unit: number): string {
  const si = file.record(unit, 'SI_UNIT');
  if (si) {
    const [prefix, name] = si.slice(-2).map((value) => (isEnumeration(value) ? value.enumeration : ''));
    return (SI_PREFIX[prefix]?.[1] ?? '') + (SI_SYMBOL[name] ?? name.toLowerCase());
  }
  const conversion = file.record(unit, 'CONVERSION_BASED_UNIT');
  if (conversion) return textOf(conversion[conversion.length - 2]).toLowerCase();
  const derived = file.record(unit, 'DERIVED_UNIT');
  return derived ? refsOf(derived[0]).map((element) => derivedElement(file, element)).join('·') : '';
}

function derivedElement(file: StepFile, element: number): string {
  const record = file.record(element, 'DERIVED_UNIT_ELEMENT');
  const base = refOf(record?.[0]);
  const exponent = record?.[1];
  const power = typeof exponent === 'number' && exponent !== 1 ? ({ 2: '²', 3: '³' }[exponent] ?? `^${exponent}`) : '';
  return (base === null ? '' : unitSymbol(file, base)) + power;
}
