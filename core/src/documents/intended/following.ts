import { ownValue, pathKey, pathOf, type PathKey, type PropertyValue } from '../../assembly/index.ts';
import type { Address, Bill } from '../../bill/index.ts';
import type { Pose } from '../../poses/index.ts';
import { placesMoved } from '../../revisions/index.ts';
import type { DimensionPoint, Sheet, SheetDimension } from '../../sheets/index.ts';
import { applyBillCommand, type BillCommand, type BillDocument } from '../kinds/bill.ts';
import { applyComponentCommand, type ComponentEdits, type ComponentCommand } from '../kinds/components.ts';
import type { ProjectState } from '../project/projectState.ts';

/** A state in which everything that named a place names it where it is now. */
export interface Followed {
  readonly state: ProjectState;
  /** For the component edits. */
  readonly edits: readonly ComponentCommand[];
}

/**
 * Things that stand where they stood, but in another subassembly: what was said of their places, measured on them, shown
 * or moved away there goes with them. The earlier places keep what was said of them, for sheets that show the earlier
 * revision.
 */
export function followed(state: ProjectState): Followed {
  const { earlier, original, sheets, set, edits } = state;
  if (!earlier) return { state, edits: [] };
  const moved = placesMoved(earlier.original, original, [
    ...sheets.flatMap(({ content }) => placesOn(content)),
    ...(set.content.poses ?? []).flatMap(({ moves }) => moves.map(({ path }) => path)),
    ...placesIn(edits),
  ]);
  if (moved.size === 0) return { state, edits: [] };
  const at = (path: PathKey): PathKey => moved.get(path) ?? path;
  const commands = editsFollowing(edits, moved);
  const { poses } = set.content;
  return {
    state: {
      ...state,
      edits: commands.reduce(applied, edits),
      sheets: sheets.map(({ id, content }) => ({ id, content: sheetFollowing(content, at) })),
      set: poses ? { ...set, content: { ...set.content, poses: poses.map((pose) => poseFollowing(pose, at)) } } : set,
    },
    edits: commands,
  };
}

function applied(edits: ComponentEdits, command: ComponentCommand): ComponentEdits {
  const done = applyComponentCommand(edits, command);
  return done.ok ? done.document : edits;
}

const pointsOf = (dimension: SheetDimension): readonly DimensionPoint[] =>
  dimension.kind === 'distance'
    ? [dimension.from, dimension.to]
    : dimension.kind === 'diameter'
      ? [dimension.from]
      : [];

/** Places that a sheet names, but for those of balloons: these name parts. */
const placesOn = ({ views, notes, dimensions = [] }: Sheet): PathKey[] => [
  ...views.flatMap(({ without = [], only = [] }) => [...without, ...only]),
  ...notes.flatMap(({ leader }) => (leader ? [pathKey(leader.point.path)] : [])),
  ...dimensions.flatMap(pointsOf).map(({ path }) => pathKey(path)),
];

function sheetFollowing(sheet: Sheet, at: (path: PathKey) => PathKey): Sheet {
  const point = (one: DimensionPoint): DimensionPoint => ({ ...one, path: pathOf(at(pathKey(one.path))) });
  return {
    ...sheet,
    views: sheet.views.map((view) => ({
      ...view,
      ...(view.without ? { without: view.without.map(at) } : {}),
      ...(view.only ? { only: view.only.map(at) } : {}),
    })),
    notes: sheet.notes.map((note) =>
      note.leader ? { ...note, leader: { ...note.leader, point: point(note.leader.point) } } : note,
    ),
    ...(sheet.dimensions
      ? {
          dimensions: sheet.dimensions.map((one) =>
            one.kind === 'distance'
              ? { ...one, from: point(one.from), to: point(one.to) }
              : one.kind === 'diameter'
                ? { ...one, from: point(one.from) }
                : one,
          ),
        }
      : {}),
  };
}

/** The same pose where nothing of it is elsewhere. */
function poseFollowing(pose: Pose, at: (path: PathKey) => PathKey): Pose {
  return pose.moves.some(({ path }) => at(path) !== path)
    ? { ...pose, moves: pose.moves.map((move) => ({ ...move, path: at(move.path) })) }
    : pose;
}

