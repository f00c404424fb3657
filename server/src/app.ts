import compression from 'compression';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { routes } from '../../contract/src/index.ts';
import { answerError, Forbidden, NotFound } from './errors.ts';
import type { Services } from './http/http.ts';
import { serve } from './http/serve.ts';
import { billRoutes } from './routes/bills.ts';
import { buyingRoutes } from './routes/buying.ts';
import { catalogueRoutes } from './routes/catalogues.ts';
import { formRoutes } from './routes/forms.ts';
import { importRoutes } from './routes/imports.ts';
import { outputRoutes } from './routes/outputs.ts';
import { pageRoutes } from './routes/page.ts';
import { projectRoutes } from './routes/projects.ts';
import { pictureRoutes } from './routes/pictures.ts';
import { revisionRoutes } from './routes/revisions.ts';
import { viewRoutes } from './routes/views.ts';

/** The HTTP side: routes, checks of what comes in, and one place that turns errors into sentences. */
export function makeApp(services: Services): express.Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'", 'data:'],
          workerSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(onlyFromHere);
  app.use(compression({ filter: isCompressible, level: 1 })); // the way is short: little time is worth more than few bytes
  const answers = {
    imports: importRoutes(services),
    forms: formRoutes(services),
    projects: projectRoutes(services),
    revisions: revisionRoutes(services),
    views: viewRoutes(services),
    pictures: pictureRoutes(services),
    bills: billRoutes(services),
    catalogues: catalogueRoutes(services),
    buying: buyingRoutes(services),
    outputs: outputRoutes(services),
  };
  for (const subject of Object.keys(routes) as (keyof typeof routes)[])
    serve(app, services, routes[subject], answers[subject] as never);
  app.use('/api', () => {
    throw new NotFound('There is no such address.');
  });
  if (services.page) pageRoutes(app, services.page);
  app.use(answerError);
  return app;
}

/** Texts, and the numbers of meshes and lines; not events, which would wait in the compressor until it is full. */
const isCompressible = (_: Request, response: Response): boolean =>
  /json|text\/(?!event-stream)|javascript|svg|octet-stream|csv/.test(String(response.getHeader('Content-Type') ?? ''));

/** Another site open in the same browser must not reach the program: its name would stand in Host or Origin. */
function onlyFromHere(request: Request, _: Response, next: NextFunction): void {
  const local = (host: string) => /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/.test(host);
  const { host = '', origin } = request.headers;
  if (!local(host) || (origin !== undefined && origin !== `http://${host}`))
    throw new Forbidden('This program answers only to its own page on this machine.');
  next();
}
