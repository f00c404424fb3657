import type { PathKey } from '../../assembly/index.ts';
import type { Mesh, Vec2, Vec3 } from '../../geometry/index.ts';
import { cutMesh, notCutLengthwise, ownCut, type Cut, type CutShape } from '../../sections/index.ts';
import type { Body } from '../records.ts';

/** A piece of a view in which something else is taken away than around it. */
export interface Pane {
  /** In machine coordinates, one after the other. */
  readonly cuts: readonly Cut[];
  /** Around the piece: closed, does not cross itself; on the view plane, mm. Absent where `beyond` says which piece. */
  readonly border?: readonly Vec2[];
  /** All that lies beyond a line across the view plane that goes through a point, the way that this unit vector says. */
  readonly beyond?: { readonly from: Vec2; readonly way: Vec2 };
  /** In it, the machine is looked at turned about an axis; cuts are those of the machine as it stands. */
  readonly turned?: Turned;
}
/** About the axis through a point along a unit vector, anticlockwise seen against that; machine coordinates, radian. */
export interface Turned {
  readonly about: Vec3;
  readonly along: Vec3;
  readonly by: number;
}

/** What a view takes away of a machine. */
export interface LookCut {
  /** In machine coordinates, one after the other. */
  readonly cuts: readonly Cut[];
  /** Pieces of the view in which these are taken away instead; later ones lie over earlier ones. */
  readonly panes?: readonly Pane[];
  /** Whether shafts, screws and their like are shown whole where a plane goes along them; see notCutLengthwise. */
  readonly lengthwise?: true;
  /** Places that are shown whole, whatever they are. */
  readonly whole?: readonly PathKey[];
  /** Places that are cut, whatever they are. */
  readonly through?: readonly PathKey[];
}

/** What is left of a machine. */
export function bodiesLeft(bodies: readonly Body[], { cuts, lengthwise, whole = [], through = [] }: LookCut): Body[] {
  const proposed = lengthwise ? notCutLengthwise(bodies, cuts) : new Set<number>();
  const said = new Map([
    ...whole.map((path) => [path, true] as const),
    ...through.map((path) => [path, false] as const),
  ]);
  return cutBodies(bodies, cuts, (index) => said.get(bodies[index].path) ?? proposed.has(index));
}

/** Planes closer than this are one, so that equal things cut alike are cut once; mm, and as a share of a turn. */
const SAME_PLANE = 1e-9;

/**
 * What is left of bodies where matter was taken away; those of which nothing is left are no more.
 * @param cuts in machine coordinates, one after the other
 * @param isWhole tells of a body, by its index, whether it stays as it is, unless all of it lies within the cuts
 */
export function cutBodies(
  bodies: readonly Body[],
  cuts: readonly Cut[],
  isWhole: (index: number) => boolean = () => false,
): Body[] {
  const made = new Map<Mesh, Map<string, CutShape | null>>();
  return bodies.flatMap((body, index): Body[] => {
    const own = cuts.map((cut) => ownCut(cut, body.placement));
    const name = JSON.stringify(
      own.map((cut) => cut.map(({ normal, offset }) => [...normal, offset].map((one) => Math.round(one / SAME_PLANE)))),
    );
    let known = made.get(body.mesh);
    if (!known) made.set(body.mesh, (known = new Map()));
    let shape = known.get(name);
    if (shape === undefined) known.set(name, (shape = cutMesh(body.mesh, own)));
    if (shape === null) return [];
    if (shape.mesh === body.mesh) return [body];
    if (isWhole(index)) return [{ ...body, leftWhole: true }];
    const { mesh, ...cut } = shape;
    return [{ ...body, mesh, cut: { ...cut, whole: body.mesh } }];
  });
}
