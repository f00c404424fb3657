import type { PathKey } from '../../assembly/index.ts';

/** Places of the machine, each once, numbered in the order in which they are met. */
export class PathList {
  readonly paths: PathKey[] = [];
  private readonly numbers = new Map<PathKey, number>();

  indexOf(path: PathKey): number {
    let number = this.numbers.get(path);
    if (number === undefined) this.numbers.set(path, (number = this.paths.push(path) - 1));
    return number;
  }
}
