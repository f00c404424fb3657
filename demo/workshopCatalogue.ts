import { quoted } from './csv.ts';

/** What the camp workshop knows of parts that it buys; some are not written as in the machine, on purpose. */
export const catalogueHeadings = [
  'Part number',
  'Article',
  'Order number',
  'Supplier',
  'Unit cost [EUR]',
  'Lead time [days]',
  'Pack of',
  'Since',
  'Packs',
] as const;

type Row = readonly (string | number)[];

/** A price that looks like one, and is the same at every call. */
const price = (base: number, step: number): string =>
  (Math.round(base * (100 + ((step * 37) % 23)) * 10) / 1000).toFixed(2);
const packPrice = (single: string, count: number, share: number): string => (Number(single) * count * share).toFixed(2);
const day = (step: number): string => `2026-0${1 + (step % 3)}-${String(1 + ((step * 7) % 27)).padStart(2, '0')}`;

function fasteners(): Row[] {
  const rows: Row[] = [];
  const add = (number: string, article: string, base: number, pack: number) => {
    const step = rows.length;
    const order = `KF ${String(40_000 + step * 17)}`;
    const single = price(base, step);
    // Single ones at one price, packs of two sizes at others; what is not sold singly comes in packs of one size.
    const packs =
      pack === 1
        ? ''
        : `${pack / 2}: ${packPrice(single, pack / 2, 0.72)}; ${pack * 2}: ${packPrice(single, pack * 2, 0.61)}`;
    rows.push([number, article, order, 'Kaldvik Fasteners', single, 3 + (step % 4), 1, day(step), packs]);
  };
  for (const [diameter, lengths] of [
    [4, [16, 20, 30, 40]],
    [5, [16, 20, 30, 40, 50, 60]],
    [6, [16, 20, 30, 40, 50, 60]],
    [8, [20, 30, 40, 50, 60, 80]],
    [10, [30, 40, 50, 60, 80, 100]],
    [12, [40, 60, 80, 90, 120]],
    [16, [60, 80, 120]],
  ] as const)
    for (const length of lengths) {
      const number = `BN-${String(diameter).padStart(2, '0')}${length}`;
      // Typed by hand long ago: with a blank, in small letters.
      const written = number === 'BN-1050' ? 'BN 1050' : number === 'BN-1290' ? 'bn-1290' : number;
      add(written, `Hexagon bolt M${diameter} × ${length} A4-70`, 0.002 * diameter * (20 + length / 2) ** 0.9, 100);
    }
  for (const diameter of [4, 5, 6, 8, 10, 12, 16, 20]) {
    const two = String(diameter).padStart(2, '0');
    add(diameter === 10 ? 'NT10' : `NT-${two}`, `Hexagon nut M${diameter} A4-70`, 0.012 * diameter, 100);
    // The one for M12 was never entered.
    if (diameter !== 12) add(`WS-${two}`, `Plain washer ${diameter} A4`, 0.006 * diameter, 200);
  }
  for (const [number, article, base, pack] of [
    ['SC-0530', 'Deck screw 5 × 30 A4', 0.07, 200],
    ['SC-0540', 'Deck screw 5 × 40 A4', 0.09, 200],
    ['SC-0550', 'Deck screw 5 × 50 A4', 0.11, 200],
    ['PN-0432', 'Split pin 4 × 32 A4', 0.14, 50],
    ['PN-0540', 'Split pin 5 × 40 A4', 0.18, 50],
    ['LT-20', 'Toggle latch 20 A4', 6.4, 1],
    // Entered twice, with another price.
    ['WS-08', 'Plain washer 8 A4, old stock', 0.03, 200],
  ] as const)
    add(number, article, base, pack);
  return rows;
}

function rigging(): Row[] {
  return (
    [
      ['WN-350', 'Hand winch, ratchet, 350 kg', 186],
      ['WN-500', 'Hand winch, ratchet, 500 kg', 238],
      ['WN-356', 'Crank handle, POM', 7.5],
      ['SH-06', 'Shackle 6', 2.3],
      ['SH-08', 'Shackle 8', 3.1],
      ['SH-10', 'Shackle 10', 4.4],
      ['TB-06', 'Turnbuckle M6', 6.8],
      ['TB-08', 'Turnbuckle M8', 8.9],
      ['TB-10', 'Turnbuckle M10', 12.5],
      ['RP-06', 'Wire rope 6 mm, per metre', 1.9],
      ['RP-08', 'Wire rope 8 mm, per metre', 2.8],
      ['TH-06', 'Thimble 6', 0.6],
      ['TH-08', 'Thimble 8', 0.8],
      ['HK-08', 'Snap hook 8', 5.2],
    ] as const
  ).map(([number, article, base], at): Row => [
    number,
    article,
    `NW-${2100 + at * 3}`,
    'Norrvik Winch Works',
    price(base, at),
    12 + (at % 5) * 3,
    1,
    day(at),
  ]);
}

