import type { Finding } from '../assembly/index.ts';
import { lineAt, type StepFile } from '../exchange/index.ts';
import type { Definition, RawUsages } from './structure.ts';

/** Parameters of a product (ISO 10303-41). */
const PRODUCT_SIZE = 4;
/** Places that a sentence names. */
const MOST = 8;

/**
 * Findings about numbers and names that are not texts (absent, a number, a parameter lost), and texts with a broken
 * directive: what the list says in their place may be wrong.
 */
export function findOddTexts(file: StepFile, definitions: readonly Definition[], usages: RawUsages): Finding[] {
  const findings: Finding[] = [];
  const lineOf = (slot: number) => lineAt(file.index.bytes, file.index.starts[slot]);
  const tell = (code: string, slots: readonly number[], what: string) => {
    if (slots.length === 0) return;
    const places = slots.slice(0, MOST).map((slot) => `${file.nameOf(slot)} (line ${lineOf(slot)})`);
    const more = slots.length > MOST ? ` and ${slots.length - MOST} more` : '';
    findings.push({ code, message: `${places.join(', ')}${more}: ${what}` });
  };
  const products = [...new Set(definitions.map(({ product }) => product))].filter((slot) => slot >= 0);
  const odd = products.filter(
    (slot) =>
      file.size(slot, 'PRODUCT') !== PRODUCT_SIZE ||
      !file.isText(slot, 'PRODUCT', 0) ||
      !file.isText(slot, 'PRODUCT', 1),
  );
  tell('odd-name', odd, 'number or name of the product is no text, or a parameter is missing; look at these parts.');
  const formations = definitions.filter(({ formation }) => {
    const kind = file.keywordsOf(formation).find((name) => file.size(formation, name) >= 3);
    return kind !== undefined && !file.isText(formation, kind, 0);
  });
  tell(
    'odd-name',
    formations.map(({ formation }) => formation),
    'the revision is no text; it is read as none.',
  );
  tell('odd-name', usages.oddLabels, 'the label of the place is no text; it is read as none.');
  return findings;
}

/** Known only when every text has been read. */
export function findBrokenDirectives(file: StepFile): Finding[] {
  const { broken } = file.coding;
  if (broken.size === 0) return [];
  const lines = [...broken].sort((a, b) => a - b).slice(0, MOST);
  return [
    {
      code: 'broken-text',
      message: `${broken.size} ${broken.size === 1 ? 'text holds a backslash' : 'texts hold a backslash'} that begins no letter of the standard (line ${lines.map((at) => lineAt(file.index.bytes, at)).join(', ')}${broken.size > MOST ? ' …' : ''}); they are read as written.`,
    },
  ];
}
