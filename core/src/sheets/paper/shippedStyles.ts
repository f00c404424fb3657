import type { SheetStyle } from './style.ts';

/** Looks of lists and balloons that come with the program: of its own design. They say nothing of paper and title block. */
export const shippedStyles: readonly { readonly name: string; readonly says: string; readonly sheet: SheetStyle }[] = [
  {
    name: 'Compact',
    says: 'small lettering, close rows, fine lines',
    sheet: {
      list: {
        place: 'title-block',
        lettering: 2.5,
        pitch: 4,
        pens: { frame: 0.35, heading: 0.35, rows: 0.18, columns: 0.18 },
      },
      balloons: { lettering: 3.5, radius: 4.5, fixed: true },
    },
  },
  {
    name: 'Large print',
    says: 'read at the bench, from an arm’s length',
    sheet: {
      list: {
        place: 'title-block',
        lettering: 5,
        headingLettering: 5,
        pitch: 9.5,
        pens: { frame: 0.7, heading: 0.7, rows: 0.35, columns: 0.35 },
      },
      balloons: { lettering: 7, radius: 9, fixed: true },
    },
  },
  {
    name: 'Up from the title block',
    says: 'heading at the foot, rows upwards, no upright lines',
    sheet: {
      list: {
        place: 'title-block',
        heading: 'bottom',
        rows: 'up',
        lettering: 3.5,
        pitch: 7,
        pens: { frame: 0.5, heading: 0.5, rows: 0.25, columns: 0 },
      },
      balloons: { lettering: 5, radius: 6.25, fixed: true },
    },
  },
  {
    name: 'Like a spreadsheet',
    says: 'from the upper left downwards, every cell in fine lines, numbers over a line',
    sheet: {
      list: {
        place: 'top-left',
        heading: 'top',
        rows: 'down',
        lettering: 2.5,
        pitch: 5,
        pens: { frame: 0.25, heading: 0.25, rows: 0.25, columns: 0.25 },
      },
      balloons: { lettering: 3.5, radius: 4.5, fixed: true, shape: 'underlined' },
    },
  },
];
