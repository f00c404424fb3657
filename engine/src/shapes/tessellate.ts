import type { Occt, OcctMesh } from 'occt-import-js';
import { toSrgb, type Mesh } from '../../../core/src/geometry/index.ts';
import { noShape } from './noShape.ts';
import { meshSlice } from '../../../core/src/step/index.ts';

/** Chord error as a share of the shape's box diagonal, and its least value in mm. */
const DEFLECTION_SHARE = 0.0005;
const LEAST_DEFLECTION = 0.005;
/** Largest turn between facets in radian: ours, and what the kernel is asked for to make as many of a round. */
const ANGLE = 0.1,
  KERNEL_ANGLE = 0.2;
/** The kernel's memory only grows, so it is thrown away after this many shapes. */
const SHAPES_PER_KERNEL = 200;

let kernel: Promise<Occt> | null = null;
let used = 0;

/**
 * The mesh of one slice; its own coordinates, mm. Shapes with elementary surfaces alone are meshed by ourselves, since that
 * takes a tenth of the time; all others, and what is not as it should be, by the geometry kernel.
 * @throws Error, of which isNoShape holds, where the kernel finds no shape in the slice
 */
export async function tessellateSlice(text: string, diagonalMm: number): Promise<Mesh> {
  const deflection = Math.max(LEAST_DEFLECTION, diagonalMm * DEFLECTION_SHARE);
  return meshSlice(text, { deflection, angle: ANGLE }) ?? (await kernelMesh(text, deflection));
}

/**
 * The mesh that the geometry kernel makes of a slice.
 * @throws Error where it finds no shape in it
 */
export async function kernelMesh(text: string, deflection: number): Promise<Mesh> {
  if (!kernel || used++ >= SHAPES_PER_KERNEL) {
    // Loaded when it is needed: most machines have no use for it.
    kernel = import('occt-import-js').then(({ default: load }) => load({ print: () => {}, printErr: () => {} }));
    used = 0;
  }
  const result = (await kernel).ReadStepFile(new TextEncoder().encode(text), {
    linearUnit: 'millimeter',
    linearDeflectionType: 'absolute_value',
    linearDeflection: deflection,
    angularDeflection: KERNEL_ANGLE,
  });
  const meshes = result.success ? result.meshes.filter((mesh) => mesh.index.array.length > 0) : [];
  if (meshes.length === 0) throw noShape();
  return joinMeshes(meshes);
}

/** The solids of a part as one mesh, faces in order. */
function joinMeshes(meshes: readonly OcctMesh[]): Mesh {
  const vertexCount = meshes.reduce((sum, mesh) => sum + mesh.attributes.position.array.length, 0);
  const indexCount = meshes.reduce((sum, mesh) => sum + mesh.index.array.length, 0);
  const positions = new Float64Array(vertexCount),
    normals = new Float32Array(vertexCount),
    triangles = new Uint32Array(indexCount);
  const faceStarts: number[] = [],
    colours: number[] = [];
  let vertexAt = 0,
    indexAt = 0;
  for (const mesh of meshes) {
    positions.set(mesh.attributes.position.array, vertexAt);
    if (mesh.attributes.normal) normals.set(mesh.attributes.normal.array, vertexAt);
    mesh.index.array.forEach((index, at) => (triangles[indexAt + at] = index + vertexAt / 3));
    for (const face of mesh.brep_faces) {
      faceStarts.push(indexAt / 3 + face.first);
      colours.push(packColour(face.color ?? mesh.color));
    }
    vertexAt += mesh.attributes.position.array.length;
    indexAt += mesh.index.array.length;
  }
  return {
    positions,
    normals,
    triangles,
    faceStarts: Uint32Array.from([...faceStarts, indexCount / 3]),
    faceColours: Int32Array.from(colours),
  };
}

/** The kernel keeps colours linear; files and screens mean sRGB. */
const packColour = (colour: readonly number[] | null | undefined): number =>
  colour ? colour.reduce((sum, channel) => sum * 256 + toSrgb(channel), 0) : -1;
