import * as v from 'valibot';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import type { CarriedOut, SetSteps } from '../../../core/src/documents/index.ts';
import { makeView } from '../../../engine/src/index.ts';
import { applyGesture, applyGestureWith } from '../log/gestureLog.ts';
import type { OpenGesture } from '../desk/readings.ts';
import { EditConflict } from '../errors.ts';
import type { Services } from '../http/http.ts';
import { jobPayloads } from '../jobs/jobs.ts';
import { storedProject } from '../projects/projects.ts';
import { allShapes } from './drawing.ts';
import type { JobContext } from './jobRunner.ts';
import type { LentMeans, SetIntention } from '../desk/setWork.ts';
import { takenOver } from './takeOver.ts';
import { comeApart, stateOf, workOut, type LoadedState } from './workOut.ts';

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
    const stored = await storedProject(services.database, project);
    const versions = new Map(stored.documents.map(({ id, version }) => [id, version]));
    const stepsOf = (steps: CarriedOut['steps']) =>
      steps.map(({ document, command }): OpenGesture['steps'][number] => ({
        document,
        version: versions.get(document)!,
        command: JSON.stringify(command),
      }));
    if (intention.kind === 'makeSet' || intention.kind === 'makePartSheets' || intention.kind === 'divideList') {
      const state = await stateOf(stored, intention, services.blobs);
      const made = await makeTheSet(state, project, intention, context, services);
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
    const { steps, problems, refused } =
      intention.kind === 'takeOver'
        ? await takenOver(stored, intention, project, context, services)
        : await workOut(await stateOf(stored, intention, services.blobs), intention, project, context, services);
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

/**
 * Further sheets of a sheet: a set, sheets of single parts, the rest of a list. They are planned on a thread that ends
 * with the job; looks are drawn as it asks for them, as many at once as there are workers.
 */
async function makeTheSet(
  state: LoadedState,
  project: string,
  intention: SetIntention,
  context: JobContext,
  services: Pick<Services, 'database' | 'blobs' | 'pool' | 'desk'>,
): Promise<SetSteps> {
  context.sized(state.original.components.length);
  if (intention.kind !== 'divideList') await allShapes(project, context, services, state.revision.shown);
  let asked = 0,
    drawn = 0;
  const tools = { pool: services.pool, store: services.blobs.forProject(project), signal: context.signal };
  const means: LentMeans = {
    draw: async (look) => {
      asked++;
      const made = await makeView(look, tools);
      drawn++;
      context.report({ step: 'Drawing what may be shown', done: drawn, of: asked });
      return made;
    },
    apart: () => comeApart(state, project, { levels: EVERY_LEVEL }, intention.sheet, context, services),
  };
  return services.desk.planSet({ state, intention }, means, context.signal);
}
const EVERY_LEVEL = 100;
