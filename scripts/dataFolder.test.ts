import { mkdirSync, mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, test } from 'vitest';
import { dataFolderProblem } from './dataFolder.mjs';

const around = mkdtempSync(join(tmpdir(), 'sledge-folder-'));

describe('the data folder', () => {
  test('is made where it is not there, and nothing is left in it', () => {
    const folder = join(around, 'new', 'one');
    expect([dataFolderProblem(folder), readdirSync(folder)]).toEqual([null, []]);
  });
  test('needs room for a new database, less to go on with an old one', () => {
    const folder = join(around, 'small');
    const sentence = (left: number) =>
      `The data folder ${folder} has ${left} MB left on its disk; at least ${left < 64 ? 64 : 400} MB are needed. Choose another one with SLEDGEBOARD_DATA.`;
    expect(dataFolderProblem(folder, () => 399)).toBe(sentence(399));
    expect(dataFolderProblem(folder, () => 400)).toBeNull();
    mkdirSync(join(folder, 'mariadb'));
    expect(dataFolderProblem(folder, () => 64)).toBeNull();
    expect(dataFolderProblem(folder, () => 63)).toBe(sentence(63));
  });
  test('that is a file, or lies behind one, is said', () => {
    const file = join(around, 'file');
    writeFileSync(file, '');
    expect(dataFolderProblem(file)).toBe(
      `The data folder ${file} is a file. Choose another one with SLEDGEBOARD_DATA.`,
    );
    expect(dataFolderProblem(join(file, 'data'))).toContain('lies behind a file.');
  });
});
