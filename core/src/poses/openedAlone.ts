import {
  componentsAlong,
  pathKey,
  pathOf,
  type Assembly,
  type ComponentIndex,
  type PathKey,
} from '../assembly/index.ts';
import type { PoseMove } from './records.ts';

/** Of things that are alike and stand at one place, the only one that a pose takes apart. */
export interface OpenedAlone {
  /** The one that is taken apart. */
  readonly path: PathKey;
  /** What it is. */
  readonly component: ComponentIndex;
  /** The others, which stay together. */
  readonly others: readonly PathKey[];
  /** How many there are of them with it, multiplied usages counted. */
  readonly of: number;
}

/** Things that a pose takes apart where it leaves others of their kind beside them together; in the order of the moves. */
export function openedAlone(moves: readonly PoseMove[], assembly: Assembly): OpenedAlone[] {
  const opened = new Set(moves.map(({ path }) => pathKey(pathOf(path).slice(0, -1))));
  // What holds something that is opened is opened too.
  for (const path of opened) if (path !== '') opened.add(pathKey(pathOf(path).slice(0, -1)));
  return [...opened].flatMap((path): OpenedAlone[] => {
    const own = pathOf(path);
    const parents = componentsAlong(assembly, own.slice(0, -1));
    const component = componentsAlong(assembly, own)?.at(-1);
    if (own.length === 0 || !parents || component === undefined) return [];
    const alike = assembly.components[parents[parents.length - 1]].usages.filter(({ child }) => child === component);
    const places = alike.map(({ key }) => pathKey([...own.slice(0, -1), key]));
    if (alike.length < 2 || places.some((place) => place !== path && opened.has(place))) return [];
    return [
      {
        path,
        component,
        others: places.filter((place) => place !== path),
        of: alike.reduce((sum, { quantity }) => sum + quantity, 0),
      },
    ];
  });
}
