import { createHash } from 'node:crypto';
import * as v from 'valibot';
import {
  api,
  buying,
  catalogueSchema,
  forms,
  houseStyleSchema,
  notAsExpected,
  parseDocument,
  parseJson,
  type Gesture,
} from '../../../contract/src/index.ts';
import { jsonFault, Refusal } from '../../../core/src/assembly/index.ts';
import { catalogueFault } from '../../../core/src/documents/index.ts';
import { cutPlanKey } from '../../../core/src/buying/index.ts';
import type { CutProblem } from '../../../core/src/cutting/index.ts';
import { refuseUnfit } from './deepJson.ts';

/** A piece of what was sent, checked, as JSON again: it goes on as text, so large ones cross threads as one piece. */
type Json = string;

/** A gesture whose commands are JSON, not looked into yet. */
export interface OpenGesture extends Omit<Gesture, 'steps'> {
  readonly steps: readonly {
    readonly document: string;
    readonly version: number;
    readonly command: Json;
  }[];
}

const json = (value: unknown): Json => JSON.stringify(value);

/** What bodies of requests are read as. Each is told what is small and has the rest as JSON. */
const readers = {
  gesture: (value: unknown): OpenGesture => openGesture(v.parse(api.gestureSchema, value)),
  views: (value: unknown): { readonly looks: readonly Json[]; readonly revision: string | null } => {
    const { looks, revision = null } = v.parse(api.viewsOrderSchema, value);
    return { looks: looks.map(json), revision };
  },
  cutPlans: (
    value: unknown,
  ): { readonly problems: readonly { readonly key: string; readonly text: Json }[]; readonly again: boolean } => {
    const { problems, again = false } = v.parse(buying.cutProblemsSchema, value);
    return { problems: problems.map((problem) => cutProblemText(problem as CutProblem)), again };
  },
  answers: (value: unknown): { readonly answers: Json } => ({
    answers: json(v.parse(api.answersSchema, value).answers),
  }),
  intention: (value: unknown): { readonly gesture: string; readonly intended: Json } => {
    const intended = v.parse(api.intendedSchema, value);
    return { gesture: intended.gesture, intended: json(intended) };
  },
  newBill: (value: unknown) => {
    const { recipe, ...rest } = v.parse(api.newBillSchema, value);
    return { ...rest, recipe: recipe === undefined ? null : json(recipe) };
  },
  style: (value: unknown): { readonly name: string; readonly style: Json } => {
    const style = v.parse(houseStyleSchema, value);
    return { name: style.name, style: json(style) };
  },
  formMap: (value: unknown): { readonly map: Json } => ({ map: json(v.parse(forms.formMapSchema, value)) }),
  catalogue: (value: unknown): { readonly name: string; readonly content: Json } => {
    const { content } = v.parse(v.object({ content: catalogueSchema }), value);
    const fault = catalogueFault(content);
    if (fault) throw new Refusal('not-as-expected', fault);
    return { name: content.name, content: json(content) };
  },
  suppliers: (value: unknown): { readonly numbers: readonly string[] } => v.parse(api.supplierQuestionSchema, value),
  order: (value: unknown): null => {
    parseDocument('order', value);
    return null;
  },
};
export type ReadingKind = keyof typeof readers;
export type Read<Kind extends ReadingKind> = ReturnType<(typeof readers)[Kind]>;

/** What is read on another thread. */
export interface ReadingTask {
  readonly kind: 'reading';
  readonly what: ReadingKind;
  readonly bytes: Uint8Array;
}

/** Values that a body may have, and of a gesture: some hundred thousand lines numbered anew, a catalogue typed anew. */
const MOST_VALUES = 1_000_000,
  MOST_VALUES_OF_GESTURE = 5_000_000;

/** JSON of a body, once its depth and the count of its values are known. @throws Refusal */
export function readJson(bytes: Uint8Array, mostValues: number): unknown {
  refuseUnfit(bytes, mostValues);
  const text = new TextDecoder().decode(bytes);
  try {
    return parseJson(text);
  } catch (error) {
    throw new Refusal('not-as-expected', `What was sent is no JSON: ${jsonFault(text, error)}.`);
  }
}

/**
 * What was sent, by what it is to be. Its depth and the count of its values are looked at before anything is made of it.
 * @param bytes JSON in UTF-8
 * @throws Refusal with the code `not-as-expected`, which says what is wrong and where
 */
export function readBody<Kind extends ReadingKind>(what: Kind, bytes: Uint8Array): Read<Kind> {
  const value = readJson(bytes, what === 'gesture' ? MOST_VALUES_OF_GESTURE : MOST_VALUES);
  try {
    return readers[what](value) as Read<Kind>;
  } catch (error) {
    if (error instanceof v.ValiError) throw new Refusal('not-as-expected', notAsExpected(error));
    throw error;
  }
}

/** Commands that may say something of every line, item or place of a large machine; letters of JSON. */
const LARGE_COMMANDS: ReadonlySet<string> = new Set([
  'setNumbers',
  'typeCells',
  'decideLines',
  'changeLines',
  'noteOvertaken',
  'keepValues',
  'changeRecipe',
  'typeItems',
  'changeItems',
  'acceptKeys',
  'setTreatments',
  'typeValues',
  'setVariant',
  'decide',
  'putPose',
  'changeBalloons',
]);
/** What any other command may have. */
const MOST_OF_COMMAND = 4 * 1024 * 1024;

function openGesture({ steps, ...gesture }: Gesture): OpenGesture {
  return {
    ...gesture,
    steps: steps.map(({ document, version, command }) => {
      const text = json(command);
      if (text.length > MOST_OF_COMMAND && !LARGE_COMMANDS.has(command.kind))
        throw new Refusal(
          'not-as-expected',
          `What was sent as “${command.kind.slice(0, 40)}” has ${text.length.toLocaleString('en')} letters; up to ${MOST_OF_COMMAND.toLocaleString('en')} can be taken. Do it in parts.`,
        );
      return { document, version, command: text };
    }),
  };
}

/** A problem as it is stored in a job, and the name under which its plan is kept. */
const cutProblemText = (problem: CutProblem): { readonly key: string; readonly text: Json } => ({
  key: cutPlanKey(problem),
  text: json(problem),
});

/** One name for things of these names, whatever their order. */
export const hashOfNames = (names: readonly string[]): string =>
  createHash('sha256')
    .update([...names].sort().join())
    .digest('hex');
