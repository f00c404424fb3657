import { printedLines, rowLabel, type Bill } from '../bill/index.ts';
import { headingOf, sourceName, type Column } from '../columns/index.ts';
import { billTable } from '../formats/index.ts';
import type { FormLook } from './look.ts';
import { type FormColumn, type FormLine, type FormList, type FormMap, type FormProblem } from './records.ts';

const plain = (name: string): string => name.toLowerCase().replace(/[\s\-_.:]+/g, '');

/** The bill's column of this name: by its heading, else by what it shows; hidden ones count. */
export function columnNamed(columns: readonly Column[], name: string): Column | null {
  const wanted = plain(name);
  return (
    columns.find((column) => headingOf(column) === name) ??
    columns.find((column) => plain(headingOf(column)) === wanted) ??
    columns.find(({ source }) => source === name || plain(sourceName(source)) === wanted) ??
    null
  );
}

/** Other words for what columns show, as headings of forms have them. */
const WORDS: readonly (readonly [RegExp, Column['source'][]])[] = [
  [/^(item|pos|position|no|nr|line)/, ['item']],
  [/^(qty|quantity|pieces|pcs|count|amount)$/, ['quantity']],
  [/^(total(qty|quantity)?|qtytotal|quantitytotal)$/, ['totalQuantity']],
  [/^(part|article|drawing|ident)?(no|nr|number|id)$/, ['partNumber']],
  [/^(name|title|designation|denomination|part)$/, ['name']],
  [/^(desc|description|text|remarks?)$/, ['description']],
  [/^(rev|revision|index)$/, ['revision']],
  [/^(unit|uom)$/, ['unit']],
  [/^(masseach|weighteach|unitmass|unitweight)$/, ['massEach']],
  [/^(mass|weight|totalmass|totalweight|masstotal)$/, ['massTotal', 'massEach']],
  [/^(picture|image|sketch)$/, ['picture']],
];

/** Which columns of a bill the headings of a form ask for; a heading that nothing answers keeps its own name. */
export function proposeColumns(
  headings: readonly { readonly to: string; readonly heading: string; readonly unit?: string }[],
  columns: readonly Column[],
): FormColumn[] {
  return headings.map(({ to, heading, unit }) => {
    const bare =
      heading
        .replace(/\s*[[(][^\])]*[\])]\s*$/, '')
        .replace(/,\s*\S{1,6}$/, '')
        .trim() || heading;
    const word = plain(bare);
    const sources = WORDS.find(([pattern]) => pattern.test(word))?.[1] ?? [];
    const found =
      columnNamed(columns, heading) ??
      columnNamed(columns, bare) ??
      sources.map((source) => columns.find((column) => column.source === source)).find(Boolean);
    return { to, heading, from: found ? headingOf(found) : bare, ...(unit ? { unit } : {}) };
  });
}

/** How a form would be filled by what it looks like; null where nothing says where its list begins. */
export function proposedMap({ proposed, headings }: FormLook, columns: readonly Column[]): FormMap | null {
  if (!proposed || headings.length === 0) return null;
  // A heading over a column of formulas of the form's own asks for nothing.
  return {
    version: 1,
    ...proposed,
    columns: proposeColumns(
      headings.filter(({ isFormula }) => !isFormula),
      columns,
    ),
    fields: [],
    groups: true,
    overwrite: false,
    fileName: '{Drawing number} {Bill}.xlsx',
  };
}

/**
 * The lines of a bill for a form: of each column of the map what the bill's column shows, in the unit that the form's heading
 * says.
 * @param pictures PNG by component index
 */
export function formList(
  bill: Bill,
  columns: readonly Column[],
  map: Pick<FormMap, 'columns' | 'groups'>,
  pictures: ReadonlyMap<number, Uint8Array> = new Map(),
): FormList {
  const found = map.columns.map(({ from }) => columnNamed(columns, from));
  // What sums the bill shows are those of its own columns.
  const shown = map.columns.map(({ unit }, at): Column => {
    const column = found[at];
    if (!column) return { id: `none ${at}`, source: 'pattern', heading: '', expression: '' } as Column;
    const format = unit === undefined ? column.format : { ...column.format, unit, unitPlace: 'nowhere' as const };
    const { hidden: _hidden, ...rest } = column;
    return { ...rest, id: `${column.id} ${at}`, ...(format ? { format } : {}) };
  });
  const isPicture = found.map((column) => column?.source === 'picture');
  const table = billTable(bill, shown);
  const printed = printedLines(bill, shown);
  const problems: FormProblem[] = [];
  const labels = bill.rows.map(({ item }, at) => `line ${item || at + 1}`);
  const lines = table.lines.map(({ kind, component, cells }, at): FormLine => {
    const row = printed[at].row;
    const label = row < 0 ? printed[at].title : `${labels[row]} (${rowLabel(bill, bill.rows[row])})`;
    if (kind === 'row')
      map.columns.forEach(({ unit, heading }, index) => {
        const cell = cells[index];
        const differs =
          unit !== undefined &&
          cell &&
          (cell.kind === 'text' || (cell.kind === 'number' && cell.pattern.includes('"')));
        if (!differs) return;
        const problem = {
          code: 'not-in-unit' as const,
          message: `“${heading}” of ${label} is “${cellWords(cell)}”, which is no number in ${unit}; it stands as it is.`,
          at: null,
          stops: false,
        };
        problems.push(problem);
      });
    const picture = isPicture.includes(true) ? (pictures.get(component) ?? null) : null;
    return { kind, label, cells, picture };
  });
  if (isPicture.includes(true) && pictures.size === 0 && lines.length > 0)
    problems.push({
      code: 'no-picture',
      message: 'The form asks for pictures, and none are made for this machine.',
      at: null,
      stops: false,
    });
  return {
    columns: found.map((column, at) => ({ isThere: column !== null, isPicture: isPicture[at] })),
    lines,
    problems,
  };
}
const cellWords = (cell: { readonly value: string | number; readonly pattern?: string }): string =>
  `${cell.value}${/"([^"]*)"/.exec(cell.pattern ?? '')?.[1] ?? ''}`;
