import { applyToDirection, type Placement } from '../../geometry/index.ts';
import type { Cut } from '../../sections/index.ts';
import type { Body } from '../records.ts';
import { EDGE_ON } from './placed.ts';

/**
 * Planes that are seen edge-on where another plane of the same cut faces the viewer: the steps of a stepped section, the
 * border of a half section. They are no edges of the machine, so nothing is drawn along them (ISO 128-3, sections by
 * several planes).
 * @param cuts in machine coordinates
 * @returns planes numbered through all cuts
 */
export function stepsOf(cuts: readonly Cut[], view: Placement): ReadonlySet<number> {
  const steps = new Set<number>();
  let first = 0;
  for (const cut of cuts) {
    // What is left is seen against the way of the plane's normal.
    const towards = cut.map(({ normal }) => -applyToDirection(view, normal)[2]);
    if (towards.some((z) => z > EDGE_ON))
      towards.forEach((z, at) => {
        if (Math.abs(z) <= EDGE_ON) steps.add(first + at);
      });
    first += cut.length;
  }
  return steps;
}

/** 1 per face of a body's mesh that lies in such a plane; null where none does. */
export function stepFaces({ cut, mesh }: Body, steps: ReadonlySet<number>): Uint8Array | null {
  const faces = cut?.faces.filter(({ plane }) => steps.has(plane)) ?? [];
  if (faces.length === 0) return null;
  const isStep = new Uint8Array(mesh.faceStarts.length - 1);
  for (const { face } of faces) isStep[face] = 1;
  return isStep;
}
