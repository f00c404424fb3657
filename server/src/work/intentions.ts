import { randomUUID } from 'node:crypto';
import * as v from 'valibot';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import {
  longListSteps,
  partSheetSteps,
  setSteps,
  type CarriedOut,
  type Intention,
  type ProjectState,
  type SetSteps,
} from '../../../core/src/documents/index.ts';
import type { Look } from '../../../core/src/views/index.ts';
import { makeView } from '../../../engine/src/index.ts';
import { applyGesture, applyGestureWith } from '../gestureLog.ts';
import type { OpenGesture } from '../desk.ts';
import { EditConflict } from '../errors.ts';
import type { Services } from '../http.ts';
import { jobPayloads } from '../jobs.ts';
import { storedProject } from '../projects.ts';
import { allShapes } from './drawing.ts';
import type { JobContext } from './jobRunner.ts';
import { takenOver } from './takeOver.ts';
import { comeApart, stateOf, workOut } from './workOut.ts';

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
