import { useThree, type ThreeEvent } from '@react-three/fiber';
import { useMemo, useRef, useState } from 'react';
import { OrthographicCamera, Quaternion, Vector3 } from 'three';
import type { PathKey } from '../../../../core/src/assembly/index.ts';
import type { Box3, Vec3 } from '../../../../core/src/geometry/index.ts';
import type { ClickedWay, PoseMove } from '../../../../core/src/poses/index.ts';

/** A way along which what is picked can be dragged. */
export interface PoseAxis {
  readonly name: string;
  /** Unit vector in machine coordinates. */
  readonly along: Vec3;
}

/** A pose on the screen, and what is done to it. */
export interface Posing {
  /** Its id. */
  readonly pose: string;
  /** What has left its seat, as far as it is played. */
  readonly moves: readonly PoseMove[];
  /** What is carried on when an arrow is dragged; nothing where there is nothing to carry. */
  readonly paths: readonly PathKey[];
  readonly axes: readonly PoseAxis[];
  /** While it is dragged; mm. */
  readonly onDrag: (by: Vec3 | null) => void;
  readonly onDrop: (by: Vec3) => void;
  /** The way that a click on what stands at a place suggests; null where it suggests none. */
  readonly onWay: (of: PathKey, way: ClickedWay | null) => void;
  /** Takes a single place to what is picked, or away from it. */
  readonly onAlso: (path: PathKey) => void;
  /** Single places that are picked in 3D; nothing where whole components are. */
  readonly places: readonly PathKey[];
}

const REACH = 64; // px, from the middle of what is picked to the tip of an arrow
const colours = ['#20303a', '#20303a', '#20303a', '#d9541e'];

/** Arrows at what is picked, one each way along every axis; dragged, they carry it along. */
export function PoseHandles({ posing, at }: { posing: Posing; at: Box3 | null }) {
  const { camera } = useThree();
  const middle = useMemo(
    () => (at ? new Vector3((at[0] + at[3]) / 2, (at[1] + at[4]) / 2, (at[2] + at[5]) / 2) : null),
    [at],
  );
  if (!middle || !(camera instanceof OrthographicCamera)) return null;
  return posing.axes.map((axis, number) => (
    <Arrow
      key={axis.name}
      axis={axis}
      middle={middle}
      colour={colours[Math.min(number, colours.length - 1)]}
      posing={posing}
    />
  ));
}

function Arrow({
  axis: { along },
  middle,
  colour,
  posing,
}: {
  axis: PoseAxis;
  middle: Vector3;
  colour: string;
  posing: Posing;
}) {
  const { camera, controls, invalidate } = useThree();
  /** Where along the axis it was taken hold of; mm from the middle at that time. */
  const held = useRef<{ readonly from: Vector3; readonly start: number } | null>(null);
  const [over, setOver] = useState(false);
  const way = new Vector3(...along);
  const perPixel = 1 / camera.zoom;
  /** Where the pointer is along the axis, by the point of the axis nearest to its ray. */
  const alongOf = ({ ray }: ThreeEvent<PointerEvent>, from: Vector3): number | null => {
    const across = way.dot(ray.direction);
    const slant = 1 - across * across;
    if (slant < 1e-3) return null; // the axis points at the viewer
    const between = new Vector3().subVectors(ray.origin, from);
    return (between.dot(way) - across * between.dot(ray.direction)) / slant;
  };
  /** In whole millimetres, which is as exact as a pointer is. */
  const stepTo = (event: ThreeEvent<PointerEvent>): Vec3 | null => {
    const hold = held.current;
    const now = hold && alongOf(event, hold.from);
    if (!hold || now === null) return null;
    const far = Math.round(now - hold.start);
    return [along[0] * far, along[1] * far, along[2] * far];
  };
  const freeze = (on: boolean) => {
    if (controls) (controls as unknown as { enabled: boolean }).enabled = !on;
  };
  const tips = [1, -1].map((sign) => {
    const at = middle.clone().addScaledVector(way, sign * REACH * perPixel);
    const turn = new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), way.clone().multiplyScalar(sign));
    return { sign, at, turn };
  });
  return (
    <>
      {tips.map(({ sign, at, turn }) => (
        <group key={sign} position={at} quaternion={turn} scale={perPixel} renderOrder={10}>
          <mesh
            renderOrder={10}
            onPointerOver={() => setOver(true)}
            onPointerOut={() => setOver(false)}
            onClick={(event) => event.stopPropagation()}
            onPointerDown={(event) => {
              const start = alongOf(event, middle);
              if (start === null) return;
              event.stopPropagation();
              (event.target as Element).setPointerCapture(event.pointerId);
              held.current = { from: middle.clone(), start };
              freeze(true);
            }}
            onPointerMove={(event) => {
              const by = stepTo(event);
              if (!by) return;
              event.stopPropagation();
              posing.onDrag(by);
              invalidate();
            }}
            onPointerUp={(event) => {
              const by = stepTo(event);
              held.current = null;
              freeze(false);
              if (!by) return;
              event.stopPropagation();
              posing.onDrop(by);
            }}
          >
            <coneGeometry args={[8, 22, 16]} />
            <meshBasicMaterial color={over ? '#d9541e' : colour} depthTest={false} transparent opacity={0.9} />
          </mesh>
          <mesh position={[0, -REACH / 2, 0]} renderOrder={9}>
            <cylinderGeometry args={[1.4, 1.4, REACH - 20, 6]} />
            <meshBasicMaterial color={colour} depthTest={false} transparent opacity={0.55} />
          </mesh>
        </group>
      ))}
    </>
  );
}
