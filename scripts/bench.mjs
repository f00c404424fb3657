// npm run bench
import { bundleThreads } from './bundle.mjs';
import { checkNode, ensurePackages } from './setup.mjs';

checkNode();
await ensurePackages();
const { engine } = await bundleThreads();
process.argv.splice(2, 0, 'bench/run.ts', engine);
await import('./run.mjs');
