import type { MathNode } from 'mathjs';
import { fault, splitExpression, type Checked } from './expressions.ts';
import { baseUnit, dimensionWords, PLAIN, sameDimension, unitOf, type Dimension } from './units.ts';
import { asNumber, numberValue, type Value } from './values.ts';

/**
 * Arithmetic over `{Column}`s, numbers and units. mathjs reads the text; only what stands in the white list below is
 * evaluated, with the dimension of every value checked, so that a length is never added to a mass.
 */
export interface Formula {
  /** References in the order of writing. */
  readonly references: readonly string[];
  readonly tree: MathNode;
}

type Parse = (text: string) => MathNode;
let parse: Parse | null = null;

/**
 * Loads the reader of formulas; once, before any formula is read. It is large, so it is left out until a formula is
 * there.
 */
export async function readyForFormulas(): Promise<void> {
  if (parse) return;
  const { create, parseDependencies } = await import('mathjs');
  parse = create(parseDependencies).parse as Parse;
}
export const formulasAreReady = (): boolean => parse !== null;

const symbolOf = (index: number): string => `c${index}_`;
const FUNCTIONS: Readonly<Record<string, readonly [least: number, most: number]>> = {
  round: [1, 2],
  floor: [1, 1],
  ceil: [1, 1],
  min: [1, 50],
  max: [1, 50],
  abs: [1, 1],
  if: [3, 3],
};
const OPERATORS = new Set(['+', '-', '*', '/', '^', '<', '>', '<=', '>=', '==', '!=']);
const SIGNS: Readonly<Record<string, string>> = {
  '×': '*',
  '·': '*',
  '−': '-',
  '–': '-',
  '÷': '/',
  '≤': '<=',
  '≥': '>=',
  '≠': '!=',
  '²': '^2',
  '³': '^3',
};

/** Reads a formula. @throws Error when readyForFormulas was not awaited before */
export function readFormula(text: string): Checked<Formula> {
  if (!parse) throw new Error('readFormula was called before readyForFormulas had finished.');
  const split = splitExpression(text);
  if (!split.ok) return split;
  const references: string[] = [];
  // Where each piece of what mathjs reads stands in the text as typed.
  let written = '';
  const places: { from: number; at: number }[] = [];
  let at = 0;
  for (const piece of split.content) {
    places.push({ from: written.length, at });
    if ('text' in piece) {
      written += piece.text.replace(/[×·−–÷≤≥≠²³]/g, (sign) => SIGNS[sign]).replace(/(?<![=<>!])=(?!=)/g, '==');
      at += piece.text.length;
    } else {
      written += ` ${symbolOf(references.push(piece.reference) - 1)} `;
      at += piece.length;
    }
  }
  if (written.trim() === '')
    return fault('Write a formula: {Columns}, numbers with units, + − × ÷ ^ and parentheses.', 0, 0);
  let tree: MathNode;
  try {
    tree = parse(written);
  } catch (error) {
    const spot = Math.max(0, ((error as { char?: number }).char ?? 1) - 1);
    const place = places.findLast(({ from }) => from <= spot) ?? { from: 0, at: 0 };
    return fault(
      'The formula cannot be read from here on: a sign, a number or a parenthesis is missing or too many.',
      Math.min(text.length, place.at + spot - place.from),
      1,
    );
  }
  const stranger = findStranger(tree, references.length);
  return stranger
    ? fault(stranger.message, Math.max(0, text.indexOf(stranger.word)), stranger.word.length)
    : { ok: true, content: { references, tree } };
}

/** The first thing in the tree that a formula may not hold. */
function findStranger(tree: MathNode, references: number): { message: string; word: string } | null {
  const known = new Set(Array.from({ length: references }, (_, index) => symbolOf(index)));
  let found: { message: string; word: string } | null = null;
  tree.traverse((node, path, parent) => {
    if (found) return;
    const one = node as unknown as {
      type: string;
      name?: string;
      op?: string;
      fn?: { name?: string };
      args?: unknown[];
    };
    if (one.type === 'ConstantNode' || one.type === 'ParenthesisNode') return;
    if (one.type === 'OperatorNode' && OPERATORS.has(one.op!)) return;
    if (one.type === 'SymbolNode') {
      if (path === 'fn' && (parent as unknown as { type: string }).type === 'FunctionNode') return;
      if (!known.has(one.name!) && (!unitOf(one.name!) || one.name === ''))
        found = { message: `“${one.name}” is no unit; a column is written {${one.name}}.`, word: one.name! };
    } else if (one.type === 'FunctionNode') {
      const name = one.fn?.name ?? '',
        count = one.args!.length,
        bounds = Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name] : null;
      if (!bounds)
        found = {
          message: `“${name}” is no function here; there are ${Object.keys(FUNCTIONS).join(', ')}.`,
          word: name,
        };
      else if (count < bounds[0] || count > bounds[1])
        found = {
          message: `“${name}” takes ${bounds[0] === bounds[1] ? bounds[0] : `${bounds[0]} to ${bounds[1]}`} values, not ${count}.`,
          word: name,
        };
    } else
      found = {
        message:
          'A formula holds columns, numbers, units, + − × ÷ ^, comparisons, parentheses and functions, nothing else.',
        word: '',
      };
  });
  return found;
}

