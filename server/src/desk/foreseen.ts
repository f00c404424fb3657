import { createHash } from 'node:crypto';
import type { MessagePort } from 'node:worker_threads';
import type { foreseenSides, StoredText } from '../../../contract/src/index.ts';
import { readyForFormulas } from '../../../core/src/columns/index.ts';
import { foreseenSheet, type ForeseenSheet } from '../../../core/src/formats/index.ts';
import { drawSheet, type CheckedSheet } from '../../../core/src/sheets/index.ts';
import { FEWEST_DOTS, sceneToPng, type DerivedStore } from '../../../engine/src/index.ts';
import { openProject, sheetInputs, type OpenedProject, type StoredProject } from '../opened/openedSheets.ts';

/** What becomes of sheets when a revision is taken over. */
export interface ForeseenTask extends StoredProject {
  readonly kind: 'foreseen';
  /** The same documents as they will be. */
  readonly after: readonly StoredText[];
  /** Ids of the sheets that change. */
  readonly sheets: readonly string[];
  /** Where the store is asked. */
  readonly port: MessagePort;
}
export type Side = (typeof foreseenSides)[number];
/** What became of the sheets, by their ids, and how they look before and after; PNG. */
export interface Foreseen {
  readonly sheets: readonly (ForeseenSheet & {
    readonly id: string;
    readonly paper: Readonly<Record<Side, PaperSize>>;
  })[];
  readonly pictures: readonly { readonly sheet: string; readonly side: Side; readonly png: Uint8Array }[];
}
interface PaperSize {
  readonly widthMm: number;
  readonly heightMm: number;
}

/** Dots across a picture: enough to see what it is, and where something changes. */
const WIDE = 1000;
const MM_PER_INCH = 25.4;

/** @throws Refusal `not-ready` where a view is not drawn */
export async function makeForeseen(task: ForeseenTask, store: DerivedStore): Promise<Foreseen> {
  await readyForFormulas();
  const was = await openProject(task, store),
    is = await openProject({ ...task, documents: task.after }, store);
  const sheets: Foreseen['sheets'][number][] = [],
    pictures: Foreseen['pictures'][number][] = [];
  for (const id of task.sheets) {
    const before = await checked(was, id, store),
      after = await checked(is, id, store);
    if (!before || !after) continue;
    const sizeOf = ({ drawn }: CheckedSheet): PaperSize => ({
      widthMm: drawn.scene.widthMm,
      heightMm: drawn.scene.heightMm,
    });
    sheets.push({ id, paper: { was: sizeOf(before), is: sizeOf(after) }, ...foreseenSheet(before, after) });
    for (const [side, { drawn }] of [['was', before] as const, ['is', after] as const]) {
      const dots = Math.max(FEWEST_DOTS, (WIDE / drawn.scene.widthMm) * MM_PER_INCH);
      pictures.push({ sheet: id, side, png: await sceneToPng(drawn.scene, dots) });
    }
  }
  return { sheets, pictures };
}

async function checked(project: OpenedProject, id: string, store: DerivedStore): Promise<CheckedSheet | null> {
  const at = project.sheets.findIndex((sheet) => sheet.id === id);
  if (at < 0) return null;
  const inputs = await sheetInputs(project, at, store);
  return { inputs, drawn: drawSheet(inputs, { sheet: at + 1, of: project.sheets.length }) };
}

/** Of what is foreseen or of how; another one makes what was kept be made anew. */
const VERSION = 1;

/** What is foreseen of a revision is called this for as long as no document changes. */
export const foreseenName = (revision: string, documents: readonly StoredText[]): string =>
  createHash('sha256')
    .update([VERSION, revision, ...documents.map(({ id, version }) => `${id} ${version}`).sort()].join('\n'))
    .digest('hex')
    .slice(0, 32);

/** Names in the store. */
export const foreseenKeys = (name: string) => ({
  facts: `foreseen ${name}`,
  picture: (sheet: string, side: Side) => `foreseen ${name} ${sheet} ${side}`,
});
