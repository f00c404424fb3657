import * as v from 'valibot';
import {
  catalogueIdsSchema,
  catalogueImportSchema,
  cataloguePreviewSchema,
  catalogueSummarySchema,
  catalogueVersionsSchema,
  fileNameSchema,
  madeCatalogueSchema,
  openCatalogueSchema,
  supplierAnswerSchema,
  supplierQuestionSchema,
  tableChangesSchema,
} from '../api/index.ts';
import { catalogueSchema, id } from '../documents/index.ts';
import { nothing } from './projects.ts';
import { route } from './route.ts';

/** Catalogues, which all projects share. They are edited by gestures like every other document. */
export const catalogues = {
  list: route('GET', '/api/catalogues', {
    does: 'all catalogues',
    needs: 'see',
    answer: v.array(catalogueSummarySchema),
  }),
  versions: route('GET', '/api/catalogues/versions', {
    does: 'how many edits some catalogues have',
    needs: 'see',
    query: catalogueIdsSchema,
    answer: catalogueVersionsSchema,
  }),
  add: route('POST', '/api/catalogues', {
    does: 'a new catalogue',
    needs: 'change',
    body: v.object({ content: catalogueSchema }),
    size: 'large',
    answer: v.object({ id }),
  }),
  preview: route('POST', '/api/catalogues/preview', {
    does: 'how a table would be read as a catalogue',
    needs: 'see',
    query: fileNameSchema,
    sends: 'file',
    answer: cataloguePreviewSchema,
  }),
  importTable: route('POST', '/api/catalogues/import', {
    does: 'a catalogue of a table, or with `into` what it would do to one that is there',
    needs: 'change',
    query: catalogueImportSchema,
    sends: 'file',
    answer: v.union([madeCatalogueSchema, tableChangesSchema]),
  }),
  ask: route('POST', '/api/suppliers/ask', {
    does: 'what suppliers ask for numbers, or why that is not known',
    needs: 'see',
    body: supplierQuestionSchema,
    size: 'large',
    answer: v.array(supplierAnswerSchema),
  }),
  load: route('GET', '/api/catalogues/:id', {
    does: 'a catalogue, with what this window can take back in it',
    needs: 'see',
    query: v.object({ session: v.optional(v.pipe(v.string(), v.maxLength(64)), '') }),
    answer: openCatalogueSchema,
  }),
  remove: route('DELETE', '/api/catalogues/:id', {
    does: 'takes a catalogue away that no list uses',
    needs: 'change',
    answer: nothing,
  }),
};
