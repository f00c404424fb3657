import { bills, pictures } from './bills.ts';
import { buying } from './buying.ts';
import { catalogues } from './catalogues.ts';
import { forms } from './forms.ts';
import { imports } from './imports.ts';
import { outputs } from './outputs.ts';
import { projects } from './projects.ts';
import { revisions } from './revisions.ts';
import { views } from './views.ts';

/**
 * Every way to ask the server, by subject. The server's answers, the page's questions and docs/routes.md are made from it; a
 * path that fits two of a subject is answered by the first.
 */
export const routes = { imports, forms, projects, revisions, views, pictures, bills, catalogues, buying, outputs };
export * from './fileFormats.ts';
export { foreseenSides } from './revisions.ts';
export { urlOf } from './route.ts';
export type { AnswerOf, RouteQuestion, BodyOf, ParamsOf, QueryOf, Route, SentOf } from './route.ts';
