import express from 'express';
import { api, houseStyleSchema } from '../../../contract/src/index.ts';
import { addBill } from '../bills.ts';
import { addSheet } from '../sheets.ts';
import { jsonBody, param, parse, type Services } from '../http.ts';
import { dropStyle, keepStyle, listStyles, setUsualStyle } from '../styles.ts';

/** Several bills and sheets of one project, and the house styles that all projects share. */
export function billRoutes(app: express.Express, services: Services): void {
  const { database } = services;
  const json = jsonBody();
  app.post('/api/projects/:id/bills', json, async (request, response) => {
    response.status(201).json(await addBill(services, param(request, 'id'), parse(api.newBillSchema, request.body)));
  });
  app.post('/api/projects/:id/sheets', json, async (request, response) => {
    response.status(201).json(await addSheet(services, param(request, 'id'), parse(api.newSheetSchema, request.body)));
  });
  app.get('/api/styles', async (_, response) => void response.json(await listStyles(database)));
  app.put('/api/styles', json, async (request, response) => {
    await keepStyle(database, parse(houseStyleSchema, request.body));
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
