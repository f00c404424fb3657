// Starts the real application on a schema of its own for the tests of the interface.
import { pathToFileURL } from 'node:url';
import { createConnection } from 'mysql2/promise';
import { buildAll } from '../scripts/build.mjs';

export default async function setup() {
  const base = process.env.SLEDGEBOARD_TEST_DATABASE;
  if (!base) throw new Error('SLEDGEBOARD_TEST_DATABASE is not set; run the tests with npm test.');
  const schema = `e2e_${process.pid}`;
  const connection = await createConnection(base);
  await connection.query(`CREATE DATABASE ${schema}`);
  const built = await buildAll();
  const { startServer } = await import(pathToFileURL(built.server).href);
  const server = await startServer({
    databaseUrl: Object.assign(new URL(base), { pathname: `/${schema}` }).href,
    threads: built.threads,
    page: built.page,
    port: 0,
    demoFile: null,
  });
  process.env.SLEDGEBOARD_URL = server.url;
  return async () => {
    await server.close();
    await connection.query(`DROP DATABASE ${schema}`);
    await connection.end();
  };
}
