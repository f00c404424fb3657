import type { Placement } from '../core/src/geometry/index.ts';
import { bolt, deckScrew, nut, shackle, splitPin, washer } from './fasteners.ts';
import { place, type Placed, type Product } from './product.ts';
import { bought, made } from './stock.ts';
import {
  block,
  circle,
  lathe,
  mirrored,
  move,
  polygon,
  prism,
  put,
  rectangle,
  rod,
  rounded,
  tube,
  turn,
  type Corner,
  type Loop,
  type Solid,
} from './solids.ts';

/** What differs between the two committed revisions. */
export interface SledgeOptions {
  readonly revision: 'A' | 'B';
  readonly slats: number;
  readonly railLength: number;
  /** Revision B adds a tail lamp, drops the push handle and widens the drum. */
  readonly tailLamp: boolean;
}
export const revisionA: SledgeOptions = { revision: 'A', slats: 7, railLength: 1900, tailLamp: false };
export const revisionB: SledgeOptions = { revision: 'B', slats: 8, railLength: 2020, tailLamp: true };

// Machine coordinates, mm: x towards the nose, y to the left, z up; the ice at z = 0.
const TRACK = 330; // runner centre from the middle
const FEET = [160, 560, 960, 1360, 1760]; // stations of stanchions and bearers along x
const BEARER_Z = 268;
const DECK_Z = 328;
const assembly = (
  number: string,
  name: string,
  contents: readonly Placed[],
  words: Partial<Product> = {},
): Product => ({ number, name, contents, ...words });
const at = (product: Product, placements: readonly Placement[], label = ''): Placed[] =>
  placements.map((placement, index) => place(product, placement, label && `${label} ${index + 1}`));
const corner = (x: number, y: number): Corner => ({ x, y });

/** A runner seen from the side: straight, then turned up in an arc, between `low` and `high` above the ice. */
function runnerSide(low: number, high: number, length: number): Loop {
  const R = 420; // radius of the turn at the ice
  const bend = (62 * Math.PI) / 180;
  const end = (radius: number): [number, number] => [length + radius * Math.sin(bend), R - radius * Math.cos(bend)];
  const outer = R - low,
    inner = R - high;
  return {
    corners: [
      corner(0, low),
      { x: length, y: low, arc: { cx: length, cy: R, ccw: true } },
      corner(...end(outer)),
      { x: end(inner)[0], y: end(inner)[1], arc: { cx: length, cy: R, ccw: false } },
      corner(length, high),
      corner(0, high),
    ],
  };
}
/** Stands a profile drawn in x and z upright: from `y0` to `y1`. */
const upright = (loop: Loop, y0: number, y1: number, holes: readonly Loop[] = []): Solid =>
  put(turn('x', 90, 0, y1, 0), prism(loop, 0, y1 - y0, holes));

function pair(
  number: string,
  name: string,
  material: Parameters<typeof made>[2],
  solids: readonly Solid[],
  words: Parameters<typeof made>[4] = {},
): { left: Product; right: Product } {
  return {
    left: made(`${number}-L`, `${name}, left`, material, solids, words),
    right: made(`${number}-R`, `${name}, right`, material, solids.map(mirrored), words),
  };
}

function boltedJoint(
  thread: 6 | 8 | 10 | 12,
  length: number,
  grip: number,
  where: (z: number, flip: boolean) => Placement,
): Placed[] {
  const washerHeight = { 6: 1.6, 8: 1.6, 10: 2, 12: 2.5 }[thread];
  return [
    place(bolts(thread, length), where(washerHeight, false)),
    place(washers(thread), where(0, false)),
    place(washers(thread), where(-grip - washerHeight, false)),
    place(nuts(thread), where(-grip - washerHeight, true)),
  ];
}
const keep = <Key extends string, Value>(make: (...args: never[]) => Value) => {
  const known = new Map<Key, Value>();
  return (key: Key, ...args: unknown[]): Value => {
    if (!known.has(key)) known.set(key, make(...(args as never[])));
    return known.get(key)!;
  };
};
const keepBolt = keep<string, Product>(bolt),
  keepNut = keep<string, Product>(nut),
  keepWasher = keep<string, Product>(washer);
const bolts = (d: number, l: number) => keepBolt(`${d}x${l}`, d, l);
const nuts = (d: number) => keepNut(`${d}`, d);
const washers = (d: number) => keepWasher(`${d}`, d);

