import { bought } from './stock.ts';
import { circle, hexagon, lathe, prism, put, stack, move, turn } from './solids.ts';
import type { Product } from './product.ts';

const SUPPLIER = 'Kaldvik Fasteners';

/** Hexagon bolt; head above z = 0, shank below. Widths across flats and head heights after ISO 4014. */
export function bolt(diameter: 6 | 8 | 10 | 12, length: number): Product {
  const [flats, head] = { 6: [10, 4], 8: [13, 5.3], 10: [16, 6.4], 12: [18, 7.5] }[diameter];
  return bought(
    `BN-${String(diameter).padStart(2, '0')}${length}`,
    `Hexagon bolt M${diameter} × ${length}`,
    'stainless',
    SUPPLIER,
    [stack([circle(diameter / 2), -length, 0], [hexagon(flats), 0, head])],
    { description: `ISO 4014 M${diameter} × ${length} A4-70`, sizes: { Diameter: diameter, Length: length } },
  );
}

/** Hexagon nut standing on z = 0. */
export function nut(diameter: 6 | 8 | 10 | 12): Product {
  const [flats, height] = { 6: [10, 5.2], 8: [13, 6.8], 10: [16, 8.4], 12: [18, 10.8] }[diameter];
  return bought(
    `NT-${String(diameter).padStart(2, '0')}`,
    `Hexagon nut M${diameter}`,
    'stainless',
    SUPPLIER,
    [prism(hexagon(flats), 0, height, [circle(diameter / 2)])],
    { description: `ISO 4032 M${diameter} A4-70`, sizes: { Diameter: diameter } },
  );
}

/** Plain washer standing on z = 0. */
export function washer(diameter: 6 | 8 | 10 | 12): Product {
  const [outer, inner, height] = { 6: [12, 6.4, 1.6], 8: [16, 8.4, 1.6], 10: [20, 10.5, 2], 12: [24, 13, 2.5] }[
    diameter
  ];
  return bought(
    `WS-${String(diameter).padStart(2, '0')}`,
    `Washer ${diameter}`,
    'stainless',
    SUPPLIER,
    [prism(circle(outer / 2), 0, height, [circle(inner / 2)])],
    { description: `ISO 7089 – ${diameter} A4`, sizes: { Diameter: diameter } },
  );
}

/** Countersunk wood screw; top of the head at z = 0. */
export const deckScrew: Product = bought(
  'SC-0540',
  'Deck screw 5 × 40',
  'stainless',
  SUPPLIER,
  [lathe([0, -40], [0.5, -40], [1.2, -38], [2.5, -34], [2.5, -3.2], [5, 0], [0, 0])],
  { description: 'Countersunk wood screw 5 × 40 A4', sizes: { Diameter: 5, Length: 40 } },
);

/** Split pin lying along z. */
export const splitPin: Product = bought(
  'PN-0432',
  'Split pin 4 × 32',
  'stainless',
  SUPPLIER,
  [prism(circle(2), -16, 16)],
  { description: 'ISO 1234 – 4 × 32 A4', sizes: { Diameter: 4, Length: 32 } },
);

/** A shackle: bow of straight pieces and its pin; the pin along y through the origin, bow towards +x. */
export const shackle: Product = bought(
  'SH-08',
  'Shackle 8',
  'stainless',
  'Norrvik Winch Works',
  [
    put(turn('y', 90, 0, 10, 0), prism(circle(4), -6, 32)),
    put(turn('y', 90, 0, -10, 0), prism(circle(4), -6, 32)),
    put(turn('x', 90, 32, 14, 0), prism(circle(4), 0, 28)),
    put(turn('x', 90, 0, 18, 0), prism(circle(4), 0, 36)),
    put(move(0, 0, 0), put(turn('x', 90, 0, 22, 0), prism(hexagon(13), 0, 5))),
  ],
  { description: 'Bow shackle 8, A4', sizes: { Diameter: 8 } },
);
