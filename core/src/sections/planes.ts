import { Refusal } from '../assembly/index.ts';
import { applyToPoint, normalize, dot, type Placement, type Vec3 } from '../geometry/index.ts';
import type { Cut, HalfSpace } from './records.ts';

/**
 * A cut of the machine in the coordinates of something that stands in it.
 * @param placement own coordinates to those of the cut
 */
export function ownCut(cut: Cut, placement: Placement): Cut {
  const [a, b, c, , d, e, f, , g, h, i] = placement;
  const middle = applyToPoint(placement, [0, 0, 0]);
  return cut.map(({ normal: [x, y, z], offset }): HalfSpace => {
    // n·(Rp + t) < d is (Rᵀn)·p < d − n·t.
    const turned: Vec3 = [x * a + y * d + z * g, x * b + y * e + z * h, x * c + y * f + z * i];
    const size = Math.sqrt(dot(turned, turned));
    return { normal: normalize(turned), offset: (offset - dot([x, y, z], middle)) / size };
  });
}

/** More conditions in one cut, or cuts in one view, are no section that somebody meant. */
export const MOST_PLANES = 64,
  MOST_CUTS = 64;

const CONDITION = /^([xyz])\s*([<>])\s*([+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?)(?:\s*mm)?$/i;

/**
 * What somebody writes as a cut: conditions joined by `&`, such as `x>0 & y<12.5`; all matter is taken away where all of
 * them hold. Machine axes, mm.
 * @throws Refusal that says what is wrong with it
 */
export function parseCut(text: string): Cut {
  const parts = text.split('&').map((part) => part.trim());
  if (parts.length > MOST_PLANES)
    throw new Refusal('bad-cut', `A cut takes ${MOST_PLANES} conditions at most; these are ${parts.length}.`);
  const cut = parts.map((part): HalfSpace => {
    const [, axis, sense, number] = CONDITION.exec(part) ?? [];
    const at = Number(number);
    if (axis === undefined || !Number.isFinite(at) || Math.abs(at) > 1e9)
      throw new Refusal(
        'bad-cut',
        `“${part}” is no condition of a cut. Write an axis, < or >, and mm, such as y<0; join several with &: x>0 & y<0.`,
      );
    const along = 'xyz'.indexOf(axis.toLowerCase());
    const way = sense === '<' ? 1 : -1;
    const normal: Vec3 = [along === 0 ? way : 0, along === 1 ? way : 0, along === 2 ? way : 0];
    return { normal, offset: way * at };
  });
  if (isEmpty(cut))
    throw new Refusal('bad-cut', `No point fulfils all of “${text.trim()}”, so this cut would take nothing away.`);
  return cut;
}

/** Whether conditions along axes leave no room between them. */
function isEmpty(cut: Cut): boolean {
  return cut.some(({ normal, offset }) =>
    cut.some((other) => dot(normal, other.normal) < -1 + 1e-9 && other.offset + offset <= 0),
  );
}
