import { keyGraph, NO_KEY, type Assembly, type ComponentDraft, type ShapeKey } from '../core/src/assembly/index.ts';
import type { Placement } from '../core/src/geometry/index.ts';
import type { ShapePrint } from '../core/src/revisions/index.ts';

/** Numbers from 0 to 1, the same ones for a seed. Source: T. Ettinger, mulberry32 (2017), public domain. */
export function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** A component by what it really is, whatever a file calls it. */
export interface Thing {
  readonly id: number;
  number: string;
  name: string;
  /** Names a shape; null for what has none. */
  shape: number | null;
  material: string;
  contents: { child: number; label: string; at: [number, number, number]; turned: boolean }[];
}
/** Things by their ids; the first is the machine. */
export type Machine = Map<number, Thing>;

const NAMES = ['Plate', 'Bracket', 'Bolt', 'Tube', 'Bearer', 'Slat', 'Drum', 'Shaft', 'Cover', 'Ring'];

/** A random machine of parts and nested assemblies, whose numbers are its own and whose names are not. */
export function randomMachine(random: () => number, size: number): Machine {
  const machine: Machine = new Map();
  const pick = (count: number) => Math.floor(random() * count);
  for (let id = 0; id < size; id++)
    machine.set(id, {
      id,
      number: `HS-${100 + id}`,
      name: `${NAMES[pick(NAMES.length)]}${random() < 0.5 ? ` ${pick(5)}` : ''}`,
      shape: null,
      material: random() < 0.5 ? 'Ash' : 'Steel',
      contents: [],
    });
  const assemblies = Math.max(1, Math.floor(size / 5));
  const place = (parent: number, child: number) =>
    machine.get(parent)!.contents.push({
      child,
      label: random() < 0.3 ? `L${pick(4)}` : '',
      at: [pick(2000) + random(), pick(2000) + random(), pick(500) + random()],
      turned: random() < 0.3,
    });
  for (let id = 1; id < size; id++) {
    const parent = pick(Math.min(id, assemblies));
    for (let times = 1 + (random() < 0.4 ? pick(6) : 0); times > 0; times--) place(parent, id);
    if (id >= assemblies && random() < 0.2) place(pick(assemblies), id);
  }
  for (const thing of machine.values()) if (thing.contents.length === 0) thing.shape = thing.id;
  return machine;
}

export const copyOf = (machine: Machine): Machine => structuredClone(machine);

/** How a writer puts a machine into a file. */
export interface Writing {
  /** Order of components and usages; as it stands where absent. */
  readonly shuffle?: () => number;
  /** Added to every coordinate; mm. */
  readonly noise?: () => number;
  /** Before the names of shapes: another writer writes the same shape otherwise. */
  readonly writer?: string;
}

const shapeKey = (shape: number, writer: string): ShapeKey => `${writer}shape ${shape}` as ShapeKey;
const ABOUT_Z: readonly number[] = [0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0];
const UPRIGHT: readonly number[] = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

/** A file's assembly, as readers make it, and which component of it is which thing. */
export function fileOf(
  machine: Machine,
  { shuffle, noise = () => 0, writer = '' }: Writing = {},
): { assembly: Assembly; ids: number[] } {
  const shuffled = <Item>(items: Item[]): Item[] =>
    shuffle
      ? items
          .map((item) => [shuffle(), item] as const)
          .sort(([one], [other]) => one - other)
          .map(([, item]) => item)
      : items;
  const reached = new Set([0]);
  for (const id of reached) for (const { child } of machine.get(id)!.contents) reached.add(child);
  const ids = shuffled([...reached]);
  const indexOf = new Map(ids.map((id, index) => [id, index]));
  const drafts = ids.map((id): ComponentDraft => {
    const { number, name, shape, material, contents } = machine.get(id)!;
    return {
      partNumber: number,
      name,
      description: '',
      revision: '',
      source: null,
      shape: shape === null ? null : shapeKey(shape, writer),
      properties: { Material: { value: material } },
      usages: shuffled([...contents]).map(({ child, label, at, turned }) => {
        const placement = [...(turned ? ABOUT_Z : UPRIGHT)];
        at.forEach((value, axis) => (placement[axis * 4 + 3] = value + noise()));
        return { key: NO_KEY, child: indexOf.get(child)!, label, quantity: 1, placement: placement as Placement };
      }),
    };
  });
  return { assembly: { version: 1, schema: 'test', sourceUnit: 'mm', ...keyGraph(drafts), findings: [] }, ids };
}

/** Prints of all shapes as writers write them: what one measures, the other measures but for noise. */
export function printsOf(machines: readonly Machine[], writers: readonly string[]): Map<ShapeKey, ShapePrint> {
  const prints = new Map<ShapeKey, ShapePrint>();
  for (const machine of machines)
    for (const { shape } of machine.values())
      for (const [at, writer] of writers.entries()) {
        if (shape === null) continue;
        const size = (1000 + shape) * (1 + at * 1e-8);
        prints.set(shapeKey(shape, writer), {
          volume: size,
          area: size * 2,
          centroid: [shape % 7, at * 1e-5, 0],
          principal: [size * 3, size * 4, size * 5],
          corner: [(shape % 7) - size / 3, 0, 0],
          box: [size, 1, 1],
        });
      }
  return prints;
}
