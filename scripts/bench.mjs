// npm run bench
import { checkNode, ensurePackages } from './setup.mjs';

checkNode();
await ensurePackages();
process.argv.splice(2, 0, 'bench/run.ts');
await import('./run.mjs');
