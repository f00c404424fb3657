import type { Placement } from '../core/src/geometry/index.ts';
import type { Carried, Product } from './product.ts';
import { volume, type Solid } from './solids.ts';

/** Invented stock of the camp workshop: material, its colour in pictures, its density in kg/mm³. */
const materials = {
  ash: ['Ash', [0.82, 0.68, 0.46], 0.7e-6],
  birch: ['Birch ply', [0.89, 0.79, 0.6], 0.68e-6],
  aluminium: ['Al 6082', [0.74, 0.77, 0.79], 2.7e-6],
  steel: ['Steel S355', [0.43, 0.47, 0.5], 7.85e-6],
  stainless: ['A4-70', [0.6, 0.62, 0.63], 7.9e-6],
  slider: ['PE-UHMW', [0.93, 0.93, 0.9], 0.94e-6],
  plastic: ['POM', [0.2, 0.22, 0.24], 1.41e-6],
  rubber: ['EPDM', [0.15, 0.15, 0.15], 1.15e-6],
} as const satisfies Record<string, readonly [string, readonly [number, number, number], number]>;
export type Material = keyof typeof materials;

const finishes: Partial<Record<Material, string>> = {
  ash: 'Oiled',
  birch: 'Lacquered',
  aluminium: 'Anodised, natural',
  steel: 'Hot-dip galvanised',
  stainless: 'Plain',
};
const suppliers: Partial<Record<Material, string>> = {
  ash: 'Lind & Floe Timber',
  birch: 'Lind & Floe Timber',
  aluminium: 'Tindra Metallvaror',
  steel: 'Tindra Metallvaror',
  slider: 'Polarplast Works',
  plastic: 'Polarplast Works',
  rubber: 'Polarplast Works',
};

interface PartWords {
  readonly description?: string;
  readonly revision?: string;
  readonly sizes?: Readonly<Record<string, number>>;
}

/** A part made in the workshop; mass follows from the exact volume. */
export function made(
  number: string,
  name: string,
  material: Material,
  solids: readonly Solid[],
  words: PartWords = {},
): Product {
  return {
    number,
    name,
    description: words.description,
    revision: words.revision,
    solids,
    colour: materials[material][1],
    properties: carried(material, solids, words),
  };
}

/** A bought part, like a fastener. */
export function bought(
  number: string,
  name: string,
  material: Material,
  supplier: string,
  solids: readonly Solid[],
  words: PartWords = {},
): Product {
  return {
    ...made(number, name, material, solids, words),
    bought: true,
    properties: {
      ...carried(material, solids, words),
      Supplier: supplier,
      Finish: material === 'stainless' ? 'Plain' : 'Zinc flake',
    },
  };
}

function carried(material: Material, solids: readonly Solid[], { sizes = {} }: PartWords): Record<string, Carried> {
  const [name, , density] = materials[material];
  const mass = solids.reduce((sum, solid) => sum + volume(solid), 0) * density;
  const texts: Record<string, Carried> = { Material: name };
  if (finishes[material]) texts.Finish = finishes[material];
  if (suppliers[material]) texts.Supplier = suppliers[material];
  const lengths = Object.entries(sizes).map(([key, value]) => [key, { value, unit: 'mm' }] as const);
  return { ...texts, Mass: { value: Number(mass.toPrecision(4)), unit: 'kg' }, ...Object.fromEntries(lengths) };
}

/** Several placements along x at these stations. */
export const stations = (xs: readonly number[], at: (x: number, index: number) => Placement): Placement[] => xs.map(at);
