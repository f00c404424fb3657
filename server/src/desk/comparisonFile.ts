import type { comparisonFormats } from '../../../contract/src/index.ts';
import { comparisonCsv, comparisonTable, comparisonText, type Comparison } from '../../../core/src/formats/index.ts';
import { writeBillWorkbook } from '../../../engine/src/index.ts';

export type ComparisonFormat = (typeof comparisonFormats)[number];

const inUtf8 = (text: string): Uint8Array => new TextEncoder().encode(text);

/** What differs between two lists or revisions, as a file; ten thousand lines take seconds, so it is written at the desk. */
export async function comparisonFile(comparison: Comparison, format: ComparisonFormat): Promise<Uint8Array> {
  switch (format) {
    case 'json':
      return inUtf8(JSON.stringify(comparison));
    case 'csv':
      return inUtf8(`\ufeff${comparisonCsv(comparison)}`);
    case 'text':
      return inUtf8(comparisonText(comparison));
    case 'xlsx':
      return writeBillWorkbook(comparisonTable(comparison), 'Changes', new Map());
  }
}
