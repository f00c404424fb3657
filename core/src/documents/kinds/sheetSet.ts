import {
  noTitleFields,
  type DimensionLook,
  type Projection,
  type SheetSet,
  type TitleBlock,
  type TitleFields,
} from '../../sheets/index.ts';
import type { Pose } from '../../poses/index.ts';
import { changeFields, refused, type Applied, type Refused } from './applied.ts';

export type SheetSetCommand =
  | { readonly kind: 'setSharedField'; readonly field: keyof TitleFields; readonly value: string }
  /** Where projected views stand from now on. */
  | { readonly kind: 'setProjection'; readonly projection: Projection }
  /** Further fields and revisions of every title block; null takes them away. */
  | { readonly kind: 'setTitleBlock'; readonly block: TitleBlock | null }
  /** How dimensions say lengths; null as usual. */
  | { readonly kind: 'setDimensionLook'; readonly look: DimensionLook | null }
  /** Which revision is the project's; null for its first. */
  | { readonly kind: 'showRevision'; readonly revision: string | null }
  /** Document ids of all sheets in their new order. */
  | { readonly kind: 'orderSheets'; readonly order: readonly string[] }
  /** Adds a pose, or replaces the one with its id; behind the others where `at` is absent. */
  | { readonly kind: 'putPose'; readonly pose: Pose; readonly at?: number }
  /** Views in it show the machine as assembled. */
  | { readonly kind: 'removePose'; readonly id: string };

export const newSheetSet: SheetSet = { version: 1, fields: noTitleFields, order: [] };

export function applySheetSetCommand(
  set: SheetSet,
  command: SheetSetCommand,
): Applied<SheetSet, SheetSetCommand> | Refused {
  const done = (changed: Partial<SheetSet>, inverse: SheetSetCommand) => ({
    ok: true as const,
    document: { ...set, ...changed },
    inverse,
  });
  switch (command.kind) {
    case 'setProjection':
      return done({ projection: command.projection }, { kind: 'setProjection', projection: set.projection ?? 'first' });
    case 'setTitleBlock': {
      const { changed, before } = changeFields<SheetSet>(set, { block: command.block });
      return { ok: true, document: changed, inverse: { kind: 'setTitleBlock', block: before.block ?? null } };
    }
    case 'setDimensionLook': {
      const { changed, before } = changeFields<SheetSet>(set, { dimensionLook: command.look });
      return {
        ok: true,
        document: changed,
        inverse: { kind: 'setDimensionLook', look: before.dimensionLook ?? null },
      };
    }
    case 'showRevision': {
      const { changed, before } = changeFields<SheetSet>(set, { revision: command.revision });
      return { ok: true, document: changed, inverse: { kind: 'showRevision', revision: before.revision ?? null } };
    }
    case 'orderSheets':
      return done({ order: command.order }, { kind: 'orderSheets', order: set.order });
    case 'setSharedField':
      return done(
        { fields: { ...set.fields, [command.field]: command.value } },
        { kind: 'setSharedField', field: command.field, value: set.fields[command.field] },
      );
  }
  const { poses = [] } = set;
  const id = command.kind === 'putPose' ? command.pose.id : command.id;
  const was = poses.findIndex((pose) => pose.id === id);
  const without = poses.filter((pose) => pose.id !== id);
  const back: SheetSetCommand = was < 0 ? { kind: 'removePose', id } : { kind: 'putPose', pose: poses[was], at: was };
  if (command.kind === 'removePose')
    return was < 0 ? refused('That pose is no longer there.') : done({ poses: without }, back);
  if (command.pose.name.trim() === '') return refused('A pose needs a name.');
  const at = command.at ?? (was < 0 ? without.length : was);
  return done({ poses: without.toSpliced(at, 0, command.pose) }, back);
}

export function sheetSetTouches(command: SheetSetCommand): string[] {
  switch (command.kind) {
    case 'setProjection':
      return ['projection'];
    case 'setTitleBlock':
      return ['title block'];
    case 'setDimensionLook':
      return ['dimension look'];
    case 'showRevision':
      return ['revision'];
    case 'orderSheets':
      return ['order'];
    case 'setSharedField':
      return [`field ${command.field}`];
    case 'putPose':
      return [`pose ${command.pose.id}`];
    case 'removePose':
      return [`pose ${command.id}`];
  }
}
