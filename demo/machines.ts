import type { Placement } from '../core/src/geometry/index.ts';
import { bolt, nut, washer } from './fasteners.ts';
import { place, type Placed, type Product } from './product.ts';
import { made } from './stock.ts';
import { block, circle, hexagon, lathe, move, prism, put, rectangle, rod, tube, turn } from './solids.ts';

// Machines unlike the sledge, made up to be looked at on paper: each is hard for views, poses or balloons in its own way.

const assembly = (number: string, name: string, contents: readonly Placed[]): Product => ({ number, name, contents });
const at = (product: Product, placements: readonly Placement[]): Placed[] =>
  placements.map((placement) => place(product, placement));

/** Rings of equal breadth on one shaft in a housing: nearly all of it is hidden behind its neighbours. */
export function coaxialPack(): Product {
  const ring = (number: string, name: string, outer: number, inner: number, height: number) =>
    made(number, name, 'steel', [prism(circle(outer), 0, height, [circle(inner)])]);
  const shaft = made('CP-10', 'Shaft', 'steel', [
    lathe(
      [0, 0],
      [14, 0],
      [14, 20],
      [20, 20],
      [20, 40],
      [28, 40],
      [28, 46],
      [20, 46],
      [20, 130],
      [15, 130],
      [15, 190],
      [0, 190],
    ),
  ]);
  const housing = made('CP-20', 'Housing', 'aluminium', [
    lathe([48, 30], [70, 30], [70, 36], [60, 36], [60, 150], [48, 150]),
  ]);
  const cover = made('CP-21', 'Cover', 'aluminium', [prism(circle(60), 150, 158, [circle(20), ...around(6, 54, 3.2)])]);
  const bearing = assembly('CP-30', 'Bearing', [
    place(ring('CP-31', 'Inner race', 26, 20, 16), move(0, 0, 0)),
    place(ring('CP-32', 'Outer race', 48, 40, 16), move(0, 0, 0)),
    ...around(10, 33, 0).map(({ circle: [x, y] }) => place(ball, move(x, y, 8))),
  ]);
  const screw = bolt(6, 20),
    spring = washer(6);
  return assembly('CP-00', 'Coaxial pack', [
    place(housing, move(0, 0, 0)),
    place(shaft, move(0, 0, 0)),
    place(bearing, move(0, 0, 46)),
    place(ring('CP-40', 'Spacer', 30, 20, 24), move(0, 0, 62)),
    place(bearing, move(0, 0, 86)),
    place(ring('CP-41', 'Shim', 30, 20, 1), move(0, 0, 102)),
    place(ring('CP-42', 'Shaft nut', 32, 20, 10), move(0, 0, 103)),
    place(ring('CP-43', 'Seal', 47, 20, 8), move(0, 0, 136)),
    place(cover, move(0, 0, 0)),
    ...around(6, 54, 0).flatMap(({ circle: [x, y] }) => [
      place(screw, move(x, y, 159.6)),
      place(spring, move(x, y, 158)),
    ]),
  ]);
}
const ball = made('CP-33', 'Ball', 'steel', [lathe([0, -7], [3, -7], [7, -3], [7, 3], [3, 7], [0, 7])]);

/** Circles on a circle. */
const around = (count: number, radius: number, of: number) =>
  Array.from({ length: count }, (_, at) => {
    const angle = (2 * Math.PI * at) / count;
    return { circle: [radius * Math.cos(angle), radius * Math.sin(angle), of] as [number, number, number] };
  });

/** Tubes cut to length and welded: long, thin, alike, many joints and no fastener. */
export function weldedFrame(): Product {
  const beam = (number: string, length: number) =>
    made(number, `Square tube 40 × 40 × 3, L = ${length}`, 'steel', [
      prism(rectangle(40, 40), 0, length, [rectangle(34, 34)]),
    ]);
  const long = beam('WF-1', 1600),
    cross = beam('WF-2', 720),
    post = beam('WF-3', 860),
    brace = beam('WF-4', 500);
  const foot = made('WF-5', 'Foot plate', 'steel', [block(100, 100, 8)]);
  const corners = [0, 760].flatMap((y) => [0, 1640].map((x) => [x, y] as const));
  return assembly('WF-0', 'Welded frame', [
    ...corners.flatMap(([x, y]) => [place(foot, move(x, y, 0)), place(post, move(x, y, 8))]),
    ...[200, 848].flatMap((z) => [0, 760].map((y) => place(long, turn('y', 90, 20, y, z)))),
    ...[200, 848].flatMap((z) => [0, 820, 1640].map((x) => place(cross, turn('x', -90, x, 20, z)))),
    ...[0, 760].map((y) => place(brace, turn('y', 45, 20, y, 480))),
  ]);
}

