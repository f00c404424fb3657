import * as v from 'valibot';
import { workSchema } from '../api/index.ts';
import { billFormats, checkFormats, sheetFormats } from './fileFormats.ts';
import { route } from './route.ts';

/** Lists and sheets as files. */
export const outputs = {
  bill: route('GET', '/api/projects/:id/bills/:document/:format', {
    does: 'a list as a file; `recipe` is how it is made, without the machine',
    needs: 'see',
    params: v.object({ id: v.string(), document: v.string(), format: v.picklist(billFormats) }),
    answer: 'file',
  }),
  sheet: route('GET', '/api/projects/:id/sheets/:document/:format', {
    does: 'a sheet, or one view of it, as a file; 409 while its views are not drawn',
    needs: 'see',
    params: v.object({ id: v.string(), document: v.string(), format: v.picklist(sheetFormats) }),
    /** Only one view of the sheet, and how finely a picture is drawn. */
    query: v.object({
      view: v.optional(v.pipe(v.string(), v.maxLength(64))),
      dots: v.optional(v.pipe(v.string(), v.regex(/^\d{1,4}$/), v.transform(Number))),
    }),
    answer: 'file',
  }),
  set: route('GET', '/api/projects/:id/set/pdf', { does: 'all sheets as one PDF', needs: 'see', answer: 'file' }),
  check: route('GET', '/api/projects/:id/check/:format', {
    does: 'what there is to look at on all sheets',
    needs: 'see',
    params: v.object({ id: v.string(), format: v.picklist(checkFormats) }),
    answer: 'file',
  }),
  orderViews: route('POST', '/api/projects/:id/sheets/:document/views', {
    does: 'has the views of a sheet drawn that are not; the job that does it',
    needs: 'see',
    answer: workSchema,
  }),
  orderSetViews: route('POST', '/api/projects/:id/set/views', {
    does: 'the same for the views of all sheets; asked again until no job is left',
    needs: 'see',
    answer: workSchema,
  }),
};
