import type { Assembly, ShapeKey } from '../core/src/assembly/index.ts';
import { listOccurrences, pathKey } from '../core/src/assembly/index.ts';
import type { Mesh, Placement } from '../core/src/geometry/index.ts';
import type { Body } from '../core/src/views/index.ts';
import { assemblyOf, leaf, node } from './assemblies.ts';
import { at, latheMesh } from './shapes.ts';

/** For tests: a disc of 200 mm across and 30 mm high. */
export const discMesh = latheMesh(
  [
    [0, 0],
    [100, 0],
    [100, 30],
    [0, 30],
  ],
  96,
);

/** For tests: what a flange of 200 mm with six pins of 20 mm on a circle of 150 mm is made of; its axis is z. */
export const flangeParts: readonly { readonly number: string; readonly mesh: Mesh; readonly placement: Placement }[] = [
  {
    number: 'DISC',
    mesh: discMesh,
    placement: at(0, 0, 0),
  },
  ...Array.from({ length: 6 }, (_, pin) => ({
    number: 'PIN',
    mesh: latheMesh(
      [
        [0, 0],
        [10, 0],
        [10, 50],
        [0, 50],
      ],
      48,
    ),
    placement: at(75 * Math.cos((pin * Math.PI) / 3), 75 * Math.sin((pin * Math.PI) / 3), 30),
  })),
];

/** Parts that stand in a machine side by side, each of its own shape. */
export function machineOf(parts: typeof flangeParts): { assembly: Assembly; bodies: Body[] } {
  const bare = assemblyOf(
    node('TOP', ...parts.map(({ number }, index) => [1, leaf(number, { shape: `shape ${index}` })] as const)),
  );
  let place = 0;
  const assembly: Assembly = {
    ...bare,
    components: bare.components.map((component) => ({
      ...component,
      usages: component.usages.map((usage) => ({ ...usage, placement: parts[place++].placement })),
    })),
  };
  const meshes = new Map(parts.map(({ mesh }, index) => [`shape ${index}` as ShapeKey, mesh]));
  const bodies = listOccurrences(assembly, (index) => assembly.components[index].shape !== null).map(
    ({ placement, path, components }) => ({
      mesh: meshes.get(assembly.components[components[components.length - 1]].shape!)!,
      placement,
      path: pathKey(path),
    }),
  );
  return { assembly, bodies };
}
