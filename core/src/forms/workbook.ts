// The archive that a workbook is: ECMA-376 part 2 (packages) and part 1, 12 (parts of a spreadsheet).
import { zipSync } from 'fflate';
import { Refusal } from '../assembly/index.ts';
import { unzipBounded } from '../sources/index.ts';
import { childrenOf, localName, readXml, textOf, within, writeXml, xmlText, type XmlElement } from './xml.ts';

/** Largest form, packed; bytes. */
const MAX_FORM = 32 * 1024 * 1024;
/** What its parts may unpack to; a form is never as large. */
const BOUNDS = { bytes: 200_000_000, entries: 5000 };
/** A single part of text; reading one takes many times its size. */
const MOST_PART = 50_000_000;

/** A sheet of the workbook. */
export interface FormSheet {
  readonly name: string;
  /** Of its part in the archive. */
  readonly part: string;
  /** Among all sheets of the workbook, also those without cells. */
  readonly order: number;
  readonly hidden: boolean;
}

/** What a part points to. */
interface Relation {
  readonly id: string;
  /** Last word of its type. */
  readonly type: string;
  /** Path in the archive; an address where it is outside. */
  readonly target: string;
  readonly external: boolean;
}

/**
 * A workbook whose parts are read where they are needed, and changed in place. Parts that nobody changes go out as they
 * came in, to the byte.
 */
export class Workbook {
  readonly sheets: readonly FormSheet[];
  private readonly parts: Map<string, Uint8Array>;
  private readonly trees = new Map<string, XmlElement>();
  private readonly main: string;
  private strings: readonly XmlElement[] | null = null;

  /** @throws Refusal where it is no workbook, is damaged, protected by a password or unpacks to too much */
  constructor(bytes: Uint8Array) {
    if (bytes.length > MAX_FORM)
      throw new Refusal(
        'form-too-large',
        `The workbook has ${Math.round(bytes.length / 1e6)} MB; a form may have ${Math.round(MAX_FORM / 1e6)} MB. Take large pictures and old sheets out of it.`,
      );
    if (bytes[0] === 0xd0 && bytes[1] === 0xcf)
      throw new Refusal(
        'not-a-workbook',
        'The file is an old workbook (.xls), or one that a password protects. Save it as XLSX without a password.',
      );
    if (bytes[0] !== 0x50 || bytes[1] !== 0x4b)
      throw new Refusal('not-a-workbook', 'The file is no XLSX workbook. Save the form as XLSX.');
    this.parts = unzipBounded(bytes, (name) => !name.endsWith('/'), BOUNDS);
    for (const [name, { length }] of this.parts)
      if (length > MOST_PART && /\.(xml|rels|vml)$/i.test(name))
        throw new Refusal(
          'form-too-large',
          `The part ${name} of the workbook has ${Math.round(length / 1e6)} MB; no form is like that. Take out rows and sheets that hold data.`,
        );
    const main = this.relations('').find(({ type }) => type === 'officeDocument')?.target;
    if (!main || !this.parts.has(main) || localName(this.tree(main)) !== 'workbook')
      throw new Refusal('not-a-workbook', 'The archive is no XLSX workbook. Save the form as XLSX.');
    this.main = main;
    const targets = new Map(this.relations(main).map(({ id, type, target }) => [id, { type, target }]));
    this.sheets = [...within(this.book, 'sheet')].flatMap(({ attributes }, order) => {
      const id = [...attributes].find(([name]) => name.endsWith(':id'))?.[1] ?? '';
      const found = targets.get(id);
      const hidden = (attributes.get('state') ?? 'visible') !== 'visible';
      return found?.type === 'worksheet' && this.parts.has(found.target)
        ? [{ name: attributes.get('name') ?? '', part: found.target, order, hidden }]
        : [];
    });
    if (this.sheets.length === 0) throw new Refusal('no-sheet', 'The workbook has no sheet with cells.');
  }

  /** The part that names the sheets. */
  get book(): XmlElement {
    return this.tree(this.main);
  }
  get bookPart(): string {
    return this.main;
  }
  names = (): IterableIterator<string> => this.parts.keys();
  has = (part: string): boolean => this.parts.has(part);
  bytes = (part: string): Uint8Array | null => this.parts.get(part) ?? null;

