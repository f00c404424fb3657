// What a form may not bring along: whatever runs, or fetches something, when the workbook is opened.
import { mapReferences } from './references.ts';
import { CONTENT_TYPES, relationsPart, Workbook } from './workbook.ts';
import { childOf, childrenOf, isElement, localName, textOf, within, type XmlElement } from './xml.ts';

/** Relations to it, with what a sentence calls it. */
const KEPT_OUT = new Map([
  ['vbaProject', 'macros'],
  ['xlMacrosheet', 'macro sheets'],
  ['xlIntlMacrosheet', 'macro sheets'],
  ['attachedToolbars', 'toolbars'],
  ['externalLink', 'links to other workbooks'],
  ['connections', 'connections to data elsewhere'],
  ['queryTable', 'connections to data elsewhere'],
  ['activeXControl', 'controls that run code'],
  ['activeXControlBinary', 'controls that run code'],
  ['control', 'controls that run code'],
  ['ctrlProp', 'controls that run code'],
  // The order of calculation, which spreadsheets make again.
  ['calcChain', ''],
]);
const ELSEWHERE = 'pictures and objects from elsewhere';
const MAIN_TYPE = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml';

const without = (tree: XmlElement, drop: (element: XmlElement) => boolean): void => {
  if (tree.children.some((node) => isElement(node) && drop(node)))
    tree.children = tree.children.filter((node) => !isElement(node) || !drop(node));
};

/** A workbook without it, and what there was of it. @throws Refusal, see `Workbook` */
export function openForm(bytes: Uint8Array): { readonly workbook: Workbook; readonly keptOut: readonly string[] } {
  const workbook = new Workbook(bytes);
  return { workbook, keptOut: keepOut(workbook) };
}

/**
 * Takes it out of the workbook. Formulas over links keep the value that they had.
 * @returns what there was of it
 */
function keepOut(workbook: Workbook): string[] {
  const found = new Set<string>();
  const gone = new Set<string>();
  for (const part of [...workbook.names()]) {
    if (!part.endsWith('.rels')) continue;
    const slash = part.lastIndexOf('_rels/');
    const owner = part.slice(0, slash) + part.slice(slash + 6, -5);
    // A hyperlink is only followed by who clicks on it.
    const out = workbook
      .relations(owner)
      .filter(({ type, external }) => KEPT_OUT.has(type) || (external && type !== 'hyperlink'));
    if (out.length === 0) continue;
    const ids = new Set(out.map(({ id }) => id));
    without(workbook.tree(part), ({ attributes }) => ids.has(attributes.get('Id') ?? ''));
    for (const { type, target, external } of out) {
      found.add(KEPT_OUT.get(type) ?? ELSEWHERE);
      if (!external) gone.add(target);
    }
    if (workbook.has(owner)) withoutIds(workbook.tree(owner), ids);
  }
  for (const part of gone) {
    workbook.remove(part);
    workbook.remove(relationsPart(part));
  }
  const types = workbook.tree(CONTENT_TYPES);
  without(types, ({ attributes }) => gone.has((attributes.get('PartName') ?? '').replace(/^\//, '')));
  for (const { attributes } of childrenOf(types, 'Override'))
    if (attributes.get('PartName') === `/${workbook.bookPart}` && attributes.get('ContentType') !== MAIN_TYPE) {
      if (/macroEnabled/i.test(attributes.get('ContentType') ?? '')) found.add('macros');
      attributes.set('ContentType', MAIN_TYPE);
    }
  const dropped = new Set(['externalReferences', 'fileSharing', 'webPublishing']);
  without(workbook.book, (element) => dropped.has(localName(element)));
  if (found.has('links to other workbooks')) withoutLinks(workbook);
  found.delete('');
  return [...found];
}

/** Elements and attributes that point to relations which are gone: a spreadsheet would call the file damaged. */
function withoutIds(tree: XmlElement, ids: ReadonlySet<string>): void {
  for (const { attributes } of within(tree, 'blip'))
    for (const [name, value] of attributes) if (name.endsWith(':link') && ids.has(value)) attributes.delete(name);
  const points = (element: XmlElement): boolean =>
    [...element.attributes].some(([name, value]) => name.endsWith(':id') && ids.has(value)) ||
    childrenOf(element).some(points);
  const holders = new Set(['controls', 'oleObjects']);
  without(
    tree,
    (element) =>
      (holders.has(localName(element)) && points(element)) ||
      (localName(element) === 'AlternateContent' && [...within(element, ...holders)].some(points)),
  );
  // A table that was filled by a query is a plain one from now on.
  if (localName(tree) === 'table' && tree.attributes.get('tableType') === 'queryTable') {
    tree.attributes.delete('tableType');
    for (const { attributes } of within(tree, 'tableColumn')) attributes.delete('queryTableFieldId');
  }
}

/** Whether a formula names another workbook: `[1]Sheet!A1`. */
function isLinked(formula: string): boolean {
  if (!/\[\d+\]/.test(formula)) return false;
  // Columns of tables stand in brackets too, behind the table's name.
  return /(?:^|[^\w\]])'?\[\d+\]/.test(mapReferences(formula, (reference) => reference).replace(/"(?:[^"]|"")*"/g, ''));
}

function withoutLinks(workbook: Workbook): void {
  const names = childOf(workbook.book, 'definedNames');
  if (names) without(names, (name) => isLinked(textOf(name)));
  for (const { target } of workbook.relations(workbook.bookPart)) {
    if (!workbook.has(target) || !/\[\d+\]/.test(workbook.text(target))) continue;
    for (const cell of within(workbook.tree(target), 'c'))
      without(cell, (one) => localName(one) === 'f' && isLinked(textOf(one)));
  }
}
