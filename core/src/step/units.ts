import { numberOf, refOf, refsOf, textOf, type StepFile, isEnumeration } from '../exchange/index.ts';

/** A length unit of the file: what to multiply by to get mm, and its name in words. */
export interface LengthUnit {
  readonly toMm: number;
  readonly name: string;
  /** False where the file gives none and mm was assumed. */
  readonly given: boolean;
}

const SI_PREFIX: Readonly<Record<string, readonly [number, string]>> = {
  EXA: [1e18, 'E'],
  PETA: [1e15, 'P'],
  TERA: [1e12, 'T'],
  GIGA: [1e9, 'G'],
  MEGA: [1e6, 'M'],
  KILO: [1e3, 'k'],
  HECTO: [1e2, 'h'],
  DECA: [1e1, 'da'],
  DECI: [1e-1, 'd'],
  CENTI: [1e-2, 'c'],
  MILLI: [1e-3, 'm'],
  MICRO: [1e-6, 'µ'],
  NANO: [1e-9, 'n'],
  PICO: [1e-12, 'p'],
};
const SI_SYMBOL: Readonly<Record<string, string>> = {
  METRE: 'm',
  GRAM: 'g',
  SECOND: 's',
  RADIAN: 'rad',
  STERADIAN: 'sr',
  NEWTON: 'N',
  PASCAL: 'Pa',
  JOULE: 'J',
  WATT: 'W',
  KELVIN: 'K',
  DEGREE_CELSIUS: '°C',
};
const ASSUMED: LengthUnit = { toMm: 1, name: 'mm', given: false };

/** Units by their usual names, for writers that name one without saying how long it is. */
const NAMED_MM: Readonly<Record<string, number>> = {
  INCH: 25.4,
  IN: 25.4,
  FOOT: 304.8,
  FEET: 304.8,
  FT: 304.8,
  YARD: 914.4,
  MILE: 1_609_344,
  MIL: 0.0254,
  MICROINCH: 0.0000254,
};

/** The length unit of a representation context (GLOBAL_UNIT_ASSIGNED_CONTEXT); mm where it has none. */
export function lengthUnitOf(file: StepFile, context: number): LengthUnit {
  for (const unit of refsOf(file.value(context, 'GLOBAL_UNIT_ASSIGNED_CONTEXT', 0))) {
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
  const name = textOf(conversion[conversion.length - 2]);
  const measure = refOf(conversion[conversion.length - 1]);
  const kind =
    file.is(measure, 'LENGTH_MEASURE_WITH_UNIT') && file.size(measure, 'LENGTH_MEASURE_WITH_UNIT') > 0
      ? 'LENGTH_MEASURE_WITH_UNIT'
      : 'MEASURE_WITH_UNIT';
  const value = numberOf(file.value(measure, kind, 0));
  const base = file.ref(measure, kind, 1);
  const baseUnit = base < 0 ? null : readLength(file, base, level + 1);
  const toMm = baseUnit && value !== null && value > 0 ? value * baseUnit.toMm : NAMED_MM[name.trim().toUpperCase()];
  return toMm === undefined ? null : { toMm, name: name.toLowerCase() || 'unit of its own', given: true };
}

/** What an angle of a representation context is multiplied by to be in radian; 1 where the context does not say. */
export function angleUnitOf(file: StepFile, context: number): number {
  for (const unit of refsOf(file.value(context, 'GLOBAL_UNIT_ASSIGNED_CONTEXT', 0))) {
    if (!file.is(unit, 'PLANE_ANGLE_UNIT')) continue;
    const conversion = file.record(unit, 'CONVERSION_BASED_UNIT');
    if (!conversion) return 1;
    const measure = refOf(conversion[conversion.length - 1]);
    const keyword = ['PLANE_ANGLE_MEASURE_WITH_UNIT', 'MEASURE_WITH_UNIT'].find((name) => file.size(measure, name) > 0);
    const value = keyword ? numberOf(file.value(measure, keyword, 0)) : null;
    return value !== null && value > 0 ? value : Math.PI / 180;
  }
  return 1;
}

/** What a measure in this unit is multiplied by to stand in mm, mm² or mm³; null where the unit is none of length. */
export function toMillimetres(file: StepFile, unit: number): number | null {
  if (file.is(unit, 'LENGTH_UNIT')) return readLength(file, unit, 0)?.toMm ?? null;
  const elements = refsOf(file.value(unit, 'DERIVED_UNIT', 0));
  let factor = 1;
  for (const element of elements) {
    const base = readLength(file, file.ref(element, 'DERIVED_UNIT_ELEMENT', 0), 0);
    const exponent = numberOf(file.value(element, 'DERIVED_UNIT_ELEMENT', 1));
    if (!base || exponent === null) return null;
    factor *= base.toMm ** exponent;
  }
  return elements.length > 0 ? factor : null;
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
  return derived
    ? refsOf(derived[0])
        .map((element) => derivedElement(file, element))
        .join('·')
    : '';
}

function derivedElement(file: StepFile, element: number): string {
  const record = file.record(element, 'DERIVED_UNIT_ELEMENT');
  const base = refOf(record?.[0]);
  const exponent = numberOf(record?.[1]);
  const power = exponent !== null && exponent !== 1 ? ({ 2: '²', 3: '³' }[exponent] ?? `^${exponent}`) : '';
  return (base < 0 ? '' : unitSymbol(file, base)) + power;
}
