import { describe, expect, test } from 'vitest';
import {
  blankSheet,
  blockWithStyle,
  setWithStyle,
  sheetInStyle,
  sheetStyleOf,
  sheetWithStyle,
  shippedStyles,
  usualPaper,
  type Sheet,
  type SheetSet,
  type SheetStyle,
} from '../../sheets/index.ts';
import { applyCommand, newSheetSet, styleSteps } from '../index.ts';

const style: SheetStyle = {
  paper: usualPaper('A2'),
  projection: 'third',
  owner: 'Camp workshop',
  further: [
    { id: 'o', label: 'Order', value: '' },
    { id: 's', label: 'Site', value: 'Camp 1' },
  ],
  dimensionLook: { unit: 'in', decimals: 3 },
  sectionLook: { pitch: 1.5, lettering: 7, arrows: 'off' },
  balloons: { lettering: 7, radius: 9, fixed: true, shape: 'hexagon', arrangement: 'box' },
};
const blank = blankSheet('Blank', usualPaper('A3'));
const drawn: Sheet = {
  ...blank,
  views: [
    { id: 'a', direction: 'front', scale: 0.1, centre: [100, 100], byHand: true },
    {
      id: 'b',
      direction: 'left',
      scale: 0.1,
      centre: [200, 100],
      byHand: true,
      projectedFrom: { of: 'a', side: 'left' },
    },
  ],
};
const set: SheetSet = {
  ...newSheetSet,
  block: {
    further: [
      { id: 'mine', label: 'Order', value: 'A-12' },
      { id: 'x', label: 'Crate', value: '7' },
    ],
    revisions: [{ revision: 'A', text: 'First issue', date: '', by: '' }],
  },
};

describe('a house style for sheets', () => {
  test('is what the set and a sheet are like, and makes a new set so', () => {
    const made = setWithStyle(newSheetSet, style);
    expect(sheetStyleOf(made, sheetWithStyle('S', usualPaper('A3'), style))).toEqual(style);
  });
  test('keeps texts of fields with the same label, other fields and revisions', () => {
    expect(blockWithStyle(set.block, style)).toEqual({
      further: [set.block!.further[0], style.further![1], set.block!.further[1]],
      revisions: set.block!.revisions,
    });
  });
  test('applied it leads there: sheets with something on them keep their paper, projected views change sides', () => {
    const documents = new Map<string, unknown>([
      ['set', set],
      ['blank', blank],
      ['drawn', drawn],
    ]);
    const sheets = [
      { id: 'blank', content: blank },
      { id: 'drawn', content: drawn },
    ];
    for (const { document, command } of styleSteps({ id: 'set', content: set }, sheets, style, 'House')) {
      const applied = applyCommand(document === 'set' ? 'set' : 'sheet', documents.get(document) as never, command);
      if (!applied.ok) throw new Error(applied.reason);
      documents.set(document, applied.document);
    }
    const after = documents.get('set') as SheetSet;
    expect(after).toMatchObject({
      projection: 'third',
      dimensionLook: style.dimensionLook,
      sectionLook: style.sectionLook,
    });
    expect(after.fields.owner).toBe('Camp workshop');
    expect((documents.get('blank') as Sheet).paper).toEqual(style.paper);
    expect((documents.get('drawn') as Sheet).paper).toEqual(drawn.paper);
    expect((documents.get('drawn') as Sheet).views[1].centre).toEqual([0, 100]);
    // A second time there is nothing to do.
    const again = sheets.map(({ id }) => ({ id, content: documents.get(id) as Sheet }));
    expect(styleSteps({ id: 'set', content: after }, again, style, 'House')).toEqual([]);
  });
  test.each(shippedStyles.map(({ name, sheet }) => [name, sheet] as const))(
    '%s is taken over by lists, and says so',
    (name, shipped) => {
      const list = {
        id: 'list',
        place: 'bottom-left',
        bill: 'other',
        at: [100, 100],
        lettering: 9,
        title: 'Parts',
        columnWidths: [{ column: 'c', width: 30 }],
        lines: { upTo: 4 },
      } as const;
      const styled = sheetInStyle({ ...blank, tables: [list] }, shipped, name);
      // What it shows stays; how it looks is the style's, and where that says nothing chosen by itself.
      expect(styled.tables).toEqual([
        { id: 'list', bill: 'other', columnWidths: list.columnWidths, lines: list.lines, ...shipped.list, look: name },
      ]);
      expect(styled.balloonLook).toEqual(shipped.balloons);
      const back = sheetStyleOf(newSheetSet, styled);
      expect(back.list).toEqual(shipped.list);
    },
  );
});
