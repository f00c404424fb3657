import type { ComponentKey } from './records.ts';

/** How a component counts: has it a line of its own, and is what is inside it counted? */
export interface Treatment {
  /** Whether it has a line of its own. */
  readonly ownLine: boolean;
  /** Whether what is inside it is counted. */
  readonly countContents: boolean;
}
export type Treatments = Readonly<Record<ComponentKey, Treatment>>;

/** Name of the value of a single place that says why it is not counted. */
export const LEFT_OUT_REASON = 'Left out because';

export const treatmentWords = ['listed', 'listed whole', 'opened up', 'left out'] as const;
export type TreatmentWord = (typeof treatmentWords)[number];

const byWord: Readonly<Record<TreatmentWord, Treatment>> = {
  listed: { ownLine: true, countContents: true },
  'listed whole': { ownLine: true, countContents: false },
  'opened up': { ownLine: false, countContents: true },
  'left out': { ownLine: false, countContents: false },
};

export const treatmentFor = (word: TreatmentWord): Treatment => byWord[word];
export const wordFor = ({ ownLine, countContents }: Treatment): TreatmentWord =>
  ownLine ? (countContents ? 'listed' : 'listed whole') : countContents ? 'opened up' : 'left out';
