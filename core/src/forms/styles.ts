// How cells look: ECMA-376 part 1, 18.8. New looks are put behind those that are there, so that none changes its number.
import { childOf, childrenOf, element, prefixOf, type XmlElement } from './xml.ts';

/** First number of a form's own number formats (18.8.30). */
const FIRST_OWN = 164;
/** Formats that have a number and no text of their own (18.8.30). */
const BUILT_IN: Readonly<Record<number, string>> = {
  0: 'General',
  1: '0',
  2: '0.00',
  3: '#,##0',
  4: '#,##0.00',
  9: '0%',
  10: '0.00%',
  11: '0.00E+00',
  12: '# ?/?',
  13: '# ??/??',
  14: 'mm-dd-yy',
  15: 'd-mmm-yy',
  16: 'd-mmm',
  17: 'mmm-yy',
  22: 'm/d/yy h:mm',
  49: '@',
};
/** Number patterns that say neither decimals nor unit. */
export const isPlainPattern = (pattern: string): boolean => pattern === 'General' || pattern === '@';
/** Whether a pattern shows a number as a date. */
export const isDatePattern = (pattern: string): boolean =>
  /[dy]|m{3}/i.test(pattern.replace(/"[^"]*"|\\.|\[[^\]]*\]/g, ''));

/** What is asked of a look besides what it has. */
interface LookChange {
  /** Number pattern. */
  readonly pattern?: string;
  readonly bold?: boolean;
}

/** Looks of cells, by the number that cells have them under. */
export class CellStyles {
  private readonly made = new Map<string, number>();
  private readonly patterns = new Map<number, string>();

  constructor(private readonly root: XmlElement) {
    for (const { attributes } of childrenOf(this.list('numFmts') ?? element('none'), 'numFmt'))
      this.patterns.set(Number(attributes.get('numFmtId')), attributes.get('formatCode') ?? '');
  }

  private list = (name: string): XmlElement | undefined => childOf(this.root, name);
  private look = (style: number): XmlElement | undefined =>
    childrenOf(this.list('cellXfs') ?? element('none'), 'xf')[style];
  private part = (style: number, list: string, attribute: string): XmlElement | undefined =>
    childrenOf(this.list(list) ?? element('none'))[Number(this.look(style)?.attributes.get(attribute) ?? 0)];

  /** Of numbers in a cell. */
  patternOf(style: number): string {
    const id = Number(this.look(style)?.attributes.get('numFmtId') ?? 0);
    return this.patterns.get(id) ?? BUILT_IN[id] ?? (id >= 14 && id <= 36 ? 'yyyy' : 'General');
  }
  fontOf = (style: number): XmlElement | undefined => this.part(style, 'fonts', 'fontId');
  fillOf = (style: number): XmlElement | undefined => this.part(style, 'fills', 'fillId');
  borderOf = (style: number): XmlElement | undefined => this.part(style, 'borders', 'borderId');
  alignmentOf = (style: number): XmlElement | undefined => {
    const look = this.look(style);
    return look && childOf(look, 'alignment');
  };
  /** Size of letters in points. */
  sizeOf(style: number): number {
    const font = this.fontOf(style);
    return Number((font && childOf(font, 'sz')?.attributes.get('val')) ?? 11);
  }

  /** Number of a look that is this one with changes. */
  changed(style: number, { pattern, bold }: LookChange): number {
    const key = `${style} ${bold ? 'bold' : ''} ${pattern ?? ''}`;
    const known = this.made.get(key);
    if (known !== undefined) return known;
    const looks = this.list('cellXfs');
    const look = this.look(style);
    if (!looks || !look) return style;
    const attributes = new Map(look.attributes);
    if (pattern !== undefined) {
      attributes.set('numFmtId', String(this.patternId(pattern)));
      attributes.set('applyNumberFormat', '1');
    }
    if (bold) {
      attributes.set('fontId', String(this.boldFont(Number(attributes.get('fontId') ?? 0))));
      attributes.set('applyFont', '1');
    }
    const number = append(looks, element(look.name, attributes, look.children));
    this.made.set(key, number);
    return number;
  }

  private patternId(pattern: string): number {
    for (const [id, known] of [...this.patterns, ...Object.entries(BUILT_IN)]) if (known === pattern) return Number(id);
    const id = Math.max(FIRST_OWN - 1, ...this.patterns.keys()) + 1;
    this.patterns.set(id, pattern);
    let list = this.list('numFmts');
    if (!list) {
      // Formats of numbers stand first in the part.
      list = element(`${prefixOf(this.root)}numFmts`);
      this.root.children.unshift(list);
    }
    append(
      list,
      element(`${prefixOf(this.root)}numFmt`, [
        ['numFmtId', String(id)],
        ['formatCode', pattern],
      ]),
    );
    return id;
  }

  private boldFont(font: number): number {
    const fonts = this.list('fonts');
    const plain = fonts && childrenOf(fonts, 'font')[font];
    if (!plain || childOf(plain, 'b')) return font;
    return append(fonts, element(plain.name, plain.attributes, [element(`${prefixOf(plain)}b`), ...plain.children]));
  }
}

/** Puts an element behind the others of a list that counts itself; its index. */
function append(list: XmlElement, one: XmlElement): number {
  list.children.push(one);
  const count = childrenOf(list).length;
  list.attributes.set('count', String(count));
  return count - 1;
}
