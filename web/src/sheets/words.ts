import type { LeaderEnd } from '../../../core/src/balloons/index.ts';

/** Where a leader ends, in words. */
export const leaderEndWords = (end: LeaderEnd): string => (end === 'dot' ? 'a visible face' : 'a line of the part');
