import { OrbitControls } from '@react-three/drei';
import { Canvas } from '@react-three/fiber';
import type { ReactNode } from 'react';
import { drawsInSoftware } from './graphics.ts';

/** A picture in 3D that is turned, panned and zoomed, without perspective; drawn when something in it changes. */
export function Stage({
  label,
  onMissed,
  children,
}: {
  /** For who does not see it. */
  readonly label: string;
  /** A click on nothing. */
  readonly onMissed: (event: MouseEvent) => void;
  readonly children: ReactNode;
}) {
  return (
    <Canvas
      orthographic
      frameloop="demand"
      gl={{ antialias: !drawsInSoftware() }}
      camera={{ position: [1, -1, 1], up: [0, 0, 1], near: -1e6, far: 1e6 }}
      role="img"
      aria-label={label}
      onPointerMissed={onMissed}
      onCreated={({ gl }) => {
        gl.localClippingEnabled = true;
      }}
    >
      <ambientLight intensity={1.5} />
      <directionalLight position={[0.4, -1, 1.6]} intensity={2} />
      <directionalLight position={[-1, 0.6, 0.3]} intensity={0.7} />
      {children}
      <OrbitControls makeDefault enableDamping={false} />
    </Canvas>
  );
}
