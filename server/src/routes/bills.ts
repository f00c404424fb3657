import express from 'express';
import { api } from '../../../contract/src/index.ts';
import { addBill } from '../projects/bills.ts';
import { addSheet } from '../projects/sheets.ts';
import { goneWith, jsonBody, largeBody, param, parse, readFrom, type Services } from '../http/http.ts';
import { dropStyle, keepStyle, listStyles, setUsualStyle } from '../projects/styles.ts';

/** Several bills and sheets of one project, and the house styles that all projects share. */
export function billRoutes(app: express.Express, services: Services): void {
  const { database } = services;
  const json = jsonBody();
  app.post('/api/projects/:id/bills', largeBody(), async (request, response) => {
    const wish = await readFrom(services, 'newBill', request, response);
    response.status(201).json(await addBill(services, param(request, 'id'), wish, goneWith(response)));
  });
  app.post('/api/projects/:id/sheets', json, async (request, response) => {
    response.status(201).json(await addSheet(services, param(request, 'id'), parse(api.newSheetSchema, request.body)));
  });
  app.get('/api/styles', async (_, response) => void response.json(await listStyles(database)));
  app.put('/api/styles', largeBody(), async (request, response) => {
    await keepStyle(database, await readFrom(services, 'style', request, response));
    response.json(await listStyles(database));
  });
  app.put('/api/styles/usual', json, async (request, response) => {
    await setUsualStyle(database, parse(api.usualStyleSchema, request.body).name);
    response.json(await listStyles(database));
  });
  app.delete('/api/styles/:name', async (request, response) => {
    await dropStyle(database, param(request, 'name'));
    response.json(await listStyles(database));
  });
}
