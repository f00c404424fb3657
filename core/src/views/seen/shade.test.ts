import { describe, expect, test } from 'vitest';
import { at, body, boxMesh, cylinderMesh } from '../../../../testkit/shapes.ts';
import { drawLook, lookAt, viewPlacement, type Body } from '../index.ts';
import { shadeLook, shadeView } from './shade.ts';

const coloured = (colour: number, part: Body): Body => ({
  ...part,
  mesh: { ...part.mesh, faceColours: part.mesh.faceColours.map(() => colour) },
});
const bodies = [
  coloured(0xff0000, body(boxMesh(100, 50, 20), 0)),
  coloured(0x0000ff, body(boxMesh(20, 20, 10), 1, at(40, 10, 20))),
];
const view = viewPlacement('top');
const { lines } = drawLook(bodies, view);
/** The colour at a place of the view plane. */
function colourAt({ width, height, rgba }: ReturnType<typeof shadeView>, x: number, y: number) {
  const [x0, y0, x1, y1] = lines.box;
  const column = Math.floor(((x - x0) / (x1 - x0)) * width),
    row = Math.floor(((y1 - y) / (y1 - y0)) * height);
  return [...rgba.subarray((row * width + column) * 4, (row * width + column) * 4 + 4)];
}

describe('shaded faces under the lines', () => {
  test('fill the box of the view, the nearer part before the farther one, in their colours', () => {
    const picture = shadeView(bodies, view, lines.box, 'colours');
    expect(picture.width / picture.height).toBeCloseTo(2, 2);
    const [red, , blue, opaque] = colourAt(picture, 10, 10);
    expect([red > blue, opaque]).toEqual([true, 255]);
    const [redThere, , blueThere] = colourAt(picture, 50, 20);
    expect(blueThere).toBeGreaterThan(redThere);
  });
  test('in greys no colour is left', () => {
    const [red, green, blue] = colourAt(shadeView(bodies, view, lines.box, 'greys'), 50, 20);
    expect([green, blue]).toEqual([red, red]);
  });
  test('nothing is painted where nothing is, and light grows towards where it comes from', () => {
    const pipe = [body(cylinderMesh(10, 40), 0)];
    const side = viewPlacement('front');
    const drawn = drawLook(pipe, side).lines;
    const { width, height, rgba } = shadeView(pipe, side, [-20, -5, 20, 45], 'greys');
    const pixel = (x: number, y: number) =>
      rgba.subarray((Math.floor(((45 - y) / 50) * height) * width + Math.floor(((x + 20) / 40) * width)) * 4);
    expect(pixel(-15, 20)[3]).toBe(0);
    expect(pixel(0, 20)[3]).toBe(255);
    expect(pixel(-5, 20)[0]).toBeGreaterThan(pixel(8, 20)[0]); // from the upper left
    expect(drawn.box[0]).toBeCloseTo(-10, 1);
  });
  test('in a piece that is cut open, what is inside is painted there and nowhere else', () => {
    const border = [
      [5, 5],
      [45, 5],
      [45, 45],
      [5, 45],
    ] as const;
    // Below z = 10 nothing of the blue box is left.
    const cuts = [[{ normal: [0, 0, -1], offset: -10 }]] as const;
    const cut = { cuts: [], panes: [{ border, cuts }] };
    const open = shadeLook(bodies, view, { box: lines.box, shading: 'colours', cut });
    const whole = shadeView(bodies, view, lines.box, 'colours');
    const isBlue = (picture: ReturnType<typeof shadeView>, x: number) => {
      const [red, , blue] = colourAt(picture, x, 20);
      return blue > red;
    };
    expect([42, 47, 55].map((x) => isBlue(whole, x))).toEqual([true, true, true]);
    expect([42, 47, 55].map((x) => isBlue(open, x))).toEqual([false, true, true]);
  });
  test('a shaded view has a name of its own', () => {
    const machine = { version: 1, schema: '', sourceUnit: 'mm', root: 0, components: [], findings: [] } as never;
    const empty = { ...(machine as object), components: [{ usages: [], shape: null }] } as never;
    const keys = [undefined, 'greys' as const, 'colours' as const].map(
      (shade) => lookAt(empty, { direction: 'top', ...(shade ? { shade } : {}) }).key,
    );
    expect(new Set(keys).size).toBe(3);
  });
});
