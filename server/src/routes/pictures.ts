import { createHash } from 'node:crypto';
import type { Request } from 'express';
import type { routes } from '../../../contract/src/index.ts';
import { pictureKey } from '../../../engine/src/index.ts';
import { NotFound } from '../errors.ts';
import type { Services } from '../http/http.ts';
import { asBytes, made, type Handlers } from '../http/serve.ts';
import { storedProject } from '../projects/projects.ts';

export function pictureRoutes({ database, blobs, pool }: Services): Handlers<typeof routes.pictures> {
  const keep = async ({ body: given }: Request) => {
    const { png, ratio } = await pool.logo(Buffer.isBuffer(given) ? Uint8Array.from(given) : new Uint8Array());
    const blob = createHash('sha256').update(png).digest('hex');
    await blobs.put(pictureKey(blob), png);
    return made({ blob, ratio });
  };
  return {
    keep: async ({ params, request }) => {
      await storedProject(database, params.id);
      return keep(request);
    },
    keepShared: ({ request }) => keep(request),
    load: async ({ params }) => {
      const bytes = await blobs.get(pictureKey(params.blob));
      if (!bytes) throw new NotFound('This picture is not stored.');
      return asBytes(bytes, 'png', 'for ever');
    },
  };
}
