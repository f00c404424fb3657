import fc from 'fast-check';
import type { Body } from '../core/src/views/index.ts';
import { at, body, boxMesh, cylinderMesh } from './shapes.ts';

/**
 * Boxes and cylinders that stand on whole mm, anyhow in one another.
 * @param most things
 * @param segments of a cylinder
 */
export const scenesOfShapes = (most: number, segments: number): fc.Arbitrary<Body[]> => {
  const size = fc.integer({ min: 1, max: 60 }),
    place = fc.integer({ min: 0, max: 80 });
  const thing = fc.record({
    round: fc.boolean(),
    size: fc.tuple(size, size, size),
    place: fc.tuple(place, place, place),
  });
  return fc
    .array(thing, { minLength: 2, maxLength: most })
    .map((things) =>
      things.map(({ round, size: [x, y, z], place: where }, index) =>
        body(round ? cylinderMesh(x / 2, z, segments) : boxMesh(x, y, z), index, at(...where)),
      ),
    );
};
