import * as v from 'valibot';
import {
  answersSchema,
  comparedListsSchema,
  comparedSchema,
  remarkSchema,
  unsurePartSchema,
  workSchema,
} from '../api/index.ts';
import { comparisonFormats } from './fileFormats.ts';
import { nothing } from './projects.ts';
import { route } from './route.ts';

const formatParams = v.object({ id: v.string(), format: v.picklist(comparisonFormats) });
/** Name of something that was worked out for documents as they were. */
const foreseenName = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}$/));
export const foreseenSides = ['was', 'is'] as const;

/** Revisions of a project: what changed between two of them, what that does, and how parts were recognised. */
export const revisions = {
  changes: route('GET', '/api/projects/:id/changes', {
    does: 'what changed between two revisions, and what taking the later one over does',
    needs: 'see',
    query: comparedSchema,
    // Worked out by the same program; only its shape at the top is looked at.
    answer: v.looseObject({
      was: v.string(),
      is: v.string(),
      model: v.looseObject({}),
      bills: v.array(v.unknown()),
      sheets: v.array(v.unknown()),
    }),
  }),
  changesFile: route('GET', '/api/projects/:id/changes/:format', {
    does: 'the same as a file',
    needs: 'see',
    params: formatParams,
    query: comparedSchema,
    answer: 'file',
  }),
  foresee: route('POST', '/api/projects/:id/revisions/:revision/foreseen', {
    does: 'has worked out what would become of the sheets if a revision were taken over; its name, and the job',
    needs: 'see',
    answer: v.object({ name: v.string(), job: v.nullable(v.string()) }),
  }),
  foreseen: route('GET', '/api/projects/:id/foreseen/:name', {
    does: 'what was worked out under this name',
    needs: 'see',
    params: v.object({ id: v.string(), name: foreseenName }),
    answer: v.looseObject({ sheets: v.array(v.looseObject({ id: v.string() })) }),
  }),
  foreseenPicture: route('GET', '/api/projects/:id/foreseen/:name/:sheet/:side', {
    does: 'a sheet as it is or would be, as PNG',
    needs: 'see',
    params: v.object({
      id: v.string(),
      name: foreseenName,
      sheet: v.pipe(v.string(), v.maxLength(64)),
      side: v.picklist(foreseenSides),
    }),
    answer: 'bytes',
  }),
  comparison: route('GET', '/api/projects/:id/comparison/:format', {
    does: 'two lists of the project, or one in two variants, and what differs',
    needs: 'see',
    params: formatParams,
    query: comparedListsSchema,
    answer: 'file',
  }),
  unsure: route('GET', '/api/projects/:id/revisions/:revision/unsure', {
    does: 'parts that were recognised with less than certainty, and keys in the project of what was read with other ones',
    needs: 'see',
    answer: v.object({ parts: v.array(unsurePartSchema), keys: v.record(v.string(), v.string()) }),
  }),
  answer: route('POST', '/api/projects/:id/revisions/:revision/answers', {
    does: 'says about parts whether they are the same; the job that recognises the revision anew',
    needs: 'change',
    body: answersSchema,
    size: 'large',
    answer: workSchema,
  }),
  remark: route('PUT', '/api/projects/:id/revisions/:revision', {
    does: 'says why and by whom a revision was brought in',
    needs: 'change',
    body: remarkSchema,
    answer: nothing,
  }),
  remove: route('DELETE', '/api/projects/:id/revisions/:revision', {
    does: 'takes a revision away that nothing shows',
    needs: 'change',
    answer: nothing,
  }),
};
