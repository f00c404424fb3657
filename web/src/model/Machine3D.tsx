import { OrbitControls } from '@react-three/drei';
import { Canvas, useThree, type ThreeEvent } from '@react-three/fiber';
import { useQueries } from '@tanstack/react-query';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  FrontSide,
  InstancedMesh,
  Matrix3,
  Matrix4,
  MeshLambertMaterial,
  OrthographicCamera,
  Plane,
  Sphere,
  Vector3,
} from 'three';
import { pathKey, pathOf, usualOrientation, type Occurrence, type ShapeKey } from '../../../core/src/assembly/index.ts';
import { unpackMesh } from '../../../core/src/formats/index.ts';
import {
  boxDiagonal,
  meshBox,
  meshColour,
  type Box3 as CoreBox,
  type Mesh,
  type Vec3,
} from '../../../core/src/geometry/index.ts';
import { wayAt } from '../../../core/src/poses/index.ts';
import { viewPlacement, type DirectionName } from '../../../core/src/views/index.ts';
import { loadMesh } from '../data/api.ts';
import { drawsInSoftware } from './graphics.ts';
import { useProject } from '../data/ProjectContext.tsx';
import {
  bodiesByShape,
  displaced,
  inModel,
  isIn,
  machineBox,
  nearestAxis,
  spreadOrder,
  withAxis,
  type Picks,
} from './machine.ts';
import { Fly, type Flight } from './Fly.tsx';
import { KeepInSight } from './KeepInSight.tsx';
import { PoseHandles, type Posing } from './PoseHandles.tsx';
import { MachineTools, type Look } from './MachineTools.tsx';

export interface Machine3DProps {
  /** Shows the tools for looking into the machine. @default false */
  readonly tools?: boolean;
  /** Components lit besides the picked one. */
  readonly also?: ReadonlySet<number>;
  /** Width at the right edge that something lies over, so that what is picked stays beside it; px. @default 0 */
  readonly covered?: number;
  /** What has left its seat, and how it is carried on; as assembled where absent. */
  readonly posing?: Posing | null;
  /** Whether poses are being looked at: the machine is fitted beside their panel then. */
  readonly posesOpen?: boolean;
  /** Opens and closes the panel of poses; its tool is not there where absent. */
  readonly onPoses?: () => void;
  /** A place to fly to; `count` tells one flight from the next. */
  readonly flight?: Flight | null;
}

const RETRY = 2500; // ms between two looks for shapes that are still being made
const PLAIN_LOOK: Look = { hidden: [], only: null, seeThrough: false, section: null };

