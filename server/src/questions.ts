import type { MessagePort } from 'node:worker_threads';
import {
  lookOrder,
  parseRecipeFile,
  readStored,
  type HouseStyle,
  type LookOrder,
  type StoredText,
} from '../../contract/src/index.ts';
import { measuredNames, Refusal, type Assembly, type Finding } from '../../core/src/assembly/index.ts';
import { readyForFormulas } from '../../core/src/columns/index.ts';
import {
  compareSides,
  effectOf,
  listSide,
  type CompareSide,
  type Comparison,
  type Effect,
} from '../../core/src/formats/index.ts';
import { viewRequest, type Sheet, type SheetSet } from '../../core/src/sheets/index.ts';
import {
  editedFor,
  newBill,
  newSheetSet,
  openRecipe,
  projectLooks,
  withFirstNumbers,
} from '../../core/src/documents/index.ts';
import {
  keysOfAssembly,
  loadMeasures,
  loadShapeFindings,
  shapeFindingsKey,
  type DerivedStore,
} from '../../engine/src/index.ts';
import type { StoredRevision } from './openedSheets.ts';
import { revisionIn } from './revisions.ts';
import { openCatalogues, openDocuments } from './openedDocuments.ts';
import { openInputs, openStructure } from './openedStructure.ts';
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
    }
  | {
      readonly what: 'comparison';
      readonly sides: readonly [was: ComparedList, is: ComparedList];
      readonly documents: readonly StoredText[];
      readonly revisions: readonly StoredRevision[];
      readonly catalogues: readonly StoredText[];
    }
  | { readonly what: 'looks'; readonly orders: readonly LookOrder[] }
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
      readonly recipe: unknown;
      readonly style: HouseStyle | null;
      /** Revision that it is to count; null for the project's first. */
      readonly revision: string | null;
    };
/** A list of a project, of the revision that it counts, as it is or in a variant. */
export interface ComparedList {
  /** Document id. */
  readonly bill: string;
  /** Id of a variant instead of that of its recipe; empty for the machine as a whole, the list's own where absent. */
  readonly variant: string | undefined;
}
export interface NamedRevision {
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
        : question.what === 'newBill' && question.from
          ? [question.from.content]
          : [];
export interface Answers {
  /** What was noticed in the file. */
  readonly findings: readonly Finding[];
  /** Names in the store of what is known of all shapes together. */
  readonly keys: readonly string[];
  readonly shapes: ShapesAnswer;
  readonly effect: Effect;
  readonly comparison: Comparison;
  /** Keys of what is looked at, in the order of the orders. */
  readonly looks: readonly string[];
  /** Orders of what the views of a sheet look at. */
  readonly sheetLooks: readonly LookOrder[];
  /** JSON of a bill whose numbers are issued, and what its recipe names in vain. */
  readonly newBill: { readonly content: string; readonly missing: readonly string[] };
}
interface ShapesAnswer {
  /** Whether everything that hangs on the shapes is made. */
  readonly complete: boolean;
  /** What was measured, by shape. */
  readonly facts: Readonly<Record<string, { readonly sizes: unknown; readonly volume: number | null }>>;
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

/** What would hold up others in a large machine; so it is asked of the desk. @throws Refusal */
export async function answerQuestion(
  { assemblyBlob, edits }: Asked,
  question: Question,
  store: Pick<DerivedStore, 'get'>,
): Promise<Answers[Question['what']]> {
  switch (question.what) {
    case 'findings':
      return (await openStructure(assemblyBlob, store)).findings;
    case 'keys':
      return keysOfAssembly(await openStructure(assemblyBlob, store));
    case 'shapes': {
      const assembly = await openStructure(assemblyBlob, store);
      const all = { store: store as DerivedStore };
      const measures = await loadMeasures(assembly, all);
      return {
        complete: await shapesComplete(assembly, store),
        facts: Object.fromEntries([...measures].map(([shape, { sizes, volume }]) => [shape, { sizes, volume }])),
        findings: await loadShapeFindings(assembly, all),
      };
    }
    case 'effect': {
      await readyForFormulas();
      const { components, ...documents } = openDocuments(question.documents);
      const side = async ({ assemblyBlob: of, ...named }: NamedRevision) => ({
        ...named,
        ...(await openInputs(of, components, store)),
      });
      return effectOf(await side(question.was), await side(question.is), documents);
    }
    case 'comparison': {
      await readyForFormulas();
      const { components, bills } = openDocuments(question.documents);
      const catalogues = openCatalogues(question.catalogues);
      const side = async ({ bill, variant }: ComparedList): Promise<CompareSide> => {
        const found = bills.find(({ id }) => id === bill);
        if (!found) throw new Refusal('not-there', 'That bill is no longer in the project.');
        const { assemblyBlob: of, fileName } = revisionIn(question.revisions, found.content.revision);
        const inputs = await openInputs(of, components, store);
        return listSide(
          { ...inputs, bill: found.content, fileName, catalogues },
          ...(variant === undefined ? [] : [variant || null]),
        );
      };
      return compareSides(await side(question.sides[0]), await side(question.sides[1]));
    }
    case 'looks': {
      const inputs = await openInputs(assemblyBlob, edits, store);
      return projectLooks(inputs, question.orders).map(({ key }) => key);
    }
    case 'sheetLooks': {
      const { views } = readStored(question.sheet) as Sheet;
      const { poses = [] } = question.set ? (readStored(question.set) as SheetSet) : newSheetSet;
      return views.map((view) => lookOrder(viewRequest(view, poses), question.variant));
    }
    case 'newBill': {
      const { name, from, recipe, style, revision } = question;
      if (from) return { content: JSON.stringify({ ...readStored(from), name }), missing: [] };
      const edited = editedFor(await openInputs(assemblyBlob, edits, store), null);
      const opened = recipe === undefined ? null : openRecipe(parseRecipeFile(recipe), edited.assembly, measuredNames);
      const bill = opened?.bill ?? withStyle(newBill(edited.assembly, ''), style);
      return {
        content: JSON.stringify({ ...withFirstNumbers(bill, edited), name, ...(revision ? { revision } : {}) }),
        missing: (opened?.findings ?? []).map(({ message }) => message),
      };
    }
  }
}

/** Whether everything that hangs on the shapes of an assembly is made. */
export const shapesComplete = async (assembly: Assembly, store: Pick<DerivedStore, 'get'>): Promise<boolean> =>
  assembly.components.every(({ shape }) => shape === null) || (await store.get(shapeFindingsKey(assembly))) !== null;
