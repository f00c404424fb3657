import { faceSurfaces, hypot, meshBox, placeSurface, type Mesh, type Placement, type Vec3 } from '../geometry/index.ts';

/** What stands along an axis of the machine is off it by at most this; sine. */
const ALONG = 1e-3;

/**
 * The plane across an axis of the machine (0 x, 1 y, 2 z) in which a face asks to be cut: through the axis of a round one or
 * the middle of a ball; along a plane one, through the middle of its part, since in the face itself there is nothing to cut.
 * @param face index into the faces of the mesh
 * @param usual across which axis, where the face leaves that open
 * @returns where it stands, mm; null for free-form faces, and for those askew to the axes
 */
export function planeOfFace(
  mesh: Mesh,
  placement: Placement,
  face: number,
  usual: 0 | 1 | 2,
): { readonly axis: 0 | 1 | 2; readonly at: number } | null {
  const own = faceSurfaces(mesh)[face];
  const surface = own && placeSurface(own, placement);
  if (!surface) return null;
  const { kind, origin, axis: way } = surface;
  if (kind === 'sphere') return { axis: usual, at: origin[usual] };
  const along = axisAlong(way);
  if (along === null) return null;
  if (kind === 'plane') {
    const box = meshBox(mesh, placement);
    return { axis: along, at: (box[along] + box[along + 3]) / 2 };
  }
  const axis = usual === along ? (((along + 1) % 3) as 0 | 1 | 2) : usual;
  return { axis, at: origin[axis] };
}

const axisAlong = (way: Vec3): 0 | 1 | 2 | null =>
  ([0, 1, 2] as const).find((axis) => hypot(way[(axis + 1) % 3], way[(axis + 2) % 3]) < ALONG) ?? null;
