import { useThree } from '@react-three/fiber';
import { useEffect, useLayoutEffect } from 'react';
import { Box3, InstancedMesh, OrthographicCamera, Sphere, Vector3 } from 'three';
import type { Box3 as CoreBox } from '../../../../core/src/geometry/index.ts';
import { viewPlacement, type DirectionName } from '../../../../core/src/views/index.ts';

/**
 * While the machine turns, a frame should take no longer than this; where it does, only a share of the pieces of
 * small shapes is drawn. ms
 */
const FLUID = 40;
/** Shapes larger than this on screen are always drawn whole: they are what one turns by. px */
const LARGE = 60;
const LEAST_SHARE = 0.004;

/**
 * Brings the whole machine into the picture, seen from a standard direction; while a very large one turns, draws as
 * much of it as stays fluid.
 */
export function Fit({ box, direction, covered }: { box: CoreBox | null; direction: DirectionName; covered: number }) {
  const { camera, size, controls, scene, invalidate } = useThree();
  useLayoutEffect(() => {
    if (!box || !(camera instanceof OrthographicCamera)) return;
    const sphere = new Box3(new Vector3(box[0], box[1], box[2]), new Vector3(box[3], box[4], box[5])).getBoundingSphere(
      new Sphere(),
    );
    const reach = Math.max(sphere.radius, 1);
    const view = viewPlacement(direction);
    camera.position.copy(sphere.center).add(new Vector3(view[8], view[9], view[10]).multiplyScalar(reach * 4));
    // Looking straight down, z cannot be up on screen; a hair of slant lets the controls keep their poles.
    if (Math.abs(view[10]) > 0.99) camera.position.addScaledVector(new Vector3(0, -1, 0), reach * 1e-3);
    camera.up.set(0, 0, 1);
    camera.near = -reach * 10;
    camera.far = reach * 20;
    camera.zoom = Math.min(Math.max(size.width - covered, 100), size.height) / (1.95 * reach);
    camera.lookAt(sphere.center);
    // The middle of the picture is that of the room beside what lies over it.
    const aside = new Vector3(view[0], view[1], view[2]).multiplyScalar(covered / 2 / camera.zoom);
    camera.position.add(aside);
    sphere.center.add(aside);
    camera.updateProjectionMatrix();
    (controls as { target?: Vector3; update?: () => void } | null)?.target?.copy(sphere.center);
    (controls as { update?: () => void } | null)?.update?.();
    invalidate();
  }, [box !== null, camera, controls]); // eslint-disable-line react-hooks/exhaustive-deps -- once per machine, not when the pane is resized
  useEffect(() => {
    const turning = controls as unknown as {
      addEventListener?: (name: string, work: () => void) => void;
      removeEventListener?: (name: string, work: () => void) => void;
    } | null;
    if (!turning?.addEventListener) return;
    let share = 1,
      last = 0,
      moving = false;
    const draw = (part: number) => {
      scene.traverse((one) => {
        if (!(one instanceof InstancedMesh)) return;
        const { size: wide, full } = one.userData as { size: number; full: number };
        one.count = wide * camera.zoom > LARGE ? full : Math.max(1, Math.ceil(full * part));
      });
    };
    const start = () => {
      moving = true;
      last = 0;
    };
    const change = () => {
      if (!moving) return;
      const now = performance.now();
      // The time since the last change is what the last frame took, while the pointer keeps moving.
      if (last > 0) {
        share = Math.min(1, Math.max(LEAST_SHARE, share * Math.min(1.3, Math.max(0.1, FLUID / (now - last)))));
        draw(share);
      }
      last = now;
    };
    const end = () => {
      moving = false;
      draw(1);
      invalidate();
    };
    turning.addEventListener('start', start);
    turning.addEventListener('change', change);
    turning.addEventListener('end', end);
    return () => {
      turning.removeEventListener?.('start', start);
      turning.removeEventListener?.('change', change);
      turning.removeEventListener?.('end', end);
    };
  }, [controls, scene, camera, invalidate]);
  return null;
}
