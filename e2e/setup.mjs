// Builds the application once for all workers; each starts it on a schema of its own (app.ts).
import { buildAll } from '../scripts/build.mjs';

export default async function setup() {
  if (!process.env.SLEDGEBOARD_TEST_DATABASE)
    throw new Error('SLEDGEBOARD_TEST_DATABASE is not set; run the tests with npm test.');
  process.env.SLEDGEBOARD_BUILT = JSON.stringify(await buildAll());
}
