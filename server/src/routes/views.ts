import type { routes } from '../../../contract/src/index.ts';
import type { ShapeKey } from '../../../core/src/assembly/index.ts';
import { meshKey, thumbnailKey, viewKeys } from '../../../engine/src/index.ts';
import { NotFound } from '../errors.ts';
import type { Services } from '../http/http.ts';
import { asBytes, atDesk, underWay, type Handlers } from '../http/serve.ts';
import { orderViews } from '../projects/views.ts';
import { mediaTypes } from './mediaTypes.ts';

export function viewRoutes(services: Services): Handlers<typeof routes.views> {
  const { blobs } = services;
  /** Named by content: the browser may keep it for ever. */
  const kept = async (key: string, type: string, sentence: string) => {
    const bytes = await blobs.get(key);
    if (!bytes) throw new NotFound(sentence);
    return asBytes(bytes, type, 'for ever');
  };
  return {
    thumbnail: ({ params }) =>
      kept(thumbnailKey(params.shape as ShapeKey), 'png', 'There is no picture of this shape yet.'),
    mesh: ({ params }) =>
      kept(
        meshKey(params.shape as ShapeKey),
        mediaTypes.bytes,
        'This shape is not stored; it could not be made, or is not made yet.',
      ),
    order: atDesk('views', async ({ looks, revision }, { params, signal }) =>
      underWay(await orderViews(services, params.id, looks, revision, signal)),
    ),
    drawn: ({ params: { key, what } }) =>
      kept(viewKeys(key)[what], mediaTypes.bytes, 'This view is not drawn; order it first.'),
  };
}
