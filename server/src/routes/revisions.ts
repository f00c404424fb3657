import type express from 'express';
import type { Request, Response } from 'express';
import * as v from 'valibot';
import { api } from '../../../contract/src/index.ts';
import { comparisonFormats, type ComparisonFormat } from '../desk/comparisonFile.ts';
import {
  attach,
  goneWith,
  jsonBody,
  largeBody,
  param,
  parse,
  readFrom,
  sendBytes,
  type Services,
} from '../http/http.ts';
import { withJson } from '../jobs/jobs.ts';
import { NotFound } from '../errors.ts';
import { cataloguesIn, catalogueTexts } from '../projects/catalogues.ts';
import { foreseenKeys, foreseenName, sides } from '../desk/foreseen.ts';
import { findRevision, storedDocuments, storedProject } from '../projects/projects.ts';
import { matchesOf, removeRevision, revisionsOf, titleOf } from '../store/revisions.ts';

const foreseenNameSchema = v.pipe(v.string(), v.regex(/^[0-9a-f]{32}$/));
const MEDIA_TYPE: Readonly<Record<ComparisonFormat, string>> = {
  json: 'application/json',
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  text: 'text/plain; charset=utf-8',
};

/** Revisions of a project: what changed between two of them, what that does, and how parts were recognised. */
export function revisionRoutes(app: express.Express, services: Services): void {
  const { database, blobs, jobs, desk } = services;
  const effectFor = async (
    request: Request,
    response: Response,
    format: ComparisonFormat | 'whole',
  ): Promise<{ effect: Uint8Array; was: string; is: string }> => {
    const project = param(request, 'id');
    const asked = parse(api.comparedSchema, request.query);
    const own = await findRevision(database, project, asked.was ?? null);
    const newest = (await revisionsOf(database, project)).at(-1)!;
    const other = asked.is === undefined ? newest : await findRevision(database, project, asked.is);
    const named = [own, other].map((row) => ({
      id: row.id,
      assemblyBlob: row.assemblyBlob,
      fileName: row.fileName,
      title: titleOf(row),
    }));
    const documents = await storedDocuments(database, project);
    const effect = await desk.question(
      { assemblyBlob: other.assemblyBlob, edits: null },
      { what: 'effect', was: named[0], is: named[1], documents, format },
      blobs,
      goneWith(response),
    );
    return { effect, was: own.id, is: other.id };
  };
  app.get('/api/projects/:id/changes', async (request, response) => {
    const { effect, ...revisions } = await effectFor(request, response, 'whole');
    const start = Buffer.from(`${JSON.stringify(revisions).slice(0, -1)},`);
    sendBytes(response.type('json'), Buffer.concat([start, effect.subarray(1)]));
  });
  app.get('/api/projects/:id/changes/:format', async (request, response) => {
    const { format } = parse(v.object({ id: v.string(), format: v.picklist(comparisonFormats) }), request.params);
    const { effect } = await effectFor(request, response, format);
    attach(response, `changes.${format === 'text' ? 'txt' : format}`);
    sendBytes(response.type(MEDIA_TYPE[format]), effect);
  });
  // What would become of the sheets: kept under what the documents are now, so who asks again later asks for something else.
  app.post('/api/projects/:id/revisions/:revision/foreseen', async (request, response) => {
    const project = param(request, 'id');
    const { id: revision } = await findRevision(database, project, param(request, 'revision'));
    const documents = await storedDocuments(database, project);
    const catalogues = await catalogueTexts(database, cataloguesIn(documents));
    const name = foreseenName(revision, [...documents, ...catalogues]);
    if (await blobs.has(foreseenKeys(name).facts)) return void response.json({ name, job: null });
    response.status(202).json({ name, job: await jobs.add('foresee', { project, revision }, name, { once: true }) });
  });
  app.get('/api/projects/:id/foreseen/:name', async (request, response) => {
    const { name } = parse(v.object({ id: v.string(), name: foreseenNameSchema }), request.params);
    const bytes = await blobs.get(foreseenKeys(name).facts);
    if (!bytes) throw new NotFound('That is not worked out, or something was changed meanwhile; ask for it anew.');
    sendBytes(response.type('json'), bytes);
  });
  app.get('/api/projects/:id/foreseen/:name/:sheet/:side', async (request, response) => {
    const { name, sheet, side } = parse(
      v.object({
        id: v.string(),
        name: foreseenNameSchema,
        sheet: v.pipe(v.string(), v.maxLength(64)),
        side: v.picklist(sides),
      }),
      request.params,
    );
    const bytes = await blobs.get(foreseenKeys(name).picture(sheet, side));
    if (!bytes) throw new NotFound('There is no such picture; ask for it anew.');
    sendBytes(response.type('png'), bytes);
  });
  // Any two lists of the project, or one in two variants; each of the revision that it counts.
  app.get('/api/projects/:id/comparison/:format', async (request, response) => {
    const { id, format } = parse(v.object({ id: v.string(), format: v.picklist(comparisonFormats) }), request.params);
    const asked = parse(api.comparedListsSchema, request.query);
    const { documents, revisions, catalogues = [] } = await storedProject(database, id);
    const bytes = await desk.question(
      { assemblyBlob: revisions[0].assemblyBlob, edits: null },
      {
        what: 'comparison',
        format,
        sides: [
          { bill: asked.was, variant: asked.wasVariant },
          { bill: asked.is, variant: asked.isVariant },
        ],
        documents,
        revisions,
        catalogues,
      },
      blobs,
      goneWith(response),
    );
    attach(response, `comparison.${format === 'text' ? 'txt' : format}`);
    sendBytes(response.type(MEDIA_TYPE[format]), bytes);
  });
  app.get('/api/projects/:id/revisions/:revision/unsure', async (request, response) => {
    const row = await findRevision(database, param(request, 'id'), param(request, 'revision'));
    const { unsure, answers, keys } = matchesOf(row);
    const said = new Map(answers.map(({ is, same }) => [is, same]));
    const parts = unsure.map((one): api.UnsurePart => ({
      ...one,
      key: keys[one.is] ?? one.is,
      same: said.get(one.is) ?? null,
    }));
    response.json({ parts, keys });
  });
  app.post('/api/projects/:id/revisions/:revision/answers', largeBody(), async (request, response) => {
    const [project, revision] = [param(request, 'id'), param(request, 'revision')];
    const { answers } = await readFrom(services, 'answers', request, response);
    await findRevision(database, project, revision);
    const payload = withJson({ project, revision }, `{"answers":${answers}}`);
    response.status(202).json({ job: await jobs.add('recognise', payload, revision) });
  });
  app.put('/api/projects/:id/revisions/:revision', jsonBody(), async (request, response) => {
    const { remark, who } = parse(api.remarkSchema, request.body);
    const { id, project } = await findRevision(database, param(request, 'id'), param(request, 'revision'));
    await database.query('UPDATE revision SET remark = ?, who = ? WHERE id = ? AND project = ?', [
      remark,
      who,
      id,
      project,
    ]);
    response.json({});
  });
  app.delete('/api/projects/:id/revisions/:revision', async (request, response) => {
    const { id, project } = await findRevision(database, param(request, 'id'), param(request, 'revision'));
    if (!(await removeRevision(database, blobs, project, id)))
      throw new NotFound('There is no such revision; it may have been taken away already.');
    response.json({});
  });
}