/** Upright joint through (x, y): head up at z. A nut is turned over below. */
const standing =
  (x: number, y: number, z: number) =>
  (dz: number, flip: boolean): Placement =>
    flip ? turn('x', 180, x, y, z + dz) : move(x, y, z + dz);
/** Joint lying along y, head towards +y. */
const lying =
  (x: number, y: number, z: number) =>
  (dz: number, flip: boolean): Placement =>
    turn('x', flip ? 90 : -90, x, y + dz, z);

function runnerSets(): { left: Product; right: Product } {
  const runner = pair(
    'SL-1110',
    'Runner, curved',
    'ash',
    [upright(runnerSide(10, 62, 1960), -19, 19), upright(rectangle(1700, 12, 960, 68), -9, 3)],
    { sizes: { Length: 2330, Width: 38 }, description: 'Steam-bent, spline offset to the outside' },
  );
  const sole = made('SL-1115', 'Runner sole', 'slider', [upright(runnerSide(0, 10, 1960), -22, 22)], {
    sizes: { Length: 2360, Thickness: 10 },
  });
  const cap = made(
    'SL-1118',
    'Nose cap',
    'aluminium',
    [
      upright(
        polygon([
          [-14, -38],
          [14, -38],
          [14, 38],
          [-14, 38],
        ]),
        -24,
        24,
      ),
    ],
    { sizes: { Thickness: 28 } },
  );
  const stanchion = made('SL-1121', 'Stanchion', 'ash', [put(move(0, 0, 0), prism(rounded(46, 34, 6), 0, 190))], {
    sizes: { Length: 190 },
  });
  const foot = pair(
    'SL-1122',
    'Stanchion foot',
    'steel',
    [
      prism(rounded(96, 52, 8), 0, 5, [circle(4.5, -36, 8), circle(4.5, 36, -8)]),
      upright(
        polygon([
          [-28, 5],
          [28, 5],
          [24, 55],
          [-24, 55],
        ]),
        18,
        22,
      ),
    ],
    { description: 'Welded, gusset outwards', sizes: { Thickness: 5 } },
  );
  const stanchionSet = (side: 'left' | 'right') => {
    const s = side === 'left' ? 1 : -1;
    return assembly(`SL-1120-${side === 'left' ? 'L' : 'R'}`, `Stanchion set, ${side}`, [
      place(foot[side], move(0, 0, 0)),
      place(stanchion, move(0, 0, 5)),
      ...boltedJoint(8, 60, 48, standing(-36, 8 * s, 5)),
      ...boltedJoint(8, 60, 48, standing(36, -8 * s, 5)),
    ]);
  };
  const set = (side: 'left' | 'right') =>
    assembly(`SL-1100-${side === 'left' ? 'L' : 'R'}`, `Runner set, ${side}`, [
      place(runner[side], move(0, 0, 0)),
      place(sole, move(0, 0, 0)),
      place(cap, turn('y', -62, 2330, 0, 248)),
      ...at(
        stanchionSet(side),
        FEET.map((x) => move(x, 0, 74)),
        'Stanchion',
      ),
    ]);
  return { left: set('left'), right: set('right') };
}

function bearerSet(): Product {
  const bearer = made(
    'SL-1210',
    'Cross-bearer',
    'ash',
    [put(turn('x', 90, 0, 400, 0), prism(rounded(58, 56, 7), 0, 800))],
    { sizes: { Length: 800, Width: 58, Height: 56 } },
  );
  const bracket = pair(
    'SL-1212',
    'Bearer bracket',
    'aluminium',
    [
      upright(
        polygon([
          [-20, -50],
          [20, -50],
          [20, 34],
          [12, 42],
          [-20, 42],
        ]),
        -3,
        3,
        [circle(4.5, 0, -34), circle(4.5, 0, 20)],
      ),
      put(move(0, 10, -50), prism(rectangle(40, 20), 0, 6)),
    ],
    { description: 'Folded, nose corner cut', sizes: { Thickness: 6 } },
  );
  return assembly('SL-1200', 'Bearer set', [
    ...at(
      bearer,
      FEET.map((x) => move(x, 0, BEARER_Z + 30)),
      'Bearer',
    ),
    ...FEET.flatMap((x) => [
      place(bracket.left, move(x, TRACK + 26, BEARER_Z + 22)),
      place(bracket.right, move(x, -TRACK - 26, BEARER_Z + 22)),
      ...boltedJoint(6, 50, 40, lying(x, TRACK + 29, BEARER_Z - 12)),
      ...boltedJoint(6, 50, 40, lying(x, -TRACK + 11, BEARER_Z - 12)),
    ]),
  ]);
}

