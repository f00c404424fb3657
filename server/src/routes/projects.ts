import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { routes } from '../../../contract/src/index.ts';
import { NotFound } from '../errors.ts';
import { sendBytes, type Services } from '../http/http.ts';
import { asBytes, asJson, asWritten, atDesk, underWay, type Call, type Handlers } from '../http/serve.ts';
import { withJson } from '../jobs/jobs.ts';
import { documentJson, keptJson } from '../log/documentJson.ts';
import { applyGesture } from '../log/gestureLog.ts';
import { stepBack } from '../log/stepBack.ts';
import { takeBack } from '../log/unreadable.ts';
import {
  deleteProject,
  findRevision,
  listProjects,
  loadPicture,
  projectJson,
  structureOf,
} from '../projects/projects.ts';
import { mediaTypes } from './mediaTypes.ts';

type StepCall = Pick<Call<(typeof routes.projects)['undo']>, 'params' | 'body'>;

export function projectRoutes(services: Services): Handlers<typeof routes.projects> {
  const { database, blobs, jobs, desk } = services;
  const step =
    (mode: 'undo' | 'redo') =>
    async ({ params, body: { session, gesture = randomUUID() } }: StepCall) =>
      asJson(keptJson(await stepBack(services, params.id, session, mode, gesture)));
  /** What is known of the shapes of a revision, and under which name they are made. */
  const shapesOf = async (project: string, wanted: string | undefined, signal: AbortSignal) => {
    const { id, assemblyBlob } = await findRevision(database, project, wanted ?? null);
    return { id, shapes: await desk.question({ assemblyBlob, edits: null }, { what: 'shapes' }, blobs, signal) };
  };
  return {
    list: () => listProjects(database),
    load: async ({ params, query }) => asJson(await projectJson(database, blobs, desk, params.id, query.session)),
    remove: async ({ params }) => {
      await deleteProject(services, params.id);
      return {};
    },
    edit: atDesk('gesture', async (gesture, { params }) =>
      asJson(keptJson(await applyGesture(services, params.id, gesture))),
    ),
    // For the list of projects: what was drawn last. Looking at it makes nothing.
    picture: async ({ params }) => {
      const bytes = await loadPicture(database, blobs, params.id);
      if (!bytes) throw new NotFound('This project has no picture yet.');
      return asBytes(bytes, mediaTypes.bytes, 'never');
    },
    intend: atDesk('intention', async ({ gesture, intended }, { params: { id: project } }) => {
      await structureOf(database, project); // that there is such a project
      return underWay({
        job: await jobs.add('intention', withJson({ project }, intended), gesture, { once: true }),
      });
    }),
    takeBack: async ({ params }) => asJson(documentJson(await takeBack(services, params.id, params.document))),
    undo: step('undo'),
    redo: step('redo'),
    // It is stored as it goes out; who cannot unpack it gets it unpacked, a piece at a time.
    assembly: async ({ params, query, request }) => {
      const packed = await blobs.get(await structureOf(database, params.id, query.revision ?? null));
      if (!packed) throw new NotFound('The structure of this project is not stored; import its file again.');
      return asWritten(async (response) => {
        response.type('json').setHeader('Vary', 'Accept-Encoding');
        if (request.acceptsEncodings('gzip')) sendBytes(response.setHeader('Content-Encoding', 'gzip'), packed);
        else await pipeline(Readable.from([packed]), createGunzip(), response);
      });
    },
    shapes: async ({ params, query, signal }) => {
      const { id, shapes } = await shapesOf(params.id, query.revision, signal);
      return { ...shapes, job: shapes.complete ? null : await jobs.live('shapes', id) };
    },
    orderShapes: async ({ params: { id: project }, query, signal }) => {
      const { id, shapes } = await shapesOf(project, query.revision, signal);
      return underWay({
        job: shapes.complete ? null : await jobs.add('shapes', { project, revision: id }, id, { once: true }),
      });
    },
  };
}
