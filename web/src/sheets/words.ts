import type { LeaderEnd } from '../../../core/src/balloons/index.ts';
import type { TablePlace } from '../../../core/src/sheets/index.ts';

export const placeWords: Readonly<Record<TablePlace, string>> = {
  'title-block': 'on the title block',
  'top-right': 'upper right corner',
  'top-left': 'upper left corner',
  'bottom-left': 'lower left corner',
};

/** Where a leader ends, in words. */
export const leaderEndWords = (end: LeaderEnd): string => (end === 'dot' ? 'a visible face' : 'a line of the part');