function deck({ slats }: SledgeOptions): Product {
  const length = 1860;
  const pitch = 96;
  const slat = made(
    'SL-1310',
    'Deck slat',
    'birch',
    [put(turn('y', 90, 0, 0, 0), prism(rectangle(18, 84), 0, length))],
    { sizes: { Length: length, Width: 84, Thickness: 18 } },
  );
  const edge = pair(
    'SL-1312',
    'Edge board',
    'ash',
    [
      put(
        turn('y', 90, 0, 0, 0),
        prism(
          polygon([
            [-9, -35],
            [9, -35],
            [9, 35],
            [-1, 35],
            [-9, 27],
          ]),
          0,
          length,
        ),
      ),
    ],
    { sizes: { Length: length, Thickness: 18 }, description: 'Outer edge bevelled' },
  );
  const ys = Array.from({ length: slats }, (_, index) => (index - (slats - 1) / 2) * pitch * (7 / slats));
  return assembly('SL-1300', 'Deck', [
    ...at(
      slat,
      ys.map((y) => move(30, y, DECK_Z + 9)),
      'Slat',
    ),
    place(edge.left, move(30, 381, DECK_Z + 9)),
    place(edge.right, move(30, -381, DECK_Z + 9)),
    ...FEET.flatMap((x) =>
      at(
        deckScrew,
        ys.map((y) => move(x, y, DECK_Z + 18.4)),
      ),
    ),
  ]);
}

function sideRails({ railLength }: SledgeOptions): { left: Product; right: Product } {
  const rail = made('SL-1410', 'Side rail', 'aluminium', [put(turn('y', 90), tube(40, 3, railLength))], {
    description: `TUBE 40 × 3, L = ${railLength}`,
    sizes: { Length: railLength, Diameter: 40, Wall: 3 },
  });
  const post = made('SL-1412', 'Rail post', 'aluminium', [tube(33.7, 2.6, 196)], {
    description: 'TUBE 33.7 × 2.6, L = 196',
    sizes: { Length: 196, Diameter: 33.7, Wall: 2.6 },
  });
  const socket = made(
    'SL-1413',
    'Post socket',
    'steel',
    [prism(rounded(80, 56, 8), 0, 5), prism(circle(21.5), 5, 45, [circle(17)])],
    { sizes: { Thickness: 5, Diameter: 43 } },
  );
  const plug = made(
    'SL-1415',
    'End plug',
    'rubber',
    [lathe([0, 0], [17, 0], [17, 14], [21, 14], [21, 18], [18, 22], [0, 22])],
    { sizes: { Diameter: 42 } },
  );
  const set = (side: 'left' | 'right') => {
    const s = side === 'left' ? 1 : -1;
    const xs = [220, 740, 1240, 1740];
    return assembly(`SL-1400-${side === 'left' ? 'L' : 'R'}`, `Side rail set, ${side}`, [
      place(rail, move(960 - railLength / 2, 370 * s, DECK_Z + 228)),
      place(plug, turn('y', 90, 960 + railLength / 2 - 14, 370 * s, DECK_Z + 228)),
      place(plug, turn('y', -90, 960 - railLength / 2 + 14, 370 * s, DECK_Z + 228)),
      ...xs.flatMap((x) => [
        place(socket, move(x, 370 * s, DECK_Z + 18)),
        place(post, move(x, 370 * s, DECK_Z + 23)),
        ...boltedJoint(6, 50, 23, standing(x - 31, 370 * s, DECK_Z + 23)),
        ...boltedJoint(6, 50, 23, standing(x + 31, 370 * s, DECK_Z + 23)),
      ]),
    ]);
  };
  return { left: set('left'), right: set('right') };
}

