import { DASHES, type Mark, type Scene } from '../../../core/src/marks/index.ts';
import { fontFile } from './fontFiles.ts';

const POINTS_PER_MM = 72 / 25.4;

/** What a PDF says about itself. */
export interface PdfFacts {
  readonly title: string;
  /** Who made the drawing; nothing where empty. */
  readonly author?: string;
  /** Date of issue as the title block has it. The clock is not asked, so that the same documents give the same bytes. */
  readonly date?: string;
}

/**
 * Sheets as PDF pages of exactly their paper size, in their order: vector lines, real text in embedded subset fonts, a
 * bookmark per sheet, pages labelled with their numbers in the set.
 * @param first number of the first page in the set
 */
export async function scenesToPdf(
  scenes: readonly Scene[],
  { title, author = '', date = '' }: PdfFacts,
  first = 1,
): Promise<Uint8Array> {
  const dated = /^\d{4}-\d{2}-\d{2}$/.test(date) ? new Date(`${date}T00:00:00Z`) : null;
  const isDate = dated !== null && !Number.isNaN(dated.getTime());
  // Loaded when it is needed: most calls of the command line and most threads make no PDF.
  const { default: PDFDocument } = await import('pdfkit');
  const doc = new PDFDocument({
    autoFirstPage: false,
    pdfVersion: '1.7',
    lang: 'en',
    info: {
      Title: title,
      ...(author ? { Author: author } : {}),
      Creator: 'Sledgeboard',
      // A file has to have one; the beginning of time says that there is none.
      CreationDate: isDate ? dated : new Date(0),
    },
  });
  const chunks: Uint8Array[] = [];
  const done = new Promise<void>((resolve, reject) => {
    doc.on('data', (chunk: Uint8Array) => chunks.push(chunk));
    doc.on('end', resolve);
    doc.on('error', reject);
  });
  scenes.forEach((scene, at) => {
    doc.addPage({ size: [scene.widthMm * POINTS_PER_MM, scene.heightMm * POINTS_PER_MM], margin: 0 });
    if (scenes.length > 1) doc.outline.addItem(`${first + at} ${scene.title}`);
    doc.scale(POINTS_PER_MM).lineCap('round').lineJoin('round');
    for (const mark of scene.marks) drawMark(doc, mark);
  });
  labelPages(doc, first);
  doc.end();
  await done;
  return new Uint8Array(Buffer.concat(chunks));
}

/** Page labels (ISO 32000-1, 12.4.2): decimal numbers from `first` on; the library has no word for them. */
function labelPages(doc: PDFKit.PDFDocument, first: number): void {
  const { _root: root } = doc as unknown as { readonly _root: { readonly data: Record<string, unknown> } };
  root.data.PageLabels = { Nums: [0, { S: 'D', St: first }] };
}

/** Black, white with a black border, or a border alone. */
function fillOrStroke(doc: PDFKit.PDFDocument, { filled, opaque, pen }: Mark & { kind: 'path' | 'circle' }): void {
  if (filled) doc.fill('#000000');
  else if (opaque) doc.lineWidth(pen).fillAndStroke('#ffffff', '#000000');
  else doc.lineWidth(pen).stroke('#000000');
}

function drawMark(doc: PDFKit.PDFDocument, mark: Mark): void {
  switch (mark.kind) {
    case 'stretches': {
      if (mark.ends.length === 0) return;
      let lastX = NaN,
        lastY = NaN;
      for (let at = 0; at < mark.ends.length; at += 4) {
        if (mark.ends[at] !== lastX || mark.ends[at + 1] !== lastY) doc.moveTo(mark.ends[at], mark.ends[at + 1]);
        doc.lineTo((lastX = mark.ends[at + 2]), (lastY = mark.ends[at + 3]));
      }
      if (mark.dashed) doc.dash(DASHES[0] * mark.pen, { space: DASHES[1] * mark.pen });
      doc.lineWidth(mark.pen).stroke(mark.grey ? '#777777' : '#000000');
      if (mark.dashed) doc.undash();
      return;
    }
    case 'path':
      mark.points.forEach(([x, y], at) => (at ? doc.lineTo(x, y) : doc.moveTo(x, y)));
      if (mark.closed) doc.closePath();
      return fillOrStroke(doc, mark);
    case 'circle':
      doc.circle(mark.centre[0], mark.centre[1], mark.radius);
      return fillOrStroke(doc, mark);
    case 'picture': {
      if (mark.png.length === 0) return;
      const [x0, y0, x1, y1] = mark.box;
      doc.save();
      if (mark.within) doc.polygon(...mark.within.map(([x, y]) => [x, y])).clip();
      doc.image(Buffer.from(mark.png), x0, y0, { width: x1 - x0, height: y1 - y0 }).restore();
      return;
    }
    case 'text':
      if (!mark.turn) return drawText(doc, mark);
      doc.save().rotate((-mark.turn * 180) / Math.PI, { origin: [mark.at[0], mark.at[1]] });
      drawText(doc, mark);
      doc.restore();
  }
}

/** Already in its order on paper, with marks in their places: the library is not to order it again. */
const STANDS_APART = /[\p{M}\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefc]/u;

function drawText(doc: PDFKit.PDFDocument, mark: Mark & { kind: 'text' }): void {
  for (const run of mark.runs) {
    if (run.font < 0) {
      for (const x of run.x)
        doc
          .rect(mark.at[0] + x + 0.1 * mark.height, mark.at[1] - mark.height, 0.6 * mark.height, mark.height)
          .lineWidth(mark.height / 12)
          .stroke('#000000');
      continue;
    }
    doc.font(fontFile(run.font)).fontSize(mark.size).fillColor('#000000');
    // Without kerning and ligatures the characters stand exactly where they were measured.
    const features = { kern: false, liga: false } as unknown as PDFKit.Mixins.OpenTypeFeatures[];
    const options = { lineBreak: false, baseline: 'alphabetic', features } as const;
    if (!STANDS_APART.test(run.text)) doc.text(run.text, mark.at[0] + run.x[0], mark.at[1], options);
    else [...run.text].forEach((char, at) => doc.text(char, mark.at[0] + run.x[at], mark.at[1], options));
  }
}
