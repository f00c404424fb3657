import { Refusal } from '../../core/src/assembly/index.ts';

/** Lists and objects within one another that JSON may have; what takes them apart goes down one by one. */
const DEEPEST = 100;
/** @throws Refusal where lists and objects stand deeper in one another than anything that is meant */
export function refuseDeep(text: string | Buffer): void {
  let depth = 0,
    quoted = false;
  for (let at = 0; at < text.length; at++) {
    const sign = typeof text === 'string' ? text.charCodeAt(at) : text[at];
    if (quoted) {
      if (sign === 92) at++;
      else if (sign === 34) quoted = false;
    } else if (sign === 34) quoted = true;
    else if (sign === 91 || sign === 123) {
      if (++depth > DEEPEST)
        throw new Refusal('not-as-expected', `What was sent has lists more than ${DEEPEST} deep in one another.`);
    } else if (sign === 93 || sign === 125) depth--;
  }
}
