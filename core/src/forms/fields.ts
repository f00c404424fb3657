import { Refusal, withFitSigns } from '../assembly/index.ts';
import { placeText, type FormFields, type FormMap, type FormProblem } from './records.ts';
import { cellName, readCellName } from './references.ts';
import { cellIn, dayNumber, inlineText, newCell, rowOf, type SheetCells } from './sheetCells.ts';
import { isDatePattern, type CellStyles } from './styles.ts';
import type { Workbook } from './workbook.ts';
import { childrenOf, localName, prefixOf, textOf, within, type XmlElement } from './xml.ts';

const PLACEHOLDER = /\{([^{}\n]{1,60})\}/g;
/** Places that are told one by one. */
const MOST_SAID = 200;
/** Letters that a cell may hold, by the limits of the format; beyond several times that it is no text of a form. */
const MOST_LETTERS = 200_000;

/** How many placeholders a text has; none of them is kept. @throws Refusal where it is no text that a cell can hold */
function countPlaceholders(text: string): number {
  refuseLong(text);
  let count = 0;
  for (const _ of text.matchAll(PLACEHOLDER)) count++;
  return count;
}
export function refuseLong(text: string): void {
  if (text.length > MOST_LETTERS)
    throw new Refusal(
      'form-too-large',
      `A text of the workbook has ${text.length.toLocaleString('en')} letters; a cell holds 32,767. Take it out and bring the form in again.`,
    );
}

const plain = (name: string): string => name.trim().toLowerCase();

/** Fills `{Title}` and so on in texts, and notes what is not known or empty. */
export class FieldFiller {
  private readonly noted: FormProblem[] = [];
  private unsaid = 0;
  private readonly values: ReadonlyMap<string, string>;
  private readonly said = new Set<string>();

  constructor(
    fields: FormFields,
    private readonly where: (text: string) => string | null = () => null,
  ) {
    this.values = new Map([...fields].map(([name, value]) => [plain(name), value]));
  }

  /** What there is to know, once everything is filled. */
  problems(): FormProblem[] {
    if (this.unsaid === 0) return this.noted;
    const message = `${this.unsaid.toLocaleString('en')} further places ask for what is not known or empty; they stay as they are.`;
    return [...this.noted, { code: 'unknown-field', message, at: null, stops: false }];
  }

  /** The text with what is known in it; what is not known stays as it is written. */
  fill(text: string, at: string | null = null): string {
    if (!text.includes('{')) return text;
    return text.replace(PLACEHOLDER, (whole, name: string) => {
      const value = this.values.get(plain(name));
      if (value) return value;
      this.say(whole, name, value === '', at ?? this.where(text));
      return value ?? whole;
    });
  }
  private say(whole: string, name: string, isEmpty: boolean, at: string | null): void {
    const key = `${whole} ${at}`;
    if (this.said.has(key)) return;
    if (this.said.size >= MOST_SAID) return void this.unsaid++;
    this.said.add(key);
    const place = at === null ? 'The workbook' : at;
    this.noted.push({
      code: isEmpty ? 'empty-field' : 'unknown-field',
      message: isEmpty
        ? `${place} asks for ${whole}, which is empty in this project. Nothing stands there until it is filled in.`
        : `${place} asks for ${whole}; nothing here is called “${name}”, so it stays as it is written.`,
      at,
      stops: false,
    });
  }
}

