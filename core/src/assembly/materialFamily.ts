/** What a material is to a drafter who shows it by its hatching (ISO 128-3, particular conventions for materials). */
export const materialFamilies = ['metal', 'plastic', 'wood', 'insulation'] as const;
export type MaterialFamily = (typeof materialFamilies)[number];

/** As drafters write them, matched as whole words at the beginning. */
const names: Readonly<Record<MaterialFamily, readonly string[]>> = {
  metal: [
    'steel',
    'stainless',
    'cast iron',
    'iron',
    'aluminium',
    'aluminum',
    'al',
    'brass',
    'bronze',
    'copper',
    'titanium',
    'zinc',
    'lead',
    'tin',
    'magnesium',
    'a2-70',
    'a4-70',
    'a4-80',
  ],
  plastic: [
    'plastic',
    'pom',
    'pe',
    'pe-uhmw',
    'pe-hd',
    'pp',
    'pa',
    'pa6',
    'pa66',
    'polyamide',
    'pvc',
    'pet',
    'ptfe',
    'pmma',
    'pc',
    'abs',
    'pur',
    'peek',
    'epdm',
    'nbr',
    'fkm',
    'rubber',
    'silicone',
  ],
  wood: ['wood', 'ash', 'beech', 'oak', 'birch', 'pine', 'spruce', 'larch', 'maple', 'plywood', 'mdf', 'chipboard'],
  insulation: ['insulation', 'mineral wool', 'glass wool', 'rock wool', 'foam', 'felt', 'cork'],
};
/** Grades by their form: EN 10027-1 and -2 steels, EN 573 and EN 1706 aluminium, EN 1560 cast irons, EN 1412 copper alloys. */
const metalGrades =
  /^(?:s\d{3}|e\d{3}|p\d{3}|c\d{2}|x\d+cr|\d{2}(?:cr|mn|mncr|crmo)|1\.\d{4}|en[ -](?:aw|ac|gjl|gjs)|al(?:mg|si|cu|zn)|cu(?:sn|zn|al)|gjl|gjs)/;

/** The family of a material by what is written of it; null where nobody knows. */
export function materialFamily(material: string): MaterialFamily | null {
  const written = material.trim().toLowerCase();
  if (written === '') return null;
  const isNamed = (name: string): boolean =>
    written === name || (written.startsWith(name) && !/[\p{L}\d]/u.test(written[name.length]));
  // The longest name says it: cast iron, not cast.
  const [found] = materialFamilies
    .flatMap((family) => names[family].filter(isNamed).map((name) => ({ family, size: name.length })))
    .sort((a, b) => b.size - a.size);
  return found?.family ?? (metalGrades.test(written) ? 'metal' : null);
}
