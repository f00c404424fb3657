import { cross, normalize, type Placement, type Vec3 } from '../geometry/index.ts';

export const directionNames = ['front', 'back', 'left', 'right', 'top', 'bottom', 'isometric'] as const;
export type DirectionName = (typeof directionNames)[number];

/** Where the viewer stands, seen from the machine, and what is up on paper; model axes for up = z. */
const looks: Readonly<Record<DirectionName, { readonly viewer: Vec3; readonly up: Vec3 }>> = {
  front: { viewer: [0, -1, 0], up: [0, 0, 1] },
  back: { viewer: [0, 1, 0], up: [0, 0, 1] },
  left: { viewer: [-1, 0, 0], up: [0, 0, 1] },
  right: { viewer: [1, 0, 0], up: [0, 0, 1] },
  top: { viewer: [0, 0, 1], up: [0, 1, 0] },
  bottom: { viewer: [0, 0, -1], up: [0, -1, 0] },
  isometric: { viewer: [1, -1, 1], up: [0, 0, 1] },
};

/**
 * Machine coordinates to view coordinates: x to the right and y up on the view plane, z towards the viewer; mm, no
 * scale.
 */
export function viewPlacement(direction: DirectionName): Placement {
  const { viewer, up } = looks[direction];
  const z = normalize(viewer);
  const x = normalize(cross(up, z));
  const y = cross(z, x);
  return [x, y, z].flatMap((row) => [row[0], row[1], row[2], 0]);
}