/** The machine in 3D: turn, pan, zoom; a click picks a part, and what is picked is lit. */
export function Machine3D({
  tools = false,
  also,
  covered = 0,
  posing = null,
  posesOpen = false,
  onPoses,
  flight = null,
}: Machine3DProps) {
  const {
    assembly,
    picked,
    pickedPath,
    pick,
    shapes: { progress, stopped },
    components,
    perform,
  } = useProject();
  const seats = useMemo(() => bodiesByShape(assembly), [assembly]);
  const moves = posing?.moves;
  const bodies = useMemo(() => (moves ? displaced(seats, moves) : seats), [seats, moves]);
  const keys = [...bodies.keys()];
  const meshes = useQueries({
    queries: keys.map((shape) => ({
      queryKey: ['mesh', shape],
      queryFn: async () => unpackMesh(await loadMesh(shape)),
      staleTime: Infinity,
      retry: false,
      refetchInterval: (query: { state: { data?: unknown } }) =>
        progress && !query.state.data ? RETRY : (false as const),
    })),
  });
  const arrived = meshes.map(({ data }) => (data ? 1 : 0)).join('');
  const ready = useMemo(
    () => keys.flatMap((shape, at) => (meshes[at].data ? [[shape, meshes[at].data] as const] : [])),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `arrived` says what is in the lists
    [bodies, arrived],
  );
  const places = posing?.places;
  const picks: Picks = useMemo(
    () => ({
      components: new Set([...(also ?? []), ...(picked === null || also?.size ? [] : [picked])]),
      path: also?.size ? null : pickedPath === null || pickedPath === '' ? null : pathOf(pickedPath),
      ...(places && places.length > 0 ? { places: places.map(pathOf) } : {}),
    }),
    [picked, pickedPath, also, places],
  );
  const { onWay, onAlso: onPlace } = posing ?? {};
  const [look, setLook] = useState<Look>(PLAIN_LOOK);
  const [from, setFrom] = useState<{ direction: DirectionName; count: number }>({ direction: 'isometric', count: 0 });
  const [asking, setAsking] = useState<'up' | 'front' | null>(null);
  const settled = meshes.every(({ isLoading }) => !isLoading);
  const box = useMemo(() => (ready.length > 0 ? machineBox(ready, bodies) : null), [ready, bodies]);
  const shown = useMemo(
    () =>
      new Map(
        [...bodies].map(([shape, occurrences]) => [
          shape,
          occurrences.filter(
            (one) =>
              (!look.only || look.only.some((wanted) => isIn(one, wanted))) &&
              !look.hidden.some((gone) => isIn(one, gone)),
          ),
        ]),
      ),
    [bodies, look.only, look.hidden],
  );
  const goal = useMemo(
    () => flight && boxOf(ready, bodies, { components: new Set(), path: pathOf(flight.path) }),
    [flight, ready, bodies],
  );
  const inSight = useMemo(
    () => (tools && (picks.path || picks.components.size > 0) ? boxOf(ready, bodies, picks) : null),
    [tools, ready, bodies, picks],
  );
  const planes = useMemo(() => {
    if (!look.section || !box) return [];
    const { axis, share, flipped } = look.section;
    const at = box[axis] + (box[axis + 3] - box[axis]) * share;
    const normal = new Vector3(
      ...([0, 1, 2].map((one) => (one === axis ? (flipped ? 1 : -1) : 0)) as [number, number, number]),
    );
    return [new Plane(normal, flipped ? -at : at)];
  }, [look.section, box]);
  const choose = useCallback(
    (occurrence: Occurrence, { normal, face, point, reach, also: more }: Clicked) => {
      if (!asking) {
        const place = pathKey(occurrence.path);
        if (more && onPlace) return onPlace(place);
        const shape = assembly.components[occurrence.components[occurrence.components.length - 1]].shape;
        const mesh = ready.find(([known]) => known === shape)?.[1];
        onWay?.(place, mesh ? wayAt(mesh, occurrence.placement, face, point, reach) : null);
        return pick(occurrence.components[occurrence.components.length - 1], place);
      }
      const before = components.content.orientation ?? usualOrientation;
      const orientation = withAxis(before, asking, nearestAxis(inModel(normal, assembly.turn)));
      perform(`${asking === 'up' ? 'up' : 'front'} is ${orientation[asking]} of the model`, {
        document: components.id,
        command: { kind: 'setOrientation', orientation },
      });
      setAsking(asking === 'up' ? 'front' : null);
    },
    [asking, pick, components, assembly, perform, ready, onWay, onPlace],
  );
  return (
    <div className="machine">
      <Canvas
        orthographic
        frameloop="demand"
        gl={{ antialias: !drawsInSoftware() }}
        camera={{ position: [1, -1, 1], up: [0, 0, 1], near: -1e6, far: 1e6 }}
        role="img"
        aria-label="The machine in 3D"
        onPointerMissed={({ ctrlKey, metaKey }) => {
          if (!asking && !ctrlKey && !metaKey) pick(null);
        }}
        onCreated={({ gl }) => {
          gl.localClippingEnabled = true;
        }}
      >
        <ambientLight intensity={1.5} />
        <directionalLight position={[0.4, -1, 1.6]} intensity={2} />
        <directionalLight position={[-1, 0.6, 0.3]} intensity={0.7} />
        {ready.map(([shape, mesh]) => (
          <Body
            key={shape}
            mesh={mesh}
            occurrences={shown.get(shape) ?? []}
            picks={picks}
            seeThrough={look.seeThrough}
            planes={planes}
            onChoose={choose}
          />
        ))}
        <OrbitControls makeDefault enableDamping={false} />
        <Fit
          key={`${from.count} ${from.direction} ${settled} ${posesOpen} ${posing?.pose ?? ''} ${assembly.turn?.join() ?? ''}`}
          box={settled || progress === null ? box : null}
          direction={from.direction}
          covered={posesOpen ? covered : 0}
        />
        {posing && posing.paths.length > 0 && (
          <PoseHandles
            posing={posing}
            at={boxOf(
              ready,
              bodies,
              posing.paths.map((path) => ({ components: new Set(), path: pathOf(path) })),
            )}
          />
        )}
        {inSight && !posing && box && <KeepInSight box={inSight} covered={covered} />}
        {flight && goal && <Fly key={flight.count} goal={goal} whole={box!} />}
      </Canvas>
      {!settled || ready.length < keys.length ? (
        <div className="corner quiet">
          Shapes: {ready.length} of {keys.length}
          {settled && progress === null && stopped === null && ready.length < keys.length
            ? '; the others could not be made'
            : ''}
        </div>
      ) : null}
      {keys.length === 0 && (
        <div className="centre quiet" style={{ position: 'absolute', inset: 0 }}>
          This structure came without shapes. Its list and its numbers work all the same.
        </div>
      )}
      {asking && (
        <div className="asking" role="status">
          Click a face that looks {asking === 'up' ? 'up' : 'to the front'} when the machine stands as it is used.
        </div>
      )}
      <MachineTools
        full={tools}
        look={look}
        onLook={setLook}
        picks={picks.components.size > 0 || picks.path ? picks : null}
        onFrom={(direction) => setFrom({ direction, count: from.count + 1 })}
        asking={asking}
        onAsk={setAsking}
        {...(onPoses ? { onPoses } : {})}
        poses={posing !== null}
      />
    </div>
  );
}

