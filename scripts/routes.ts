// npm run routes: writes docs/routes.md, the list of HTTP routes, from their table.
import { writeFileSync } from 'node:fs';
import { routesText } from '../contract/src/routes/listed.ts';

writeFileSync('docs/routes.md', routesText());
