import type { Box3 } from '../geometry/index.ts';
import { hashKey, Refusal, type ShapeKey } from '../assembly/index.ts';
import { refsOf, type StepFile, isList } from '../exchange/index.ts';
import { readMappedItem, representationParts, type ShapeLinks } from './shapes.ts';
import { lengthUnitOf } from './units.ts';

/** The shape of one component as an exchange structure of its own, under a neutral product name. */
export interface Slice {
  readonly key: ShapeKey;
  readonly text: string;
  /** Diagonal of the box around all points of the slice; mm. At least that of the shape. */
  readonly diagonalMm: number;
  /** That box; all infinite without points. */
  readonly boxMm: Box3;
}

/** Entities that carry a shape that the geometry kernel can tessellate; what is tessellated already is read by us. */
const GEOMETRY =
  /BREP|SHELL|SURFACE_MODEL|FACETED|GEOMETRIC_SET|GEOMETRIC_CURVE_SET|EXTRUDED|REVOLVED|MAPPED_ITEM|CSG|TESSELLATED_SOLID|SOLID/;

/** So much larger than the file its slices may be: parts share little but units and colours. */
const SHARED = 8;
const SPARE = 1 << 24; // letters

/** Cuts slices out of one file; keeps what all of them need. */
export class Slicer {
  private readonly stylesOf: ReadonlyMap<number, readonly number[]>;
  /** By what is drawn: definitions may share a shape. */
  private readonly made = new Map<string, Slice>();
  private letters = 0;
  constructor(
    private readonly file: StepFile,
    private readonly links: ShapeLinks,
  ) {
    this.stylesOf = readStyles(file);
  }

  /** The slice of a product definition's own geometry, or null where it has none. */
  slice(definition: number): Slice | null {
    const parts = (this.links.ofDefinition.get(definition) ?? []).map((id) => this.ownItems(id, definition));
    const drawn = parts.filter((part) => part.items.some((item) => this.isGeometry(item)));
    if (drawn.length === 0) return null;
    const same = drawn.map(({ id, items }) => `${id} ${items.join()}`).join(';');
    let slice = this.made.get(same);
    if (!slice) this.made.set(same, (slice = this.write(drawn)));
    return slice;
  }

  private write(drawn: readonly { id: number; items: number[]; context: number }[]): Slice {
    const writer = new SliceWriter(this.file);
    const representations = drawn.map(({ id, items, context }) => ({
      id,
      items: items.map((item) => writer.include(item)),
      context: context < 0 ? null : writer.include(context),
    }));
    const styles = writer
      .visited()
      .flatMap((id) => this.stylesOf.get(id) ?? [])
      .map((id) => writer.include(id));
    const text = writer.finish(
      representations.map((part) => ({ ...part, keyword: this.file.keywordsOf(part.id)[0] })),
      styles,
    );
    this.letters += text.length;
    if (this.letters > SHARED * this.file.index.bytes.length + SPARE)
      throw new Refusal(
        'shapes-too-large',
        `The shapes of the parts come to more than ${SHARED} times the file, since many parts share large shapes in pieces. No model is like that, so it is refused; nothing was stored.`,
      );
    const unit = this.unit(drawn[0].context);
    return {
      key: hashKey('slice', text) as ShapeKey,
      text,
      diagonalMm: writer.diagonal() * unit,
      boxMm: writer.box().map((value) => value * unit) as unknown as Box3,
    };
  }

  private unit(context: number): number {
    return context < 0 ? 1 : lengthUnitOf(this.file, context).toMm;
  }

  private isGeometry(item: number): boolean {
    return this.file.keywordsOf(item).some((keyword) => GEOMETRY.test(keyword) && !keyword.includes('TESSELLATED'));
  }

  /** Items of a representation without the mapped items that only place another product's shape here. */
  private ownItems(id: number, definition: number): { id: number; items: number[]; context: number } {
    const { items, context } = representationParts(this.file, id);
    const own = items.filter((item) => {
      if (
        this.file
          .keywordsOf(item)
          .some((keyword) => keyword.includes('TESSELLATED') || keyword.includes('TRIANGULATED'))
      )
        return false;
      if (!this.file.is(item, 'MAPPED_ITEM')) return true;
      const mapped = readMappedItem(this.file, item);
      const owner = mapped ? this.links.definitionOf.get(mapped.representation) : undefined;
      return owner === undefined || owner === definition;
    });
    return { id, items: own, context };
  }
}

/** Styled items by the item that they colour, without those that refer to something missing. */
function readStyles(file: StepFile): Map<number, number[]> {
  const styles = new Map<number, number[]>();
  const { referenceStarts, references } = file.index;
  const isWhole = (slot: number) =>
    references.subarray(referenceStarts[slot], referenceStarts[slot + 1]).every((to) => to >= 0);
  for (const slot of file.ofType('STYLED_ITEM', 'OVER_RIDING_STYLED_ITEM')) {
    const keyword = file.size(slot, 'STYLED_ITEM') >= 2 ? 'STYLED_ITEM' : 'OVER_RIDING_STYLED_ITEM';
    const item = file.ref(slot, keyword, file.size(slot, keyword) === 2 ? 1 : 2);
    if (
      item < 0 ||
      !isWhole(slot) ||
      !refsOf(file.value(slot, keyword, file.size(slot, keyword) === 2 ? 0 : 1)).every(isWhole)
    )
      continue;
    const known = styles.get(item);
    if (known) known.push(slot);
    else styles.set(item, [slot]);
  }
  return styles;
}

/** Writes entities renumbered in the order in which they are reached, so that equal shapes give equal text. */
class SliceWriter {
  private readonly numbers = new Map<number, number>();
  private readonly lines: string[] = [];
  private readonly low = [Infinity, Infinity, Infinity];
  private readonly high = [-Infinity, -Infinity, -Infinity];

