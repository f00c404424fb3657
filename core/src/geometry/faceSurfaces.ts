import type { Mesh } from './meshes.ts';
import { fitSurface, type Surface } from './surfaces.ts';
import { add, cross, length, scale, subtract, type Vec3 } from './vectors.ts';

const known = new WeakMap<Mesh, readonly (Surface | null)[]>();

/** The surface of each face, found from its vertices once per mesh; null for free-form faces. */
export function faceSurfaces(mesh: Mesh): readonly (Surface | null)[] {
  let surfaces = known.get(mesh);
  if (!surfaces) known.set(mesh, (surfaces = findSurfaces(mesh)));
  return surfaces;
}

/** Notes the surfaces of a mesh that was made of parts of another one, whose surfaces are known: few vertices may be left. */
export function keepSurfaces(mesh: Mesh, surfaces: readonly (Surface | null)[]): void {
  known.set(mesh, surfaces);
}

const pointAt = (values: ArrayLike<number>, at: number): Vec3 => [
  values[at * 3],
  values[at * 3 + 1],
  values[at * 3 + 2],
];

function findSurfaces(mesh: Mesh): (Surface | null)[] {
  const surfaces: (Surface | null)[] = [];
  for (let face = 0; face + 1 < mesh.faceStarts.length; face++) {
    const used = new Map<number, Vec3>();
    const middles: Vec3[] = [],
      normals: Vec3[] = [],
      areas: number[] = [];
    for (let at = mesh.faceStarts[face] * 3; at < mesh.faceStarts[face + 1] * 3; at += 3) {
      const [a, b, c] = [0, 1, 2].map((corner) => {
        const vertex = mesh.triangles[at + corner];
        const point = used.get(vertex) ?? pointAt(mesh.positions, vertex);
        used.set(vertex, point);
        return point;
      });
      const square = cross(subtract(b, a), subtract(c, a));
      const twice = length(square);
      if (twice === 0) continue;
      normals.push(scale(square, 1 / twice));
      areas.push(twice / 2);
      middles.push(scale(add(a, add(b, c)), 1 / 3));
    }
    surfaces.push(fitSurface({ points: [...used.values()], middles, normals, areas }));
  }
  return surfaces;
}
