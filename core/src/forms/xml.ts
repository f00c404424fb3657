// The parts of a workbook as trees that can be changed and written again.
import { SaxesParser } from 'saxes';
import { Refusal, xmlFault } from '../assembly/index.ts';

/** An element of a part. Prefixes stay as the writer chose them. */
export interface XmlElement {
  /** With its prefix. */
  readonly name: string;
  readonly attributes: Map<string, string>;
  children: XmlNode[];
}
/** Markup that is written as it is. */
interface RawXml {
  readonly raw: string;
}
type XmlNode = XmlElement | RawXml | string;

/** Elements within one another; no workbook has as many. */
const DEEPEST = 256;
const decoders = { le: new TextDecoder('utf-16le'), be: new TextDecoder('utf-16be'), utf8: new TextDecoder() };

/** The text of a part, in whichever form of Unicode its mark says. */
export const xmlText = (bytes: Uint8Array): string =>
  (bytes[0] === 0xff && bytes[1] === 0xfe
    ? decoders.le
    : bytes[0] === 0xfe && bytes[1] === 0xff
      ? decoders.be
      : decoders.utf8
  ).decode(bytes);

/**
 * Reads a part of a workbook.
 * @param what names it in a refusal
 * @throws Refusal for what is no XML, declares entities or is nested too deep
 */
export function readXml(text: string, what: string): XmlElement {
  const parser = new SaxesParser();
  const open: XmlElement[] = [];
  let root: XmlElement | null = null;
  const damaged = (why: string) =>
    new Refusal('damaged-workbook', `${what} of the workbook cannot be read (${why}). Save the workbook again.`);
  parser.on('error', () => {
    throw damaged(xmlFault(parser));
  });
  parser.on('doctype', () => {
    throw damaged('it declares entities, which no workbook does');
  });
  parser.on('opentag', ({ name, attributes }) => {
    const element: XmlElement = { name, attributes: new Map(Object.entries(attributes)), children: [] };
    if (open.length >= DEEPEST) throw damaged('its elements are nested too deep');
    open.at(-1)?.children.push(element);
    root ??= element;
    open.push(element);
  });
  parser.on('closetag', () => void open.pop());
  const add = (piece: string) => void open.at(-1)?.children.push(piece);
  parser.on('text', add);
  parser.on('cdata', add);
  parser.write(text).close();
  if (!root) throw damaged('it is empty');
  return root;
}

const MARKUP: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\r': '&#13;',
  '\n': '&#10;',
  '\t': '&#9;',
};
export const escapeText = (text: string): string =>
  /[&<>\r]/.test(text) ? text.replace(/[&<>\r]/g, (sign) => MARKUP[sign]) : text;
export const escapeAttribute = (text: string): string => text.replace(/[&<>"\r\n\t]/g, (sign) => MARKUP[sign]);

/** A part as it stands in the archive. */
export function writeXml(root: XmlElement): string {
  const pieces = ['<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'];
  writeNode(root, pieces);
  return pieces.join('');
}
/** What stands within an element, as markup. */
export function innerXml(element: XmlElement): string {
  const pieces: string[] = [];
  for (const child of element.children) writeNode(child, pieces);
  return pieces.join('');
}
function writeNode(node: XmlNode, pieces: string[]): void {
  if (typeof node === 'string') return void pieces.push(escapeText(node));
  if ('raw' in node) return void pieces.push(node.raw);
  pieces.push('<', node.name);
  for (const [name, value] of node.attributes) pieces.push(' ', name, '="', escapeAttribute(value), '"');
  if (node.children.length === 0) return void pieces.push('/>');
  pieces.push('>');
  for (const child of node.children) writeNode(child, pieces);
  pieces.push('</', node.name, '>');
}

export const isElement = (node: XmlNode): node is XmlElement => typeof node === 'object' && 'name' in node;
/** Its name without the prefix. */
export const localName = ({ name }: XmlElement): string => name.slice(name.indexOf(':') + 1);
/** The prefix with its colon; empty where there is none. */
export const prefixOf = ({ name }: XmlElement): string => name.slice(0, name.indexOf(':') + 1);
export const childrenOf = (element: XmlElement, local?: string): XmlElement[] =>
  element.children.filter((node): node is XmlElement => isElement(node) && (!local || localName(node) === local));
export const childOf = (element: XmlElement | undefined, local: string): XmlElement | undefined =>
  element?.children.find((node): node is XmlElement => isElement(node) && localName(node) === local);
/** All elements of this name, however deep, in their order. */
export function* within(element: XmlElement, ...locals: string[]): Generator<XmlElement> {
  const waiting: XmlElement[] = [];
  // One by one: a sheet may have a million rows, and a call takes no million arguments.
  const wait = ({ children }: XmlElement) => {
    for (let at = children.length - 1; at >= 0; at--) {
      const child = children[at];
      if (isElement(child)) waiting.push(child);
    }
  };
  wait(element);
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    if (locals.includes(localName(next))) yield next;
    wait(next);
  }
}
/** All text in an element. */
export const textOf = (element: XmlElement | undefined): string =>
  element?.children.map((node) => (typeof node === 'string' ? node : isElement(node) ? textOf(node) : '')).join('') ??
  '';
export const element = (name: string, attributes: Iterable<[string, string]> = [], children: XmlNode[] = []) =>
  ({ name, attributes: new Map(attributes), children }) satisfies XmlElement;
