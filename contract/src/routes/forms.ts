import {
  cellSchema,
  formCheckSchema,
  formLookSchema,
  formMapSchema,
  formNameSchema,
  formsSchema,
  handedOverSchema,
  headingsSchema,
} from '../forms.ts';
import { route } from './route.ts';

/** Workbooks of the company that lists are filled into; all projects share them. */
export const forms = {
  list: route('GET', '/api/forms', { does: 'all forms', needs: 'see', answer: formsSchema }),
  keep: route('POST', '/api/forms', {
    does: 'keeps a workbook under a name; what it looks like',
    needs: 'change',
    query: formNameSchema,
    sends: 'file',
    answer: formLookSchema,
  }),
  look: route('GET', '/api/forms/:name/look', { does: 'what a form looks like', needs: 'see', answer: formLookSchema }),
  headings: route('GET', '/api/forms/:name/headings', {
    does: 'headings above a cell of a form',
    needs: 'see',
    query: cellSchema,
    answer: headingsSchema,
  }),
  workbook: route('GET', '/api/forms/:name/workbook', {
    does: 'the workbook as it came in',
    needs: 'see',
    answer: 'file',
  }),
  map: route('PUT', '/api/forms/:name', {
    does: 'says how a form is filled',
    needs: 'change',
    body: formMapSchema,
    size: 'large',
    answer: formsSchema,
  }),
  drop: route('DELETE', '/api/forms/:name', { does: 'takes a form away', needs: 'change', answer: formsSchema }),
  check: route('GET', '/api/projects/:id/forms/:name/check', {
    does: 'what there is to know before a form is filled',
    needs: 'see',
    query: handedOverSchema,
    answer: formCheckSchema,
  }),
  filled: route('GET', '/api/projects/:id/forms/:name/file', {
    does: 'the filled workbook, or several as an archive',
    needs: 'see',
    query: handedOverSchema,
    answer: 'file',
  }),
};
