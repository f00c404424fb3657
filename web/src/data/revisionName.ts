import type { Revision } from '../../../contract/src/index.ts';

type Named = Pick<Revision, 'id' | 'label' | 'fileName' | 'created'>;

/** What a revision is called: by its letter where no other has it, else by its file, else by when it came too. */
export function revisionName(revision: Named, all: readonly Named[]): string {
  const { label, fileName, created } = revision;
  const others = all.filter((one) => one.id !== revision.id);
  if (label !== '' && others.every((one) => one.label !== label)) return `revision ${label}`;
  if (others.every((one) => one.fileName !== fileName)) return fileName;
  return `${fileName} of ${new Date(created).toLocaleString()}`;
}

/**
 * The letter that a revision gets in the revision table: that of its file, or the next one where another revision has
 * that.
 * @param given letters that the table has
 */
export function letterFor(revision: Named, all: readonly Named[], given: readonly string[]): string {
  const taken = [...all.filter((one) => one.id !== revision.id).map(({ label }) => label), ...given].filter(Boolean);
  if (revision.label !== '' && !taken.includes(revision.label)) return revision.label;
  const last = taken.at(-1);
  if (last === undefined) return 'A';
  if (/^\d+$/.test(last)) return String(Number(last) + 1);
  const code = last.charCodeAt(last.length - 1);
  return /[A-Ya-y]$/.test(last) ? last.slice(0, -1) + String.fromCharCode(code + 1) : `${last}1`;
}
