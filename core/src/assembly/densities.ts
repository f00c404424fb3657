/** kg/m³ of materials as drafters write them; matched as whole words at the beginning, longest first. */
const usualDensities: Readonly<Record<string, number>> = {
  steel: 7850,
  'stainless steel': 7900,
  'a2-70': 7900,
  'a4-70': 7980,
  'a4-80': 7980,
  'cast iron': 7200,
  aluminium: 2700,
  aluminum: 2700,
  al: 2700,
  brass: 8500,
  bronze: 8800,
  copper: 8960,
  titanium: 4500,
  ash: 690,
  beech: 720,
  oak: 720,
  birch: 650,
  'birch ply': 680,
  pine: 520,
  spruce: 450,
  plywood: 680,
  pom: 1410,
  'pe-uhmw': 935,
  'pe-hd': 955,
  pa6: 1140,
  pvc: 1400,
  ptfe: 2200,
  epdm: 1150,
  rubber: 1200,
  glass: 2500,
};

/**
 * Density of a material and the entry that it was found by; null where it is not known: then there is no mass, not
 * zero.
 */
export function densityOf(
  material: string,
  own: Readonly<Record<string, number>>,
): { density: number; entry: string } | null {
  const wanted = material.trim().toLowerCase();
  if (!wanted) return null;
  const table = {
    ...usualDensities,
    ...Object.fromEntries(Object.entries(own).map(([name, density]) => [name.trim().toLowerCase(), density])),
  };
  const entry = Object.keys(table)
    .sort((a, b) => b.length - a.length)
    .find((name) => wanted === name || (wanted.startsWith(name) && !/[\p{L}\d]/u.test(wanted[name.length])));
  return entry === undefined || !(table[entry] > 0) ? null : { density: table[entry], entry };
}
