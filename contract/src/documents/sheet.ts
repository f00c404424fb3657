import * as v from 'valibot';
import {
  arrangements,
  BALLOON_DISTANCE_RANGE,
  balloonShapes,
  leaderMarks,
  type Balloon,
} from '../../../core/src/balloons/index.ts';
import type { SheetCommand, SheetSetCommand } from '../../../core/src/documents/index.ts';
import {
  dimensionDirections,
  MOST_FURTHER,
  MOST_LISTS,
  MOST_RAILS,
  MOST_TYPED,
  MOST_REVISIONS,
  MOST_PIECES,
  MOST_VIEWS,
  OWN_SIDES,
  paperNames,
  projections,
  tablePlaces,
  titleFieldNames,
  type Section,
  type Sheet,
  type SheetSet,
  type SheetStyle,
  type SheetTable,
  type SheetView,
  type TitleFields,
} from '../../../core/src/sheets/index.ts';
import {
  CHARACTERS_RANGE,
  INDENT_RANGE,
  LETTERING_RANGE,
  overflows,
  PADDING_RANGE,
  PEN_RANGE,
  PICTURE_RANGE,
  PITCH_RANGE,
  rowDirections,
  SHARE_RANGE,
  tableHeadings,
  TOTAL_WIDTH_RANGE,
  uprights,
  WIDTH_RANGE,
} from '../../../core/src/tables/index.ts';
import { MOST_CORNERS, MOST_CUTS, MOST_PLANES, pathFault } from '../../../core/src/sections/index.ts';
import { MOST_MOVES, type Pose } from '../../../core/src/poses/index.ts';
import {
  directionNames,
  isTurn,
  projectionSides,
  shadings,
  tangentLooks,
  type Direction,
} from '../../../core/src/views/index.ts';
import {
  finite,
  holds,
  columnId,
  componentKey,
  id,
  listOf,
  longText,
  nullable,
  pathKey,
  shortText,
  usageKey,
  whole,
  type Same,
} from './shared.ts';

/** 100 m. */
const MOST_ON_PAPER = 1e5;
const within = (most: number) => v.pipe(finite, v.minValue(-most), v.maxValue(most));
/** Places on paper, or ways on it: mm. Beyond that nothing is seen, and files cannot say it. */
const reach = within(MOST_ON_PAPER);
const point = v.tuple([reach, reach]);
/** On the view plane of a machine: mm. */
const viewPoint = v.tuple([within(1e7), within(1e7)]);
const side = v.pipe(finite, v.minValue(OWN_SIDES.leastBlank), v.maxValue(OWN_SIDES.most));
const paper = v.pipe(
  v.strictObject({
    size: v.picklist([...paperNames, 'own']),
    landscape: v.boolean(),
    sides: v.optional(v.tuple([side, side])),
    blank: v.optional(v.literal(true)),
  }),
  v.check(
    ({ size, sides, blank }) =>
      size !== 'own' || blank === true || (sides !== undefined && Math.min(...sides) >= OWN_SIDES.leastFramed),
    `A sheet of one's own with a title block is at least ${OWN_SIDES.leastFramed} mm wide and high.`,
  ),
  v.check(({ sides }) => sides === undefined || sides[0] <= sides[1], 'The shorter side comes first.'),
);
const scale = v.pipe(finite, v.minValue(1e-6), v.maxValue(1e6));
const turn = v.pipe(
  v.strictTuple([finite, finite, finite, finite, finite, finite, finite, finite, finite]),
  v.check((numbers) => isTurn(numbers), 'These are no three unit vectors at right angles.'),
);
/** Where a view is seen from: by name, or as turned. */
export const direction = v.union([v.picklist(directionNames), turn]);
holds<Same<typeof direction, Direction>>();
const places = listOf(pathKey, 10_000);
/** A way of a thing from its seat; a machine is not taken apart over kilometres. */
const step = v.pipe(finite, v.minValue(-1e7), v.maxValue(1e7));
/** What has left its seat. */
export const moves = listOf(
  v.strictObject({
    path: pathKey,
    steps: listOf(v.tuple([step, step, step]), 20, 1),
  }),
  MOST_MOVES,
);
const pose = v.strictObject({ id, name: shortText, moves });
holds<Same<typeof pose, Pose>>();

