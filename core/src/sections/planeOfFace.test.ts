import { describe, expect, test } from 'vitest';
import { boxMesh, latheMesh } from '../../../testkit/shapes.ts';
import { composePlacements, faceSurfaces, type Placement } from '../geometry/index.ts';
import { planeOfFace } from './planeOfFace.ts';

const moved: Placement = [1, 0, 0, 100, 0, 1, 0, 200, 0, 0, 1, 300];
/** Upright becomes along y. */
const tipped: Placement = [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0];
const tube = latheMesh([
  [10, 0],
  [20, 0],
  [20, 50],
  [10, 50],
]);
const faceOf = (kind: string) => faceSurfaces(tube).findIndex((surface) => surface?.kind === kind);

describe('where a picked face asks to be cut', () => {
  test('a round one through its axis, across the usual axis where that leads through it', () => {
    const round = faceOf('cylinder');
    expect(planeOfFace(tube, moved, round, 1)).toEqual({ axis: 1, at: expect.closeTo(200, 6) });
    expect(planeOfFace(tube, moved, round, 0)).toEqual({ axis: 0, at: expect.closeTo(100, 6) });
    // Across its own axis there is no plane through it.
    expect(planeOfFace(tube, moved, round, 2)).toEqual({ axis: 0, at: expect.closeTo(100, 6) });
    expect(planeOfFace(tube, composePlacements(moved, tipped), round, 1)).toEqual({
      axis: 2,
      at: expect.closeTo(300, 6),
    });
  });
  test('a plane one through the middle of its part, along the face', () => {
    const plate = boxMesh(40, 30, 20);
    const middles = plate.faceStarts.length - 1;
    const found = new Set(
      Array.from({ length: middles }, (_, face) => {
        const { axis, at } = planeOfFace(plate, moved, face, 0)!;
        return `${axis} ${at}`;
      }),
    );
    expect([...found].sort()).toEqual(['0 120', '1 215', '2 310']);
  });
  test('an askew one nowhere, nor a face that is not there', () => {
    const [c, s] = [Math.cos(0.3), Math.sin(0.3)];
    const askew: Placement = [c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0];
    expect(planeOfFace(tube, askew, faceOf('cylinder'), 1)).toBeNull();
    expect(planeOfFace(tube, moved, -1, 1)).toBeNull();
    expect(planeOfFace(tube, moved, 999, 1)).toBeNull();
  });
});
