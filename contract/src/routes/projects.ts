import * as v from 'valibot';
import {
  acceptedSchema,
  gestureSchema,
  intendedSchema,
  projectSchema,
  projectSummarySchema,
  sessionSchema,
  shapesSchema,
  storedDocumentSchema,
  workSchema,
} from '../api/index.ts';
import { route } from './route.ts';

/** The window that asks: what it can take back. */
const ofSession = v.object({ session: v.optional(v.pipe(v.string(), v.maxLength(64)), '') });
/** Which revision is asked about; the project's where absent. */
const ofRevision = v.object({ revision: v.optional(v.pipe(v.string(), v.maxLength(64))) });
export const nothing = v.object({});

/** Projects, their structure and shapes, and the gestures that change them. */
export const projects = {
  list: route('GET', '/api/projects', {
    does: 'all projects, as the start page shows them',
    needs: 'see',
    answer: v.array(projectSummarySchema),
  }),
  load: route('GET', '/api/projects/:id', {
    does: 'a project with its documents and what this window can take back',
    needs: 'see',
    query: ofSession,
    answer: projectSchema,
  }),
  remove: route('DELETE', '/api/projects/:id', {
    does: 'takes a project away for good',
    needs: 'change',
    answer: nothing,
  }),
  edit: route('POST', '/api/projects/:id/edits', {
    does: 'carries out a gesture; 409 with the edits since where somebody else was first',
    needs: 'change',
    body: gestureSchema,
    size: 'gesture',
    answer: acceptedSchema,
  }),
  picture: route('GET', '/api/projects/:id/picture', {
    does: 'the machine as it was drawn last, for the start page',
    needs: 'see',
    answer: 'bytes',
  }),
  intend: route('POST', '/api/projects/:id/intentions', {
    does: 'has something carried out that takes views and time, as a gesture; the job that does it',
    needs: 'change',
    body: intendedSchema,
    size: 'large',
    answer: workSchema,
  }),
  takeBack: route('POST', '/api/projects/:id/documents/:document/take-back', {
    does: 'takes a document that cannot be read back to what it was last when it could be',
    needs: 'change',
    answer: storedDocumentSchema,
  }),
  undo: route('POST', '/api/projects/:id/undo', {
    does: 'takes the last gesture of this window back',
    needs: 'change',
    body: sessionSchema,
    answer: acceptedSchema,
  }),
  redo: route('POST', '/api/projects/:id/redo', {
    does: 'does again what was taken back last',
    needs: 'change',
    body: sessionSchema,
    answer: acceptedSchema,
  }),
  assembly: route('GET', '/api/projects/:id/assembly', {
    does: 'the structure of a revision, as it was read from the file',
    needs: 'see',
    query: ofRevision,
    // Written by the same program; only its form is looked at.
    answer: v.looseObject({ version: v.literal(1) }),
  }),
  shapes: route('GET', '/api/projects/:id/shapes', {
    does: 'what is known about the shapes so far',
    needs: 'see',
    query: ofRevision,
    answer: shapesSchema,
  }),
  orderShapes: route('POST', '/api/projects/:id/shapes', {
    does: 'has the shapes made that are not; the job that does it',
    needs: 'see',
    query: ofRevision,
    answer: workSchema,
  }),
};
