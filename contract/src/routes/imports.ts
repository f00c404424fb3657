import * as v from 'valibot';
import { fileNameSchema, importSchema, jobSchema, listImportSchema, listPreviewSchema } from '../api/index.ts';
import { id } from '../documents/index.ts';
import { nothing } from './projects.ts';
import { route } from './route.ts';

const begun = v.object({ job: id });

/** Files that come in, and the jobs that read them. */
export const imports = {
  file: route('POST', '/api/imports', {
    does: 'brings a file in, as a project or as a further revision of one; the job that reads it',
    needs: 'change',
    query: importSchema,
    sends: 'file',
    answer: begun,
  }),
  previewList: route('POST', '/api/lists', {
    does: 'the first rows of a structure list, and how it would be read',
    needs: 'see',
    query: fileNameSchema,
    sends: 'file',
    answer: listPreviewSchema,
  }),
  list: route('POST', '/api/lists/import', {
    does: 'brings a structure list in, its columns read as the mapping says',
    needs: 'change',
    query: listImportSchema,
    sends: 'file',
    answer: begun,
  }),
  job: route('GET', '/api/jobs/:id', { does: 'how far a job is', needs: 'see', answer: jobSchema }),
  cancel: route('POST', '/api/jobs/:id/cancel', { does: 'stops a job', needs: 'change', answer: nothing }),
  follow: route('GET', '/api/jobs/:id/events', {
    does: 'how far a job is, as it goes on, until it ends; null where there is none',
    needs: 'see',
    answer: 'events',
  }),
};
