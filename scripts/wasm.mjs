// npm run wasm: compiles core/wasm into core/src/exchange/scanInstances.generated.ts. The compiler is fetched for this
// alone: it weighs more than everything else together, and the result is kept in the repository.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const COMPILER = 'assemblyscript@0.28.20';
const source = 'core/wasm/scanInstances.ts',
  target = 'core/src/exchange/scanInstances.generated.ts';
const scratch = mkdtempSync(join(tmpdir(), 'sledge-wasm-'));
try {
  const made = join(scratch, 'made.wasm');
  execFileSync(
    'npx',
    [
      '--yes',
      '-p',
      COMPILER,
      'asc',
      source,
      '--runtime',
      'stub',
      '--noAssert',
      '-O3',
      '--initialMemory',
      '64',
      '--maximumMemory',
      '64',
      '-o',
      made,
    ],
    { stdio: 'inherit' },
  );
  const code = readFileSync(made);
  const base64 = code.toString('base64').replace(/.{120}/g, '$&\\\n');
  writeFileSync(
    target,
    `// Made by \`npm run wasm\` from ${source}; not edited by hand.\n/** SHA-256 of the source that this was compiled from. */\nexport const sourceHash = '${createHash('sha256').update(readFileSync(source)).digest('hex')}';\n/** WebAssembly code, base64. */\nexport const wasmCode = '${base64}';\n`,
  );
  console.log(`${target}: ${code.length} bytes of code`);
} finally {
  rmSync(scratch, { recursive: true, force: true });
}
