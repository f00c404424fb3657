import * as v from 'valibot';
import {
  madeDocumentSchema,
  madeSheetSchema,
  newBillSchema,
  newSheetSchema,
  pictureSchema,
  stylesSchema,
  usualStyleSchema,
} from '../api/index.ts';
import { houseStyleSchema } from '../documents/index.ts';
import { route } from './route.ts';

/** Several bills and sheets of one project, and the house styles that all projects share. */
export const bills = {
  add: route('POST', '/api/projects/:id/bills', {
    does: 'a new bill: a copy, what a recipe file asks for, or blank',
    needs: 'change',
    body: newBillSchema,
    size: 'large',
    answer: madeDocumentSchema,
  }),
  addSheet: route('POST', '/api/projects/:id/sheets', {
    does: 'a new sheet behind another one: a copy, or blank',
    needs: 'change',
    body: newSheetSchema,
    answer: madeSheetSchema,
  }),
  styles: route('GET', '/api/styles', { does: 'house styles', needs: 'see', answer: stylesSchema }),
  keepStyle: route('PUT', '/api/styles', {
    does: 'keeps a house style under its name',
    needs: 'change',
    body: houseStyleSchema,
    size: 'large',
    answer: stylesSchema,
  }),
  setUsualStyle: route('PUT', '/api/styles/usual', {
    does: 'says which house style new bills begin with',
    needs: 'change',
    body: usualStyleSchema,
    answer: stylesSchema,
  }),
  dropStyle: route('DELETE', '/api/styles/:name', {
    does: 'takes a house style away',
    needs: 'change',
    answer: stylesSchema,
  }),
};

/** Pictures for title blocks and catalogues: brought in as PNG or SVG, kept as PNG under the hash of that. */
export const pictures = {
  keep: route('POST', '/api/projects/:id/pictures', {
    does: 'keeps a picture for title blocks',
    needs: 'change',
    sends: 'picture',
    answer: pictureSchema,
  }),
  // Catalogues are shared by all projects, and so are their pictures.
  keepShared: route('POST', '/api/pictures', {
    does: 'keeps a picture for catalogues',
    needs: 'change',
    sends: 'picture',
    answer: pictureSchema,
  }),
  load: route('GET', '/api/pictures/:blob', {
    does: 'a picture that was kept, as PNG',
    needs: 'see',
    params: v.object({ blob: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)) }),
    answer: 'bytes',
  }),
};