function winch({ tailLamp }: SledgeOptions): Product {
  const wide = tailLamp ? 150 : 130;
  const works = 'Norrvik Winch Works';
  const base = bought('WN-351', 'Winch base', 'steel', works, [prism(rectangle(230, wide + 70), 0, 8)]);
  const cheek = (side: 1 | -1): Solid =>
    upright(
      polygon([
        [-80, 8],
        [80, 8],
        [52, 150],
        [20, 176],
        [-30, 176],
        [-62, 150],
      ]),
      (side * (wide + 14)) / 2 - 4,
      (side * (wide + 14)) / 2 + 4,
      [circle(13, 0, 100)],
    );
  const cheeks = {
    left: bought('WN-352-L', 'Winch cheek, left', 'steel', works, [cheek(1)]),
    right: bought('WN-352-R', 'Winch cheek, right', 'steel', works, [cheek(-1)]),
  };
  const drum = bought(
    'WN-353',
    'Drum',
    'aluminium',
    works,
    [
      put(
        turn('x', 90, 0, wide / 2, 100),
        lathe([13, 0], [66, 0], [66, 6], [34, 6], [34, wide - 6], [66, wide - 6], [66, wide], [13, wide]),
      ),
    ],
    { sizes: { Diameter: 132, Width: wide } },
  );
  const shaft = bought(
    'WN-354',
    'Drum shaft',
    'stainless',
    works,
    [put(turn('x', 90, 0, wide / 2 + 40, 100), rod(25, wide + 80))],
    { sizes: { Diameter: 25, Length: wide + 80 } },
  );
  const crank = bought('WN-355', 'Crank', 'steel', works, [
    upright(
      polygon([
        [-14, 86],
        [14, 86],
        [110, 250],
        [92, 262],
      ]),
      -wide / 2 - 40,
      -wide / 2 - 30,
    ),
  ]);
  const handle = bought('WN-356', 'Crank handle', 'plastic', works, [
    put(turn('x', 90, 97, -wide / 2 - 40, 250), lathe([0, 0], [14, 0], [17, 30], [17, 80], [12, 100], [0, 100])),
  ]);
  const gear = bought('WN-357', 'Ratchet wheel', 'steel', works, [
    put(
      turn('x', 90, 0, -wide / 2 - 16, 100),
      prism(
        polygon(
          Array.from({ length: 32 }, (_, i) => {
            const angle = (i * Math.PI) / 16,
              r = i % 2 ? 44 : 52;
            return [r * Math.cos(angle), r * Math.sin(angle)] as const;
          }),
        ),
        0,
        8,
        [circle(12.5)],
      ),
    ),
  ]);
  const pawl = bought('WN-358', 'Pawl', 'steel', works, [
    upright(
      polygon([
        [44, 120],
        [60, 128],
        [30, 164],
        [18, 158],
      ]),
      -wide / 2 - 24,
      -wide / 2 - 16,
    ),
  ]);
  return assembly(
    'WN-350',
    'Hand winch 350',
    [
      place(base, move(0, 0, 0)),
      place(cheeks.left, move(0, 0, 0)),
      place(cheeks.right, move(0, 0, 0)),
      place(drum, move(0, 0, 0)),
      place(shaft, move(0, 0, 0)),
      place(crank, move(0, 0, 0)),
      place(handle, move(0, 0, 0)),
      place(gear, move(0, 0, 0)),
      place(pawl, move(0, 0, 0)),
      ...[-95, 95].flatMap((x) =>
        [-1, 1].flatMap((s) => boltedJoint(10, 50, 8, standing(x, (s * (wide + 45)) / 2, 8)).slice(0, 2)),
      ),
    ],
    {
      bought: true,
      description: 'Hand winch, 350 kg, bought whole',
      properties: { Supplier: works, Material: 'Steel', Mass: { value: 14.8, unit: 'kg' } },
    },
  );
}

const MAST_X = 1160;

