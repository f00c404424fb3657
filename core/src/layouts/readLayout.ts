import {
  keyGraph,
  keyMesh,
  NO_KEY,
  Refusal,
  refuseBrokenGraph,
  unnamed,
  type ComponentDraft,
  type DraftUsage,
  type Finding,
  type Properties,
  type ShapeKey,
  type ShapeMesh,
  type ComponentIndex,
} from '../assembly/index.ts';
import { identityPlacement, type Placement } from '../geometry/index.ts';
import type { ModelContent } from '../step/index.ts';
import { boxOfShapes, flatMesh, type FlatShape } from './flatMesh.ts';
import { outlinesOf, type Outline } from './outlines.ts';
import { likeSignature } from './likes.ts';
import { isHidden, paintOf, readClasses, usualPaint, type Paint, type Said } from './paint.ts';
import { inverseScale, mmOnly, pageOf, viewBoxOf } from './page.ts';
import { NAMING, NAMING_ALONE, NO_PROPERTIES, NUMBERING } from './attributes.ts';
import { readSvgNodes, type SvgAttributes, type SvgFile, type SvgNode } from './svgNodes.ts';
import { compose, identity, numbersIn, readTransform, translation, type Affine } from './transforms.ts';

/** `schema` of an assembly that was read from a layout. */
const LAYOUT_SCHEMA = 'SVG layout';
/** Whether an assembly is flat: its picture is a drawing. */
export const isLayout = ({ schema }: { readonly schema: string }): boolean => schema === LAYOUT_SCHEMA;

/** Elements that hold others and say nothing themselves. */
const HOLDERS = new Set(['svg', 'g', 'a', 'switch']);
const SHAPES = new Set(['path', 'rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon']);
/** Symbols within symbols, as deep as structures may be. */
const DEEPEST = 512;
/** A layout of more loose shapes is a drawing of other things; all of them are the ground. */
const MOST_LOOSE = 20_000;
/** Names in a sentence. */
const TOLD = 6;

/** Where reading stands: transform to the symbol's coordinates in mm, paint, and the layer. */
interface Here {
  readonly transform: Affine;
  readonly paint: Paint;
  readonly layer: string;
}
/** What is gathered of one symbol, or of the layout itself. */
interface Gathering {
  readonly shapes: FlatShape[];
  readonly usages: DraftUsage[];
  /** Of the layout itself: shapes that are no part of a symbol. */
  readonly loose?: FlatShape[];
}

/**
 * Reads a layout: every use of a symbol is an occurrence. Symbols are what `<use>` refers to, groups that name their symbol in a
 * `data-` attribute, and groups of one class that stand in several places. `data-` attributes, titles and descriptions become
 * properties. What belongs to no symbol is drawn and not counted. Nothing in the file is run or fetched.
 * Cost: one pass; symbols within symbols stay shared, so that uses within uses cost what their few definitions cost.
 * @param options `shapes: false` reads what a list needs
 * @throws Refusal where it is no SVG, is broken, or its symbols stand in themselves
 */
export function readLayout(
  bytes: Uint8Array,
  { shapes }: { readonly shapes: boolean } = { shapes: true },
): ModelContent {
  return new LayoutReader(readSvgNodes(bytes, shapes), shapes).read();
}

class LayoutReader {
  private readonly drafts: ComponentDraft[] = [];
  private readonly meshes = new Map<ShapeKey, ShapeMesh>();
  private readonly findings: Finding[] = [];
  private readonly byId = new Map<string, SvgNode>();
  /** What uses refer to, by what they say; null for what is not there. */
  private readonly targets = new Map<string, SvgNode | null>();
  /** Elements that a `<use>` names: each is a symbol, also where it is drawn itself. */
  private readonly used = new Set<SvgNode>();
  private readonly classes: ReadonlyMap<string, Said>;
  /** Classes of groups that stand in several places. */
  private readonly repeated = new Set<string>();
  private readonly draftOf = new Map<SvgNode, number>();
  /** Symbols that are being read: one of them within itself has no end. */
  private readonly reading = new Set<SvgNode>();
  /** Drafts of symbols that groups stand for, by name and content. */
  private readonly known = new Map<string, number>();
  private readonly lost = new Map<string, number>();
  private hiddenUses = 0;
  private nameless = 0;
  private readonly toMm: Affine;
  private readonly diagonal: number;

  constructor(
    private readonly file: SvgFile,
    private readonly withShapes: boolean,
  ) {
    const { transform, diagonal } = pageOf(file.root);
    this.toMm = transform;
    this.diagonal = diagonal;
    this.classes = readClasses(this.gather());
  }