/** A name for a file, after its pattern: signs that file systems refuse become _. */
export function formFileName({ fileName }: Pick<FormMap, 'fileName'>, filler: FieldFiller): string {
  const filled = withFitSigns(filler.fill(fileName.replace(/\.xlsx$/i, ''), 'The file’s name'));
  const fit = filled
    .replace(/[\\/:*?"<>|\u0000-\u001f]/g, '_')
    .replace(/\s+/g, ' ')
    .trim();
  const short = fit
    .slice(0, 120)
    .replace(/[\ud800-\udbff]$/, '')
    .replace(/[. ]+$/, '');
  return `${short || 'list'}.xlsx`;
}

/** Where shared texts stand first, by their index; for sentences. */
export function placesOfStrings(workbook: Workbook): Map<number, string> {
  const places = new Map<number, string>();
  for (const { name, part } of workbook.sheets)
    for (const cell of within(workbook.look(part)!, 'c')) {
      if (cell.attributes.get('t') !== 's') continue;
      const index = Number(textOf(childrenOf(cell, 'v')[0]));
      if (!places.has(index)) places.set(index, placeText(name, cell.attributes.get('r') ?? ''));
    }
  return places;
}

/** Fills what stands in the workbook's own texts: shared ones, those in cells, text boxes, heads and feet of pages. */
export function fillTexts(workbook: Workbook, filler: FieldFiller): void {
  const [strings] = workbook.related(workbook.bookPart, 'sharedStrings');
  if (strings !== undefined && hasBrace(workbook, strings))
    for (const text of childrenOf(workbook.tree(strings), 'si')) fillRuns(text, filler);
  for (const { part } of workbook.sheets) {
    if (!hasBrace(workbook, part)) continue;
    for (const one of within(workbook.look(part)!, 'is', ...PAGE_TEXTS))
      if (textOf(one).includes('{')) {
        for (const text of within(workbook.tree(part), 'is')) fillRuns(text, filler);
        for (const text of within(workbook.tree(part), ...PAGE_TEXTS)) fillPageText(text, filler);
        break;
      }
  }
  for (const part of workbook.names())
    if (/\/drawings\/[^/]+\.xml$/.test(part) && hasBrace(workbook, part))
      for (const paragraph of within(workbook.tree(part), 'p')) fillRuns(paragraph, filler);
}
const PAGE_TEXTS = ['oddHeader', 'oddFooter', 'evenHeader', 'evenFooter', 'firstHeader', 'firstFooter'];
const hasBrace = (workbook: Workbook, part: string): boolean => workbook.text(part).includes('{');

/** In the head and foot of a page & begins a code and && is one &. */
function fillPageText(one: XmlElement, filler: FieldFiller): void {
  const text = textOf(one);
  refuseLong(text);
  const filled = text.replace(PLACEHOLDER, (whole) => {
    const value = filler.fill(whole);
    return value === whole ? whole : value.replaceAll('&', '&&');
  });
  if (filled !== text) one.children = [withFitSigns(filled)];
}

/** A text may be in runs of different looks; one that a placeholder runs across takes all of the text. */
function fillRuns(text: XmlElement, filler: FieldFiller): void {
  const pieces = [...within(text, 't')];
  const whole = pieces.map(textOf).join('');
  if (!whole.includes('{')) return;
  const apart = pieces.reduce((sum, piece) => sum + countPlaceholders(textOf(piece)), 0);
  const set = (piece: XmlElement, value: string) => {
    piece.children = [withFitSigns(value)];
    if (localName(text) !== 'p') piece.attributes.set('xml:space', 'preserve');
  };
  if (countPlaceholders(whole) === apart) for (const piece of pieces) set(piece, filler.fill(textOf(piece)));
  else pieces.forEach((piece, at) => set(piece, at === 0 ? filler.fill(whole) : ''));
}

/** Puts the texts of the map into their cells of one sheet. @throws Refusal for what is no cell */
export function fillCells(
  fields: FormMap['fields'],
  {
    cells,
    sheet,
    styles,
    filler,
  }: { cells: SheetCells; sheet: string; styles: CellStyles | null; filler: FieldFiller },
): void {
  for (const { cell, text } of fields) {
    const place = readCellName(cell);
    if (!place) throw new Refusal('no-such-cell', `“${cell}” on “${sheet}” is no cell; write it as B12.`);
    const value = filler.fill(text, placeText(sheet, cellName(place)));
    const known = cellIn(rowOf(cells, place.row), place) ?? newCell(cells, place.row, place.column);
    known.attributes.delete('t');
    const style = Number(known.attributes.get('s') ?? 0);
    const day = /^\d{4}-\d{2}-\d{2}$/.test(value) && styles && isDatePattern(styles.patternOf(style));
    known.children = [
      {
        raw: day
          ? `<${prefixOf(known)}v>${dayNumber(value)}</${prefixOf(known)}v>`
          : inlineText(value, prefixOf(known)),
      },
    ];
    if (!day) known.attributes.set('t', 'inlineStr');
  }
}