function mast(): Product {
  const footPlate = made(
    'SL-3110',
    'Mast foot plate',
    'steel',
    [
      prism(rounded(220, 220, 20), 0, 10, [
        circle(5.5, 85, 85),
        circle(5.5, -85, 85),
        circle(5.5, 85, -85),
        circle(5.5, -85, -85),
      ]),
    ],
    { sizes: { Thickness: 10, Width: 220 } },
  );
  const footTube = made('SL-3112', 'Mast foot socket', 'steel', [tube(88.9, 4, 140)], {
    description: 'TUBE 88.9 × 4, L = 140',
    sizes: { Length: 140, Diameter: 88.9, Wall: 4 },
  });
  const lower = made('SL-3121', 'Mast tube, lower', 'aluminium', [tube(80, 4, 760)], {
    description: 'TUBE 80 × 4, L = 760',
    sizes: { Length: 760, Diameter: 80, Wall: 4 },
  });
  const upper = made('SL-3122', 'Mast tube, upper, long', 'aluminium', [tube(70, 4, 820)], {
    description: 'TUBE 70 × 4, L = 820',
    sizes: { Length: 820, Diameter: 70, Wall: 4 },
  });
  const collar = made('SL-3125', 'Mast collar', 'aluminium', [lathe([35, 0], [52, 0], [52, 50], [46, 58], [35, 58])], {
    sizes: { Diameter: 104 },
  });
  const cheek = pair(
    'SL-3211',
    'Mast head cheek',
    'aluminium',
    [
      upright(
        polygon([
          [-55, 0],
          [40, 0],
          [140, 60],
          [140, 120],
          [95, 150],
          [-20, 150],
          [-55, 110],
        ]),
        20,
        26,
        [circle(8, 100, 90), circle(5, -20, 40)],
      ),
      upright(rectangle(26, 12, -30, 130), 26, 30),
    ],
    { sizes: { Thickness: 6 } },
  );
  const sheave = made(
    'SL-3215',
    'Sheave',
    'plastic',
    [put(turn('x', 90, 0, 13, 0), lathe([12, 0], [60, 0], [60, 3], [50, 11], [50, 15], [60, 23], [60, 26], [12, 26]))],
    { sizes: { Diameter: 120 } },
  );
  const bush = made(
    'SL-3216',
    'Sheave bush',
    'plastic',
    [put(turn('x', 90, 0, 14, 0), prism(circle(12), 0, 28, [circle(8)]))],
    { sizes: { Diameter: 24, Length: 28 } },
  );
  const axle = made('SL-3217', 'Sheave axle', 'stainless', [put(turn('x', 90, 0, 40, 0), rod(16, 80))], {
    sizes: { Diameter: 16, Length: 80 },
  });
  const pulley = assembly('SL-3214', 'Sheave with bush', [place(sheave, move(0, 0, 0)), place(bush, move(0, 0, 0))]);
  const head = assembly('SL-3200', 'Mast head', [
    place(cheek.left, move(0, 0, 0)),
    place(cheek.right, move(0, 0, 0)),
    place(pulley, move(100, 0, 90)),
    place(axle, move(100, 0, 90)),
    place(splitPin, move(100, 34, 90)),
    place(splitPin, move(100, -34, 90)),
    ...boltedJoint(10, 80, 52, lying(-20, 26, 40)),
  ]);
  const brace = made('SL-3310', 'Mast brace', 'aluminium', [tube(33.7, 2.6, 1010)], {
    description: 'TUBE 33.7 × 2.6, L = 1010',
    sizes: { Length: 1010, Diameter: 33.7, Wall: 2.6 },
  });
  const shoe = made(
    'SL-3312',
    'Brace shoe',
    'steel',
    [prism(rounded(70, 60, 8), 0, 6), prism(circle(22), 6, 40, [circle(16.9)])],
    { sizes: { Thickness: 6 } },
  );
  const clamp = pair(
    'SL-3314',
    'Brace clamp',
    'aluminium',
    [
      prism(
        {
          corners: [
            corner(44, -60),
            { x: 44, y: 0, arc: { cx: 0, cy: 0, ccw: false } } as Corner,
            corner(0, -44),
            corner(0, -60),
          ],
        },
        -25,
        25,
      ),
    ],
    { sizes: { Height: 50 } },
  );
  const top = DECK_Z + 18;
  const braceAt = (s: number) => {
    // from a shoe on the deck behind the mast up to the mast: tube along z, tilted about y, then turned about z
    const tilt = 36,
      heading = 180 - 38 * s;
    const c = Math.cos((heading * Math.PI) / 180),
      n = Math.sin((heading * Math.PI) / 180);
    const reach = 1010 * Math.sin((tilt * Math.PI) / 180) + 30;
    const base: [number, number, number] = [MAST_X + reach * c, reach * n, top + 8];
    const back = turn('z', heading + 180),
      lean = turn('y', tilt);
    const r = multiply(back, lean);
    return {
      tube: [r[0], r[1], r[2], base[0], r[4], r[5], r[6], base[1], r[8], r[9], r[10], base[2]] as Placement,
      shoe: turn('z', heading, base[0], base[1], top),
    };
  };
  return assembly('SL-3000', 'Drill mast, long', [
    assemblyPlaced(
      'SL-3100',
      'Mast foot',
      [
        place(footPlate, move(0, 0, 0)),
        place(footTube, move(0, 0, 10)),
        ...[85, -85].flatMap((x) => [85, -85].flatMap((y) => boltedJoint(10, 50, 28, standing(x, y, 10)))),
      ],
      move(MAST_X, 0, top),
    ),
    place(lower, move(MAST_X, 0, top + 10)),
    place(collar, move(MAST_X, 0, top + 770)),
    place(upper, move(MAST_X, 0, top + 770)),
    place(head, move(MAST_X, 0, top + 1560)),
    place(clamp.left, turn('z', 0, MAST_X, 0, top + 800)),
    place(clamp.right, turn('z', 0, MAST_X, 0, top + 800)),
    ...[1, -1].flatMap((s) => [
      place(brace, braceAt(s).tube, s > 0 ? 'Brace left' : 'Brace right'),
      place(shoe, braceAt(s).shoe),
    ]),
  ]);
}

