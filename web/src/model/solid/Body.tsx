import { useThree, type ThreeEvent } from '@react-three/fiber';
import { useEffect, useLayoutEffect, useMemo, useRef } from 'react';
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  FrontSide,
  InstancedMesh,
  Matrix3,
  Matrix4,
  MeshLambertMaterial,
  Vector3,
  type Plane,
} from 'three';
import type { Occurrence } from '../../../../core/src/assembly/index.ts';
import { boxDiagonal, meshBox, meshColour, type Mesh, type Vec3 } from '../../../../core/src/geometry/index.ts';
import { isIn, spreadOrder, type Picks } from './machine.ts';

const LIT = new Color('#d9541e'),
  PLAIN = 0xb9c0c2;
interface BodyProps {
  readonly mesh: Mesh;
  readonly occurrences: readonly Occurrence[];
  readonly picks: Picks;
  /** From 0 to 1, of what is not lit. @default 1 */
  readonly opacity?: number;
  /** In which all that is not lit is drawn; the colours of the file where absent. */
  readonly colour?: Color;
  readonly planes: readonly Plane[];
  readonly onChoose: (occurrence: Occurrence, clicked: Clicked) => void;
}

/** Where something was clicked. */
export interface Clicked {
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
export function Body({ mesh, occurrences, picks, opacity = 1, colour, planes, onChoose }: BodyProps) {
  const geometry = useMemo(() => geometryOf(mesh), [mesh]);
  useEffect(() => () => geometry.dispose(), [geometry]);
  const [lit, plain] = useMemo(() => {
    const split: [Occurrence[], Occurrence[]] = [[], []];
    for (const occurrence of occurrences) split[isIn(occurrence, picks) ? 0 : 1].push(occurrence);
    return split;
  }, [occurrences, picks]);
  const base = useMemo(() => colour ?? new Color(meshColour(mesh) ?? PLAIN), [mesh, colour]);
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
          opacity={1}
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
          fixed={colour !== undefined}
          opacity={opacity}
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
  /** From 0 to 1. */
  readonly opacity: number;
  readonly planes: readonly Plane[];
  /** Diagonal of the shape; mm. */
  readonly size: number;
  /** First triangle of each face. */
  readonly starts: Uint32Array;
  readonly onChoose: BodyProps['onChoose'];
}

function Instances({ geometry, occurrences, colour, fixed, opacity, planes, size, starts, onChoose }: InstancesProps) {
  const { invalidate, camera } = useThree();
  const instances = useRef<InstancedMesh>(null);
  const order = useMemo(() => spreadOrder(occurrences.length), [occurrences.length]);
  const material = useMemo(
    () => new MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }),
    [],
  );
  useEffect(() => () => material.dispose(), [material]);
  useLayoutEffect(() => {
    material.transparent = opacity < 1;
    material.opacity = opacity;
    material.depthWrite = opacity === 1;
    material.clippingPlanes = [...planes];
    material.side = planes.length > 0 ? DoubleSide : FrontSide;
    material.needsUpdate = true;
    invalidate();
  }, [material, opacity, planes, invalidate]);
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
