import { expect, test } from 'vitest';
import { seeded } from '../../../testkit/revisions.ts';
import { bestOf, blocksOf, type Candidate } from './bestMatches.ts';

const WIDTH = 6;
function randomCandidates(seed: number): Candidate[] {
  const random = seeded(seed);
  return Array.from({ length: WIDTH * WIDTH }, (_, at) => at)
    .filter(() => random() < 0.4)
    .map((at) => ({ was: at % WIDTH, is: Math.floor(at / WIDTH), score: 1 + random() * 9 }));
}
const points = (candidates: readonly Candidate[]): number => candidates.reduce((sum, { score }) => sum + score, 0);
/** Every way to take or leave each pair: slow and plain. */
function bestByTrying([first, ...rest]: readonly Candidate[]): number {
  if (!first) return 0;
  const free = rest.filter(({ was, is }) => was !== first.was && is !== first.is);
  return Math.max(bestByTrying(rest), first.score + bestByTrying(free));
}

test.each(Array.from({ length: 30 }, (_, seed) => seed))(
  'of pairs those are taken that have most points together, one to one (seed %i)',
  (seed) => {
    const candidates = randomCandidates(seed);
    const blocks = blocksOf(candidates, WIDTH);
    expect(blocks.flat()).toHaveLength(candidates.length);
    const taken = blocks.flatMap(bestOf);
    for (const side of ['was', 'is'] as const) expect(new Set(taken.map((one) => one[side])).size).toBe(taken.length);
    expect(points(taken)).toBeCloseTo(bestByTrying(candidates), 9);
  },
);
test('blocks have no component in common', () => {
  for (let seed = 0; seed < 20; seed++) {
    const blocks = blocksOf(randomCandidates(seed), WIDTH);
    for (const side of ['was', 'is'] as const) {
      const seen = blocks.flatMap((block) => [...new Set(block.map((one) => one[side]))]);
      expect(new Set(seen).size).toBe(seen.length);
    }
  }
});
