import { listOccurrences, pathKey, type Assembly, type PathKey } from '../../core/src/assembly/index.ts';
import { heldSentences } from '../../core/src/documents/index.ts';
import { lookAt } from '../../core/src/views/index.ts';
import { explodeLook } from '../../engine/src/index.ts';
import { json, write } from './files.ts';
import { componentAt, placesOf, rounded, withModel, type Common } from './viewCommand.ts';

interface ExplodeCommandOptions extends Common {
  /** Whether subassemblies that can leave whole are taken apart too. */
  readonly level: 'first' | 'all';
  /** Part numbers or names of what leaves whole however deep is opened. */
  readonly whole: readonly string[];
  /** Whether of things that are alike every one is taken apart. */
  readonly every?: true;
}

/** Prints how a machine comes apart: what leaves its seat, in which order and along which steps, and what is held. */
export async function explodeCommand(
  file: string,
  { level, whole, every, up, output }: ExplodeCommandOptions,
  workerFile: string,
): Promise<void> {
  await withModel(file, up, workerFile, async (assembly, tools) => {
    const { moves, locked } = await explodeLook(
      lookAt(assembly, { direction: 'front' }),
      {
        levels: level === 'first' ? 1 : Infinity,
        whole: whole.flatMap((part) => placesOf(assembly, part)),
        every: every ?? false,
      },
      tools,
    );
    for (const sentence of heldSentences(
      assembly,
      locked.map(({ path }) => path),
    ))
      process.stderr.write(`${sentence}\n`);
    const taken = (path: PathKey) => ({ path, ...namesAt(assembly, path) });
    const contents = contentsOf(assembly, new Set(moves.map(({ path }) => path)));
    return write(
      json({
        moves: moves.map(({ path, steps }, order) => ({
          ...taken(path),
          steps: steps.map((step) => step.map(rounded)),
          order,
          with: contents.get(path) ?? [],
        })),
        locked: locked.map(({ path, because }) => ({ ...taken(path), because })),
      }),
      output,
    );
  });
}

function namesAt(assembly: Assembly, path: PathKey): { partNumber: string; name: string } {
  const { partNumber = '', name = '' } = componentAt(assembly, path) ?? {};
  return { partNumber, name };
}

/** By place that moves, what leaves with it and has no move of its own: everything with a shape in it. */
function contentsOf(assembly: Assembly, moved: ReadonlySet<PathKey>): Map<PathKey, PathKey[]> {
  const found = new Map<PathKey, PathKey[]>();
  for (const { path } of listOccurrences(assembly, (index) => assembly.components[index].shape !== null)) {
    const own = pathKey(path);
    if (moved.has(own)) continue;
    for (let length = path.length - 1; length > 0; length--) {
      const place = pathKey(path.slice(0, length));
      if (!moved.has(place)) continue;
      found.set(place, [...(found.get(place) ?? []), own]);
      break;
    }
  }
  return found;
}
