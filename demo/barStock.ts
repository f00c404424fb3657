import { quoted } from './csv.ts';

/** Bars that the camp workshop can have, and what is left of earlier ones. */
const HEADINGS = [
  'Stock number',
  'Material',
  'Section',
  'Stock length [mm]',
  'Unit cost [EUR]',
  'On hand',
  'Lead time [days]',
  'Supplier',
] as const;

const rows: readonly (readonly (string | number)[])[] = [
  ['TA-80/6', 'Al 6082', 'Tube 80 × 4', 6000, '88.40', '', 12, 'Tindra Metallvaror'],
  ['TA-80/3', 'Al 6082', 'Tube 80 × 4', 3000, '49.00', '', 12, 'Tindra Metallvaror'],
  ['TA-70/6', 'Al 6082', 'Tube 70 × 4', 6000, '79.20', '', 12, 'Tindra Metallvaror'],
  ['TA-70/3', 'Al 6082', 'Tube 70 × 4', 3000, '44.50', '', 12, 'Tindra Metallvaror'],
  ['TA-40/6', 'Al 6082', 'Tube 40 × 3', 6000, '44.10', '', 12, 'Tindra Metallvaror'],
  ['TA-40/4', 'Al 6082', 'Tube 40 × 3', 4000, '31.80', '', 12, 'Tindra Metallvaror'],
  ['TA-337/6', 'Al 6082', 'Tube 33.7 × 2.6', 6000, '38.50', '', 12, 'Tindra Metallvaror'],
  ['TA-337/5', 'Al 6082', 'Tube 33.7 × 2.6', 5000, '33.10', '', 12, 'Tindra Metallvaror'],
  // Left over from last winter's sledges
  ['TA-337/R', 'Al 6082', 'Tube 33.7 × 2.6', 1480, '0.00', 2, 0, 'Camp workshop'],
  ['TU-889/3', 'Steel S355', 'Tube 88.9 × 4', 3000, '61.00', '', 10, 'Tindra Metallvaror'],
  ['TU-483/6', 'Steel S355', 'Tube 48.3 × 3.2', 6000, '52.30', '', 10, 'Tindra Metallvaror'],
  ['TU-483/3', 'Steel S355', 'Tube 48.3 × 3.2', 3000, '29.90', '', 10, 'Tindra Metallvaror'],
  ['BP-84/25', 'Birch ply', 'Bar 84 × 18', 2500, '19.50', '', 9, 'Lind & Floe Timber'],
  ['BP-84/40', 'Birch ply', 'Bar 84 × 18', 4000, '30.20', '', 9, 'Lind & Floe Timber'],
  ['AS-70/40', 'Ash', '70 × 18', 4000, '26.40', '', 9, 'Lind & Floe Timber'],
  ['AS-58/33', 'Ash', '58 × 56', 3300, '38.60', '', 9, 'Lind & Floe Timber'],
  ['AS-58/25', 'Ash', '58 × 56', 2500, '29.00', '', 9, 'Lind & Floe Timber'],
  ['AS-46/30', 'Ash', '46 × 34', 3000, '17.20', '', 9, 'Lind & Floe Timber'],
  ['RO-16/3', 'A4-70', 'Round bar 16', 3000, '24.80', '', 8, 'Kaldvik Fasteners'],
];

/** The bars as CSV; the same text at every call. */
export const barStockCsv = (): string => [HEADINGS, ...rows].map((row) => row.map(quoted).join(',')).join('\n') + '\n';
