import { Refusal } from '../../../core/src/assembly/index.ts';

/** Lists and objects within one another that JSON may have; what takes them apart goes down one by one. */
const DEEPEST = 100;
const QUOTE = 34,
  COMMA = 44,
  OPEN_LIST = 91,
  BACKSLASH = 92,
  CLOSE_LIST = 93,
  OPEN_OBJECT = 123,
  CLOSE_OBJECT = 125;

/**
 * Looks at JSON before anything is made of it: a few megabytes of commas are millions of values.
 * @param bytes UTF-8, in which signs of JSON are bytes of their own
 * @throws Refusal where lists and objects stand deeper in one another, or values are more, than anything that is meant
 */
export function refuseUnfit(bytes: Uint8Array, mostValues: number): void {
  let depth = 0,
    values = 1,
    quoted = false;
  for (let at = 0; at < bytes.length; at++) {
    const sign = bytes[at];
    if (quoted) {
      if (sign === BACKSLASH) at++;
      else if (sign === QUOTE) quoted = false;
      continue;
    }
    if (sign === QUOTE) quoted = true;
    else if (sign === COMMA) values++;
    else if (sign === OPEN_LIST || sign === OPEN_OBJECT) {
      values++;
      if (++depth > DEEPEST)
        throw new Refusal('not-as-expected', `What was sent has lists more than ${DEEPEST} deep in one another.`);
    } else if (sign === CLOSE_LIST || sign === CLOSE_OBJECT) depth--;
  }
  if (values > mostValues)
    throw new Refusal(
      'not-as-expected',
      `What was sent has ${values.toLocaleString('en')} values; up to ${mostValues.toLocaleString('en')} can be taken at once. Send it in parts.`,
    );
}