const placesIn = ({ placeTreatments, typedAt, variants }: ComponentEdits): PathKey[] => [
  ...(Object.keys(placeTreatments) as PathKey[]),
  ...(Object.keys(typedAt) as PathKey[]),
  ...Object.values(variants).flatMap(({ withoutPlaces }) => withoutPlaces),
];

function editsFollowing(edits: ComponentEdits, moved: ReadonlyMap<PathKey, PathKey>): ComponentCommand[] {
  const places: Record<PathKey, (typeof edits.placeTreatments)[PathKey]> = {};
  const values = new Map<string, Record<PathKey, PropertyValue>>();
  for (const [from, to] of moved) {
    const treatment = ownValue(edits.placeTreatments, from);
    if (treatment && !ownValue(edits.placeTreatments, to)) places[to] = treatment;
    const known = ownValue(edits.typedAt, to) ?? {};
    for (const [name, value] of Object.entries(ownValue(edits.typedAt, from) ?? {}))
      if (!ownValue(known, name)) values.set(name, { ...values.get(name), [to]: value });
  }
  return [
    ...(Object.keys(places).length > 0 ? [{ kind: 'setTreatments', components: {}, places } as const] : []),
    ...[...values].map(([name, at]) => ({ kind: 'typeValues', name, components: {}, places: at }) as const),
    ...Object.entries(edits.variants).flatMap(([id, variant]) => {
      const more = variant.withoutPlaces
        .flatMap((path) => moved.get(path) ?? [])
        .filter((path) => !variant.withoutPlaces.includes(path));
      return more.length > 0
        ? [
            {
              kind: 'setVariant',
              id,
              variant: { ...variant, withoutPlaces: [...variant.withoutPlaces, ...more] },
            } as const,
          ]
        : [];
    }),
  ];
}

/**
 * Lines of a list by levels that stand under another parent: the address that they had and the one that they have. One of
 * several of a part takes that of one of several.
 */
function addressesMoved(before: Bill, after: Bill): Map<Address, Address> {
  const inParent = ({ rows }: Bill) =>
    new Set(rows.flatMap(({ addresses }) => addresses.filter((address) => address.includes('@'))));
  const [had, has] = [inParent(before), inParent(after)];
  const componentIn = (address: Address) => address.slice(0, address.indexOf('@'));
  const gained = new Map<string, Address[]>();
  for (const address of has)
    if (!had.has(address)) gained.set(componentIn(address), [...(gained.get(componentIn(address)) ?? []), address]);
  const moved = new Map<Address, Address>();
  for (const address of had) {
    const to = has.has(address) ? undefined : gained.get(componentIn(address))?.shift();
    if (to) moved.set(address, to);
  }
  return moved;
}

/**
 * What takes typed texts and choices along to lines that stand under another parent. The earlier addresses keep theirs,
 * for sheets that show the earlier revision. Numbers do not go along: they count within their parent.
 */
export function billFollowing(bill: BillDocument, before: Bill, after: Bill): BillCommand[] {
  const moved = addressesMoved(before, after);
  const taken = <Content>(kept: Readonly<Record<Address, Content>>): Record<Address, Content> | null => {
    const entries = [...moved].flatMap(([from, to]) => {
      const content = ownValue(kept, from);
      return content !== undefined && ownValue(kept, to) === undefined ? [[to, content] as const] : [];
    });
    return entries.length > 0 ? (Object.fromEntries(entries) as Record<Address, Content>) : null;
  };
  const cells = taken(bill.overrides),
    closed = taken(bill.recipe.closed ?? {}),
    joins = taken(bill.joins),
    apart = taken(bill.apart);
  return [
    ...(cells ? [{ kind: 'typeCells', cells } as const] : []),
    ...(closed ? [{ kind: 'changeRecipe', change: { closed: { ...bill.recipe.closed, ...closed } } } as const] : []),
    ...(joins || apart ? [{ kind: 'decideLines', joins: joins ?? {}, apart: apart ?? {} } as const] : []),
  ];
}

/** The bill after commands that it does not refuse. */
export const billAfter = (bill: BillDocument, commands: readonly BillCommand[]): BillDocument =>
  commands.reduce((now, command) => {
    const done = applyBillCommand(now, command);
    return done.ok ? done.document : now;
  }, bill);
