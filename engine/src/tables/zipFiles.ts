import { zipSync } from 'fflate';

/** An archive of files that are packed already; the same files give the same bytes. */
export const zipFiles = (files: ReadonlyMap<string, Uint8Array>): Uint8Array =>
  zipSync(Object.fromEntries([...files].map(([name, bytes]) => [name, [bytes, { level: 0 }]])), {
    mtime: new Date(1980, 0, 1),
  });