/** Sixty rollers that look the same, each with its own two bearings and screws: long and low. */
export function conveyor(): Product {
  const seat = made('CV-13', 'Bearing seat', 'aluminium', [prism(circle(23), 0, 12, [circle(6)])]);
  const roller = assembly('CV-10', 'Roller', [
    place(made('CV-11', 'Roller tube', 'steel', [tube(50, 2, 420)]), turn('x', -90, 0, 0, 0)),
    place(made('CV-12', 'Axle', 'steel', [rod(12, 480)]), turn('x', -90, 0, -30, 0)),
    ...at(
      seat,
      [0, 408].map((y) => turn('x', -90, 0, y, 0)),
    ),
  ]);
  const rail = made('CV-20', 'Side rail', 'steel', [
    prism(
      rectangle(4020, 80, 1980, 0),
      0,
      5,
      Array.from({ length: 60 }, (_, at) => circle(6, 30 + 66 * at, 0)),
    ),
  ]);
  const leg = made('CV-30', 'Leg', 'steel', [prism(rectangle(60, 40), 0, 700)]);
  const screw = bolt(8, 20),
    under = washer(8);
  const legs = [200, 1400, 2600, 3800];
  return assembly('CV-00', 'Roller conveyor', [
    place(rail, turn('x', 90, 0, -20, 0)),
    place(rail, turn('x', 90, 0, 445, 0)),
    ...at(
      roller,
      Array.from({ length: 60 }, (_, rank) => move(30 + 66 * rank, 0, 0)),
    ),
    ...[-45, 465].flatMap((y, side) =>
      legs.flatMap((x) => [
        place(leg, move(x, y, -700)),
        place(under, turn('x', side ? -90 : 90, x, y + (side ? 20 : -20), -20)),
        place(screw, turn('x', side ? -90 : 90, x, y + (side ? 21.6 : -21.6), -20)),
      ]),
    ),
  ]);
}

/** A box with doors, shelves and things in it: most of it cannot be seen from outside. */
export function cabinet(): Product {
  const panel = (number: string, name: string, x: number, y: number, z: number) =>
    made(number, name, 'steel', [block(x, y, z)]);
  const side = panel('CB-1', 'Side panel', 2, 400, 1200),
    flat = panel('CB-2', 'Top and bottom', 796, 400, 2),
    back = panel('CB-3', 'Back panel', 796, 2, 1196),
    shelf = panel('CB-4', 'Shelf', 790, 380, 2),
    unit = panel('CB-5', 'Drive unit', 180, 200, 240),
    relay = panel('CB-6', 'Relay', 22, 60, 90);
  const hinge = assembly('CB-8', 'Hinge', [
    place(made('CB-81', 'Hinge leaf', 'stainless', [put(move(15, 0, 0), block(30, 3, 60))]), move(0, 0, 0)),
    place(made('CB-82', 'Hinge pin', 'stainless', [rod(6, 66)]), move(0, -4, -3)),
  ]);
  const handle = made('CB-79', 'Handle', 'aluminium', [rod(14, 160)]);
  const door = (number: string, name: string) =>
    assembly(number, name, [
      place(panel(`${number}1`, `${name}, sheet`, 394, 2, 1190), move(0, 0, 0)),
      place(handle, move(150, -20, 520)),
      ...[100, 900].map((z) => place(hinge, move(-190, 8, z))),
    ]);
  return assembly('CB-0', 'Cabinet with doors', [
    ...[-399, 399].map((x) => place(side, move(x, 0, 0))),
    ...[0, 1198].map((z) => place(flat, move(0, 0, z))),
    place(back, move(0, 199, 2)),
    ...[300, 600, 900].map((z) => place(shelf, move(0, -5, z))),
    place(unit, move(-200, 20, 302)),
    place(unit, move(100, 20, 302)),
    ...at(
      relay,
      Array.from({ length: 12 }, (_, rank) => move(-260 + 45 * rank, 60, 602)),
    ),
    place(door('CB-7', 'Left door'), move(-199, -202, 5)),
    place(door('CB-9', 'Right door'), move(199, -202, 5)),
  ]);
}

