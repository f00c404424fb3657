import {
  noTitleFields,
  type DimensionLook,
  type Projection,
  type SectionLook,
  type SheetSet,
  type TitleBlock,
  type TitleFields,
} from '../../sheets/index.ts';
import type { Pose } from '../../poses/index.ts';
import { done, refused, withFields, type CommandTable } from './applied.ts';

export type SheetSetCommand =
  | { readonly kind: 'setSharedField'; readonly field: keyof TitleFields; readonly value: string }
  /** Where projected views stand from now on. */
  | { readonly kind: 'setProjection'; readonly projection: Projection }
  /** Further fields and revisions of every title block; null takes them away. */
  | { readonly kind: 'setTitleBlock'; readonly block: TitleBlock | null }
  /** How dimensions say lengths; null as usual. */
  | { readonly kind: 'setDimensionLook'; readonly look: DimensionLook | null }
  /** How sections look; null as usual. */
  | { readonly kind: 'setSectionLook'; readonly look: SectionLook | null }
  /** Which revision is the project's; null for its first. */
  | { readonly kind: 'showRevision'; readonly revision: string | null }
  /** Document ids of all sheets in their new order. */
  | { readonly kind: 'orderSheets'; readonly order: readonly string[] }
  /** Adds a pose, or replaces the one with its id; behind the others where `at` is absent. */
  | { readonly kind: 'putPose'; readonly pose: Pose; readonly at?: number }
  /** Views in it show the machine as assembled. */
  | { readonly kind: 'removePose'; readonly id: string };

export const newSheetSet: SheetSet = { version: 1, fields: noTitleFields, order: [] };

/** Poses without the one of this id, where it stood, and the command that brings it back there. */
function withoutPose({ poses = [] }: SheetSet, id: string) {
  const was = poses.findIndex((pose) => pose.id === id);
  const back: SheetSetCommand = was < 0 ? { kind: 'removePose', id } : { kind: 'putPose', pose: poses[was], at: was };
  return { was, back, others: poses.filter((pose) => pose.id !== id) };
}

export const sheetSetCommands: CommandTable<SheetSet, SheetSetCommand> = {
  setSharedField: {
    apply: (set, { field, value }) =>
      done(
        set,
        { fields: { ...set.fields, [field]: value } },
        { kind: 'setSharedField', field, value: set.fields[field] },
      ),
    words: () => 'text of all title blocks',
    touches: ({ field }) => [`field ${field}`],
  },
  setProjection: {
    apply: (set, { projection }) =>
      done(set, { projection }, { kind: 'setProjection', projection: set.projection ?? 'first' }),
    words: ({ projection }) => `${projection} angle`,
    touches: () => ['projection'],
  },
  setTitleBlock: {
    apply: (set, { block }) => withFields(set, { block }, { kind: 'setTitleBlock', block: set.block ?? null }),
    words: () => 'title block of the set',
    touches: () => ['title block'],
  },
  setDimensionLook: {
    apply: (set, { look }) =>
      withFields(set, { dimensionLook: look }, { kind: 'setDimensionLook', look: set.dimensionLook ?? null }),
    words: () => 'look of dimensions',
    touches: () => ['dimension look'],
  },
  setSectionLook: {
    apply: (set, { look }) =>
      withFields(set, { sectionLook: look }, { kind: 'setSectionLook', look: set.sectionLook ?? null }),
    words: () => 'look of sections',
    touches: () => ['section look'],
  },
  showRevision: {
    apply: (set, { revision }) =>
      withFields(set, { revision }, { kind: 'showRevision', revision: set.revision ?? null }),
    words: () => 'revision of the project',
    touches: () => ['revision'],
  },
  orderSheets: {
    apply: (set, { order }) => done(set, { order }, { kind: 'orderSheets', order: set.order }),
    words: () => 'order of the sheets',
    touches: () => ['order'],
  },
  putPose: {
    apply: (set, { pose, at }) => {
      const { was, back, others } = withoutPose(set, pose.id);
      if (pose.name.trim() === '') return refused('A pose needs a name.');
      return done(set, { poses: others.toSpliced(at ?? (was < 0 ? others.length : was), 0, pose) }, back);
    },
    words: ({ pose }) => `pose ${pose.name}`,
    touches: ({ pose }) => [`pose ${pose.id}`],
  },
  removePose: {
    apply: (set, { id }) => {
      const { was, back, others } = withoutPose(set, id);
      return was < 0 ? refused('That pose is no longer there.') : done(set, { poses: others }, back);
    },
    words: () => 'take a pose away',
    touches: ({ id }) => [`pose ${id}`],
  },
};