  read(): ModelContent {
    const { root } = this.file;
    const top: Gathering = { shapes: [], usages: [], loose: [] };
    const here = { transform: this.toMm, paint: usualPaint, layer: '' };
    for (const child of root.children)
      this.walk(child, { ...here, paint: paintOf(root, usualPaint, this.classes) }, top);
    this.looseShapes(top);
    if (top.usages.length === 0)
      throw new Refusal(
        'no-products',
        'The layout has no symbols that are used: no <use>, no groups with data-symbol, none of one class in several places. Draw what is to be counted as symbols.',
      );
    const facts = factsOf(root);
    const drafts = [
      ...this.drafts,
      {
        ...unnamed,
        name: facts.title,
        description: facts.description,
        shape: this.shapeOf(top.shapes),
        usages: top.usages,
      },
    ];
    this.tell();
    const assembly = {
      version: 1 as const,
      schema: LAYOUT_SCHEMA,
      sourceUnit: 'mm',
      ...keyGraph(drafts, { placed: this.withShapes }),
      findings: this.findings,
    };
    refuseBrokenGraph(assembly);
    return { assembly, slices: [], meshes: [...this.meshes.values()] };
  }

  /**
   * Shapes of no symbol: those that are drawn alike in several places may turn out to be one, so each is a component that is not
   * counted until somebody says what it is; the others are the ground.
   */
  private looseShapes({ loose = [], shapes, usages }: Gathering): void {
    const signatures = loose.length > MOST_LOOSE ? [] : loose.map(({ outlines }) => likeSignature(outlines));
    const times = new Map<string, number>();
    for (const name of signatures) times.set(name, (times.get(name) ?? 0) + 1);
    loose.forEach((shape, at) => {
      const name = signatures[at] ?? '';
      if (name === '' || times.get(name) === 1) return void shapes.push(shape);
      const [x, y] = middleOf([shape]);
      const own = this.shapeOf([{ ...shape, outlines: centred(shape.outlines, x, y) }]);
      if (own === null) return;
      const child = this.draft(`drawn ${own}`, () => ({ ...unnamed, shape: own, drawn: true, usages: [] }));
      usages.push({ key: NO_KEY, child, label: '', quantity: 1, placement: placementOf(translation(x, y)) });
    });
  }

  /** Ids, what is used, classes of groups; the texts of style sheets. */
  private gather(): string[] {
    const sheets: string[] = [];
    const waiting = [this.file.root];
    const groups = new Map<string, number>();
    const uses: SvgNode[] = [];
    for (let node = waiting.pop(); node; node = waiting.pop()) {
      const { tag, attributes, children } = node;
      if (attributes.id !== undefined && !this.byId.has(attributes.id)) this.byId.set(attributes.id, node);
      if (tag === 'use') uses.push(node);
      else if (tag === 'style') sheets.push(node.text);
      else if (tag === 'g' && attributes.class) groups.set(attributes.class, (groups.get(attributes.class) ?? 0) + 1);
      for (const child of children) waiting.push(child);
    }
    for (const use of uses) {
      const target = this.targetOf(use);
      if (target) this.used.add(target);
    }
    for (const [name, count] of groups) if (count > 1) this.repeated.add(name);
    return sheets;
  }
  private targetOf(use: SvgNode): SvgNode | null {
    const name = referenceOf(use);
    let target = this.targets.get(name);
    if (target === undefined) {
      target = name.startsWith('#') ? (this.byId.get(name.slice(1)) ?? null) : null;
      this.targets.set(name, target);
    }
    return target;
  }

  private walk(node: SvgNode, here: Here, into: Gathering): void {
    const { tag, attributes } = node;
    if (tag === 'defs' || tag === 'symbol' || tag === 'style' || tag === 'title' || tag === 'desc') return;
    if (isHidden(node)) return void (this.hiddenUses += countUses(node));
    if (tag === 'use') return this.useOf(node, here, into);
    const inner = {
      ...here,
      transform: attributes.transform ? compose(here.transform, readTransform(attributes.transform)) : here.transform,
      paint: paintOf(node, here.paint, this.classes),
    };
    if (this.used.has(node)) {
      const child = this.symbolOf(node);
      return void into.usages.push(this.usage(node, child, inner.transform, here.layer));
    }
    if (!HOLDERS.has(tag) && !SHAPES.has(tag)) return;
    const name = this.symbolName(node);
    if (name !== null) return this.groupOf(node, name, inner, into);
    if (SHAPES.has(tag)) {
      if (this.withShapes)
        (into.loose ?? into.shapes).push({
          outlines: moved(outlinesOf(node), inner.transform),
          paint: inner.paint,
        });
      return;
    }
    const layer = layerOf(node) || here.layer;
    const offset =
      tag === 'svg'
        ? translation(numbersIn(attributes.x ?? '0')[0] ?? 0, numbersIn(attributes.y ?? '0')[0] ?? 0)
        : identity;
    for (const child of node.children)
      this.walk(child, { ...inner, layer, transform: compose(inner.transform, offset) }, into);
  }