/** Two flanges with sixty small screws: far more to name than room to name it, all of it tiny. */
export function screwedFlange(): Product {
  const holes = around(60, 285, 3.2);
  const flange = (number: string, name: string) =>
    made(number, name, 'steel', [prism(circle(300), 0, 16, [circle(240), ...holes])]);
  const gasket = made('SF-3', 'Gasket', 'rubber', [prism(circle(300), 0, 2, [circle(240), ...holes])]);
  const [screw, disc, hex] = [bolt(6, 50), washer(6), nut(6)];
  return assembly('SF-0', 'Screwed flange', [
    place(flange('SF-1', 'Lower flange'), move(0, 0, 0)),
    place(gasket, move(0, 0, 16)),
    place(flange('SF-2', 'Upper flange'), move(0, 0, 18)),
    ...holes.flatMap(({ circle: [x, y] }) => [
      place(screw, move(x, y, 35.6)),
      place(disc, move(x, y, 34)),
      place(disc, move(x, y, -1.6)),
      place(hex, turn('x', 180, x, y, -1.6)),
    ]),
  ]);
}

/** A stop valve: castings clamped by bolt sets that the file groups, a stem through packing, a wheel; half of it is inside. */
export function stopValve(): Product {
  const holes = around(8, 92, 5.5);
  const body = made('SV-1', 'Body', 'steel', [
    lathe([0, 0], [70, 0], [70, 60], [55, 60], [55, 12], [0, 12]),
    prism(circle(110), 60, 78, [circle(55), ...holes]),
  ]);
  const bonnet = made('SV-2', 'Bonnet', 'steel', [
    prism(circle(110), 80, 96, [circle(10.2), ...holes]),
    prism(circle(40), 96, 160, [circle(22)]),
  ]);
  const set = assembly('SV-20', 'Bolt set M10 × 50', [
    place(bolt(10, 50), move(0, 0, 98)),
    place(washer(10), move(0, 0, 96)),
    place(washer(10), move(0, 0, 58)),
    place(nut(10), move(0, 0, 49.6)),
  ]);
  const wheel = made('SV-7', 'Handwheel', 'aluminium', [
    prism(circle(95), 226, 236, [circle(80)]),
    lathe([10, 222], [18, 222], [18, 240], [10, 240]),
    ...[0, 120, 240].map((angle) => put(turn('z', angle), prism(rectangle(64, 12, 48, 0), 228, 234))),
  ]);
  return assembly('SV-0', 'Stop valve', [
    place(body, move(0, 0, 0)),
    place(
      made('SV-3', 'Disc', 'stainless', [lathe([0, 12], [50, 12], [50, 24], [14, 24], [14, 30], [0, 30])]),
      move(0, 0, 0),
    ),
    place(made('SV-4', 'Stem', 'stainless', [rod(20, 220)]), move(0, 0, 30)),
    place(made('SV-5', 'Gasket', 'rubber', [prism(circle(80), 78, 80, [circle(55)])]), move(0, 0, 0)),
    place(bonnet, move(0, 0, 0)),
    ...at(
      made('SV-6', 'Packing ring', 'rubber', [prism(circle(22), 0, 6, [circle(10.2)])]),
      [0, 6, 12, 18].map((z) => move(0, 0, 96 + z)),
    ),
    place(
      made('SV-8', 'Gland', 'stainless', [
        lathe([10.2, 120], [21.8, 120], [21.8, 164], [34, 164], [34, 172], [10.2, 172]),
      ]),
      move(0, 0, 0),
    ),
    place(wheel, move(0, 0, 0)),
    place(made('SV-9', 'Wheel nut', 'stainless', [prism(hexagon(30), 240, 250, [circle(10)])]), move(0, 0, 0)),
    ...at(
      set,
      around(8, 92, 0).map(({ circle: [x, y] }) => move(x, y, 0)),
    ),
  ]);
}

export const machines: Readonly<Record<string, () => Product>> = {
  'coaxial-pack': coaxialPack,
  'welded-frame': weldedFrame,
  conveyor,
  cabinet,
  'screwed-flange': screwedFlange,
  'stop-valve': stopValve,
};
