import { expect, test } from 'vitest';
import { meshBox, meshVolume, type Box3 } from './meshes.ts';
import { dashedBox } from './standIn.ts';

test('the dashes of a stand-in run along the edges of its box, closed and the right way out', () => {
  const box: Box3 = [-10, 5, 0, 90, 65, 30];
  const mesh = dashedBox(box);
  meshBox(mesh).forEach((value, side) => expect(Math.abs(value - box[side])).toBeLessThan(0.2));
  const diagonal = Math.hypot(100, 60, 30);
  const along = (length: number) => {
    const dashes = Math.floor((length / diagonal) * 15) + 1;
    return 4 * dashes * (length / (2 * dashes - 1)); // 4 edges: more than half of their length is drawn
  };
  const thickness = diagonal / 750;
  expect(meshVolume(mesh)).toBeCloseTo((along(100) + along(60) + along(30)) * thickness ** 2, 6);
});

test('a box without extent has no stand-in, a flat one has', () => {
  expect(dashedBox([0, 0, 0, 0, 0, 0]).triangles).toHaveLength(0);
  expect(dashedBox([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]).triangles).toHaveLength(0);
  expect(meshBox(dashedBox([0, 0, 0, 10, 10, 0]))[3]).toBeCloseTo(10, 1);
});
