// How long the command line takes to begin: the bill of a small list against a bare start of Node.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** So often each is started, in turn. */
const TIMES = 9;
const median = (times: readonly number[]): number => times.toSorted((a, b) => a - b)[times.length >> 1];

export function start(): void {
  const folder = mkdtempSync(join(tmpdir(), 'sledge-start-'));
  const list = join(folder, 'list.csv');
  writeFileSync(list, 'Part number,Name,Quantity\nA,Slat,2\nB,Pin,4\n');
  const timed = (args: readonly string[]) => {
    const begun = performance.now();
    spawnSync(process.execPath, args, { stdio: 'ignore' });
    return performance.now() - begun;
  };
  const [bare, bill]: number[][] = [[], []];
  timed(['bin/sledgeboard', 'bill', list]); // bundles, and keeps the compiled code
  for (let at = 0; at < TIMES; at++) {
    bare.push(timed(['-e', '0']));
    bill.push(timed(['bin/sledgeboard', 'bill', list]));
  }
  rmSync(folder, { recursive: true });
  console.log(
    `\nThe command line: the bill of a small list takes ${(median(bill) / median(bare)).toFixed(2)} × a bare start of Node`,
  );
}
