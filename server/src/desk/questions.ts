import type { MessagePort } from 'node:worker_threads';
import * as v from 'valibot';
import {
  lookOrder,
  notAsExpected,
  parseRecipeFile,
  readStored,
  type HouseStyle,
  type LookOrder,
  type StoredText,
} from '../../../contract/src/index.ts';
import {
  measuredNames,
  Refusal,
  type Assembly,
  type Finding,
  type MeasuredValue,
} from '../../../core/src/assembly/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import { compareSides, effectOf, listSide, type CompareSide } from '../../../core/src/formats/index.ts';
import { viewRequest, type Sheet, type SheetSet } from '../../../core/src/sheets/index.ts';
import {
  editedFor,
  newBill,
  newSheetSet,
  openRecipe,
  projectLookKeys,
  withFirstNumbers,
  type RecipeFile,
} from '../../../core/src/documents/index.ts';
import {
  keysOfAssembly,
  loadMeasures,
  loadShapeFindings,
  shapeFindingsKey,
  type DerivedStore,
} from '../../../engine/src/index.ts';
import type { StoredRevision } from '../opened/openedSheets.ts';
import { comparisonFile, type ComparisonFormat } from './comparisonFile.ts';
import { revisionIn } from '../store/revisions.ts';
import { openCatalogues, openDocuments } from '../opened/openedDocuments.ts';
import { openInputs, openStructure, weightOf } from '../opened/openedStructure.ts';
import { withStyle } from './withStyle.ts';

/** What a question is asked of. */
export interface Asked {
  /** Name of the structure in the store. */
  readonly assemblyBlob: string;
  /** The document of component edits; null where the answer does not hang on it. */
  readonly edits: StoredText | null;
}
export type Question =
  | { readonly what: 'findings' }
  | { readonly what: 'keys' }
  | { readonly what: 'shapes' }
  /** What changed between the revision that is asked and another one, and what that does to these documents. */
  | {
      readonly what: 'effect';
      readonly was: NamedRevision;
      readonly is: NamedRevision;
      readonly documents: readonly StoredText[];
      /** `whole`: JSON of all of it; else what changed, as a file. */
      readonly format: ComparisonFormat | 'whole';
    }
  | {
      readonly what: 'comparison';
      readonly format: ComparisonFormat;
      readonly sides: readonly [was: ComparedList, is: ComparedList];
      readonly documents: readonly StoredText[];
      readonly revisions: readonly StoredRevision[];
      readonly catalogues: readonly StoredText[];
    }
  /** @see LookOrder; each as JSON */
  | { readonly what: 'looks'; readonly orders: readonly string[] }
  | {
      readonly what: 'sheetLooks';
      readonly sheet: StoredText;
      /** With the poses that its views name; null where there is none. */
      readonly set: StoredText | null;
      /** Of the bill that it shows. */
      readonly variant: string | null;
    }
  | {
      readonly what: 'newBill';
      readonly name: string;
      /** Bill that it is a copy of; null for none. */
      readonly from: StoredText | null;
      /** JSON of a recipe file; null for none. */
      readonly recipe: string | null;
      readonly style: HouseStyle | null;
      /** Revision that it is to count; null for the project's first. */
      readonly revision: string | null;
    };
/** A list of a project, of the revision that it counts, as it is or in a variant. */
interface ComparedList {
  /** Document id. */
  readonly bill: string;
  /** Id of a variant instead of that of its recipe; empty for the machine as a whole, the list's own where absent. */
  readonly variant: string | undefined;
}
interface NamedRevision {
  readonly id: string;
  /** Name of the structure in the store. */
  readonly assemblyBlob: string;
  readonly fileName: string;
  /** What it is called. */
  readonly title: string;
}
/** Documents that a question is about, as they are stored: how long answering may take hangs on them. */
export const textsOf = (question: Question): string[] =>
  question.what === 'sheetLooks'
    ? [question.sheet, question.set].flatMap((stored) => (stored ? [stored.content] : []))
    : question.what === 'effect'
      ? question.documents.map(({ content }) => content)
      : question.what === 'comparison'
        ? [...question.documents, ...question.catalogues].map(({ content }) => content)
        : question.what === 'newBill'
          ? [question.from?.content ?? '', question.recipe ?? '']
          : question.what === 'looks'
            ? [...question.orders]
            : [];
/** How often a question goes through a whole machine. */
export const lookingsOf = (question: Question): number =>
  question.what === 'looks'
    ? question.orders.length
    : question.what === 'effect' || question.what === 'comparison'
      ? 2
      : 1;
export interface Answers {
  /** What was noticed in the file. */
  readonly findings: readonly Finding[];
  /** Names in the store of what is known of all shapes together. */
  readonly keys: readonly string[];
  readonly shapes: ShapesAnswer;
  /** Bytes of the file. */
  readonly effect: Uint8Array;
  /** Bytes of the file. */
  readonly comparison: Uint8Array;
  /** Keys of what is looked at, in the order of the orders. */
  readonly looks: readonly string[];
  /** Orders of what the views of a sheet look at, each as JSON. */
  readonly sheetLooks: readonly string[];
  /** JSON of a bill whose numbers are issued, and what its recipe names in vain. */
  readonly newBill: { readonly content: string; readonly missing: readonly string[] };
}
interface ShapesAnswer {
  /** Whether everything that hangs on the shapes is made. */
  readonly complete: boolean;
  /** What was measured, by shape. */
  readonly facts: Readonly<
    Record<string, { readonly sizes: Readonly<Record<string, MeasuredValue>>; readonly volume: number | null }>
  >;
  /** What was noticed in them. */
  readonly findings: readonly Finding[];
}
/** A question for another thread. */
export interface QuestionTask extends Asked {
  readonly kind: 'question';
  readonly question: Question;
  /** Where the store is asked. */
  readonly port: MessagePort;
}