  /** What a group, or a shape by itself, says that it is; null for one that only holds others, or is drawn. */
  private symbolName(node: SvgNode): string | null {
    const { attributes, tag } = node;
    for (const name of NAMING) if (attributes[name] !== undefined) return attributes[name].trim();
    if (tag !== 'g' || countUses(node) > 0 || this.holdsSymbols(node)) return null;
    for (const name of NAMING_ALONE) if (attributes[name]?.trim()) return attributes[name].trim();
    // Of one class in several places: a symbol, unless it holds others, as a layer does.
    if (attributes.class && this.repeated.has(attributes.class)) return attributes.class.split(/\s+/)[0];
    // What has attributes of its own is meant to be something, also where nothing says what it is called.
    return node.properties === NO_PROPERTIES ? null : '';
  }
  private holdsSymbols = (node: SvgNode): boolean =>
    node.children.some(
      (child) =>
        this.used.has(child) ||
        NAMING.some((name) => child.attributes[name] !== undefined) ||
        (child.tag === 'g' &&
          (child.properties !== NO_PROPERTIES ||
            (child.attributes.class !== undefined && this.repeated.has(child.attributes.class)) ||
            this.holdsSymbols(child))),
    );

  private useOf(node: SvgNode, { transform, layer }: Here, into: Gathering): void {
    const { attributes: a } = node;
    const target = this.targetOf(node);
    const placed = this.withShapes ? placedUse(transform, a) : identity;
    if (!target) {
      // Counted under the name that it is called by: nothing is lost, and nothing fetched.
      const name = referenceOf(node);
      this.lost.set(name, (this.lost.get(name) ?? 0) + 1);
      const child = this.draft(`lost ${name}`, () => ({
        ...unnamed,
        name: name.replace(/^.*#/, '') || '(no name)',
        usages: [],
      }));
      return void into.usages.push(this.usage(node, child, placed, layer));
    }
    const child = this.symbolOf(target);
    if (!this.withShapes) return void into.usages.push(this.usage(node, child, placed, layer));
    const own =
      target.tag === 'symbol' || target.tag === 'svg'
        ? viewBoxOf(target, a)
        : readTransform(target.attributes.transform);
    into.usages.push(this.usage(node, child, compose(placed, own), layer));
  }

  /** The draft of an element that is used. Its own transform belongs to its uses. */
  private symbolOf(node: SvgNode): number {
    const known = this.draftOf.get(node);
    if (known !== undefined) return known;
    if (this.reading.has(node))
      throw new Refusal(
        'cyclic-structure',
        `The symbol “${node.attributes.id ?? ''}” of the layout stands in itself, so it has no end. Take it out of itself.`,
      );
    if (this.reading.size >= DEEPEST)
      throw new Refusal('too-deep', `Symbols of the layout stand more than ${DEEPEST} deep in one another.`);
    this.reading.add(node);
    const gathered: Gathering = { shapes: [], usages: [] };
    const inner: Here = { transform: mmOnly(this.toMm), paint: paintOf(node, usualPaint, this.classes), layer: '' };
    if (SHAPES.has(node.tag)) {
      if (this.withShapes)
        gathered.shapes.push({ outlines: moved(outlinesOf(node), inner.transform), paint: inner.paint });
    } else if (node.tag === 'use') this.useOf(node, inner, gathered);
    else for (const child of node.children) this.walk(child, inner, gathered);
    this.reading.delete(node);
    const facts = factsOf(node);
    const index = this.drafts.length;
    const name = facts.title || NAMING.map((one) => node.attributes[one]).find(Boolean) || (node.attributes.id ?? '');
    this.drafts.push(this.draftWith(node, name, gathered));
    this.draftOf.set(node, index);
    return index;
  }

  /** A group that stands for a symbol: the same name and content is the same symbol, wherever it stands. */
  private groupOf(node: SvgNode, name: string, here: Here, into: Gathering): void {
    if (name === '') this.nameless++;
    const gathered: Gathering = { shapes: [], usages: [] };
    const scale = mmOnly(this.toMm);
    if (SHAPES.has(node.tag)) gathered.shapes.push({ outlines: moved(outlinesOf(node), scale), paint: here.paint });
    for (const child of node.children) this.walk(child, { transform: scale, paint: here.paint, layer: '' }, gathered);
    // Groups that are drawn in place have no transform that says where they are: their middle does.
    const [x, y] = middleOf(gathered.shapes);
    const middled: Gathering = {
      shapes: gathered.shapes.map(({ outlines, paint }) => ({ outlines: centred(outlines, x, y), paint })),
      usages: gathered.usages.map((usage) => ({ ...usage, placement: shifted(usage.placement, -x, -y) })),
    };
    const facts = factsOf(node);
    const draft = this.draftWith(node, facts.title && name === '' ? facts.title : name, middled, true);
    const content = JSON.stringify([draft.name, draft.partNumber, draft.shape, draft.usages]);
    const child = this.draft(`group ${content}`, () => draft);
    // From the symbol's mm back to units of the file, and then where the group stands.
    const back = inverseScale(scale);
    into.usages.push(
      this.usage(node, child, compose(compose(here.transform, back), translation(x, y)), here.layer, true),
    );
  }

  private draft(key: string, make: () => ComponentDraft): number {
    let index = this.known.get(key);
    if (index === undefined) {
      index = this.drafts.length;
      this.drafts.push(make());
      this.known.set(key, index);
    }
    return index;
  }

  /** @param isGroup whose attributes are those of the place, not of the symbol */
  private draftWith(node: SvgNode, name: string, { shapes, usages }: Gathering, isGroup = false): ComponentDraft {
    const facts = factsOf(node);
    return {
      ...unnamed,
      partNumber:
        NUMBERING.map((one) => node.attributes[one])
          .find(Boolean)
          ?.trim() ?? '',
      name: name.trim(),
      description: isGroup ? '' : facts.description,
      properties: isGroup ? {} : facts.properties,
      shape: this.shapeOf(shapes),
      usages,
    };
  }

  /** @param inMm whether the transform takes mm already */
  private usage(node: SvgNode, child: ComponentIndex, transform: Affine, layer: string, inMm = false): DraftUsage {
    const { title, description, properties } = factsOf(node);
    const isSymbolItself = this.used.has(node);
    const isPlain = layer === '' && (description === '' || isSymbolItself);
    const own = isPlain
      ? isSymbolItself
        ? NO_PROPERTIES
        : properties
      : {
          ...(isSymbolItself ? {} : properties),
          ...(description && !isSymbolItself ? { Description: { value: description } } : {}),
          ...(layer ? { Layer: { value: layer } } : {}),
        };
    return {
      key: NO_KEY,
      child,
      label: (isSymbolItself ? '' : title) || (node.tag === 'use' ? (node.attributes.id ?? '') : ''),
      quantity: 1,
      placement: this.withShapes
        ? placementOf(inMm ? transform : compose(transform, inverseScale(mmOnly(this.toMm))))
        : identityPlacement,
      ...(own === NO_PROPERTIES ? {} : { properties: own }),
    };
  }

  private shapeOf(shapes: readonly FlatShape[]): ShapeKey | null {
    if (!this.withShapes || shapes.length === 0) return null;
    const mesh = flatMesh(
      shapes.map(({ outlines, paint }) => ({ outlines: moved(outlines, UPWARDS), paint })),
      this.diagonal,
    );
    if (!mesh) return null;
    const made = keyMesh(mesh);
    this.meshes.set(made.key, made);
    return made.key;
  }

  private tell(): void {
    const say = (code: string, message: string) => this.findings.push({ code, message });
    const { passedOver, hasEntities } = this.file;
    const runs = [...passedOver].filter(([tag]) => /^(script|foreignObject|handler|animate\w*|set)$/.test(tag));
    if (runs.length > 0)
      say('kept-out', `The layout holds what runs or moves (${runs.map(([tag]) => tag).join(', ')}); it is not read.`);
    if (hasEntities)
      say('entities', 'The layout declares entities; they are not followed, and stand as they are written.');
    const words = [...passedOver].filter(([tag]) => tag === 'text' || tag === 'image');
    if (words.length > 0)
      say(
        'not-drawn',
        `${words.map(([tag, count]) => `${count} ${tag === 'text' ? 'texts' : 'pictures'}`).join(' and ')} of the layout are not drawn; nothing is fetched for them.`,
      );
    if (this.lost.size > 0) {
      const names = [...this.lost].slice(0, TOLD).map(([name, count]) => `“${name}” (${count})`);
      say(
        'dangling-reference',
        `Uses refer to what is not in the layout: ${names.join(', ')}${this.lost.size > TOLD ? ' …' : ''}. They are counted under these names and not drawn.`,
      );
    }
    if (this.hiddenUses > 0)
      say('hidden', `${this.hiddenUses} uses of symbols are hidden in the layout and not counted.`);
    if (this.nameless > 0)
      say(
        'unnamed-symbol',
        `${this.nameless} groups are symbols without a name (nothing such as data-symbol says one); what is drawn alike is counted together.`,
      );
  }
}

const UPWARDS: Affine = [1, 0, 0, -1, 0, 0];

const referenceOf = ({ attributes }: SvgNode): string => (attributes.href ?? '').trim();

/** Uses in a group, symbols that are only defined there left out. */
function countUses(node: SvgNode): number {
  if (node.tag === 'use') return 1;
  return node.children.reduce(
    (sum, child) => sum + (child.tag === 'defs' || child.tag === 'symbol' ? 0 : countUses(child)),
    0,
  );
}

/** Where a use stands: its transform, then x and y. */
const placedUse = (transform: Affine, a: SvgAttributes): Affine =>
  compose(compose(transform, readTransform(a.transform)), translation(firstNumber(a.x), firstNumber(a.y)));
const firstNumber = (text: string | undefined): number => {
  if (text === undefined) return 0;
  const plain = Number(text);
  return Number.isFinite(plain) ? plain : (numbersIn(text)[0] ?? 0);
};

/** A layer's name: the title of a group, else what it is called. */
function layerOf({ tag, attributes, children }: SvgNode): string {
  if (tag !== 'g') return '';
  const title = children.find((child) => child.tag === 'title')?.text.trim();
  return (title || attributes['data-layer'] || attributes.id || '').trim();
}

function moved(outlines: readonly Outline[], [a, b, c, d, e, f]: Affine): Outline[] {
  return outlines.map(({ points, closed }) => {
    const made = new Array<number>(points.length);
    for (let at = 0; at < points.length; at += 2) {
      made[at] = a * points[at] + c * points[at + 1] + e;
      made[at + 1] = b * points[at] + d * points[at + 1] + f;
    }
    return { points: made, closed };
  });
}

/** About a middle, to a hundred-thousandth of a mm: what is drawn alike in two places differs by noise only, and has one shape. */
const centred = (outlines: readonly Outline[], x: number, y: number): Outline[] =>
  moved(outlines, translation(-x, -y)).map(({ points, closed }) => ({
    points: points.map((value) => Math.round(value * 1e5) / 1e5 + 0),
    closed,
  }));

function middleOf(shapes: readonly FlatShape[]): [number, number] {
  const box = boxOfShapes(shapes);
  if (!Number.isFinite(box[0])) return [0, 0];
  // To a thousandth of a mm, so that what is drawn alike in two places has one shape.
  return [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2].map((value) => Math.round(value * 1e3) / 1e3) as [
    number,
    number,
  ];
}

/** The page's y runs down, the machine's up: the same transform seen from the other side. */
const placementOf = ([a, b, c, d, e, f]: Affine): Placement => {
  // A symbol keeps its thickness, whatever its scale.
  const plain = (value: number): number => Math.round(value * 1e9) / 1e9 + 0;
  return [plain(a), plain(-c), 0, plain(e), plain(-b), plain(d), 0, plain(-f), 0, 0, 1, 0];
};
const shifted = (placement: Placement, x: number, y: number): Placement =>
  placement.map((value, at) => (at === 3 ? value + x : at === 7 ? value - y : value)) as unknown as Placement;

const nothing: { readonly title: string; readonly description: string; readonly properties: Properties } = {
  title: '',
  description: '',
  properties: NO_PROPERTIES,
};
/** Title, description and `data-` attributes: data-serial-number is Serial number. */
function factsOf({ children, properties }: SvgNode): typeof nothing {
  if (children.length === 0) return properties === NO_PROPERTIES ? nothing : { title: '', description: '', properties };
  let title = '',
    description = '';
  for (const { tag, text } of children)
    if (tag === 'title') title ||= text.replace(/\s+/g, ' ').trim();
    else if (tag === 'desc') description ||= text.replace(/\s+/g, ' ').trim();
  return { title, description, properties };
}
