import { readFile } from 'node:fs/promises';
import { createHash } from 'node:crypto';
import type express from 'express';
import type { Request, Response } from 'express';
import * as v from 'valibot';
import { api } from '../../../contract/src/index.ts';
import {
  addCatalogue,
  catalogueJson,
  catalogueTexts,
  catalogueVersions,
  deleteCatalogue,
  listCatalogues,
} from '../projects/catalogues.ts';
import { NotFound } from '../errors.ts';
import { goneWith, largeBody, param, parse, readFrom, type Services } from '../http/http.ts';
import { receiveFile } from '../http/receiveFile.ts';
import { askSuppliers } from '../suppliers/suppliers.ts';
import { recall, remember } from '../store/remembered.ts';

/** Tables with these headings are read alike. */
const headingsKey = (headings: readonly string[]): string =>
  `catalogue ${createHash('sha256').update(JSON.stringify(headings)).digest('hex')}`;

/** Catalogues, which all projects share. They are edited by gestures like every other document. */
export function catalogueRoutes(app: express.Express, services: Services): void {
  const { database, desk, pool, scratch, suppliers } = services;
  /** The bytes that come in, for work that ends when who asked has gone. */
  const withFile = <Result>(
    request: Request,
    response: Response,
    work: (bytes: Uint8Array, signal: AbortSignal) => Promise<Result>,
  ): Promise<Result> => {
    const gone = goneWith(response);
    return receiveFile(request, scratch, async ({ path }) => work(new Uint8Array(await readFile(path)), gone));
  };
  app.get('/api/catalogues', async (_, response) => void response.json(await listCatalogues(database)));
  app.get('/api/catalogues/versions', async (request, response) => {
    const { ids } = parse(api.catalogueIdsSchema, request.query);
    response.json(await catalogueVersions(database, ids));
  });
  app.post('/api/catalogues', largeBody(), async (request, response) => {
    const { name, content } = await readFrom(services, 'catalogue', request, response);
    response.status(201).json({ id: await addCatalogue(database, name, content) });
  });
  app.post('/api/catalogues/preview', async (request, response) => {
    const { name } = parse(api.fileNameSchema, request.query);
    const preview = await withFile(request, response, (bytes, signal) =>
      pool.previewCatalogue({ bytes, fileName: name }, signal),
    );
    const known = v.safeParse(api.catalogueMappingSchema, await recall(database, headingsKey(preview.headings)));
    response.json({
      ...preview,
      ...(known.success ? { mapping: known.output, isUnsure: false } : {}),
      remembered: known.success,
    });
  });
  app.post('/api/catalogues/import', async (request, response) => {
    const { name, mapping, into } = parse(api.catalogueImportSchema, request.query);
    const [current] = into === undefined ? [] : await catalogueTexts(database, [into]);
    if (into !== undefined && !current) throw new NotFound('There is no such catalogue; it may have been deleted.');
    const read = await withFile(request, response, (bytes, signal) =>
      pool.readCatalogue({ bytes, fileName: name, mapping, current: current?.content ?? null }, signal),
    );
    await remember(database, headingsKey(read.headings), mapping);
    if (current) return void response.type('json').send(read.text);
    const id = await addCatalogue(database, name, read.text);
    response.status(201).json({ id, problems: read.problems });
  });
  app.post('/api/suppliers/ask', largeBody(), async (request, response) => {
    const { numbers } = await readFrom(services, 'suppliers', request, response);
    response.json(await askSuppliers(suppliers, numbers, goneWith(response)));
  });
  app.get('/api/catalogues/:id', async (request, response) => {
    const { session } = parse(
      v.object({ session: v.optional(v.pipe(v.string(), v.maxLength(64)), '') }),
      request.query,
    );
    response.type('json').send(await catalogueJson(database, desk, param(request, 'id'), session));
  });
  app.delete('/api/catalogues/:id', async (request, response) => {
    await deleteCatalogue(database, param(request, 'id'));
    response.json({});
  });
}
