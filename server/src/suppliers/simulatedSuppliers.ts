import { createHash } from 'node:crypto';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';

/*
 * Suppliers that do not exist: made-up firms with prices, stock and lead times, so that asking can be tried without any
 * network. One in some numbers is slow, fails or answers nonsense, as real services do.
 */

const FIRMS = ['Kaldvik Fasteners', 'Norrvik Winch Works', 'Polarplast Works', 'Tindra Metallvaror'] as const;
/** What numbers that begin so cost at least and at most, and who sells them: as in the demo's world. */
const FAMILIES: ReadonlyMap<string, readonly [least: number, most: number, firm: (typeof FIRMS)[number]]> = new Map([
  ['BN', [0.3, 3.2, FIRMS[0]]],
  ['NT', [0.06, 0.3, FIRMS[0]]],
  ['WS', [0.03, 0.12, FIRMS[0]]],
  ['SC', [0.07, 0.13, FIRMS[0]]],
  ['PN', [0.12, 0.22, FIRMS[0]]],
  ['LT', [5.5, 7.5, FIRMS[0]]],
  ['WN', [170, 240, FIRMS[1]]],
  ['SH', [2.2, 4.6, FIRMS[1]]],
  ['TB', [6.5, 12.5, FIRMS[1]]],
]);
const OTHERS = [1, 40] as const;
/** Prices change once in so long; ms. */
const TICK = 60_000;
/** Of a slow one; ms. */
const SLOW = 8000;

/** A number from 0 to 1 that belongs to a text. */
const share = (text: string): number => createHash('sha256').update(text).digest().readUInt32BE(0) / 2 ** 32;

export interface Offer {
  readonly number: string;
  readonly firm: string;
  readonly unitCost: number;
  readonly currency: string;
  readonly leadDays: number;
  /** Pieces. */
  readonly stock: number;
}

/** What is asked for a part at a tick of the clock. @param tick a whole number */
export function offerAt(number: string, tick: number, seed = 'camp'): Offer {
  const own = share(`${seed} ${number}`);
  const now = share(`${seed} ${number} ${tick}`);
  const family = FAMILIES.get(number.slice(0, number.indexOf('-')).toUpperCase());
  const [least, most] = family ?? OTHERS;
  const base = least * (most / least) ** own;
  return {
    number,
    firm: family?.[2] ?? FIRMS[Math.floor(share(`${seed} firm ${number}`) * FIRMS.length)],
    unitCost: Math.round(base * (0.92 + 0.16 * now) * 100) / 100,
    currency: 'EUR',
    leadDays: 2 + Math.floor(own * 12 + now * 4),
    stock: Math.floor(now * 900),
  };
}

/** What is the matter with one number; most are answered. */
export function moodOf(number: string): 'answers' | 'unknown' | 'slow' | 'fails' | 'nonsense' {
  if (/^(slow|fails|nonsense|unknown)-/i.test(number))
    return number.slice(0, number.indexOf('-')).toLowerCase() as ReturnType<typeof moodOf>;
  return share(`mood ${number}`) < 0.04 ? 'unknown' : 'answers';
}

export interface Suppliers {
  readonly url: string;
  readonly close: () => Promise<void>;
}

/**
 * Starts the service on loopback, on any free port: `GET /offer?number=…` answers with an Offer, or 404.
 * @param tick which tick of the clock it is
 */
export async function startSuppliers(tick: () => number = () => Math.floor(Date.now() / TICK)): Promise<Suppliers> {
  const failed = new Set<string>();
  const server = createServer((request, response) => {
    const asked = new URL(request.url ?? '/', 'http://suppliers');
    const number = asked.searchParams.get('number') ?? '';
    const answer = (status: number, body: unknown) =>
      response.writeHead(status, { 'Content-Type': 'application/json' }).end(JSON.stringify(body));
    if (asked.pathname !== '/offer' || number === '') return void answer(404, { error: 'There is no such address.' });
    const mood = moodOf(number);
    if (mood === 'unknown') return void answer(404, { error: 'Nobody sells that.' });
    if (mood === 'nonsense') return void response.writeHead(200).end('<html>Welcome!</html>');
    // The first time only: who tries once more is answered.
    if (mood === 'fails' && !failed.has(number)) {
      failed.add(number);
      return void answer(500, { error: 'Out of order.' });
    }
    const offer = offerAt(number, tick());
    if (mood !== 'slow') return void answer(200, offer);
    const late = setTimeout(() => answer(200, offer), SLOW);
    response.once('close', () => clearTimeout(late));
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(0, '127.0.0.1', resolve);
  });
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: async () => {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}
