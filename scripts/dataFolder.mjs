// The folder that holds the database and files on their way in.
import { existsSync, mkdirSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** What a new database takes, and what an old one needs to go on; MB. */
const FOR_A_NEW_ONE = 400,
  TO_GO_ON = 64;

/** MB that are free where a folder lies. */
function freeMb(folder) {
  const { bavail, bsize } = statfsSync(folder);
  return Math.floor((bavail * bsize) / 1024 ** 2);
}

/** Makes the folder; a sentence where it cannot be one, cannot be written or has no room, else null. */
export function dataFolderProblem(folder, free = freeMb) {
  const where = `The data folder ${folder}`;
  const what = 'Choose another one with SLEDGEBOARD_DATA.';
  try {
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, '.try'), 'written to see whether it can be');
    rmSync(join(folder, '.try'));
  } catch ({ code, message }) {
    const why =
      {
        EEXIST: 'is a file',
        ENOTDIR: 'lies behind a file',
        EACCES: 'cannot be written by this user',
        EPERM: 'cannot be written by this user',
        EROFS: 'lies on a disk that is read only',
        ENOSPC: 'lies on a full disk',
      }[code] ?? `cannot be used (${message})`;
    return `${where} ${why}. ${what}`;
  }
  const needed = existsSync(join(folder, 'mariadb')) ? TO_GO_ON : FOR_A_NEW_ONE;
  const left = free(folder);
  return left < needed ? `${where} has ${left} MB left on its disk; at least ${needed} MB are needed. ${what}` : null;
}
