import {
  componentsAlong,
  groupBy,
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

/**
 * Things that a pose takes apart where it leaves others of their kind beside them together; in the order of the moves. Kept with
 * the moves: captions ask for it at every move of the pointer.
 */
export function openedAlone(moves: readonly PoseMove[], assembly: Assembly): readonly OpenedAlone[] {
  const before = known.get(moves);
  if (before?.assembly === assembly) return before.found;
  const found = find(moves, assembly);
  known.set(moves, { assembly, found });
  return found;
}
const known = new WeakMap<readonly PoseMove[], { assembly: Assembly; found: readonly OpenedAlone[] }>();

function find(moves: readonly PoseMove[], assembly: Assembly): OpenedAlone[] {
  const opened = new Set(moves.map(({ path }) => pathKey(pathOf(path).slice(0, -1))));
  // What holds something that is opened is opened too.
  for (const path of opened) if (path !== '') opened.add(pathKey(pathOf(path).slice(0, -1)));
  const places = [...opened].flatMap((path) => {
    const own = pathOf(path);
    const along = own.length > 0 ? componentsAlong(assembly, own) : null;
    return along ? [{ path, within: own.slice(0, -1), parent: along.at(-2)!, component: along.at(-1)! }] : [];
  });
  const alike = groupBy(places, ({ within, component }) => `${pathKey(within)} ${component}`);
  return [...alike.values()].flatMap(([{ path, within, parent, component }, ...more]): OpenedAlone[] => {
    const usages = assembly.components[parent].usages.filter(({ child }) => child === component);
    if (more.length > 0 || usages.length < 2) return [];
    const others = usages.map(({ key }) => pathKey([...within, key])).filter((place) => place !== path);
    return [{ path, component, others, of: usages.reduce((sum, { quantity }) => sum + quantity, 0) }];
  });
}