/** A number with its dimension, in mm, kg and days; a text; yes or no; or null where a column says nothing. */
type Term =
  | { readonly number: number; readonly dimension: Dimension }
  | { readonly text: string }
  | { readonly flag: boolean }
  | null;

/** Says what is wrong with a formula for these values, in words for its author. */
export class FormulaMismatch extends Error {
  override readonly name = 'FormulaMismatch';
  /** Which of the formula's references it is about, in the order of writing; none where it is about no column. */
  references: readonly number[] = [];
}

/**
 * The formula's value; null where a column that it needs says nothing.
 * @param lookup what a reference holds
 * @throws FormulaMismatch where dimensions do not fit, or a text stands where a number is needed
 */
export function evaluateFormula({ references, tree }: Formula, lookup: (reference: string) => Value): Value {
  const term = evaluate(tree as unknown as Node, (name) =>
    toTerm(lookup(references[Number(name.slice(1, -1))]), references[Number(name.slice(1, -1))]),
  );
  if (term === null) return null;
  if ('text' in term) return { kind: 'text', text: term.text };
  if ('flag' in term) return { kind: 'flag', value: term.flag };
  return Number.isFinite(term.number) ? numberValue(term.number, baseUnit(term.dimension)) : null;
}

function toTerm(value: Value, reference: string): Term {
  if (value === null) return null;
  if (value.kind === 'text') return value.text === '' ? null : { text: value.text };
  if (value.kind === 'flag') return { flag: value.value };
  const unit = unitOf(value.unit);
  if (!unit)
    throw new FormulaMismatch(
      `The unit “${value.unit}” of ${reference.replace(/^\w+:/, '')} is not known, so it cannot be calculated with.`,
    );
  return { number: value.value * unit.factor, dimension: unit.dimension };
}

interface Node {
  readonly type: string;
  readonly name?: string;
  readonly value?: unknown;
  readonly op?: string;
  readonly content?: Node;
  readonly fn?: { readonly name: string };
  readonly args?: readonly Node[];
}

function evaluate(node: Node, column: (name: string) => Term): Term {
  switch (node.type) {
    case 'ParenthesisNode':
      return evaluate(node.content!, column);
    case 'ConstantNode':
      return typeof node.value === 'string' ? { text: node.value } : { number: Number(node.value), dimension: PLAIN };
    case 'SymbolNode': {
      if (/^c\d+_$/.test(node.name!)) return column(node.name!);
      const unit = unitOf(node.name!)!;
      return { number: unit.factor, dimension: unit.dimension };
    }
    case 'FunctionNode':
      return located(node, () => callFunction(node.fn!.name, node.args!, column));
    default: {
      const terms = node.args!.map((one) => evaluate(one, column));
      return terms.includes(null) ? null : located(node, () => operate(node.op!, terms as Exclude<Term, null>[]));
    }
  }
}

/** Says of a mismatch which columns it is about: those of the innermost part of the formula where it shows. */
function located<Content>(node: Node, work: () => Content): Content {
  try {
    return work();
  } catch (error) {
    if (error instanceof FormulaMismatch && error.references.length === 0) error.references = referencesIn(node);
    throw error;
  }
}

function referencesIn(node: Node): number[] {
  if (node.type === 'SymbolNode') return /^c\d+_$/.test(node.name!) ? [Number(node.name!.slice(1, -1))] : [];
  return [...(node.content ? referencesIn(node.content) : []), ...(node.args ?? []).flatMap(referencesIn)];
}

