import { randomUUID } from 'node:crypto';
import express, { type Request } from 'express';
import * as v from 'valibot';
import { api } from '../../../contract/src/index.ts';
import { loadMeasures, loadShapeFindings } from '../../../engine/src/index.ts';
import { applyGesture, stepBack } from '../gestureLog.ts';
import { MAX_JSON, param, parse, type Services } from '../http.ts';
import { shapesComplete, type ShapesPayload } from '../imports.ts';
import type { IntentionPayload } from '../intentions.ts';
import { deleteProject, listProjects, loadAssembly, loadProject } from '../projects.ts';

const sessionOf = (request: Request): string =>
  parse(v.object({ session: v.optional(v.pipe(v.string(), v.maxLength(64)), '') }), request.query).session;

/** Projects, their structure and shapes, and the gestures that change them. */
export function projectRoutes(app: express.Express, { database, blobs, jobs }: Services): void {
  const json = express.json({ limit: MAX_JSON });
  app.get('/api/projects', async (_, response) => void response.json(await listProjects(database)));
  app.get(
    '/api/projects/:id',
    async (request, response) =>
      void response.json(await loadProject(database, blobs, param(request, 'id'), sessionOf(request))),
  );
  app.delete('/api/projects/:id', async (request, response) => {
    await deleteProject(database, param(request, 'id'));
    response.json({});
  });
  app.post(
    '/api/projects/:id/edits',
    json,
    async (request, response) =>
      void response.json(await applyGesture(database, param(request, 'id'), parse(api.gestureSchema, request.body))),
  );
  app.post('/api/projects/:id/intentions', json, async (request, response) => {
    const project = param(request, 'id');
    const intended = parse(api.intendedSchema, request.body);
    await loadProject(database, blobs, project, ''); // that there is such a project
    const payload: IntentionPayload = { project, ...intended };
    response.status(202).json({ job: await jobs.add('intention', payload, intended.gesture, { once: true }) });
  });
  for (const mode of ['undo', 'redo'] as const) {
    app.post(
      `/api/projects/:id/${mode}`,
      json,
      async (request, response) =>
        void response.json(
          await stepBack(
            database,
            param(request, 'id'),
            parse(api.sessionSchema, request.body).session,
            mode,
            randomUUID(),
          ),
        ),
    );
  }
  app.get(
    '/api/projects/:id/assembly',
    async (request, response) => void response.json(await loadAssembly(database, blobs, param(request, 'id'))),
  );
  app.get('/api/projects/:id/shapes', async (request, response) => {
    const project = param(request, 'id');
    const assembly = await loadAssembly(database, blobs, project);
    const measures = await loadMeasures(assembly, { store: blobs });
    const complete = await shapesComplete(assembly, blobs);
    response.json({
      complete,
      job: complete ? null : await jobs.live('shapes', project),
      facts: Object.fromEntries([...measures].map(([shape, { sizes, volume }]) => [shape, { sizes, volume }])),
      findings: await loadShapeFindings(assembly, { store: blobs }),
    });
  });
  app.post('/api/projects/:id/shapes', async (request, response) => {
    const project = param(request, 'id');
    const complete = await shapesComplete(await loadAssembly(database, blobs, project), blobs);
    const job = complete
      ? null
      : await jobs.add('shapes', { project } satisfies ShapesPayload, project, { once: true });
    response.status(job ? 202 : 200).json({ job });
  });
}