/** Box around what is picked; null where nothing of it has a shape. */
const boxOf = (
  meshes: Parameters<typeof machineBox>[0],
  bodies: ReadonlyMap<ShapeKey, readonly Occurrence[]>,
  picks: Picks | readonly Picks[],
): CoreBox | null => {
  const all: readonly Picks[] = 'components' in picks ? [picks] : picks;
  return machineBox(
    meshes,
    new Map(
      [...bodies].map(([shape, occurrences]) => [
        shape,
        occurrences.filter((one) => all.some((each) => isIn(one, each))),
      ]),
    ),
  );
};

const LIT = new Color('#d9541e'),
  PLAIN = 0xb9c0c2;
const THROUGH = 0.22;
/**
 * While the machine turns, a frame should take no longer than this; where it does, only a share of the pieces of
 * small shapes is drawn. ms
 */
const FLUID = 40;
/** Shapes larger than this on screen are always drawn whole: they are what one turns by. px */
const LARGE = 60;
const LEAST_SHARE = 0.004;

interface BodyProps {
  readonly mesh: Mesh;
  readonly occurrences: readonly Occurrence[];
  readonly picks: Picks;
  readonly seeThrough: boolean;
  readonly planes: readonly Plane[];
  readonly onChoose: (occurrence: Occurrence, clicked: Clicked) => void;
}

/** Where something was clicked. */
interface Clicked {
  /** Of the triangle; unit vector in machine coordinates, like the point. */
  readonly normal: Vec3;
  readonly point: Vec3;
  /** Index into the faces of the mesh; −1 for none. */
  readonly face: number;
  /** What is near enough to be meant; mm. */
  readonly reach: number;
  /** Together with what is picked. */
  readonly also: boolean;
}
/** px on the screen. */
const REACH = 7;

