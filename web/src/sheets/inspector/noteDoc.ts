import { readNote, writeNote, type NoteLine, type NoteRun } from '../../../../core/src/sheets/index.ts';

/** What the editor holds; only what notes know of it. */
interface NoteDoc {
  readonly type: string;
  readonly text?: string;
  readonly attrs?: Readonly<Record<string, unknown>>;
  readonly marks?: readonly { readonly type: string }[];
  readonly content?: readonly NoteDoc[];
}

const paragraph = ({ runs, large }: NoteLine): NoteDoc => ({
  ...(large ? { type: 'heading', attrs: { level: 2 } } : { type: 'paragraph' }),
  content: runs.map(({ text, bold }) => ({ type: 'text', text, ...(bold ? { marks: [{ type: 'bold' }] } : {}) })),
});
const lists = { item: 'bulletList', number: 'orderedList' } as const;

/** The text of a note as the editor has it; items that follow one another are one list. */
export function toDoc(text: string): NoteDoc {
  const content: { type: string; attrs?: Readonly<Record<string, unknown>>; content: NoteDoc[] }[] = [];
  for (const line of readNote(text)) {
    if (line.kind === 'plain') {
      content.push(paragraph(line) as (typeof content)[number]);
      continue;
    }
    const type = lists[line.kind];
    const item: NoteDoc = { type: 'listItem', content: [paragraph(line)] };
    const last = content[content.length - 1];
    if (last?.type === type) last.content.push(item);
    else content.push({ type, content: [item] });
  }
  return { type: 'doc', content };
}

/** What the editor has, as the text of a note. */
export const fromDoc = (doc: NoteDoc): string =>
  writeNote((doc.content ?? []).flatMap((block) => linesOf(block, 'plain')));

function linesOf(block: NoteDoc, kind: NoteLine['kind']): NoteLine[] {
  switch (block.type) {
    case 'bulletList':
      return (block.content ?? []).flatMap((item) => linesOf(item, 'item'));
    case 'orderedList':
      return (block.content ?? []).flatMap((item) => linesOf(item, 'number'));
    case 'listItem':
      // A list in a list is flat here: notes on drawings have one level.
      return (block.content ?? []).flatMap((inner) => linesOf(inner, kind));
    default: {
      const large = block.type === 'heading';
      const lines: NoteRun[][] = [[]];
      for (const { type, text = '', marks } of block.content ?? [])
        if (type === 'hardBreak') lines.push([]);
        else lines[lines.length - 1].push({ text, bold: marks?.some((mark) => mark.type === 'bold') ?? false });
      return lines.map((runs) => ({ kind, large, runs }));
    }
  }
}
