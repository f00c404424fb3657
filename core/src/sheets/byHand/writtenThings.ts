import { ASIDE } from './balloonThings.ts';
import { idsOf, plus, type KindOfThing, type PlacedThing } from './thing.ts';
import { keepOnPaper } from '../paper/paper.ts';

/** The title block: it stays where it is. */
export const titleBlockThing: KindOfThing<'titleBlock'> = {
  called: 'title block',
  about: 'titleBlock',
  placed: ({ layout }, paper) =>
    paper.blank ? [] : [{ thing: { kind: 'titleBlock', id: 'titleBlock' }, box: layout.titleBlock }],
  isPickedAlone: true,
};

/** A note; it stays on the paper. */
export const noteThing: KindOfThing<'note'> = {
  called: 'note',
  about: 'note',
  placed: ({ notes }) => notes.map(({ note: { id }, box }) => ({ thing: { kind: 'note', id }, box })),
  isAligned: true,
  clashes: ['titleBlock', 'table', 'note', 'view', 'balloon'],
  moving: 'move note',
  move: (sheet, moves) => ({
    ...sheet,
    notes: sheet.notes.map((note) => {
      const move = moves.find(({ thing }) => thing.id === note.id);
      return move ? { ...note, at: keepOnPaper(sheet.paper, plus(note.at, move.by)) } : note;
    }),
  }),
  remove: (sheet, things) => {
    const gone = idsOf(things);
    return { ...sheet, notes: sheet.notes.filter(({ id }) => !gone.has(id)) };
  },
  copy: ({ notes }, isPicked) => ({ notes: notes.filter(({ id }) => isPicked('note', id)) }),
  paste: ({ notes }, { sheet, newId, aside }) => ({
    notes: notes.map((note) => ({
      ...note,
      id: newId(),
      at: aside(
        note.at,
        sheet.notes.map(({ at }) => at),
      ),
    })),
  }),
};

/** A reference dimension: it moves across its line only, and along with its view. */
export const dimensionThing: KindOfThing<'dimension'> = {
  called: 'dimension',
  about: 'dimension',
  placed: ({ layout }) =>
    layout.dimensions.flatMap(({ dimension: { id }, box, outline, value }): PlacedThing[] =>
      value === null ? [] : [{ thing: { kind: 'dimension', id }, box, outline }],
    ),
  clashes: ['titleBlock', 'table', 'note', 'balloon'],
  moving: 'move dimension',
  move: (sheet, _, { laid: { dimensions: laid = [] }, wayOf }) => {
    if (!sheet.dimensions) return sheet;
    const acrossOf = new Map(laid.map(({ dimension: { id }, across }) => [id, across]));
    return {
      ...sheet,
      dimensions: sheet.dimensions.map((dimension) => {
        const by = wayOf('dimension', dimension.id);
        const across = acrossOf.get(dimension.id);
        if (!by || !across || wayOf('view', dimension.view)) return dimension;
        return { ...dimension, offset: dimension.offset + by[0] * across[0] + by[1] * across[1] };
      }),
    };
  },
  remove: (sheet, things) => {
    const gone = idsOf(things);
    const { dimensions = [], ...rest } = sheet;
    const left = dimensions.filter(({ id }) => !gone.has(id));
    return left.length > 0 ? { ...rest, dimensions: left } : rest;
  },
  copy: ({ dimensions = [] }, isPicked) => ({
    dimensions: dimensions.filter(({ id, view }) => isPicked('dimension', id) && !isPicked('view', view)),
  }),
  paste: ({ dimensions }, { newId, viewFor }) => ({
    dimensions: dimensions.flatMap((dimension) => {
      const view = viewFor(dimension.view);
      if (!view) return [];
      return [{ ...dimension, id: newId(), view: view.id, offset: dimension.offset + (view.isCopy ? 0 : ASIDE) }];
    }),
  }),
};
