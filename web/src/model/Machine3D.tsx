import { ActionIcon, Tooltip } from '@mantine/core';
import { IconFocusCentered } from '@tabler/icons-react';
import { OrbitControls } from '@react-three/drei';
import { Canvas, useThree } from '@react-three/fiber';
import { useQueries } from '@tanstack/react-query';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Box3, BufferAttribute, BufferGeometry, Color, InstancedMesh, Matrix4, MeshLambertMaterial, OrthographicCamera, Sphere, Vector3 } from 'three';
import { listOccurrences, type Assembly, type Occurrence, type ShapeKey } from '../../../core/src/assembly/index.ts';
import { unpackMesh } from '../../../core/src/formats/index.ts';
import { meshBox, meshColour, uniteBoxes, type Box3 as CoreBox, type Mesh } from '../../../core/src/geometry/index.ts';
import { loadDerived } from '../data/api.ts';
import { useProject } from '../data/ProjectContext.tsx';

/** The machine in 3D: turn, pan, zoom; a click picks a part, and what is picked is lit. */
export function Machine3D() {
  const { assembly, picked, pick } = useProject();
  const bodies = useMemo(() => bodiesOf(assembly), [assembly]);
  const shapes = [...bodies.keys()];
  const meshes = useQueries({ queries: shapes.map((shape) => ({ queryKey: ['mesh', shape], queryFn: async () => unpackMesh(await loadDerived(`/api/meshes/${shape}`)), staleTime: Infinity, retry: false })) });
  const ready = shapes.flatMap((shape, at) => (meshes[at].data ? [[shape, meshes[at].data] as const] : []));
  const [fit, setFit] = useState(0);
  const settled = meshes.every(({ isLoading }) => !isLoading);
  return (
    <div className="machine">
      <Canvas orthographic frameloop="demand" camera={{ position: [1, -1, 1], up: [0, 0, 1], near: -1e6, far: 1e6 }} aria-label="The machine in 3D" onPointerMissed={() => pick(null)}>
        <ambientLight intensity={1.5} />
        <directionalLight position={[0.4, -1, 1.6]} intensity={2} />
        <directionalLight position={[-1, 0.6, 0.3]} intensity={0.7} />
        {ready.map(([shape, mesh]) => <Instances key={shape} mesh={mesh} occurrences={bodies.get(shape)!} picked={picked} onPick={pick} />)}
        <OrbitControls makeDefault enableDamping={false} />
        <Fit key={`${fit} ${settled}`} box={settled ? machineBox(ready, bodies) : null} />
      </Canvas>
      {!settled && <div className="corner quiet">Loading shapes: {ready.length} of {shapes.length}</div>}
      <div className="corner" style={{ left: 'auto', right: 10 }}>
        <Tooltip label="Fit the machine"><ActionIcon variant="default" aria-label="Fit the machine" onClick={() => setFit(fit + 1)}><IconFocusCentered size={18} /></ActionIcon></Tooltip>
      </div>
    </div>
  );
}

function bodiesOf(assembly: Assembly): Map<ShapeKey, Occurrence[]> {
  const bodies = new Map<ShapeKey, Occurrence[]>();
  for (const occurrence of listOccurrences(assembly, (index) => assembly.components[index].shape !== null)) {
    const shape = assembly.components[occurrence.components.at(-1)!].shape!;
    bodies.set(shape, [...(bodies.get(shape) ?? []), occurrence]);
  }
  return bodies;
}

function machineBox(ready: readonly (readonly [ShapeKey, Mesh])[], bodies: ReadonlyMap<ShapeKey, Occurrence[]>): CoreBox | null {
  let box: CoreBox | null = null;
  for (const [shape, mesh] of ready) {
    const [x0, y0, z0, x1, y1, z1] = meshBox(mesh);
    const corners: Mesh = { ...mesh, positions: Float64Array.from([x0, y0, z0, x1, y0, z0, x0, y1, z0, x1, y1, z0, x0, y0, z1, x1, y0, z1, x0, y1, z1, x1, y1, z1]) };
    for (const { placement } of bodies.get(shape)!) {
      const own = meshBox(corners, placement);
      box = box ? uniteBoxes(box, own) : own;
    }
  }
  return box;
}

const LIT = new Color('#d9541e'), PLAIN = 0xb9c0c2;

/** All occurrences of one shape, drawn at once. */
function Instances({ mesh, occurrences, picked, onPick }: { mesh: Mesh; occurrences: readonly Occurrence[]; picked: number | null; onPick: (component: number) => void }) {
  const { invalidate } = useThree();
  const instances = useRef<InstancedMesh>(null);
  const geometry = useMemo(() => geometryOf(mesh), [mesh]);
  const material = useMemo(() => new MeshLambertMaterial({ polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }), []);
  const plain = useMemo(() => new Color(meshColour(mesh) ?? PLAIN), [mesh]);
  useEffect(() => () => { geometry.dispose(); material.dispose(); }, [geometry, material]);
  useLayoutEffect(() => {
    const drawn = instances.current!;
    occurrences.forEach(({ placement: m }, at) => drawn.setMatrixAt(at, new Matrix4().set(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11], 0, 0, 0, 1)));
    drawn.instanceMatrix.needsUpdate = true;
    drawn.computeBoundingSphere();
  }, [occurrences, geometry]);
  useLayoutEffect(() => {
    const drawn = instances.current!;
    occurrences.forEach(({ components }, at) => drawn.setColorAt(at, picked !== null && components.slice(1).includes(picked) ? LIT : plain));
    if (drawn.instanceColor) drawn.instanceColor.needsUpdate = true;
    invalidate();
  }, [occurrences, picked, plain, invalidate]);
  return <instancedMesh ref={instances} args={[geometry, material, occurrences.length]} onClick={(event) => {
    event.stopPropagation();
    if (event.delta < 4 && event.instanceId !== undefined) onPick(occurrences[event.instanceId].components.at(-1)!);
  }} />;
}

function geometryOf(mesh: Mesh): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(mesh.positions), 3));
  geometry.setAttribute('normal', new BufferAttribute(mesh.normals, 3));
  geometry.setIndex(new BufferAttribute(mesh.triangles, 1));
  return geometry;
}

/** Brings the whole machine into the picture once, seen from the front right above. */
function Fit({ box }: { box: CoreBox | null }) {
  const { camera, size, controls, invalidate } = useThree();
  useLayoutEffect(() => {
    if (!box || !(camera instanceof OrthographicCamera)) return;
    const sphere = new Box3(new Vector3(box[0], box[1], box[2]), new Vector3(box[3], box[4], box[5])).getBoundingSphere(new Sphere());
    const reach = Math.max(sphere.radius, 1);
    camera.position.copy(sphere.center).add(new Vector3(1, -1, 0.8).normalize().multiplyScalar(reach * 4));
    camera.up.set(0, 0, 1);
    camera.near = -reach * 10;
    camera.far = reach * 20;
    camera.zoom = Math.min(size.width, size.height) / (1.7 * reach);
    camera.lookAt(sphere.center);
    camera.updateProjectionMatrix();
    (controls as { target?: Vector3; update?: () => void } | null)?.target?.copy(sphere.center);
    (controls as { update?: () => void } | null)?.update?.();
    invalidate();
  }, [box !== null, camera, controls]); // eslint-disable-line react-hooks/exhaustive-deps -- once per machine, not when the pane is resized
  return null;
}