function stockAndConsumables(): Row[] {
  return (
    [
      ['GR-40', 'Low-temperature grease, 400 g cartridge', 'Polarplast Works', 9.8, 6, 12],
      ['GR-10', 'Low-temperature grease, 100 g tube', 'Polarplast Works', 3.9, 6, 24],
      ['AD-24', 'Thread locking adhesive, medium, 24 ml', 'Polarplast Works', 11.2, 6, 1],
      ['AD-50', 'Two-part adhesive, 50 ml', 'Polarplast Works', 14.6, 6, 1],
      ['OL-05', 'Linseed oil, 0.5 l', 'Lind & Floe Timber', 7.1, 9, 6],
      ['OL-25', 'Linseed oil, 2.5 l', 'Lind & Floe Timber', 26.5, 9, 1],
      ['WX-01', 'Runner wax, block', 'Polarplast Works', 4.2, 6, 10],
      ['PT-RD', 'Paint, signal red, 0.75 l', 'Polarplast Works', 18.4, 8, 1],
      ['PT-WH', 'Paint, white, 0.75 l', 'Polarplast Works', 17.9, 8, 1],
      ['LB-01', 'Rating plate, etched', 'Tindra Metallvaror', 5.6, 15, 1],
      ['LB-02', 'Label “Lift here”', 'Tindra Metallvaror', 0.9, 15, 10],
      ['LB-03', 'Label “Mind the ratchet”', 'Tindra Metallvaror', 0.9, 15, 10],
      ['DC-01', 'Handbook of the sledge, printed', 'Camp workshop', 3, 1, 1],
      ['DC-02', 'Inspection card', 'Camp workshop', 0.2, 1, 50],
      ['TU-337', 'Tube 33.7 × 2.6 S355, 6 m', 'Tindra Metallvaror', 31.5, 10, 1],
      ['TU-424', 'Tube 42.4 × 2.6 S355, 6 m', 'Tindra Metallvaror', 39.8, 10, 1],
      ['TU-483', 'Tube 48.3 × 3.2 S355, 6 m', 'Tindra Metallvaror', 52.3, 10, 1],
      ['TA-40', 'Tube 40 × 3 Al 6082, 6 m', 'Tindra Metallvaror', 44.1, 12, 1],
      ['TA-60', 'Tube 60 × 4 Al 6082, 6 m', 'Tindra Metallvaror', 71.6, 12, 1],
      ['FL-406', 'Flat bar 40 × 6 S355, 6 m', 'Tindra Metallvaror', 22.9, 10, 1],
      ['FL-508', 'Flat bar 50 × 8 S355, 6 m', 'Tindra Metallvaror', 34.2, 10, 1],
      ['PL-06', 'Plate 6 mm S355, 1 × 2 m', 'Tindra Metallvaror', 118, 14, 1],
      ['PL-10', 'Plate 10 mm S355, 1 × 2 m', 'Tindra Metallvaror', 189, 14, 1],
      ['AS-45', 'Ash, planed 45 × 95, per metre', 'Lind & Floe Timber', 8.4, 9, 1],
      ['AS-70', 'Ash, planed 70 × 70, per metre', 'Lind & Floe Timber', 11.7, 9, 1],
      ['BP-12', 'Birch ply 12 mm, 1.5 × 3 m', 'Lind & Floe Timber', 92, 9, 1],
      ['BP-18', 'Birch ply 18 mm, 1.5 × 3 m', 'Lind & Floe Timber', 128, 9, 1],
      ['PE-10', 'PE-UHMW sheet 10 mm, 1 × 2 m', 'Polarplast Works', 164, 7, 1],
      ['PO-80', 'POM rod 80, per metre', 'Polarplast Works', 58, 7, 1],
      ['PO-30', 'POM rod 30, per metre', 'Polarplast Works', 14.5, 7, 1],
      ['GL-01', 'Work gloves, lined, pair', 'Camp workshop', 12.5, 2, 1],
      ['SP-01', 'Set of blades for the corer', 'Norrvik Winch Works', 74, 20, 1],
      ['SP-02', 'Pawl spring, spare', 'Norrvik Winch Works', 2.2, 20, 5],
      ['SP-03', 'Brake lining, spare', 'Norrvik Winch Works', 8.8, 20, 2],
      ['FL-LED', 'Tail lamp, LED, with battery', 'Polarplast Works', 16.9, 11, 1],
      ['SL-1510', 'Push handle, as a spare', 'Tindra Metallvaror', 39, 12, 1],
      ['SL-1115', 'Runner sole, as a spare', 'Polarplast Works', 27.5, 7, 1],
      ['CH-06', 'Chain 6 mm, per metre', 'Norrvik Winch Works', 5.9, 12, 1],
      ['ST-25', 'Lashing strap 25 mm, 5 m', 'Norrvik Winch Works', 6.6, 12, 2],
      ['ST-50', 'Lashing strap 50 mm, 8 m', 'Norrvik Winch Works', 13.8, 12, 2],
      ['RE-01', 'Reflector, white', 'Polarplast Works', 1.4, 11, 10],
      ['RE-02', 'Reflector, red', 'Polarplast Works', 1.4, 11, 10],
      ['CO-01', 'Canvas cover for the core box', 'Camp workshop', 34, 5, 1],
      ['FO-20', 'Foam lining 20 mm, 1 × 2 m', 'Polarplast Works', 23, 7, 1],
      ['VL-01', 'Velcro tape 25 mm, per metre', 'Polarplast Works', 2.1, 7, 25],
      ['BT-12', 'Battery, D cell, lithium', 'Polarplast Works', 9.4, 4, 4],
      ['FU-01', 'First-aid pack', 'Camp workshop', 21, 2, 1],
      ['FI-01', 'Fire blanket', 'Camp workshop', 15.5, 2, 1],
    ] as const
  ).map(([number, article, supplier, base, days, pack], at): Row => [
    number,
    article,
    `${supplier.slice(0, 2).toUpperCase()}${500 + at * 11}`,
    supplier,
    price(base, at),
    days,
    pack,
    day(at),
  ]);
}

/** The catalogue as CSV; the same text at every call. */
export const workshopCatalogueCsv = (): string =>
  [catalogueHeadings, ...fasteners(), ...rigging(), ...stockAndConsumables()]
    .map((row) => row.map(quoted).join(','))
    .join('\n') + '\n';
