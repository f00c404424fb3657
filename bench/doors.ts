// What a body may cost the loop that answers requests: bodies up to SMALL_BODY are read there, larger ones at the desk.
import { SMALL_BODY } from '../server/src/desk/desk.ts';
import { readBody, type ReadingKind } from '../server/src/desk/readings.ts';

/** What a piece of work may hold the loop for. */
const BOUND = 50; // ms
const KEY = '0123456789abcdef0123456789abcdef';
const gesture = { gesture: 'g', session: 's', label: 'l' };

/** As many of these as fit the body that `around` makes of them. */
function filled<Item>(item: (at: number) => Item, around: (items: readonly Item[]) => unknown): Uint8Array {
  const items: Item[] = [];
  const size = () => Buffer.byteLength(JSON.stringify(around(items)));
  const one = Buffer.byteLength(JSON.stringify(item(0))) + 1;
  while (items.length < 1 || size() + one < SMALL_BODY) {
    const room = Math.max(1, Math.floor((SMALL_BODY - size()) / one / 2));
    for (let at = 0; at < room; at++) items.push(item(items.length));
  }
  return new TextEncoder().encode(JSON.stringify(around(items)));
}
const keyOf = (at: number) => at.toString(16).padStart(32, '0');

const bodies: readonly (readonly [what: string, kind: ReadingKind, body: Uint8Array])[] = [
  [
    'views, nothing but faults',
    'views',
    filled(
      () => 1,
      (looks) => ({ looks }),
    ),
  ],
  [
    'views with moves',
    'views',
    filled(
      (at) => ({ path: `${keyOf(at)}.0`, steps: [[1, 2, 3.5]] }),
      (moves) => ({ looks: [{ direction: 'front', moves, variant: null }] }),
    ),
  ],
  [
    'cut plans',
    'cutPlans',
    filled(
      (at) => ({ lengthMm: 100 + at * 0.5, count: 2 }),
      (pieces) => ({
        problems: [
          {
            pieces,
            stock: [{ lengthMm: 6000, price: null, available: null }],
            kerfMm: 3,
            trimMm: 0,
            leastLeftOverMm: 0,
          },
        ],
      }),
    ),
  ],
  [
    'numbers of a bill',
    'gesture',
    filled(
      (at) => [keyOf(at), { number: at + 1 }] as const,
      (numbers) => ({
        ...gesture,
        steps: [{ document: 'd', version: 1, command: { kind: 'setNumbers', numbers: Object.fromEntries(numbers) } }],
      }),
    ),
  ],
  [
    'an intention with a hundred commands of bad columns',
    'intention',
    filled(
      () => ({ id: 7 }),
      (columns) => ({
        ...gesture,
        intention: { kind: 'changeBill', bill: 'b', commands: [{ kind: 'setColumns', columns }] },
      }),
    ),
  ],
  [
    'answers about parts',
    'answers',
    filled(
      (at) => ({ was: KEY, is: keyOf(at), same: true }),
      (answers) => ({ answers }),
    ),
  ],
  ['one value in lists without end', 'catalogue', new TextEncoder().encode('['.repeat(SMALL_BODY))],
];

/** @param shortest time of a piece of work, ms */
export function doors(shortest: (work: () => unknown) => number): void {
  console.log(`\nBodies of ${SMALL_BODY / 1024} kB, read where requests are answered`);
  for (const [what, kind, body] of bodies) {
    const text = new TextDecoder().decode(body);
    const parsed = shortest(() => {
      try {
        JSON.parse(text);
      } catch {
        // no JSON: as long as it takes to find that
      }
    });
    const read = shortest(() => {
      try {
        readBody(kind, body);
      } catch {
        // refused: that is what it takes
      }
    });
    const against = (read / Math.max(parsed, 1e-3)).toFixed(1).padStart(6);
    console.log(
      `  ${what.padEnd(52)} ${against} × JSON.parse, ${((100 * read) / BOUND).toFixed(0).padStart(3)} % of the bound`,
    );
  }
}
