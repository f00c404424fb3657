// Runs a bundle of scripts (.cjs) with the code that V8 made of it at an earlier run: reading and compiling more than a
// megabyte of source takes longer than most commands.
import { readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createRequire, Module } from 'node:module';
import { basename, dirname, join } from 'node:path';
import vm from 'node:vm';

/**
 * What the bundle exports, and `keep`: keeps the code of everything that ran so far, where there is none yet.
 * Code belongs to the very file that it was made of, and V8 takes it only where its version and flags are the same.
 */
export function loadCompiled(file) {
  const source = readFileSync(file, 'latin1'); // the bundler writes ASCII alone, and this is read at once
  const { size, mtimeMs } = statSync(file);
  const kept = `${file}.${size}-${mtimeMs}.code`;
  const script = new vm.Script(Module.wrap(source), {
    filename: file,
    cachedData: readIfThere(kept),
  });
  const module = { exports: {} };
  script.runInThisContext()(module.exports, createRequire(file), module, file, dirname(file));
  const keep = () => {
    if (script.cachedDataRejected === false) return;
    try {
      const partial = `${kept}.${process.pid}`;
      writeFileSync(partial, script.createCachedData());
      renameSync(partial, kept);
      for (const other of readdirSync(dirname(file)))
        if (other.startsWith(`${basename(file)}.`) && other.endsWith('.code') && join(dirname(file), other) !== kept)
          rmSync(join(dirname(file), other), { force: true });
    } catch {
      // A folder that cannot be written: the next run compiles anew, as this one did.
    }
  };
  return { exports: module.exports, keep };
}

function readIfThere(file) {
  try {
    return readFileSync(file);
  } catch {
    return undefined;
  }
}