function multiply(a: Placement, b: Placement): number[] {
  const out: number[] = [];
  for (const row of [0, 4, 8])
    for (const column of [0, 1, 2, 3])
      out.push(
        a[row] * b[column] + a[row + 1] * b[column + 4] + a[row + 2] * b[column + 8] + (column === 3 ? a[row + 3] : 0),
      );
  return out;
}
const assemblyPlaced = (number: string, name: string, contents: readonly Placed[], where: Placement): Placed =>
  place(assembly(number, name, contents), where);

function guys(): Product {
  const eyePlate = made(
    'SL-4110',
    'Guy eye plate',
    'steel',
    [prism(rounded(60, 44, 6), 0, 4), upright(rectangle(30, 26, 0, 17), -3, 3, [circle(5, 0, 18)])],
    { sizes: { Thickness: 4 } },
  );
  const collarTop = made('SL-4112', 'Guy collar', 'stainless', [prism(circle(48), 0, 18, [circle(35)])], {
    sizes: { Diameter: 96 },
  });
  const turnbuckle = bought(
    'TB-08',
    'Turnbuckle M8',
    'stainless',
    'Norrvik Winch Works',
    [
      lathe([4, 0], [7, 0], [9, 10], [9, 90], [7, 100], [4, 100]),
      put(move(0, 0, -30), rod(8, 40)),
      put(move(0, 0, 90), rod(8, 40)),
    ],
    { sizes: { Length: 160 } },
  );
  const wire = (number: string, name: string, length: number) =>
    made(number, name, 'stainless', [rod(5, length)], {
      description: `WIRE ROPE 5, L = ${length}`,
      sizes: { Length: length, Diameter: 5 },
    });
  const topZ = DECK_Z + 18 + 1490;
  const anchors: readonly [number, number][] = [
    [1790, 340],
    [1790, -340],
    [120, 340],
    [120, -340],
  ];
  const placedTo = (x: number, y: number, along: number): { placement: Placement; total: number } => {
    const from = [x, y, DECK_Z + 40] as const;
    const way = [MAST_X + (x > MAST_X ? 48 : -48) - x, Math.sign(y) * 20 - y, topZ + 9 - from[2]] as const;
    const total = Math.hypot(...way);
    const z = way.map((value) => value / total) as [number, number, number];
    const flat = Math.hypot(z[0], z[1]);
    const x1: [number, number, number] = [-z[1] / flat, z[0] / flat, 0];
    const y1 = [z[1] * x1[2] - z[2] * x1[1], z[2] * x1[0] - z[0] * x1[2], z[0] * x1[1] - z[1] * x1[0]];
    return {
      total,
      placement: [
        x1[0],
        y1[0],
        z[0],
        from[0] + z[0] * along,
        x1[1],
        y1[1],
        z[1],
        from[1] + z[1] * along,
        x1[2],
        y1[2],
        z[2],
        from[2] + z[2] * along,
      ],
    };
  };
  const front = wire('SL-4121', 'Guy wire, front', Math.round(placedTo(...anchors[0], 0).total - 205));
  const rear = wire('SL-4122', 'Guy wire, rear', Math.round(placedTo(...anchors[2], 0).total - 205));
  return assembly('SL-4000', 'Guy set', [
    place(collarTop, move(MAST_X, 0, topZ)),
    ...anchors.flatMap(([x, y]) => [
      place(eyePlate, move(x, y, DECK_Z + 18)),
      place(shackle, multiply(placedTo(x, y, 18).placement, turn('y', -90))),
      place(turnbuckle, placedTo(x, y, 75).placement),
      place(x > MAST_X ? front : rear, placedTo(x, y, 200).placement),
    ]),
  ]);
}