/** An answer, and how much the structure is that was asked; see `weightOf`. */
export interface Answered<What extends Question['what']> {
  readonly answer: Answers[What];
  readonly weight: number;
}
/** @see answerQuestion */
export async function answerWeighed(
  asked: Asked,
  question: Question,
  store: Pick<DerivedStore, 'get'>,
): Promise<Answered<Question['what']>> {
  const answer = await answerQuestion(asked, question, store);
  return { answer, weight: await weightOf(asked.assemblyBlob, store) } as Answered<Question['what']>;
}

type Store = Pick<DerivedStore, 'get'>;
type QuestionOf<What extends Question['what']> = Extract<Question, { readonly what: What }>;

/** Of every question how it is answered; none can be left out. */
const answers: {
  readonly [What in Question['what']]: (
    asked: Asked,
    question: QuestionOf<What>,
    store: Store,
  ) => Promise<Answers[What]>;
} = {
  findings: async ({ assemblyBlob }, _, store) => (await openStructure(assemblyBlob, store)).findings,
  keys: async ({ assemblyBlob }, _, store) => keysOfAssembly(await openStructure(assemblyBlob, store)),
  shapes: async ({ assemblyBlob }, _, store) => {
    const assembly = await openStructure(assemblyBlob, store);
    const all = { store: store as DerivedStore };
    const measures = await loadMeasures(assembly, all);
    return {
      complete: await shapesComplete(assembly, store),
      facts: Object.fromEntries([...measures].map(([shape, { sizes, volume }]) => [shape, { sizes, volume }])),
      findings: await loadShapeFindings(assembly, all),
    };
  },
  effect: async (_, { documents: texts, was, is, format }, store) => {
    await readyForFormulas();
    const { components, ...documents } = openDocuments(texts);
    const side = async ({ assemblyBlob, ...named }: NamedRevision) => ({
      ...named,
      ...(await openInputs(assemblyBlob, components, store)),
    });
    const effect = effectOf(await side(was), await side(is), documents);
    return format === 'whole' ? new TextEncoder().encode(JSON.stringify(effect)) : comparisonFile(effect.model, format);
  },
  comparison: async (_, { documents, catalogues: texts, revisions, sides, format }, store) => {
    await readyForFormulas();
    const { components, bills } = openDocuments(documents);
    const catalogues = openCatalogues(texts);
    const side = async ({ bill, variant }: ComparedList): Promise<CompareSide> => {
      const found = bills.find(({ id }) => id === bill);
      if (!found) throw new Refusal('not-there', 'That bill is no longer in the project.');
      const { assemblyBlob, fileName } = revisionIn(revisions, found.content.revision);
      const inputs = await openInputs(assemblyBlob, components, store);
      return listSide(
        { ...inputs, bill: found.content, fileName, catalogues },
        ...(variant === undefined ? [] : [variant || null]),
      );
    };
    return comparisonFile(compareSides(await side(sides[0]), await side(sides[1])), format);
  },
  looks: async ({ assemblyBlob, edits }, { orders }, store) =>
    projectLookKeys(
      await openInputs(assemblyBlob, edits, store),
      orders.map((order) => JSON.parse(order) as LookOrder),
    ),
  sheetLooks: async (_, { sheet, set, variant }) => {
    const { views } = readStored(sheet) as Sheet;
    const { poses = [] } = set ? (readStored(set) as SheetSet) : newSheetSet;
    return views.map((view) => JSON.stringify(lookOrder(viewRequest(view, poses), variant)));
  },
  newBill: async ({ assemblyBlob, edits }, { name, from, recipe, style, revision }, store) => {
    if (from) return { content: JSON.stringify({ ...readStored(from), name }), missing: [] };
    const edited = editedFor(await openInputs(assemblyBlob, edits, store), null);
    const opened = recipe === null ? null : openRecipe(readRecipeText(recipe), edited.assembly, measuredNames);
    const bill = opened?.bill ?? withStyle(newBill(edited.assembly, ''), style);
    return {
      content: JSON.stringify({ ...withFirstNumbers(bill, edited), name, ...(revision ? { revision } : {}) }),
      missing: (opened?.findings ?? []).map(({ message }) => message),
    };
  },
};

/** What would hold up others in a large machine; so it is asked of the desk. @throws Refusal */
export const answerQuestion = (asked: Asked, question: Question, store: Store): Promise<Answers[Question['what']]> =>
  answers[question.what](asked, question as never, store);

/** @throws Refusal where it is no recipe that can be read */
function readRecipeText(text: string): RecipeFile {
  try {
    return parseRecipeFile(JSON.parse(text));
  } catch (error) {
    if (error instanceof v.ValiError) throw new Refusal('not-as-expected', notAsExpected(error));
    throw error;
  }
}

/** Whether everything that hangs on the shapes of an assembly is made. */
export const shapesComplete = async (assembly: Assembly, store: Pick<DerivedStore, 'get'>): Promise<boolean> =>
  assembly.components.every(({ shape }) => shape === null) || (await store.get(shapeFindingsKey(assembly))) !== null;
