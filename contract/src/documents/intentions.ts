import * as v from 'valibot';
import type { Intention } from '../../../core/src/documents/index.ts';
import { sheetKinds } from '../../../core/src/sheets/index.ts';
import { billCommandSchema, ruleGroup } from './bill.ts';
import { balloonLook, section, shownFields } from './sheet.ts';
import {
  address,
  componentKey,
  holds,
  columnId,
  id,
  listOf,
  longText,
  propertyName,
  shortText,
  type Same,
} from './shared.ts';

/** What is meant by a gesture, where more follows from it than one command says. */
export const intentionSchema = v.variant('kind', [
  v.strictObject({
    kind: v.literal('changeBill'),
    bill: id,
    commands: listOf(billCommandSchema, 100, 1),
  }),
  v.strictObject({
    kind: v.literal('typeCells'),
    bill: id,
    cells: listOf(v.strictObject({ line: address, column: columnId, text: v.nullable(longText) }), 50_000, 1),
  }),
  v.strictObject({ kind: v.literal('joinLines'), bill: id, lines: listOf(address, 10_000) }),
  v.strictObject({ kind: v.literal('partLine'), bill: id, line: address }),
  v.strictObject({ kind: v.literal('mergeLine'), bill: id, line: address }),
  v.strictObject({ kind: v.literal('sayEverywhere'), bill: id, line: address, column: shortText }),
  v.strictObject({ kind: v.literal('showBill'), sheet: id, bill: id }),
  v.strictObject({
    kind: v.literal('placeBalloons'),
    sheet: id,
    look: v.optional(balloonLook),
    stacks: v.optional(v.literal(true)),
    without: v.optional(id),
    lines: v.optional(listOf(address, 5000)),
    filter: v.optional(ruleGroup),
  }),
  v.strictObject({
    kind: v.literal('proposePose'),
    every: v.exactOptional(v.literal(true)),
    pose: id,
    name: shortText,
    levels: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(100)),
    view: v.optional(v.strictObject({ sheet: id, view: id })),
  }),
  v.strictObject({
    kind: v.literal('takeOver'),
    revision: id,
    documents: listOf(id, 2000, 1),
    retire: v.boolean(),
    clouds: v.boolean(),
    line: v.nullable(v.strictObject({ revision: shortText, text: shortText, date: shortText, by: shortText })),
  }),
  v.strictObject({
    kind: v.literal('makeSet'),
    sheet: id,
    kinds: v.optional(listOf(v.picklist(sheetKinds), sheetKinds.length, 1)),
  }),
  v.strictObject({ kind: v.literal('divideList'), sheet: id, table: id }),
  v.strictObject({
    kind: v.literal('makePartSheets'),
    sheet: id,
    parts: listOf(componentKey, 100, 1),
    together: v.boolean(),
    column: v.nullable(propertyName),
  }),
  v.strictObject({
    kind: v.literal('makeDrawing'),
    sheet: id,
    views: listOf(v.strictObject({ ...shownFields, section: v.optional(section) }), 50, 1),
  }),
]);
holds<Same<typeof intentionSchema, Intention>>();
