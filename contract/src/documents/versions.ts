import { Refusal } from '../../../core/src/assembly/index.ts';

/** @throws Refusal where something was stored by a newer program: read by half it would lose what it does not know */
export function refuseNewer(what: string, value: unknown, known: number): void {
  const version = value && typeof value === 'object' && 'version' in value ? value.version : null;
  if (typeof version === 'number' && version > known)
    throw new Refusal(
      'newer-version',
      `This ${what} was stored by a newer version of the program (version ${version}; up to ${known} can be read). Update the program; nothing was changed.`,
    );
}