/** Places with the number of a feature behind them. */
const axisNames = listOf(v.pipe(v.string(), v.maxLength(20_000)), 10_000);
/** A way on paper; mm. */
const onPaper = v.pipe(finite, v.minValue(-1e4), v.maxValue(1e4));
const halfSide = v.pipe(finite, v.minValue(1e-3), v.maxValue(1e7));
/** What of the machine a view shows, from where. */
export const shownFields = {
  direction,
  without: v.optional(places),
  only: v.optional(places),
  pose: v.optional(id),
  hidden: v.optional(v.literal(true)),
  shade: v.optional(v.picklist(shadings)),
};
const unit = v.pipe(
  v.tuple([within(1.01), within(1.01), within(1.01)]),
  v.check(([x, y, z]) => Math.abs(Math.hypot(x, y, z) - 1) < 1e-3, 'This is no unit vector.'),
);
const machinePoint = v.tuple([within(1e7), within(1e7), within(1e7)]);
/** Matter that is taken away: all that lies on these sides of all of these planes. */
const cut = listOf(v.strictObject({ normal: unit, offset: within(1e8) }), MOST_PLANES, 1);
export const cuts = listOf(cut, MOST_CUTS);
const MOST_BORDER_CORNERS = 256;
/** A point of a view plane. */
const planePoint = v.tuple([within(1e8), within(1e8)]);
/** Pieces of a view in which something else is taken away, see Pane of core/views. */
export const panes = listOf(
  v.pipe(
    v.strictObject({
      cuts,
      border: v.optional(listOf(planePoint, MOST_BORDER_CORNERS, 3)),
      beyond: v.optional(
        v.strictObject({
          from: planePoint,
          way: v.pipe(
            v.tuple([within(1.01), within(1.01)]),
            v.check(([x, y]) => Math.abs(Math.hypot(x, y) - 1) < 1e-3, 'This is no unit vector.'),
          ),
        }),
      ),
      turned: v.optional(v.strictObject({ about: machinePoint, along: unit, by: within(7) })),
    }),
    v.check(({ border, beyond }) => (border === undefined) !== (beyond === undefined), 'A piece has one border.'),
  ),
  MOST_PIECES,
);
export const parts = listOf(componentKey, 10_000);
const path = v.pipe(
  v.strictObject({
    points: listOf(machinePoint, MOST_CORNERS, 2),
    along: unit,
    towards: unit,
    aligned: v.optional(v.literal(true)),
  }),
  v.rawCheck(({ dataset, addIssue }) => {
    const fault = dataset.typed ? pathFault(dataset.value) : null;
    if (fault) addIssue({ message: fault });
  }),
);
/** What a view takes away. */
export const section = v.pipe(
  v.strictObject({
    letter: v.pipe(v.string(), v.maxLength(4)),
    of: v.optional(id),
    path: v.optional(path),
    cuts: v.optional(cuts),
    pieces: v.optional(
      listOf(v.strictObject({ at: machinePoint, half: v.tuple([halfSide, halfSide]) }), MOST_PIECES, 1),
    ),
    cutsAll: v.optional(v.literal(true)),
    whole: v.optional(parts),
    through: v.optional(parts),
    byMaterial: v.optional(v.boolean()),
    unhatched: v.optional(v.literal(true)),
  }),
  v.check(
    ({ path: line, cuts: planes, pieces }) => [line, planes, pieces].filter(Boolean).length <= 1,
    'A section is cut along a line, by planes or in pieces, not in two of these ways.',
  ),
);
holds<Same<typeof section, Section>>();
const viewFields = {
  ...shownFields,
  section: v.optional(section),
  scale,
  notToScale: v.optional(v.literal(true)),
  centre: viewPoint,
  tangent: v.optional(v.picklist(tangentLooks)),
  pathLines: v.optional(v.literal(true)),
  projectedFrom: v.optional(v.strictObject({ of: id, side: v.picklist(projectionSides) })),
  detail: v.optional(
    v.strictObject({
      of: id,
      letter: v.pipe(v.string(), v.minLength(1), v.maxLength(4)),
      centre: viewPoint,
      radius: v.pipe(finite, v.minValue(1e-3), v.maxValue(1e7)),
      half: v.optional(v.tuple([halfSide, halfSide])),
    }),
  ),
  centreLines: v.optional(
    v.strictObject({
      smallest: v.pipe(finite, v.minValue(0), v.maxValue(1e4)),
      off: v.optional(axisNames),
      on: v.optional(axisNames),
    }),
  ),
  caption: v.optional(shortText),
  captionBy: v.optional(v.tuple([onPaper, onPaper])),
  group: v.optional(shortText),
  byHand: v.boolean(),
};
const view = v.strictObject({
  id,
  ...viewFields,
  turn: v.optional(within(1e4)),
});
const between = ([least, most]: readonly [number, number]) => v.pipe(finite, v.minValue(least), v.maxValue(most));
const pen = between(PEN_RANGE);
const tableLook = {
  lettering: v.optional(between(LETTERING_RANGE)),
  headingLettering: v.optional(between(LETTERING_RANGE)),
  pitch: v.optional(between(PITCH_RANGE)),
  title: v.optional(shortText),
  heading: v.optional(v.picklist(tableHeadings)),
  rows: v.optional(v.picklist(rowDirections)),
  strips: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(50))),
  stripLines: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(10_000))),
  padding: v.optional(between(PADDING_RANGE)),
  boldRows: v.optional(v.literal(true)),
  plainHeading: v.optional(v.literal(true)),
  narrowRows: v.optional(v.literal(true)),
  narrowHeading: v.optional(v.literal(true)),
  pictures: v.optional(between(PICTURE_RANGE)),
  struckRetired: v.optional(v.literal(true)),
  indent: v.optional(between(INDENT_RANGE)),
  totalWidth: v.optional(between(TOTAL_WIDTH_RANGE)),
  pens: v.optional(v.strictObject({ frame: pen, heading: pen, rows: pen, columns: pen })),
};
const typedText = v.pipe(v.string(), v.maxLength(MOST_TYPED.letters));
const typed = v.pipe(
  v.strictObject({
    columns: listOf(v.strictObject({ id: columnId, heading: typedText }), MOST_TYPED.columns, 1),
    rows: listOf(v.array(typedText), MOST_TYPED.rows),
  }),
  v.check(
    ({ columns, rows }) => rows.every(({ length }) => length === columns.length),
    'Every row has a text for each column.',
  ),
);
const table = v.strictObject({
  id,
  bill: v.optional(id),
  place: v.picklist(tablePlaces),
  typed: v.optional(typed),
  onList: v.optional(id),
  onlyBallooned: v.optional(v.boolean()),
  at: v.optional(v.tuple([onPaper, onPaper])),
  look: v.optional(shortText),
  ...tableLook,
  columnWidths: v.optional(
    listOf(
      v.union([
        v.strictObject({ column: shortText, width: between(WIDTH_RANGE) }),
        v.strictObject({ column: shortText, characters: between(CHARACTERS_RANGE) }),
        v.strictObject({ column: shortText, share: between(SHARE_RANGE) }),
      ]),
      200,
    ),
  ),
  columnTexts: v.optional(
    listOf(
      v.strictObject({
        column: shortText,
        align: v.optional(v.picklist(['left', 'centre', 'right'])),
        headingAlign: v.optional(v.picklist(['left', 'centre', 'right'])),
        upright: v.optional(v.picklist(uprights)),
        overflow: v.optional(v.picklist(overflows)),
      }),
      200,
    ),
  ),
  lines: v.optional(
    v.strictObject({
      after: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1e6))),
      upTo: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1e6))),
    }),
  ),
  continuedFrom: v.optional(v.strictObject({ sheet: id, table: id })),
});
const balloonLettering = v.pipe(finite, v.minValue(0.5), v.maxValue(50)),
  balloonRadius = v.pipe(finite, v.minValue(0.5), v.maxValue(100));
