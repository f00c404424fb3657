import { createHash } from 'node:crypto';
import express, { type Request, type Response } from 'express';
import * as v from 'valibot';
import { MOST_LOGO_BYTES, pictureKey } from '../../../engine/src/index.ts';
import { NotFound } from '../errors.ts';
import { param, parse, sendBytes, type Services } from '../http/http.ts';
import { storedProject } from '../projects/projects.ts';

/** Pictures for title blocks and catalogues: brought in as PNG or SVG, kept as PNG under the hash of that. */
export function pictureRoutes(app: express.Express, { database, blobs, pool }: Services): void {
  const body = express.raw({ type: () => true, limit: 2 * MOST_LOGO_BYTES });
  const keep = async ({ body: given }: Request, response: Response) => {
    const { png, ratio } = await pool.logo(Buffer.isBuffer(given) ? Uint8Array.from(given) : new Uint8Array());
    const blob = createHash('sha256').update(png).digest('hex');
    await blobs.put(pictureKey(blob), png);
    response.status(201).json({ blob, ratio });
  };
  app.post('/api/projects/:id/pictures', body, async (request, response) => {
    await storedProject(database, param(request, 'id'));
    await keep(request, response);
  });
  // Catalogues are shared by all projects, and so are their pictures.
  app.post('/api/pictures', body, keep);
  app.get('/api/pictures/:blob', async (request, response) => {
    const { blob } = parse(v.object({ blob: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)) }), request.params);
    const bytes = await blobs.get(pictureKey(blob));
    if (!bytes) throw new NotFound('This picture is not stored.');
    response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
    sendBytes(response.type('png'), bytes);
  });
}
