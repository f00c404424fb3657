// Formulas that reach outside the workbook: a list that is handed on must not tell others what is in it.
import { placeText } from './records.ts';
import type { Workbook } from './workbook.ts';
import { childOf, textOf, within } from './xml.ts';

/** Functions that ask something elsewhere, with what they do in a sentence. Names as files have them, without prefixes. */
const SENDING: readonly (readonly [RegExp, string])[] = [
  [/\b(?:_xlfn\.)?WEBSERVICE\s*\(/i, 'sends what stands in its cells to an address'],
  [/\b(?:_xlfn\.)?IMAGE\s*\(/i, 'fetches a picture from an address'],
  [/\bRTD\s*\(/i, 'asks another program for values'],
  [/\b(?:CALL|REGISTER\.ID|REGISTER)\s*\(/i, 'calls code outside the workbook'],
  [/\b(?:_xlfn\.)?STOCKHISTORY\s*\(/i, 'asks a service for values'],
  [/\|[^|!]*!/, 'runs another program'],
];
const LINK = /\bHYPERLINK\s*\(([^)]*)/i;
/** A place in the workbook itself. */
const WITHIN = /^\s*"\s*#/;
/** Formulas that are looked at, and those that are told. */
const LONGEST = 8192,
  MOST_TOLD = 50;

/** Cells whose formulas send data or lead elsewhere, in the order of sheets. */
export function formulasThatSend(workbook: Workbook): { readonly at: string; readonly what: string }[] {
  const found: { at: string; what: string }[] = [];
  for (const { name, part } of workbook.sheets) {
    if (!/WEBSERVICE|HYPERLINK|IMAGE|RTD|CALL|REGISTER|STOCKHISTORY|\|/i.test(workbook.text(part))) continue;
    for (const cell of within(workbook.look(part)!, 'c')) {
      const formula = textOf(childOf(cell, 'f')).slice(0, LONGEST);
      const what = formula === '' ? null : whatItSends(formula);
      if (what === null) continue;
      found.push({ at: placeText(name, cell.attributes.get('r') ?? ''), what });
      if (found.length === MOST_TOLD) return found;
    }
  }
  return found;
}

/** What a formula does outside the workbook, in words that follow “it”; null for nothing. */
export function whatItSends(formula: string): string | null {
  // What stands in a text is no function; what is linked to is read from the formula as it is.
  const bare = formula.replace(/"[^"]*"/g, '""').replace(/'[^']*'/g, "''");
  const known = SENDING.find(([pattern]) => pattern.test(bare));
  if (known) return known[1];
  if (!LINK.test(bare)) return null;
  const target = LINK.exec(formula)?.[1] ?? '';
  return WITHIN.test(target) ? null : 'leads to an address elsewhere, which may carry what stands in its cells';
}