/** Beside a balloon there is no room for a story. */
const besideText = v.pipe(v.string(), v.maxLength(40));
const balloonDress = {
  shape: v.optional(v.picklist(balloonShapes)),
  mark: v.optional(v.picklist(leaderMarks)),
  before: v.optional(besideText),
  after: v.optional(besideText),
};
export const balloonLook = v.strictObject({
  lettering: balloonLettering,
  radius: balloonRadius,
  ...balloonDress,
  fixed: v.optional(v.literal(true)),
  quantity: v.optional(v.literal(true)),
  columns: v.optional(v.strictObject({ above: v.optional(shortText), below: v.optional(shortText) })),
  arrangement: v.optional(v.picklist(arrangements)),
  distance: v.optional(between(BALLOON_DISTANCE_RANGE)),
});
/** Of a component, mm; a picture is drawn of it. */
const coordinate = within(1e9);
const balloon = v.strictObject({
  id,
  view: id,
  path: listOf(usageKey, 512),
  anchor: v.tuple([coordinate, coordinate, coordinate]),
  end: v.picklist(['dot', 'arrow']),
  offset: point,
  byHand: v.boolean(),
  also: v.optional(v.literal(true)),
  table: v.optional(id),
  look: v.optional(
    v.strictObject({
      lettering: v.optional(balloonLettering),
      radius: v.optional(balloonRadius),
      ...balloonDress,
    }),
  ),
  bends: v.optional(listOf(point, 20, 1)),
  stack: v.optional(id),
  rail: v.optional(id),
});
const rail = v.strictObject({ id, view: id, from: v.tuple([onPaper, onPaper]), to: v.tuple([onPaper, onPaper]) });
const dimensionPoint = v.strictObject({
  path: listOf(usageKey, 512),
  point: v.tuple([coordinate, coordinate, coordinate]),
});
const note = v.strictObject({
  id,
  at: point,
  width: v.pipe(finite, v.minValue(1), v.maxValue(2000)),
  lettering: v.pipe(finite, v.minValue(0.5), v.maxValue(200)),
  text: longText,
  leader: v.optional(v.strictObject({ view: id, point: dimensionPoint })),
});
const onView = { id, view: id, offset: v.pipe(finite, v.minValue(-1e5), v.maxValue(1e5)) };
const dimension = v.variant('kind', [
  v.strictObject({ kind: v.picklist(['width', 'height']), ...onView }),
  v.strictObject({
    kind: v.literal('distance'),
    ...onView,
    from: dimensionPoint,
    to: dimensionPoint,
    along: v.picklist(dimensionDirections),
  }),
  v.strictObject({
    kind: v.literal('diameter'),
    ...onView,
    from: dimensionPoint,
    radius: v.pipe(finite, v.minValue(0), v.maxValue(1e9)),
  }),
]);
const dimensionLook = v.strictObject({
  unit: v.picklist(['mm', 'in']),
  decimals: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(4)),
  comma: v.optional(v.literal(true)),
});
const sectionLook = v.strictObject({
  byMaterial: v.optional(v.literal(true)),
  pitch: v.pipe(finite, v.minValue(0.5), v.maxValue(3)),
  lettering: v.pipe(finite, v.minValue(1.8), v.maxValue(20)),
  arrows: v.picklist(['onto', 'off']),
});
const picture = v.strictObject({ id, box: v.tuple([reach, reach, reach, reach]), blob: shortText });
const field = v.picklist(titleFieldNames);
const titleFields = v.strictObject({
  title: shortText,
  drawingNumber: shortText,
  revision: shortText,
  owner: shortText,
  createdBy: shortText,
  approvedBy: shortText,
  date: shortText,
  documentType: shortText,
});