  /** A part as a tree; what is changed in it goes out. Asking for one means that it is written anew. */
  tree(part: string): XmlElement {
    let tree = this.trees.get(part);
    if (!tree) {
      const bytes = this.parts.get(part);
      if (!bytes) throw new Refusal('damaged-workbook', `The workbook lacks its part ${part}. Save it again.`);
      this.trees.set(part, (tree = readXml(xmlText(bytes), part)));
    }
    return tree;
  }
  /** A part as a tree to look at; nothing of it goes out changed. */
  look(part: string): XmlElement | null {
    const known = this.trees.get(part);
    if (known) return known;
    const bytes = this.parts.get(part);
    return bytes ? readXml(xmlText(bytes), part) : null;
  }
  /** Text of a part as it is now. */
  text(part: string): string {
    const tree = this.trees.get(part);
    return tree ? writeXml(tree) : xmlText(this.parts.get(part) ?? new Uint8Array());
  }
  put(part: string, content: Uint8Array | XmlElement): void {
    this.trees.delete(part);
    if (content instanceof Uint8Array) this.parts.set(part, content);
    else {
      this.parts.set(part, new Uint8Array());
      this.trees.set(part, content);
    }
  }
  remove(part: string): void {
    this.parts.delete(part);
    this.trees.delete(part);
  }

  /** What a part points to; of the package itself for ''. */
  relations(part: string): Relation[] {
    const tree = this.look(relationsPart(part));
    if (!tree) return [];
    return childrenOf(tree, 'Relationship').map(({ attributes }) => {
      const external = attributes.get('TargetMode') === 'External';
      const target = attributes.get('Target') ?? '';
      return {
        id: attributes.get('Id') ?? '',
        type: (attributes.get('Type') ?? '').split('/').at(-1)!,
        target: external ? target : resolved(part, target),
        external,
      };
    });
  }
  /** Parts that this one points to with such a relation. */
  related = (part: string, type: string): string[] =>
    this.relations(part).flatMap((one) =>
      one.type === type && !one.external && this.has(one.target) ? [one.target] : [],
    );

  /** The sheet of this name, in capitals or not. */
  sheet = (name: string): FormSheet | null =>
    this.sheets.find((sheet) => sheet.name === name) ??
    this.sheets.find((sheet) => sheet.name.toLowerCase() === name.toLowerCase()) ??
    null;

  /** Names of single cells, with where they are. */
  definedCells(): { readonly name: string; readonly sheet: string; readonly cell: string }[] {
    return [...within(this.book, 'definedName')].flatMap((defined) => {
      const match = /^(?:'((?:[^']|'')+)'|([^'!]+))!(\$?[A-Za-z]{1,3}\$?\d+)(?::\$?[A-Za-z]{1,3}\$?\d+)?$/.exec(
        textOf(defined).trim(),
      );
      const name = defined.attributes.get('name') ?? '';
      const sheet = match && this.sheet(match[1]?.replaceAll("''", "'") ?? match[2]);
      if (!match || !sheet || name.startsWith('_xlnm.')) return [];
      return [{ name, sheet: sheet.name, cell: match[3].replaceAll('$', '').toUpperCase() }];
    });
  }

  /** Shared texts, each as its element. */
  sharedStrings(): readonly XmlElement[] {
    if (!this.strings) {
      const [part] = this.related(this.main, 'sharedStrings');
      const tree = part === undefined ? null : this.look(part);
      this.strings = tree ? childrenOf(tree, 'si') : [];
    }
    return this.strings;
  }

  /** The archive with what was changed; the same content gives the same bytes. */
  write(): Uint8Array {
    const encoder = new TextEncoder();
    const files: Record<string, [Uint8Array, { level: 0 | 6 }]> = Object.create(null) as never;
    // What its kinds are stands first in a package, for readers that read it as it comes.
    const names = [...this.parts.keys()].sort((a, b) => Number(b === CONTENT_TYPES) - Number(a === CONTENT_TYPES));
    for (const name of names) {
      const tree = this.trees.get(name);
      const bytes = tree ? encoder.encode(writeXml(tree)) : this.parts.get(name)!;
      files[name] = [bytes, { level: /\.(png|jpe?g|gif)$/i.test(name) ? 0 : 6 }];
    }
    return zipSync(files, { mtime: new Date(1980, 0, 1) });
  }
}

export const CONTENT_TYPES = '[Content_Types].xml';

/** The part that says what a part points to. */
export function relationsPart(part: string): string {
  const slash = part.lastIndexOf('/');
  return `${part.slice(0, slash + 1)}_rels/${part.slice(slash + 1)}.rels`;
}
/** A target relative to the folder of a part. */
function resolved(part: string, target: string): string {
  if (target.startsWith('/')) return target.slice(1);
  const folders = part.split('/').slice(0, -1);
  for (const piece of target.split('/'))
    if (piece === '..') folders.pop();
    else if (piece !== '.' && piece !== '') folders.push(piece);
  return folders.join('/');
}