  constructor(private readonly file: StepFile) {}

  visited(): number[] {
    return [...this.numbers.keys()];
  }

  /** Includes the entity and all it refers to; its number in the slice. */
  include(id: number): number {
    const waiting: number[] = [];
    const number = this.numberOf(id, waiting);
    while (waiting.length > 0) this.copy(waiting.pop()!, waiting);
    return number;
  }

  /** An entity met for the first time gets the next number and is put on the list of what must still be copied. */
  private numberOf(id: number, waiting: number[]): number {
    let number = this.numbers.get(id);
    if (number === undefined) {
      number = this.numbers.size + 1;
      this.numbers.set(id, number);
      waiting.push(id);
    }
    return number;
  }

  private copy(slot: number, waiting: number[]): void {
    const { bytes, starts, ends, references, referenceStarts } = this.file.index;
    let text = `#${this.numbers.get(slot)!}=`;
    const end = ends[slot];
    let next = referenceStarts[slot];
    let plainFrom = starts[slot];
    for (let at = plainFrom; at < end; at++) {
      const byte = bytes[at];
      if (byte === 39 || byte === 34) at = bytes.indexOf(byte, at + 1);
      else if (byte === 47 && bytes[at + 1] === 42) {
        text += latin(bytes, plainFrom, at);
        while (!(bytes[at] === 42 && bytes[at + 1] === 47) || at < plainFrom) at++;
        plainFrom = at + 2;
        at++;
      } else if (byte === 35) {
        text += latin(bytes, plainFrom, at);
        while (bytes[at + 1] >= 48 && bytes[at + 1] <= 57) at++;
        const target = references[next++];
        text += target < 0 ? '$' : `#${this.numberOf(target, waiting)}`;
        plainFrom = at + 1;
      }
    }
    this.lines.push(`${text}${latin(bytes, plainFrom, end)};`);
    if (this.file.is(slot, 'CARTESIAN_POINT')) this.measure(slot);
  }

  private measure(slot: number): void {
    const values = this.file.value(slot, 'CARTESIAN_POINT', this.file.size(slot, 'CARTESIAN_POINT') - 1);
    if (!isList(values)) return;
    values.slice(0, 3).forEach((value, axis) => {
      if (typeof value !== 'number') return;
      this.low[axis] = Math.min(this.low[axis], value);
      this.high[axis] = Math.max(this.high[axis], value);
    });
  }

  /** In the file's unit. */
  box(): number[] {
    return [...this.low, ...this.high].map((value) =>
      this.high[0] >= this.low[0] && !Number.isFinite(value) ? 0 : value,
    ); // points of a drawing have no z
  }

  /** In the file's unit; 0 without points. */
  diagonal(): number {
    return this.high[0] < this.low[0]
      ? 0
      : Math.hypot(...this.high.map((value, axis) => (value === -Infinity ? 0 : value - this.low[axis])));
  }

  finish(
    representations: readonly { keyword: string; items: readonly number[]; context: number | null }[],
    styles: readonly number[],
  ): string {
    let next = this.numbers.size + 1;
    const add = (body: string) => {
      this.lines.push(`#${next}=${body};`);
      return `#${next++}`;
    };
    const application = add(`APPLICATION_CONTEXT('automotive_design')`);
    add(`APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2000,${application})`);
    const productContext = add(`PRODUCT_CONTEXT('',${application},'mechanical')`);
    const product = add(`PRODUCT('shape','shape','',(${productContext}))`);
    const formation = add(`PRODUCT_DEFINITION_FORMATION('','',${product})`);
    const definitionContext = add(`PRODUCT_DEFINITION_CONTEXT('part definition',${application},'design')`);
    const definition = add(`PRODUCT_DEFINITION('design','',${formation},${definitionContext})`);
    const shape = add(`PRODUCT_DEFINITION_SHAPE('','',${definition})`);
    const refs = (numbers: readonly number[]) => numbers.map((number) => `#${number}`).join(',');
    let context: number | null = null;
    const written = representations.map((part) => {
      context ??= part.context;
      return add(`${part.keyword}('',(${refs(part.items)}),${part.context === null ? '$' : `#${part.context}`})`);
    });
    add(`SHAPE_DEFINITION_REPRESENTATION(${shape},${written[0]})`);
    for (const other of written.slice(1)) add(`SHAPE_REPRESENTATION_RELATIONSHIP('','',${written[0]},${other})`);
    if (styles.length > 0 && context !== null)
      add(`MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(${refs(styles)}),#${context})`);
    return [
      'ISO-10303-21;',
      'HEADER;',
      "FILE_DESCRIPTION((''),'2;1');",
      "FILE_NAME('','',(''),(''),'','','');",
      "FILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }'));",
      'ENDSEC;',
      'DATA;',
      ...this.lines,
      'ENDSEC;',
      'END-ISO-10303-21;',
      '',
    ].join('\n');
  }
}

const latinDecoder = new TextDecoder('latin1');

/**
 * Texts inside a slice are of no consequence for its shape; bytes of 0x80 and above only have to come out alike each
 * time.
 */
function latin(bytes: Uint8Array, from: number, to: number): string {
  const text = latinDecoder.decode(bytes.subarray(from, to));
  if (!/[\r\n]/.test(text)) return text;
  // Without line ends and the blanks around them; by pieces, since a pattern would look at long blanks again and again.
  const pieces = text.split(/[\r\n]+/);
  const last = pieces.length - 1;
  return pieces
    .map((piece, at) => (at === 0 ? piece : piece.trimStart()))
    .map((piece, at) => (at === last ? piece : piece.trimEnd()))
    .join('');
}
