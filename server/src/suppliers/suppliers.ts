import * as v from 'valibot';
import { api } from '../../../contract/src/index.ts';

type Answer = v.InferOutput<typeof api.supplierAnswerSchema>;

/** How long and how often one number is asked for, and how many at once. */
interface AskHow {
  /** ms */
  readonly limit: number;
  readonly tries: number;
  readonly atOnce: number;
}
const USUAL: AskHow = { limit: 3000, tries: 2, atOnce: 8 };
/** An answer has no more bytes: what comes beyond is not waited for, nor held. */
const MOST_BYTES = 20_000;

/** What suppliers ask for each of these numbers, or in a sentence why that is not known; in their order. */
export async function askSuppliers(
  url: string,
  numbers: readonly string[],
  signal: AbortSignal,
  how: AskHow = USUAL,
): Promise<Answer[]> {
  const answers = Array<Answer>(numbers.length);
  let next = 0;
  const work = async () => {
    for (let at = next++; at < numbers.length; at = next++) answers[at] = await askOne(url, numbers[at], signal, how);
  };
  await Promise.all(Array.from({ length: Math.min(how.atOnce, numbers.length) }, work));
  return answers;
}

async function askOne(url: string, number: string, signal: AbortSignal, { limit, tries }: AskHow): Promise<Answer> {
  let why = '';
  for (let attempt = 1; attempt <= tries; attempt++) {
    signal.throwIfAborted();
    const late = AbortSignal.timeout(limit);
    try {
      const response = await fetch(`${url}/offer?number=${encodeURIComponent(number)}`, {
        signal: AbortSignal.any([signal, late]),
        redirect: 'error',
      });
      if (response.status === 404) return { number, why: 'Nobody sells it.' };
      if (!response.ok) {
        why = `The service answered ${response.status}.`;
        continue;
      }
      const text = await shortText(response);
      const read = v.safeParse(offerText, text);
      // Asking again does not make sense of it.
      if (!read.success) return { number, why: 'The answer is not understood.' };
      if (read.output.number !== number) return { number, why: `The answer is for ${read.output.number}.` };
      return read.output;
    } catch {
      signal.throwIfAborted();
      why = late.aborted ? `No answer within ${limit / 1000} s.` : 'It cannot be reached.';
    }
  }
  return { number, why };
}

/** What was answered; nothing where it is longer than any offer. */
async function shortText({ body }: globalThis.Response): Promise<string> {
  const parts: Uint8Array[] = [];
  let bytes = 0;
  // Leaving the loop early closes the connection.
  for await (const part of body ?? []) {
    bytes += part.length;
    if (bytes > MOST_BYTES) return '';
    parts.push(part);
  }
  return Buffer.concat(parts).toString();
}

const offerText = v.pipe(v.string(), v.parseJson(), api.offerSchema);
