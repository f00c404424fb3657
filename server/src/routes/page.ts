import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express from 'express';
import { NotFound } from '../errors.ts';

/** The built page; every address that is no file of it is a place inside it. */
export function pageRoutes(app: express.Express, folder: string): void {
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y' }));
  app.use('/assets', () => {
    throw new NotFound('There is no such file; reload the page.');
  });
  app.use(express.static(folder, { index: false }));
  app.get('/{*path}', (_, response) => {
    const page = join(folder, 'index.html');
    if (!existsSync(page)) throw new NotFound('The page is not built yet.');
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(page);
  });
}
