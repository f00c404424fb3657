import { describe, expect, test } from 'vitest';
import { listOccurrences } from '../../../../core/src/assembly/index.ts';
import { readLayout } from '../../../../core/src/layouts/index.ts';
import { boxAround, fittedView, flatShape, flatThings, thingAt } from './flat.ts';

const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm" viewBox="0 0 200 100"><defs>
<g id="plate"><path d="M0 0H20V20H0ZM5 5H15V15H5Z" fill="red"/><path d="M0 0L20 20" fill="none" stroke="#001122"/></g></defs>
<rect width="200" height="100" fill="none" stroke="black"/><use href="#plate" x="10" y="10"/><use href="#plate" x="100" y="40"/></svg>`;
const { assembly, meshes } = readLayout(new TextEncoder().encode(svg));
const shapes = new Map(meshes.map(({ key, mesh }) => [key, flatShape(mesh)]));
const shapeOf = ({ components }: { components: readonly number[] }) => assembly.components[components.at(-1)!].shape!;
const things = flatThings(
  listOccurrences(assembly, (at) => assembly.components[at].shape !== null),
  shapeOf,
  shapes,
);

describe('a layout as a picture', () => {
  test('has areas with their holes and lines, the lowest first, in their colours', () => {
    const plate = things.find(({ path }) => path !== '')!.shape;
    expect(plate.pieces.map(({ colour, isLine, rings }) => [colour, isLine, rings.length])).toEqual([
      ['#ff0000', false, 2],
      ['#001122', true, 1],
    ]);
    expect(plate.pieces[0].rings.map((ring) => ring.length / 2).sort()).toEqual([4, 4]);
  });
  test('stands on the page as drawn, y up', () => {
    expect(things).toHaveLength(3);
    const at = things.filter(({ path }) => path !== '').map(({ box }) => box.map((value) => Math.round(value) + 0));
    expect(at).toContainEqual([10, -30, 30, -10]);
    expect(boxAround(things)!.map((value) => Math.round(value) + 0)).toEqual([0, -100, 200, 0]);
    expect(boxAround([])).toBeNull();
    expect(fittedView([0, -100, 200, 0], 460, 500, 1)).toEqual({ x: 100, y: -50, scale: 2.3 });
  });
  test('is picked by what is there, never what belongs to no symbol', () => {
    expect(thingAt(things, 105, -45, 0)?.box.map(Math.round)).toEqual([100, -60, 120, -40]);
    expect(thingAt(things, 60, -50, 0)).toBeNull();
    expect(thingAt(things, 122, -45, 3)).not.toBeNull();
  });
});
