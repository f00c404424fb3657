import { existsSync, mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
// @ts-expect-error: a script without types
import { clearLeftOver } from './mariadb.mjs';

test('folders that a killed process left are cleared at the next start: by their process, else by their age', () => {
  const folder = mkdtempSync(join(tmpdir(), 'left-over-'));
  const day = 24 * 3_600_000;
  const make = (name: string, owner: number | null, age: number) => {
    const path = join(folder, name);
    mkdirSync(path);
    writeFileSync(join(path, 'db.sock'), '');
    if (owner !== null) writeFileSync(join(path, 'owner'), String(owner));
    utimesSync(path, new Date(), new Date(Date.now() - age));
    return path;
  };
  try {
    const running = make('sledge-running', process.pid, 9 * day),
      killed = make('sledge-killed', 2 ** 22 + 1, 0),
      old = make('sledge-old', null, 2 * day),
      fresh = make('sledge-fresh', null, day / 2),
      others = make('other-program', null, 99 * day);
    clearLeftOver(Date.now(), folder);
    expect([running, killed, old, fresh, others].map((path) => existsSync(path))).toEqual([
      true,
      false,
      false,
      true,
      true,
    ]);
  } finally {
    rmSync(folder, { recursive: true });
  }
});