const logo = v.strictObject({
  blob: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)),
  ratio: v.pipe(finite, v.minValue(0.04), v.maxValue(25)),
});
const titleBlock = v.strictObject({
  further: v.pipe(
    listOf(v.strictObject({ id, label: shortText, value: shortText }), MOST_FURTHER),
    v.check((list) => new Set(list.map((one) => one.id)).size === list.length, 'Two fields have one id.'),
  ),
  revisions: listOf(
    v.strictObject({ revision: shortText, text: shortText, date: shortText, by: shortText, of: v.optional(id) }),
    MOST_REVISIONS,
  ),
  logo: v.optional(logo),
});

/** What of sheets a house style says. */
export const sheetStyleSchema = v.strictObject({
  paper: v.optional(paper),
  projection: v.optional(v.picklist(projections)),
  owner: v.optional(shortText),
  further: v.optional(titleBlock.entries.further),
  logo: v.optional(logo),
  dimensionLook: v.optional(dimensionLook),
  sectionLook: v.optional(sectionLook),
  list: v.optional(v.strictObject({ place: v.picklist(tablePlaces), ...tableLook })),
  balloons: v.optional(balloonLook),
});
holds<Same<typeof sheetStyleSchema, SheetStyle>>();

const clouds = v.strictObject({
  letter: v.pipe(v.string(), v.maxLength(12)),
  paths: listOf(pathKey, 10_000),
});
export const sheetSchema = v.strictObject({
  version: v.literal(2),
  name: shortText,
  paper,
  fields: v.partial(titleFields),
  further: v.optional(listOf(v.strictObject({ id, value: shortText }), MOST_FURTHER)),
  bill: v.optional(id),
  views: listOf(view, MOST_VIEWS),
  tables: listOf(table, MOST_LISTS),
  balloons: listOf(balloon, 5000),
  balloonLook,
  notes: listOf(note, 500),
  pictures: listOf(picture, 50),
  rails: v.optional(listOf(rail, MOST_RAILS)),
  dimensions: v.optional(listOf(dimension, 500)),
  away: v.optional(v.literal(true)),
  revision: v.optional(id),
  clouds: v.optional(clouds),
});
holds<Same<typeof view, SheetView>>();
holds<Same<typeof table, SheetTable>>();
holds<Same<typeof balloon, Balloon>>();
holds<Same<typeof titleFields, TitleFields>>();
holds<Same<typeof sheetSchema, Sheet>>();

