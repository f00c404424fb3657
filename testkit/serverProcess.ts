// A server in a process of its own, for tests that kill it. Says where it is reached once it listens.
import { startServer } from '../server/src/server.ts';
import { bundledThreads } from './threads.ts';

const { url } = await startServer({
  databaseUrl: process.env.SLEDGEBOARD_KILLED_DATABASE!,
  threads: bundledThreads(),
  page: null,
  port: 0,
  demoFile: null,
});
console.log(url);