function towing(): Product {
  const bar = made('SL-5110', 'Tow bar tube', 'steel', [put(turn('x', 90, 0, 345, 0), tube(48.3, 3.2, 690))], {
    description: 'TUBE 48.3 × 3.2, L = 690',
    sizes: { Length: 690, Diameter: 48.3, Wall: 3.2 },
  });
  const lug = pair(
    'SL-5112',
    'Tow lug',
    'steel',
    [
      upright(
        polygon([
          [-40, -20],
          [30, -30],
          [52, -12],
          [52, 12],
          [30, 30],
          [-40, 20],
        ]),
        24,
        32,
        [circle(9, 32, 0)],
      ),
      put(turn('x', 90, 0, 20, 0), prism(circle(31), -4, 10, [circle(24.3)])),
    ],
    { sizes: { Thickness: 8 } },
  );
  const link = made(
    'SL-5114',
    'Tow link',
    'steel',
    [
      put(turn('y', 90), rod(18, 300)),
      put(move(0, 0, -14), prism(circle(24), 0, 28, [circle(9)])),
      put(move(320, 0, -10), prism(circle(30), 0, 20, [circle(17)])),
    ],
    { sizes: { Length: 350, Diameter: 18 } },
  );
  return assembly('SL-5000', 'Towing gear', [
    place(bar, move(0, 0, 0)),
    place(lug.left, move(24, 0, 0)),
    place(lug.right, move(24, 0, 0)),
    place(link, move(57, 0, 0)),
    ...boltedJoint(12, 90, 64, lying(56, 32, 0)),
  ]);
}

/** The whole machine. */
export function sledge(options: SledgeOptions): Product {
  const runners = runnerSets();
  const rails = sideRails(options);
  const body = assembly('SL-1000', 'Sledge body', [
    place(runners.left, move(0, TRACK, 0)),
    place(runners.right, move(0, -TRACK, 0)),
    place(bearerSet(), move(0, 0, 0)),
    place(deck(options), move(0, 0, 0)),
    place(rails.left, move(0, 0, 0)),
    place(rails.right, move(0, 0, 0)),
  ]);
  const handle = made('SL-1510', 'Push handle', 'aluminium', [put(turn('x', 90, 0, 350, 0), tube(33.7, 2.6, 700))], {
    description: 'TUBE 33.7 × 2.6, L = 700',
    sizes: { Length: 700, Diameter: 33.7, Wall: 2.6 },
  });
  const lamp = bought('LM-12', 'Tail lamp', 'plastic', 'Polarplast Works', [
    block(30, 90, 50),
    put(turn('y', -90, -15, 0, 25), lathe([0, 0], [20, 0], [20, 6], [14, 10], [0, 10])),
  ]);
  const box = made('SL-6010', 'Core box', 'birch', [put(move(0, 0, 0), prism(rectangle(420, 560), 0, 210))], {
    sizes: { Length: 560, Width: 420, Height: 210 },
  });
  const lid = made('SL-6012', 'Core box lid', 'birch', [prism(rounded(440, 580, 12), 0, 18)], {
    sizes: { Thickness: 18 },
  });
  const latch = bought('LT-20', 'Toggle latch', 'stainless', 'Kaldvik Fasteners', [
    block(6, 40, 60),
    put(move(6, 0, 20), block(6, 22, 46)),
  ]);
  const coreBox = assembly('SL-6000', 'Core box with lid', [
    place(box, move(0, 0, 0)),
    place(lid, move(0, 0, 210)),
    place(latch, move(213, 150, 170)),
    place(latch, move(213, -150, 170)),
  ]);
  return assembly(
    'SL-0000',
    'Hauling sledge HS-2',
    [
      place(body, move(0, 0, 0)),
      place(winch(options), move(1560, 0, DECK_Z + 18)),
      place(mast(), move(0, 0, 0)),
      place(guys(), move(0, 0, 0)),
      place(towing(), move(2250, 0, 175)),
      place(coreBox, move(430, 0, DECK_Z + 18)),
      options.tailLamp ? place(lamp, move(15, 0, DECK_Z - 60)) : place(handle, move(48, 0, DECK_Z + 228)),
    ],
    { revision: options.revision, description: 'For the ice-core drilling camp' },
  );
}
