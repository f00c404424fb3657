import { useState } from 'react';
import type { Box2, Vec2 } from '../../../core/src/geometry/index.ts';
import type { DrawnSheet, Sheet, SheetThing, TitleCell } from '../../../core/src/sheets/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import type { PaperTextProps } from './PaperText.tsx';

/** Texts typed where they stand: cells of the title block, notes, captions. */
export function usePaperTyping({
  id,
  sheet,
  drawn,
  thing,
}: {
  readonly id: string;
  readonly sheet: Sheet;
  readonly drawn: DrawnSheet;
  /** What is picked, where it is one thing. */
  readonly thing: SheetThing | null;
}) {
  const { set, perform } = useProject();
  const { layout } = drawn;
  const [typing, setTyping] = useState<Omit<PaperTextProps, 'zoom' | 'onClose'> | null>(null);
  /** The text at a point, or of what is picked, opened to be typed. */
  const openText = (spot: Vec2 | null) => {
    const contains = ({ box }: { readonly box: Box2 }) =>
      spot !== null && spot[0] >= box[0] && spot[0] <= box[2] && spot[1] >= box[1] && spot[1] <= box[3];
    const note = drawn.notes.find((one) => (spot ? contains(one) : thing?.kind === 'note' && thing.id === one.note.id));
    const cell = drawn.titleCells.find(
      (one) => one.field && (spot ? contains(one) : thing?.kind === 'titleBlock' && one.label === 'Title'),
    );
    const caption = layout.views.find(({ captionBox, view: one }) =>
      spot
        ? captionBox && contains({ box: captionBox })
        : (thing?.kind === 'view' || thing?.kind === 'caption') && thing.id === one.id,
    );
    if (note)
      setTyping({
        label: 'Text of the note',
        box: note.box,
        stored: note.note.text,
        lines: true,
        onKeep: (text) =>
          perform('text of a note', {
            document: id,
            command: { kind: 'changeNotes', remove: [], put: [{ ...note.note, text }] },
          }),
      });
    else if (cell?.field)
      setTyping({
        label: cell.label,
        box: cell.box,
        stored: cell.value,
        lines: false,
        onKeep: (value) => keepTitle(cell, value),
      });
    else if (caption)
      setTyping({
        label: 'Caption',
        box: caption.captionBox ?? [caption.box[0], caption.box[3] + 2, caption.box[2], caption.box[3] + 8],
        stored: caption.view.caption ?? '',
        lines: false,
        onKeep: (text) =>
          perform('caption', {
            document: id,
            command: { kind: 'changeView', id: caption.view.id, change: { caption: text.trim() || null } },
          }),
      });
  };
  /** On this sheet where it has a text of its own, else on all sheets. */
  const keepTitle = ({ field, label }: TitleCell, value: string) => {
    const words = label.toLowerCase();
    if (field && 'name' in field)
      perform(
        words,
        sheet.fields[field.name] === undefined
          ? { document: set.id, command: { kind: 'setSharedField', field: field.name, value } }
          : { document: id, command: { kind: 'setField', field: field.name, value } },
      );
    const block = set.content.block;
    if (!field || !('further' in field) || !block) return;
    const { further } = field;
    perform(
      words,
      sheet.further?.some((one) => one.id === further)
        ? { document: id, command: { kind: 'setFurther', id: further, value } }
        : {
            document: set.id,
            command: {
              kind: 'setTitleBlock',
              block: {
                ...block,
                further: block.further.map((one) => (one.id === further ? { ...one, value } : one)),
              },
            },
          },
    );
  };
  return { typing, openText, close: () => setTyping(null) };
}
