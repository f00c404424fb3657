import * as v from 'valibot';
import { viewsAnswerSchema, viewsOrderSchema } from '../api/index.ts';
import { route } from './route.ts';

/**
 * What is made of shapes. It is named by its content, so an answer holds for ever; what is not there is not made by asking
 * for it, but by an order.
 */
export const views = {
  thumbnail: route('GET', '/api/thumbnails/:shape', {
    does: 'a small picture of a shape, as PNG',
    needs: 'see',
    answer: 'bytes',
  }),
  mesh: route('GET', '/api/meshes/:shape', { does: 'the triangles of a shape, packed', needs: 'see', answer: 'bytes' }),
  order: route('POST', '/api/projects/:id/views', {
    does: 'has views drawn that are not; under which keys they are when the job is done',
    needs: 'see',
    body: viewsOrderSchema,
    size: 'large',
    answer: viewsAnswerSchema,
  }),
  drawn: route('GET', '/api/views/:key/:what', {
    does: 'lines, or places for leaders, of a view that is drawn, packed',
    needs: 'see',
    params: v.object({ key: v.pipe(v.string(), v.regex(/^[0-9a-f]{32}$/)), what: v.picklist(['lines', 'spots']) }),
    answer: 'bytes',
  }),
};
