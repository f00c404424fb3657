import { readFile } from 'node:fs/promises';
import type express from 'express';
import type { Request, Response } from 'express';
import { forms } from '../../../contract/src/index.ts';
import type { FormMap } from '../../../core/src/forms/index.ts';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { dropForm, findForm, formKey, keepForm, listForms, mapForm } from '../projects/forms.ts';
import { attach, goneWith, largeBody, param, parse, readFrom, sendBytes, type Services } from '../http/http.ts';
import { storedProject } from '../projects/projects.ts';
import { receiveFile } from '../http/receiveFile.ts';

/** Workbooks of the company that lists are filled into; all projects share them. */
export function formRoutes(app: express.Express, services: Services): void {
  const { database, blobs, desk, pool, scratch } = services;
  const workbookOf = async (request: Request): Promise<Uint8Array> => {
    const { hash } = await findForm(database, param(request, 'name'));
    const bytes = await blobs.get(formKey(hash));
    if (!bytes) throw new Refusal('not-there', 'The workbook of this form is gone; bring it in again.');
    return bytes;
  };
  app.get('/api/forms', async (_, response) => void response.json(await listForms(database)));
  app.post('/api/forms', async (request, response) => {
    const { name, fileName } = parse(forms.formNameSchema, request.query);
    const look = await receiveFile(request, scratch, async ({ path, hash }) => {
      const bytes = new Uint8Array(await readFile(path));
      const seen = await pool.lookAtForm(bytes, goneWith(response)); // refused before anything is kept
      await keepForm(database, blobs, { name, fileName, bytes, hash });
      return seen;
    });
    response.status(201).json(look);
  });
  app.get('/api/forms/:name/look', async (request, response) => {
    response.json(await pool.lookAtForm(await workbookOf(request), goneWith(response)));
  });
  app.get('/api/forms/:name/headings', async (request, response) => {
    const at = parse(forms.cellSchema, request.query);
    response.json(await pool.headingsAbove(await workbookOf(request), at, goneWith(response)));
  });
  app.get('/api/forms/:name/workbook', async (request, response) => {
    const bytes = await workbookOf(request);
    attach(response, (await findForm(database, param(request, 'name'))).fileName);
    sendBytes(response.type('application/octet-stream'), bytes);
  });
  app.put('/api/forms/:name', largeBody(), async (request, response) => {
    const { map } = await readFrom(services, 'formMap', request, response);
    await mapForm(database, param(request, 'name'), JSON.parse(map) as FormMap);
    response.json(await listForms(database));
  });
  app.delete('/api/forms/:name', async (request, response) => {
    await dropForm(database, blobs, param(request, 'name'));
    response.json(await listForms(database));
  });

  const fill = async (request: Request, response: Response, check: boolean) => {
    const { bills, assemblies, order, supplier } = parse(forms.handedOverSchema, request.query);
    const { hash, map, name } = await findForm(database, param(request, 'name'));
    if (!map) throw new Refusal('no-map', `Nobody has said yet how “${name}” is filled; set it up first.`);
    const inputs = await storedProject(database, param(request, 'id'));
    const today = new Date().toISOString().slice(0, 10);
    const form = {
      key: formKey(hash),
      map: map as never,
      bills,
      assemblies,
      today,
      check,
      order: order === undefined ? undefined : { id: order, supplier },
    };
    return desk.output({ ...inputs, format: 'form', document: null, form }, blobs, goneWith(response));
  };
  app.get('/api/projects/:id/forms/:name/check', async (request, response) => {
    const { bytes } = await fill(request, response, true);
    sendBytes(response.type('application/json'), bytes);
  });
  app.get('/api/projects/:id/forms/:name/file', async (request, response) => {
    const { fileName, bytes } = await fill(request, response, false);
    attach(response, fileName);
    sendBytes(response.type(fileName.endsWith('.zip') ? 'application/zip' : XLSX), bytes);
  });
}
const XLSX = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';
