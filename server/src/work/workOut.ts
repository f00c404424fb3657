import { listOccurrences, pathKey, Refusal } from '../../../core/src/assembly/index.ts';
import {
  billShownBy,
  editedFor,
  looksFor,
  type CarriedOut,
  type Intention,
  type PlainIntention,
  type ProjectState,
} from '../../../core/src/documents/index.ts';
import { packSpots, packViewLines } from '../../../core/src/formats/index.ts';
import type { Exploded } from '../../../core/src/poses/index.ts';
import { lookAt } from '../../../core/src/views/index.ts';
import { explodeLook } from '../../../engine/src/index.ts';
import type { Services } from '../http/http.ts';
import { openCatalogues, openDocuments, type OpenedDocuments } from '../opened/openedDocuments.ts';
import type { StoredProject } from '../opened/openedSheets.ts';
import { openInputs } from '../opened/openedStructure.ts';
import { revisionIn } from '../store/revisions.ts';
import { allShapes, drawLooks } from './drawing.ts';
import type { JobContext } from './jobRunner.ts';

/** A project as an intention finds it, of one revision. */
export type LoadedState = ProjectState & Required<Pick<ProjectState, 'revision'>>;

/** The commands that an intention comes to, once the views are drawn that it takes. */
export async function workOut(
  state: LoadedState,
  intention: PlainIntention,
  project: string,
  context: JobContext,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<CarriedOut> {
  context.sized(state.original.components.length);
  const looks = looksFor(state, intention).map(({ look }) => look);
  if (looks.length > 0) await allShapes(project, context, services, state.revision.shown);
  const drawn = await drawLooks(looks, project, context, services);
  const views = new Map(
    looks.map(({ key }, at) => [key, { lines: packViewLines(drawn[at].lines), spots: packSpots(drawn[at].spots) }]),
  );
  context.report({ step: 'Working it out', done: 0, of: 1 });
  const exploded =
    intention.kind === 'proposePose'
      ? await comeApart(state, project, intention, intention.view?.sheet, context, services)
      : undefined;
  const carried = await services.pool.carryOut({ state, intention, views, exploded }, context.signal);
  context.signal.throwIfAborted();
  return carried;
}

/** How the machine of the sheet's list comes apart, or of the drawing's; what is counted whole leaves whole. */
export async function comeApart(
  state: ProjectState,
  project: string,
  { levels, every }: { readonly levels: number; readonly every?: boolean },
  shownOn: string | undefined,
  context: JobContext,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<Exploded> {
  await allShapes(project, context, services, state.revision?.shown ?? null);
  context.report({ step: 'Taking the machine apart', done: 0, of: 1 });
  const sheet = state.sheets.find(({ id }) => id === shownOn);
  const list = sheet ? billShownBy(state.bills, sheet.content) : state.bills[0];
  const { assembly, treatments } = editedFor(state, list.content.recipe.variant ?? null);
  const whole = listOccurrences(assembly, (index) => treatments[index]?.countContents === false);
  return explodeLook(
    lookAt(assembly, { direction: 'front' }),
    { levels, whole: whole.map(({ path }) => pathKey(path)), every: every ?? false },
    { pool: services.pool, store: services.blobs, signal: context.signal },
    (done, of) => context.report({ step: 'Taking the machine apart', done, of }),
  );
}

/** The revision that an intention is about: what its sheet or bill shows, else the project's. */
function revisionMeant(
  { sheets, bills, set }: Omit<OpenedDocuments, 'components'>,
  intention: Intention,
): string | null {
  if (intention.kind === 'takeOver') return intention.revision;
  const find = (id: unknown, among: readonly { id: string; content: { revision?: string } }[]) =>
    among.find((one) => one.id === id)?.content;
  const about =
    ('sheet' in intention ? find(intention.sheet, sheets) : undefined) ??
    ('bill' in intention ? find(intention.bill, bills) : undefined) ??
    set.content;
  return about.revision ?? null;
}

/** A project as an intention finds it. @throws Refusal */
export async function stateOf(
  { documents, revisions, catalogues }: StoredProject,
  intention: Intention,
  blobs: Services['blobs'],
): Promise<LoadedState> {
  const { components, ...opened } = openDocuments(documents);
  if (!components) throw new Refusal('not-there', 'There is no such project; it may have been deleted.');
  const { id, assemblyBlob, fileName } = revisionIn(revisions, revisionMeant(opened, intention));
  const inputs = await openInputs(assemblyBlob, components, blobs);
  const revision = { shown: id, first: revisions[0].id };
  // What the documents show that are taken over: the project's own may be the later one already, for another sheet.
  const late =
    intention.kind === 'takeOver'
      ? [...opened.sheets, ...opened.bills].find(
          (one) => intention.documents.includes(one.id) && revisionIn(revisions, one.content.revision).id !== id,
        )
      : undefined;
  const own = late && revisionIn(revisions, late.content.revision);
  const earlier = own ? await openInputs(own.assemblyBlob, components, blobs) : null;
  return {
    ...inputs,
    ...opened,
    catalogues: openCatalogues(catalogues),
    fileName,
    components: components.id,
    revision,
    ...(earlier ? { earlier: { original: earlier.original, facts: earlier.facts } } : {}),
  };
}
