import { SaxesParser } from 'saxes';
import { Refusal, xmlFault, type Properties, type PropertyValue } from '../assembly/index.ts';
import { NO_PROPERTIES, shownName, valueOf } from './attributes.ts';

/** Attributes of an element by their names, with prefixes as written. */
export type SvgAttributes = Readonly<Record<string, string | undefined>>;
/** An element of a layout that may say something: structure, shapes, names. */
export interface SvgNode {
  /** Without its prefix. */
  readonly tag: string;
  /** Those of uses are only the ones that say where they are and of what. */
  readonly attributes: SvgAttributes;
  /** Its `data-` attributes, read. */
  readonly properties: Properties;
  children: readonly SvgNode[];
  /** Of titles, descriptions and style sheets. */
  text: string;
}

/** What a layout file holds. */
export interface SvgFile {
  readonly root: SvgNode;
  /** Elements that are never read, with how many there are: scripts, texts, pictures. */
  readonly passedOver: ReadonlyMap<string, number>;
  /** Whether it declares entities, which are not followed. */
  readonly hasEntities: boolean;
}

const KNOWN = new Set(
  'svg g a switch symbol defs use path rect circle ellipse line polyline polygon title desc style'.split(' '),
);
const WITH_TEXT = new Set(['title', 'desc', 'style']);
/** Elements within one another, as deep as structures may be. */
const DEEPEST = 512;
const MOST_TEXT = 200_000;
/** What tells uses of one symbol apart besides where they stand. */
const SAYING_MORE = new Set(['id', 'style', 'display', 'visibility']);
const NONE: readonly SvgNode[] = [];

/**
 * Reads a layout as a tree. Nothing in it is run, fetched or expanded.
 * @param shapes whether it matters where uses stand
 * @throws Refusal where it is no SVG, is broken or nested too deep
 */
export function readSvgNodes(bytes: Uint8Array, shapes = true): SvgFile {
  const parser = new SaxesParser();
  const passedOver = new Map<string, number>();
  const open: SvgNode[] = [];
  const values = new Map<string, PropertyValue>();
  let root: SvgNode | null = null,
    skipping = 0,
    depth = 0,
    hasEntities = false;
  let properties: Record<string, PropertyValue> | null = null;
  parser.on('error', (error) => {
    // An entity that is not defined stands as it is written.
    if (/undefined entity/i.test(error.message)) {
      hasEntities = true;
      return;
    }
    throw new Refusal(
      'not-svg',
      `The layout is no SVG that can be read (${xmlFault(parser)}). Save or export it again; nothing was stored.`,
    );
  });
  parser.on('doctype', (text) => {
    if (/<!ENTITY/i.test(text)) hasEntities = true;
  });
  /** Values that are said many times are one record. */
  const valueFor = (text: string): PropertyValue => {
    let value = values.get(text);
    if (!value) {
      value = valueOf(text);
      if (values.size < 1000) values.set(text, value);
    }
    return value;
  };
  /** What the element that is being read refers to, and whether it says more than where it stands. */
  let reference: string | null = null,
    saysMore = false;
  const counted = new Map<string, SvgAttributes>();
  /** Where only counts are asked for, uses of one symbol are alike. */
  const countedUse = (href: string): SvgAttributes => {
    let known = counted.get(href);
    if (!known) counted.set(href, (known = { href }));
    return known;
  };
  parser.on('attribute', ({ name, value }) => {
    if (skipping > 0) return;
    if (name.charCodeAt(0) !== 100 || !name.startsWith('data-')) {
      if (name === 'href' || name === 'xlink:href') reference = value;
      else if (SAYING_MORE.has(name)) saysMore = true;
      return;
    }
    const text = value.trim();
    const shown = text === '' ? null : shownName(name);
    if (shown !== null) (properties ??= {})[shown] = valueFor(text);
  });
  parser.on('opentag', ({ name, attributes }) => {
    const own = properties ?? NO_PROPERTIES;
    properties = null;
    const [refersTo, isPlain] = [reference, !saysMore];
    reference = null;
    saysMore = false;
    if (++depth > DEEPEST)
      throw new Refusal('too-deep', `The elements of the layout are more than ${DEEPEST} deep in one another.`);
    if (skipping > 0) return void skipping++;
    const colon = name.indexOf(':');
    const tag = colon < 0 ? name : name.slice(colon + 1);
    if (root && !KNOWN.has(tag)) {
      passedOver.set(tag, (passedOver.get(tag) ?? 0) + 1);
      return void skipping++;
    }
    const node: SvgNode = {
      tag,
      attributes:
        tag !== 'use' ? attributes : shapes || refersTo === null || !isPlain ? ofUse(attributes) : countedUse(refersTo),
      properties: own,
      children: NONE,
      text: '',
    };
    const above = open.at(-1);
    if (above) {
      if (above.children === NONE) above.children = [node];
      else (above.children as SvgNode[]).push(node);
    }
    root ??= node;
    open.push(node);
  });
  parser.on('closetag', () => {
    depth--;
    if (skipping > 0) skipping--;
    else open.pop();
  });
  const add = (text: string) => {
    const top = open.at(-1);
    if (skipping === 0 && top && WITH_TEXT.has(top.tag) && top.text.length < MOST_TEXT) top.text += text;
  };
  parser.on('text', add);
  parser.on('cdata', add);
  parser.write(decoded(bytes)).close();
  const found = root as SvgNode | null;
  if (found?.tag !== 'svg')
    throw new Refusal('not-svg', 'The file is XML, but no SVG drawing, so there is no layout in it.');
  return { root: found, passedOver, hasEntities };
}

/** A layout may have a hundred thousand uses: what nobody asks for is not kept. */
const ofUse = (a: SvgAttributes): SvgAttributes => ({
  href: a.href ?? a['xlink:href'] ?? Object.entries(a).find(([name]) => name.endsWith(':href'))?.[1],
  id: a.id,
  x: a.x,
  y: a.y,
  width: a.width,
  height: a.height,
  transform: a.transform,
  display: a.display,
  visibility: a.visibility,
  style: a.style,
});

/** UTF-8 unless a mark or the first line says otherwise. */
function decoded(bytes: Uint8Array): string {
  const start = String.fromCharCode(...bytes.subarray(0, 200));
  const said =
    bytes[0] === 0xff ? 'utf-16le' : bytes[0] === 0xfe ? 'utf-16be' : /encoding=["']([\w-]+)["']/.exec(start)?.[1];
  try {
    return new TextDecoder(said ?? 'utf-8').decode(bytes);
  } catch {
    return new TextDecoder().decode(bytes);
  }
}