/** All occurrences of one shape: those that are lit, and the others, which one may look through. */
function Body({ mesh, occurrences, picks, seeThrough, planes, onChoose }: BodyProps) {
  const geometry = useMemo(() => geometryOf(mesh), [mesh]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const [lit, plain] = useMemo(() => {
    const split: [Occurrence[], Occurrence[]] = [[], []];
    for (const occurrence of occurrences) split[isIn(occurrence, picks) ? 0 : 1].push(occurrence);
    return split;
  }, [occurrences, picks]);
  const base = useMemo(() => new Color(meshColour(mesh) ?? PLAIN), [mesh]);
  const size = useMemo(() => boxDiagonal(meshBox(mesh)), [mesh]);
  return (
    <>
      {lit.length > 0 && (
        <Instances
          key={`lit ${lit.length}`}
          geometry={geometry}
          occurrences={lit}
          colour={LIT}
          fixed
          through={false}
          planes={planes}
          size={size}
          starts={mesh.faceStarts}
          onChoose={onChoose}
        />
      )}
      {plain.length > 0 && (
        <Instances
          key={`plain ${plain.length}`}
          geometry={geometry}
          occurrences={plain}
          colour={base}
          fixed={false}
          through={seeThrough}
          planes={planes}
          size={size}
          starts={mesh.faceStarts}
          onChoose={onChoose}
        />
      )}
    </>
  );
}

interface InstancesProps {
  readonly geometry: BufferGeometry;
  readonly occurrences: readonly Occurrence[];
  readonly colour: Color;
  /** All in this colour, whatever colours single occurrences have. */
  readonly fixed: boolean;
  readonly through: boolean;
  readonly planes: readonly Plane[];
  /** Diagonal of the shape; mm. */
  readonly size: number;
  /** First triangle of each face. */
  readonly starts: Uint32Array;
  readonly onChoose: BodyProps['onChoose'];
}

function Instances({ geometry, occurrences, colour, fixed, through, planes, size, starts, onChoose }: InstancesProps) {
  const { invalidate, camera } = useThree();
  const instances = useRef<InstancedMesh>(null);
  const order = useMemo(() => spreadOrder(occurrences.length), [occurrences.length]);
  const material = useMemo(
    () => new MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }),
    [],
  );
  useEffect(() => () => material.dispose(), [material]);
  useLayoutEffect(() => {
    material.transparent = through;
    material.opacity = through ? THROUGH : 1;
    material.depthWrite = !through;
    material.clippingPlanes = [...planes];
    material.side = planes.length > 0 ? DoubleSide : FrontSide;
    material.needsUpdate = true;
    invalidate();
  }, [material, through, planes, invalidate]);
  useLayoutEffect(() => {
    const drawn = instances.current!;
    const matrix = new Matrix4(),
      own = new Color();
    order.forEach((index, at) => {
      const { placement: m, colour: given } = occurrences[index];
      drawn.setMatrixAt(
        at,
        matrix.set(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11], 0, 0, 0, 1),
      );
      drawn.setColorAt(at, given !== undefined && !fixed ? own.setHex(given) : colour);
    });
    drawn.instanceMatrix.needsUpdate = true;
    if (drawn.instanceColor) drawn.instanceColor.needsUpdate = true;
    drawn.computeBoundingSphere();
    drawn.userData = { size, full: occurrences.length };
    invalidate();
  }, [occurrences, order, colour, fixed, size, invalidate]);
  const click = (event: ThreeEvent<MouseEvent>) => {
    event.stopPropagation();
    if (event.delta >= 4 || event.instanceId === undefined) return;
    // A face cut away by the section plane was not what was clicked.
    if (planes.some((plane) => plane.distanceToPoint(event.point) < 0)) return;
    const matrix = new Matrix4();
    instances.current!.getMatrixAt(event.instanceId, matrix);
    const normal = event.face
      ? event.face.normal.clone().applyNormalMatrix(new Matrix3().getNormalMatrix(matrix)).normalize()
      : new Vector3(0, 0, 1);
    const face = event.faceIndex === undefined || event.faceIndex === null ? -1 : faceOf(starts, event.faceIndex);
    onChoose(occurrences[order[event.instanceId]], {
      normal: [normal.x, normal.y, normal.z],
      point: [event.point.x, event.point.y, event.point.z],
      face,
      reach: REACH / camera.zoom,
      also: event.nativeEvent.ctrlKey || event.nativeEvent.metaKey,
    });
  };
  return <instancedMesh ref={instances} args={[geometry, material, occurrences.length]} onClick={click} />;
}

/** The face that a triangle belongs to. */
function faceOf(starts: Uint32Array, triangle: number): number {
  const after = starts.findIndex((start) => start > triangle);
  return after < 0 ? -1 : after - 1;
}

function geometryOf(mesh: Mesh): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(mesh.positions), 3));
  geometry.setAttribute('normal', new BufferAttribute(mesh.normals, 3));
  geometry.setIndex(new BufferAttribute(mesh.triangles, 1));
  return geometry;
}

/**
 * Brings the whole machine into the picture, seen from a standard direction; while a very large one turns, draws as
 * much of it as stays fluid.
 */
function Fit({ box, direction, covered }: { box: CoreBox | null; direction: DirectionName; covered: number }) {
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