function needNumber(term: Exclude<Term, null>): { number: number; dimension: Dimension } {
  if ('number' in term) return term;
  const read = 'text' in term ? asNumber({ kind: 'text', text: term.text }) : null;
  if (read) {
    const { factor, dimension } = unitOf(read.unit)!;
    return { number: read.value * factor, dimension };
  }
  throw new FormulaMismatch(
    `${'text' in term ? `“${term.text}” is a text` : 'A yes or no stands'} where a number is needed.`,
  );
}

function operate(op: string, terms: readonly Exclude<Term, null>[]): Term {
  if (terms.length === 1) {
    const one = needNumber(terms[0]);
    return op === '-' ? { ...one, number: -one.number } : one;
  }
  const [first, second] = terms;
  if ((op === '==' || op === '!=') && 'text' in first && 'text' in second)
    return { flag: (first.text === second.text) === (op === '==') };
  const one = needNumber(first),
    two = needNumber(second);
  const powers = (combine: (a: number, b: number) => number) =>
    one.dimension.map((power, at) => combine(power, two.dimension[at]));
  if (op === '*') return { number: one.number * two.number, dimension: powers((a, b) => a + b) };
  if (op === '/') return { number: one.number / two.number, dimension: powers((a, b) => a - b) };
  if (op === '^') {
    if (!sameDimension(two.dimension, PLAIN)) throw new FormulaMismatch('An exponent is a plain number.');
    return {
      number: one.number ** two.number,
      dimension: one.dimension.map((power) => power * two.number),
    };
  }
  if (!sameDimension(one.dimension, two.dimension)) {
    const does = op === '+' ? 'added' : op === '-' ? 'subtracted' : 'compared';
    throw new FormulaMismatch(
      `${capital(dimensionWords(one.dimension))} and ${dimensionWords(two.dimension)} cannot be ${does}.`,
    );
  }
  switch (op) {
    case '+':
      return { number: one.number + two.number, dimension: one.dimension };
    case '-':
      return { number: one.number - two.number, dimension: one.dimension };
    case '<':
      return { flag: one.number < two.number };
    case '>':
      return { flag: one.number > two.number };
    case '<=':
      return { flag: one.number <= two.number };
    case '>=':
      return { flag: one.number >= two.number };
    case '==':
      return { flag: one.number === two.number };
    default:
      return { flag: one.number !== two.number };
  }
}

const capital = (words: string): string => words[0].toUpperCase() + words.slice(1);

function callFunction(name: string, args: readonly Node[], column: (name: string) => Term): Term {
  if (name === 'if') {
    const condition = evaluate(args[0], column);
    if (condition === null) return null;
    if (!('flag' in condition)) throw new FormulaMismatch('“if” begins with a comparison, such as {Qty} > 1.');
    return evaluate(args[condition.flag ? 1 : 2], column);
  }
  const terms = args.map((one) => evaluate(one, column));
  if (terms.includes(null)) return null;
  const numbers = (terms as Exclude<Term, null>[]).map(needNumber);
  const [first] = numbers;
  const odd = numbers.find(({ dimension }) => !sameDimension(dimension, first.dimension));
  switch (name) {
    case 'abs':
      return { ...first, number: Math.abs(first.number) };
    case 'min':
    case 'max':
      if (odd)
        throw new FormulaMismatch(
          `“${name}” compares values of one kind, not ${dimensionWords(first.dimension)} and ${dimensionWords(odd.dimension)}.`,
        );
      return {
        ...first,
        number: numbers.reduce(
          (best, { number }) => (name === 'min' ? Math.min(best, number) : Math.max(best, number)),
          first.number,
        ),
      };
    default: {
      // What is whole depends on the unit, so a value with one is divided by it first: ceil({Length} / 6 m).
      if (!sameDimension(first.dimension, PLAIN))
        throw new FormulaMismatch(
          `“${name}” takes a plain number, not ${dimensionWords(first.dimension)}: divide by a unit first, as in ${name}({Length} / 1 m).`,
        );
      const scale = name === 'round' && numbers[1] ? 10 ** numbers[1].number : 1;
      const whole = name === 'floor' ? Math.floor : name === 'ceil' ? Math.ceil : Math.round;
      // A quotient such as 0.3/0.1 misses its whole number by a rounding error, which must not cost a whole bar.
      const near = Math.round(first.number * scale);
      const exact =
        Math.abs(first.number * scale - near) < 1e-9 * Math.max(1, Math.abs(near)) ? near : whole(first.number * scale);
      return { number: exact / scale, dimension: PLAIN };
    }
  }
}
