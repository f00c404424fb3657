import { randomUUID } from 'node:crypto';
import * as v from 'valibot';
import { listOccurrences, pathKey, Refusal } from '../../../core/src/assembly/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import {
  billShownBy,
  editedFor,
  looksFor,
  longListSteps,
  partSheetSteps,
  setSteps,
  type CarriedOut,
  type Intention,
  type PlainIntention,
  type ProjectState,
  type SetSteps,
} from '../../../core/src/documents/index.ts';
import type { Exploded } from '../../../core/src/poses/index.ts';
import { lookAt, type Look } from '../../../core/src/views/index.ts';
import { explodeLook, makeView } from '../../../engine/src/index.ts';
import { packSpots, packViewLines } from '../../../core/src/formats/index.ts';
import { applyGesture, applyGestureWith } from '../gestureLog.ts';
import type { OpenGesture } from '../desk.ts';
import { EditConflict } from '../errors.ts';
import type { Services } from '../http.ts';
import { jobPayloads } from '../jobs.ts';
import type { JobContext } from './jobRunner.ts';
import { openDocuments, type OpenedDocuments } from '../openedDocuments.ts';
import type { StoredProject } from '../openedSheets.ts';
import { openInputs } from '../openedStructure.ts';
import { storedProject } from '../projects.ts';
import { revisionIn } from '../revisions.ts';
import { allShapes, drawLooks } from './drawing.ts';

/** How often it is begun anew because somebody else changed a document meanwhile. */
const TRIES = 5;

/**
 * The job: what the page does with a gesture, of the project as it stands when the job comes to it. Draws what views it
 * takes, works out the commands, and carries them out as one gesture of the session.
 */
export async function carryOutIntention(
  payload: unknown,
  context: JobContext,
  services: Pick<Services, 'database' | 'blobs' | 'pool' | 'desk'>,
): Promise<string> {
  const { project, intention, gesture, session, label } = v.parse(jobPayloads.intention, payload);
  await readyForFormulas();
  for (let attempt = 1; ; attempt++) {
    const { state, versions } = await loadState(services, project, intention);
    const stepsOf = (steps: CarriedOut['steps']) =>
      steps.map(({ document, command }): OpenGesture['steps'][number] => ({
        document,
        version: versions.get(document)!,
        command: JSON.stringify(command),
      }));
    if (intention.kind === 'makeSet' || intention.kind === 'makePartSheets' || intention.kind === 'divideList') {
      const made =
        intention.kind === 'divideList'
          ? longListSteps(state, intention, randomUUID)
          : await makeTheSet(state, project, intention, context, services);
      context.signal.throwIfAborted();
      context.note([made.said, ...made.problems.map(({ message }) => message)].join(' '));
      const added = made.added.map(({ id, content }) => ({
        id,
        kind: 'sheet' as const,
        content: JSON.stringify(content),
      }));
      try {
        await applyGestureWith(services, project, added, { gesture, session, label, steps: stepsOf(made.steps) });
        return project;
      } catch (error) {
        if (!(error instanceof EditConflict) || attempt === TRIES) throw error;
        continue;
      }
    }
    const { steps, problems, refused } = await workOut(state, intention, project, context, services);
    if (steps.length === 0 && refused.length > 0) throw new Refusal('refused', refused.join(' '));
    context.note([...refused, ...problems.map(({ message }) => message)].join(' '));
    if (steps.length === 0) return project;
    try {
      await applyGesture(services, project, { gesture, session, label, steps: stepsOf(steps) });
      return project;
    } catch (error) {
      if (!(error instanceof EditConflict) || attempt === TRIES) throw error;
    }
  }
}

/** The commands that an intention comes to, once the views are drawn that it takes. */
export async function workOut(
  state: LoadedState,
  intention: PlainIntention,
  project: string,
  context: JobContext,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<CarriedOut> {
  const looks = looksFor(state, intention).map(({ look }) => look);
  if (looks.length > 0) await allShapes(project, context, services, state.revision.shown);
  const drawn = await drawLooks(looks, project, context, services);
  const views = new Map(
    looks.map(({ key }, at) => [key, { lines: packViewLines(drawn[at].lines), spots: packSpots(drawn[at].spots) }]),
  );
  context.report({ step: 'Working it out', done: 0, of: 1 });
  const exploded =
    intention.kind === 'proposePose'
      ? await comeApart(state, project, intention.levels, intention.view?.sheet, context, services)
      : undefined;
  const carried = await services.pool.carryOut({ state, intention, views, exploded }, context.signal);
  context.signal.throwIfAborted();
  return carried;
}

/** A set made of a sheet, or sheets of single parts; looks are drawn as they are asked for, as many at once as there are workers. */
async function makeTheSet(
  state: ProjectState,
  project: string,
  intention: Extract<Intention, { kind: 'makeSet' | 'makePartSheets' }>,
  context: JobContext,
  services: Pick<Services, 'database' | 'blobs' | 'pool'>,
): Promise<SetSteps> {
  await allShapes(project, context, services, state.revision?.shown ?? null);
  let asked = 0,
    drawn = 0;
  const tools = { pool: services.pool, store: services.blobs.forProject(project), signal: context.signal };
  const report = (of: string) => context.report({ step: `Drawing ${of}`, done: drawn, of: asked });
  const means = {
    draw: async (look: Look) => {
      asked++;
      const made = await makeView(look, tools);
      drawn++;
      report('what may be shown');
      return made;
    },
    newId: randomUUID,
  };
  return intention.kind === 'makePartSheets'
    ? partSheetSteps(state, intention, means)
    : setSteps(state, intention, {
        ...means,
        apart: () => comeApart(state, project, EVERY_LEVEL, intention.sheet, context, services),
      });
}
const EVERY_LEVEL = 100;

/** How the machine of the sheet's list comes apart, or of the drawing's; what is counted whole leaves whole. */
async function comeApart(
  state: ProjectState,
  project: string,
  levels: number,
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
    { levels, whole: whole.map(({ path }) => pathKey(path)) },
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

type LoadedState = ProjectState & Required<Pick<ProjectState, 'revision'>>;

async function loadState(
  { database, blobs }: Pick<Services, 'database' | 'blobs'>,
  project: string,
  intention: Intention,
): Promise<{ state: LoadedState; versions: ReadonlyMap<string, number> }> {
  const stored = await storedProject(database, project);
  return {
    state: await stateOf(stored, intention, blobs),
    versions: new Map(stored.documents.map(({ id, version }) => [id, version])),
  };
}

/** A project as an intention finds it. @throws Refusal */
export async function stateOf(
  { documents, revisions }: StoredProject,
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
    fileName,
    components: components.id,
    revision,
    ...(earlier ? { earlier: { original: earlier.original, facts: earlier.facts } } : {}),
  };
}
