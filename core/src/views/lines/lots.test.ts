import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { scenesOfShapes } from '../../../../testkit/scenes.ts';
import { drawLook, helpWithLook, viewPlacement, type Body, type PackedLot, type SharedWork } from '../index.ts';
import { buildScene } from '../scene/scene.ts';
import { LOTS, lotsOf, packPieces, unpackPieces } from './lots.ts';

const view = viewPlacement('isometric');
const scenes = scenesOfShapes(9, 16);
/** Who makes each lot: who draws the view, a helper, or one that falls over. */
const plans = fc.array(fc.constantFrom('own', 'helped', 'lost'), { minLength: LOTS, maxLength: LOTS });

const giving = (lots: readonly number[]): SharedWork['take'] => {
  let next = 0;
  return () => lots[next++] ?? LOTS;
};
function sharedAs(bodies: readonly Body[], plan: readonly string[], hidden: boolean): SharedWork {
  const lotsOfKind = (kind: string) => plan.flatMap((one, lot) => (one === kind ? [lot] : []));
  return {
    take: giving(lotsOfKind('own')),
    others: () => {
      const made = new Map<number, PackedLot>();
      helpWithLook(bodies, view, { hidden }, giving(lotsOfKind('helped')), (lot, packed) =>
        made.set(lot, structuredClone(packed)),
      );
      return made;
    },
  };
}

describe('a view that threads share out', () => {
  test('is the same whoever makes which of its lots, also where one is lost', () => {
    fc.assert(
      fc.property(scenes, plans, fc.boolean(), (bodies, plan, hidden) => {
        const shared = drawLook(bodies, view, { hidden, shared: sharedAs(bodies, plan, hidden) });
        expect(shared).toEqual(drawLook(bodies, view, { hidden }));
      }),
      { numRuns: 10 },
    );
  });
  test('every body and every line is in one lot, with its body', () => {
    fc.assert(
      fc.property(scenes, fc.integer({ min: 1, max: 20 }), (bodies, count) => {
        const scene = buildScene(bodies, view);
        const lots = lotsOf(scene, count);
        const all = (of: 'bodies' | 'lines') =>
          lots.flatMap(({ [of]: [from, to] }) => Array.from({ length: to - from }, (_, at) => from + at));
        expect(all('bodies')).toEqual([...bodies.keys()]);
        expect(all('lines')).toEqual([...scene.lines.edgeBody.keys()]);
        for (const { bodies: own, lines } of lots)
          for (let line = lines[0]; line < lines[1]; line++) {
            const body = scene.lines.edgeBody[line];
            expect(body >= own[0] && body < own[1]).toBe(true);
          }
      }),
      { numRuns: 40 },
    );
  });
  test('a machine of many equal things is divided evenly', () => {
    const bodies = fc.sample(scenesOfShapes(2, 32), { numRuns: 1, seed: 5 })[0];
    const many = Array.from({ length: 64 }, (_, at): Body => ({ ...bodies[0], path: String(at) as Body['path'] }));
    const sizes = lotsOf(buildScene(many, view), 8).map(({ bodies: [from, to] }) => to - from);
    expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(2);
  });
  test('pieces stay what they are on their way between threads', () => {
    const number = fc.double({ noNaN: true, noDefaultInfinity: true });
    const piece = fc.record({
      x1: number,
      y1: number,
      z1: number,
      x2: number,
      y2: number,
      z2: number,
      sagitta: number,
      kind: fc.integer({ min: 0, max: 3 }),
      body: fc.integer({ min: -1, max: 1e6 }),
      visible: fc.boolean(),
      isContour: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(piece), (pieces) => {
        expect(unpackPieces(packPieces(pieces))).toEqual(pieces);
      }),
    );
  });
});
