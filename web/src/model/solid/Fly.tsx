import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import { Box3, OrthographicCamera, Sphere, Vector3 } from 'three';
import type { PathKey } from '../../../../core/src/assembly/index.ts';
import type { Box3 as CoreBox } from '../../../../core/src/geometry/index.ts';

/** A place of the machine to be shown from near. */
export interface Flight {
  readonly path: PathKey;
  readonly count: number;
}

const TAKES = 450; // ms
/**
 * The place takes this share of the picture, so that what it sits in is seen too; a large one is not made smaller
 * than the whole machine.
 */
const SHARE = 0.22;

const sphereOf = (box: CoreBox): Sphere =>
  new Box3(new Vector3(box[0], box[1], box[2]), new Vector3(box[3], box[4], box[5])).getBoundingSphere(new Sphere());

/** Brings the eye from where it is to a place, keeping the way it looks. @param whole box of the machine */
export function Fly({ goal, whole }: { goal: CoreBox; whole: CoreBox }) {
  const { camera, size, controls, invalidate } = useThree();
  useEffect(() => {
    const turning = controls as unknown as { target: Vector3; update: () => void } | null;
    if (!turning?.target || !(camera instanceof OrthographicCamera)) return;
    const place = sphereOf(goal),
      all = sphereOf(whole);
    const room = Math.min(size.width, size.height);
    const zoom = Math.max(room / (1.95 * all.radius), (room * SHARE) / (2 * Math.max(place.radius, 1)));
    const from = { target: turning.target.clone(), zoom: camera.zoom },
      way = place.center.clone().sub(from.target),
      eye = camera.position.clone();
    const show = (share: number) => {
      const eased = share * share * (3 - 2 * share);
      turning.target.copy(from.target).addScaledVector(way, eased);
      camera.position.copy(eye).addScaledVector(way, eased);
      camera.zoom = from.zoom * (zoom / from.zoom) ** eased;
      camera.updateProjectionMatrix();
      turning.update();
      invalidate();
    };
    if (window.matchMedia('(prefers-reduced-motion: reduce)').matches) return show(1);
    const start = performance.now();
    let frame = 0;
    const step = () => {
      const share = Math.min(1, (performance.now() - start) / TAKES);
      show(share);
      if (share < 1) frame = requestAnimationFrame(step);
    };
    step();
    return () => cancelAnimationFrame(frame);
  }, []); // eslint-disable-line react-hooks/exhaustive-deps -- one flight for each mount
  return null;
}
