import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import { OrthographicCamera, Vector3 } from 'three';
import type { Box3 } from '../../../../core/src/geometry/index.ts';

/** What is picked keeps this far from the edge of the picture. px */
const MARGIN = 24;

/** How far a stretch has to move to lie in a room; one that is longer comes to lie in its middle. */
export function shiftInto(from: number, to: number, room: number): number {
  const low = MARGIN,
    high = room - MARGIN;
  if (to - from > high - low) return (low + high) / 2 - (from + to) / 2;
  return from < low ? low - from : to > high ? high - to : 0;
}

/**
 * Pushes the machine as little as it takes for a box to be seen in the free part of the picture, when another one is
 * picked or something opens over its edge.
 */
export function KeepInSight({
  box,
  covered,
}: {
  box: Box3;
  /** Width at the right edge that something lies over; px. */ covered: number;
}) {
  const { camera, size, controls, invalidate } = useThree();
  const turning = controls as unknown as { target: Vector3; update: () => void } | null;
  useEffect(() => {
    if (!turning?.target || !(camera instanceof OrthographicCamera)) return;
    const [x0, y0, z0, x1, y1, z1] = box;
    camera.updateMatrixWorld();
    const corners = [x0, x1].flatMap((x) =>
      [y0, y1].flatMap((y) => [z0, z1].map((z) => new Vector3(x, y, z).project(camera))),
    );
    const across = corners.map(({ x }) => ((x + 1) / 2) * size.width),
      down = corners.map(({ y }) => ((1 - y) / 2) * size.height);
    const right = shiftInto(Math.min(...across), Math.max(...across), size.width - covered),
      below = shiftInto(Math.min(...down), Math.max(...down), size.height);
    if (right === 0 && below === 0) return;
    // The machine goes right where the eye goes left.
    const way = new Vector3(-right / camera.zoom, below / camera.zoom, 0).applyQuaternion(camera.quaternion);
    camera.position.add(way);
    turning.target.add(way);
    turning.update();
    invalidate();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- not while the machine is turned by hand
  }, [box.join(), size.width, size.height, covered, turning]);
  return null;
}
