import { spawnSync } from 'node:child_process';
import { vi } from 'vitest';
import { run } from '../bin/src/main.ts';

/** What a command came to. */
export interface Ran {
  /** Exit code. */
  readonly status: number | null;
  readonly stdout: string;
  readonly stderr: string;
}
type Stream = Pick<typeof process.stdout, 'write'>;

/** What is written while something runs, instead of writing it. */
function caught(stream: Stream) {
  const pieces: Uint8Array[] = [];
  const write = (piece: string | Uint8Array, ...more: unknown[]) => {
    pieces.push(typeof piece === 'string' ? Buffer.from(piece) : piece);
    for (const one of more) if (typeof one === 'function') (one as () => void)();
    return true;
  };
  const spy = vi.spyOn(stream, 'write').mockImplementation(write as Stream['write']);
  return () => {
    spy.mockRestore();
    return Buffer.concat(pieces).toString();
  };
}

/** Runs the command line in this process, as a drafter would; what it makes of shapes is kept in a cache folder of its own. */
export async function sledgeboard(cache: string, ...args: string[]): Promise<Ran> {
  vi.stubEnv('XDG_CACHE_HOME', cache);
  const [out, err] = [caught(process.stdout), caught(process.stderr)];
  const end = (status: number | null): Ran => {
    vi.unstubAllEnvs();
    return { status, stdout: out(), stderr: err() };
  };
  return run(args, process.env.SLEDGEBOARD_WORKER!).then(end, (error: unknown) => {
    end(null);
    throw error;
  });
}

/** The same as a program of its own: what only a real start can show. */
export function startSledgeboard(cache: string, ...args: string[]): Ran {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['bin/sledgeboard', ...args], {
    encoding: 'utf8',
    env: { ...process.env, XDG_CACHE_HOME: cache },
  });
  return { status, stdout, stderr };
}
