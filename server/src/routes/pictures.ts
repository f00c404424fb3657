import { createHash } from 'node:crypto';
import express from 'express';
import * as v from 'valibot';
import { MOST_LOGO_BYTES, pictureKey } from '../../../engine/src/index.ts';
import { NotFound } from '../errors.ts';
import { param, parse, sendBytes, type Services } from '../http.ts';
import { storedProject } from '../projects.ts';

/** Pictures for title blocks: brought in as PNG or SVG, kept as PNG under the hash of that. */
export function pictureRoutes(app: express.Express, { database, blobs, pool }: Services): void {
  app.post(
    '/api/projects/:id/pictures',
    express.raw({ type: () => true, limit: 2 * MOST_LOGO_BYTES }),
    async (request, response) => {
      await storedProject(database, param(request, 'id'));
      const body = Buffer.isBuffer(request.body) ? Uint8Array.from(request.body) : new Uint8Array();
      const { png, ratio } = await pool.logo(body);
      const blob = createHash('sha256').update(png).digest('hex');
      await blobs.put(pictureKey(blob), png);
      response.status(201).json({ blob, ratio });
    },
  );
  app.get('/api/pictures/:blob', async (request, response) => {
    const { blob } = parse(v.object({ blob: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)) }), request.params);
    const bytes = await blobs.get(pictureKey(blob));
    if (!bytes) throw new NotFound('This picture is not stored.');
    response.setHeader('Cache-Control', 'private, max-age=31536000, immutable');
    sendBytes(response.type('png'), bytes);
  });
}