const order = v.pipe(
  listOf(id, 1000),
  v.check((ids) => new Set(ids).size === ids.length, 'One sheet cannot stand at two places.'),
);
/** What the sheets of a project share. */
export const sheetSetSchema = v.strictObject({
  version: v.literal(1),
  fields: titleFields,
  order,
  revision: v.optional(id),
  projection: v.optional(v.picklist(projections)),
  dimensionLook: v.optional(dimensionLook),
  sectionLook: v.optional(sectionLook),
  block: v.optional(titleBlock),
  poses: v.optional(listOf(pose, 50)),
});
holds<Same<typeof sheetSetSchema, SheetSet>>();

/** Nothing is taken that the record has room for and the program does not draw yet: it would be there unseen. */
const drawn = <Schema extends v.GenericSchema<object, object>>(schema: Schema, ...notYet: readonly string[]) =>
  v.pipe(
    schema,
    v.check(
      (value) => notYet.every((key) => !(key in value)),
      ({ input }) => `${notYet.filter((key) => key in input).join(', ')}: this program does not draw it yet.`,
    ),
  );
const drawnTable = drawn(table, 'continuedFrom');
const drawnBalloon = drawn(balloon, 'table');
const ids = listOf(id, 5000);

/** What can be done to a sheet. */
export const sheetCommandSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('setPaper'), paper }),
  v.strictObject({ kind: v.literal('setField'), field, value: v.nullable(shortText) }),
  v.strictObject({ kind: v.literal('setFurther'), id, value: v.nullable(shortText) }),
  v.strictObject({ kind: v.literal('renameSheet'), name: shortText }),
  v.strictObject({ kind: v.literal('setAway'), away: v.boolean() }),
  v.strictObject({ kind: v.literal('setBill'), bill: v.nullable(id) }),
  v.strictObject({ kind: v.literal('showRevision'), revision: v.nullable(id) }),
  v.strictObject({ kind: v.literal('setClouds'), clouds: v.nullable(clouds) }),
  v.strictObject({
    kind: v.literal('addView'),
    view: drawn(view, 'turn'),
    at: v.optional(whole),
  }),
  v.strictObject({ kind: v.literal('removeView'), id }),
  v.strictObject({ kind: v.literal('changeView'), id, change: nullable(viewFields) }),
  v.strictObject({
    kind: v.literal('changeTables'),
    remove: ids,
    put: listOf(drawnTable, MOST_LISTS),
  }),
  v.strictObject({ kind: v.literal('changeNotes'), remove: ids, put: listOf(note, 500) }),
  v.strictObject({
    kind: v.literal('changeDimensions'),
    remove: ids,
    put: listOf(dimension, 500),
  }),
  v.strictObject({ kind: v.literal('changeRails'), remove: ids, put: listOf(rail, MOST_RAILS) }),
  v.strictObject({ kind: v.literal('setBalloonLook'), look: balloonLook }),
  v.strictObject({
    kind: v.literal('changeBalloons'),
    remove: ids,
    put: listOf(drawnBalloon, 5000),
  }),
]);
holds<Same<typeof sheetCommandSchema, SheetCommand>>();

/** What can be done to the set. */
export const sheetSetCommandSchema = v.variant('kind', [
  v.strictObject({ kind: v.literal('setSharedField'), field, value: shortText }),
  v.strictObject({ kind: v.literal('setProjection'), projection: v.picklist(projections) }),
  v.strictObject({ kind: v.literal('showRevision'), revision: v.nullable(id) }),
  v.strictObject({ kind: v.literal('setTitleBlock'), block: v.nullable(titleBlock) }),
  v.strictObject({ kind: v.literal('setDimensionLook'), look: v.nullable(dimensionLook) }),
  v.strictObject({ kind: v.literal('setSectionLook'), look: v.nullable(sectionLook) }),
  v.strictObject({ kind: v.literal('orderSheets'), order }),
  v.strictObject({ kind: v.literal('putPose'), pose, at: v.optional(whole) }),
  v.strictObject({ kind: v.literal('removePose'), id }),
]);
holds<Same<typeof sheetSetCommandSchema, SheetSetCommand>>();

const PAPER_FIELDS = new Set(['offset', 'at', 'bends', 'box']);
/**
 * A sheet that was stored when its numbers had no bounds: what lies beyond them lies at them. Nobody has seen it there.
 */
export function withinBounds(value: unknown, most = 1e9): unknown {
  if (typeof value === 'number') return Math.max(-most, Math.min(most, value));
  if (Array.isArray(value)) return value.map((one) => withinBounds(one, most));
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value).map(([name, inner]) => [
      name,
      withinBounds(inner, PAPER_FIELDS.has(name) ? MOST_ON_PAPER : name === 'centre' ? 1e7 : most),
    ]),
  );
}
