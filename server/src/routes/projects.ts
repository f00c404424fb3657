import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type express from 'express';
import type { Request } from 'express';
import * as v from 'valibot';
import { api } from '../../../contract/src/index.ts';
import { documentJson, keptJson } from '../log/documentJson.ts';
import { applyGesture } from '../log/gestureLog.ts';
import { stepBack } from '../log/stepBack.ts';
import { takeBack } from '../log/unreadable.ts';
import { NotFound } from '../errors.ts';
import {
  gestureBody,
  goneWith,
  jsonBody,
  largeBody,
  param,
  parse,
  readFrom,
  sendBytes,
  type Services,
} from '../http/http.ts';
import { withJson } from '../jobs/jobs.ts';
import {
  deleteProject,
  findRevision,
  listProjects,
  loadPicture,
  projectJson,
  structureOf,
} from '../projects/projects.ts';

const sessionOf = (request: Request): string =>
  parse(v.object({ session: v.optional(v.pipe(v.string(), v.maxLength(64)), '') }), request.query).session;

/** Which revision is asked about; the project's where null. */
const revisionOf = (request: Request): string | null =>
  parse(v.object({ revision: v.optional(v.pipe(v.string(), v.maxLength(64))) }), request.query).revision ?? null;

/** Projects, their structure and shapes, and the gestures that change them. */
export function projectRoutes(app: express.Express, services: Services): void {
  const { database, blobs, jobs, desk } = services;
  const json = jsonBody();
  app.get('/api/projects', async (_, response) => void response.json(await listProjects(database)));
  app.get(
    '/api/projects/:id',
    async (request, response) =>
      void response
        .type('json')
        .send(await projectJson(database, blobs, desk, param(request, 'id'), sessionOf(request))),
  );
  app.delete('/api/projects/:id', async (request, response) => {
    await deleteProject(services, param(request, 'id'));
    response.json({});
  });
  app.post('/api/projects/:id/edits', gestureBody(), async (request, response) => {
    const gesture = await readFrom(services, 'gesture', request, response);
    response.type('json').send(keptJson(await applyGesture(services, param(request, 'id'), gesture)));
  });
  // For the list of projects: what was drawn last. Looking at it makes nothing.
  app.get('/api/projects/:id/picture', async (request, response) => {
    const bytes = await loadPicture(database, blobs, param(request, 'id'));
    if (!bytes) throw new NotFound('This project has no picture yet.');
    response.type('application/octet-stream').setHeader('Cache-Control', 'no-cache');
    sendBytes(response, bytes);
  });
  app.post('/api/projects/:id/intentions', largeBody(), async (request, response) => {
    const project = param(request, 'id');
    const { gesture, intended } = await readFrom(services, 'intention', request, response);
    await structureOf(database, project); // that there is such a project
    const payload = withJson({ project }, intended);
    response.status(202).json({ job: await jobs.add('intention', payload, gesture, { once: true }) });
  });
  app.post('/api/projects/:id/documents/:document/take-back', async (request, response) => {
    response
      .type('json')
      .send(documentJson(await takeBack(services, param(request, 'id'), param(request, 'document'))));
  });
  for (const mode of ['undo', 'redo'] as const) {
    app.post(`/api/projects/:id/${mode}`, json, async (request, response) => {
      const { session, gesture = randomUUID() } = parse(api.sessionSchema, request.body);
      response.type('json').send(keptJson(await stepBack(services, param(request, 'id'), session, mode, gesture)));
    });
  }
  // It is stored as it goes out; who cannot unpack it gets it unpacked, a piece at a time.
  app.get('/api/projects/:id/assembly', async (request, response) => {
    const packed = await blobs.get(await structureOf(database, param(request, 'id'), revisionOf(request)));
    if (!packed) throw new NotFound('The structure of this project is not stored; import its file again.');
    response.type('json').setHeader('Vary', 'Accept-Encoding');
    if (request.acceptsEncodings('gzip')) sendBytes(response.setHeader('Content-Encoding', 'gzip'), packed);
    else await pipeline(Readable.from([packed]), createGunzip(), response);
  });
  app.get('/api/projects/:id/shapes', async (request, response) => {
    const { id, assemblyBlob } = await findRevision(database, param(request, 'id'), revisionOf(request));
    const asked = { assemblyBlob, edits: null };
    const shapes = await desk.question(asked, { what: 'shapes' }, blobs, goneWith(response));
    response.json({ ...shapes, job: shapes.complete ? null : await jobs.live('shapes', id) });
  });
  app.post('/api/projects/:id/shapes', async (request, response) => {
    const project = param(request, 'id');
    const { id, assemblyBlob } = await findRevision(database, project, revisionOf(request));
    const asked = { assemblyBlob, edits: null };
    const { complete } = await desk.question(asked, { what: 'shapes' }, blobs, goneWith(response));
    const job = complete ? null : await jobs.add('shapes', { project, revision: id }, id, { once: true });
    response.status(job ? 202 : 200).json({ job });
  });
}
