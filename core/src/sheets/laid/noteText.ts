import { measureText } from '../../marks/index.ts';

/** A piece of a line of a note. */
export interface NoteRun {
  readonly text: string;
  readonly bold: boolean;
}
/** A line of a note as it is typed. */
export interface NoteLine {
  readonly kind: 'plain' | 'item' | 'number';
  /** Larger letters, for headings. */
  readonly large: boolean;
  readonly runs: readonly NoteRun[];
}

/** How much larger the letters of a large line are: one step of ISO 3098. */
export const LARGE = Math.SQRT2;

/**
 * Reads the text of a note: `- ` begins an item of a list, `1. ` a numbered one, `# ` a line in larger letters, and
 * what stands between `**` and `**` is bold. Everything else stands as it is.
 */
export const readNote = (text: string): NoteLine[] =>
  text.split('\n').map((line): NoteLine => {
    const item = /^\s*[-–•]\s+(.*)$/.exec(line)?.[1];
    if (item !== undefined) return { kind: 'item', large: false, runs: readRuns(item) };
    const number = /^\s*\d{1,3}\.\s+(.*)$/.exec(line)?.[1];
    if (number !== undefined) return { kind: 'number', large: false, runs: readRuns(number) };
    const large = /^#\s+(.*)$/.exec(line)?.[1];
    return { kind: 'plain', large: large !== undefined, runs: readRuns(large ?? line) };
  });

function readRuns(line: string): NoteRun[] {
  const pieces = line.split('**');
  // An odd one at the end begins nothing.
  if (pieces.length % 2 === 0) pieces.splice(-2, 2, pieces.slice(-2).join('**'));
  const runs = pieces.map((text, at) => ({ text, bold: at % 2 === 1 })).filter(({ text }) => text !== '');
  const joined: NoteRun[] = [];
  for (const run of runs) {
    const last = joined[joined.length - 1];
    if (last?.bold === run.bold) joined[joined.length - 1] = { text: last.text + run.text, bold: run.bold };
    else joined.push(run);
  }
  return joined;
}

/** The text that reads so; see `readNote`. Numbered items count from one again after every other line. */
export function writeNote(lines: readonly NoteLine[]): string {
  let number = 0;
  return lines
    .map(({ kind, large, runs }) => {
      number = kind === 'number' ? number + 1 : 0;
      const words = runs.map(({ text, bold }) => (bold ? `**${text}**` : text)).join('');
      return `${kind === 'item' ? '- ' : kind === 'number' ? `${number}. ` : large ? '# ' : ''}${words}`;
    })
    .join('\n');
}

/** A piece of text where it stands in its line. */
export interface SetRun extends NoteRun {
  /** From the left end of the line; mm. */
  readonly x: number;
}

/** Breaks runs into lines no wider than `width`, at blanks where it can, inside a word where it must. */
export function wrapRuns(runs: readonly NoteRun[], height: number, width: number): SetRun[][] {
  const weightOf = (bold: boolean) => (bold ? 'bold' : 'regular');
  const wide = (text: string, bold: boolean) => measureText(text, height, weightOf(bold)).width;
  const lines: { text: string; bold: boolean; x: number }[][] = [[]];
  let x = 0;
  const put = (text: string, bold: boolean) => {
    const line = lines[lines.length - 1];
    const last = line[line.length - 1];
    if (last?.bold === bold) last.text += text;
    else line.push({ text, bold, x });
    x += wide(text, bold);
  };
  const next = () => {
    lines.push([]);
    x = 0;
  };
  // A word may be bold in part: its pieces stay together.
  for (const word of wordsOf(runs)) {
    const size = word.pieces.reduce((sum, { text, bold }) => sum + wide(text, bold), 0);
    const gap = word.blank && x > 0 ? wide(' ', word.pieces[0].bold) : 0;
    if (x > 0 && word.blank && x + gap + size > width) next();
    else if (gap > 0) put(' ', word.pieces[0].bold);
    for (const { text, bold } of word.pieces)
      for (const char of text) {
        if (x > 0 && x + wide(char, bold) > width + 1e-9) next();
        put(char, bold);
      }
  }
  return lines;
}

/** Words, each in pieces of one weight, and whether there is a blank before it. */
function wordsOf(runs: readonly NoteRun[]): { readonly blank: boolean; readonly pieces: NoteRun[] }[] {
  const words: { blank: boolean; pieces: NoteRun[] }[] = [];
  let begins = true,
    blank = false;
  for (const { text, bold } of runs)
    for (const piece of text.split(/(\s+)/).filter(Boolean)) {
      if (/^\s/.test(piece)) {
        begins = blank = true;
        continue;
      }
      if (begins || words.length === 0) words.push({ blank, pieces: [] });
      words[words.length - 1].pieces.push({ text: piece, bold });
      begins = blank = false;
    }
  return words;
}
