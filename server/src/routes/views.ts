import type express from 'express';
import type { Response } from 'express';
import * as v from 'valibot';
import type { ShapeKey } from '../../../core/src/assembly/index.ts';
import { meshKey, thumbnailKey, viewKeys } from '../../../engine/src/index.ts';
import { NotFound } from '../errors.ts';
import { goneWith, largeBody, param, parse, readFrom, sendBytes, type Services } from '../http/http.ts';
import { orderViews } from '../projects/views.ts';

/**
 * What is made of shapes. It is named by its content, so an answer holds for ever; what is not there is not made by asking
 * for it, but by an order.
 */
export function viewRoutes(app: express.Express, services: Services): void {
  const { blobs } = services;
  app.get('/api/thumbnails/:shape', async (request, response) => {
    const bytes = await blobs.get(thumbnailKey(param(request, 'shape') as ShapeKey));
    if (!bytes) throw new NotFound('There is no picture of this shape yet.');
    keep(response);
    sendBytes(response.type('png'), bytes);
  });
  app.get('/api/meshes/:shape', async (request, response) => {
    const bytes = await blobs.get(meshKey(param(request, 'shape') as ShapeKey));
    if (!bytes) throw new NotFound('This shape is not stored; it could not be made, or is not made yet.');
    keep(response);
    sendBytes(response.type('application/octet-stream'), bytes);
  });
  app.post('/api/projects/:id/views', largeBody(), async (request, response) => {
    const { looks, revision } = await readFrom(services, 'views', request, response);
    const answer = await orderViews(services, param(request, 'id'), looks, revision, goneWith(response));
    response.status(answer.job ? 202 : 200).json(answer);
  });
  app.get('/api/views/:key/:what', async (request, response) => {
    const { key, what } = parse(
      v.object({ key: v.pipe(v.string(), v.regex(/^[0-9a-f]{32}$/)), what: v.picklist(['lines', 'spots']) }),
      request.params,
    );
    const bytes = await blobs.get(viewKeys(key)[what]);
    if (!bytes) throw new NotFound('This view is not drawn; order it first.');
    keep(response);
    sendBytes(response.type('application/octet-stream'), bytes);
  });
}

/** Named by content: the browser may keep it for ever. */
const keep = (response: Response): void =>
  void response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
