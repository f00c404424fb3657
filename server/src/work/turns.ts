import type { JobKind } from '../jobs/jobs.ts';

/**
 * Whose slots a job takes: files that come in, pictures that somebody waits for, and what may take minutes. Each has its
 * own, so that none of them waits for another kind.
 */
type Lane = 'reading' | 'looking' | 'making';
const LANES: Readonly<Record<JobKind, Lane>> = {
  import: 'reading',
  recognise: 'reading',
  view: 'looking',
  shapes: 'making',
  intention: 'making',
  foresee: 'making',
  cutPlans: 'making',
};
export type Slots = Readonly<Record<Lane, number>>;
/** Jobs of one server at once; what they compute shares the workers of the pool, one piece after the other. */
export const usualSlots: Slots = { reading: 2, looking: 2, making: 2 };

export interface WaitingJob {
  readonly id: string;
  readonly kind: JobKind;
  /** Null for a file that becomes a project. */
  readonly ofProject: string | null;
  /** ms */
  readonly created: number;
}

/**
 * The job that is next where these run: of those whose lane has room, one of the project that has the fewest running,
 * the oldest first. A project that orders a hundred pictures holds up its own, not those of others.
 */
export function nextJob(
  waiting: readonly WaitingJob[],
  running: readonly Pick<WaitingJob, 'kind' | 'ofProject'>[],
  slots: Slots,
): WaitingJob | null {
  const inLane = (lane: Lane) => running.filter(({ kind }) => LANES[kind] === lane).length;
  const ofProject = ({ ofProject: project }: WaitingJob) =>
    project === null ? 0 : running.filter((one) => one.ofProject === project).length;
  return (
    waiting
      .filter(({ kind }) => inLane(LANES[kind]) < slots[LANES[kind]])
      .sort(
        (one, other) =>
          ofProject(one) - ofProject(other) || one.created - other.created || (one.id < other.id ? -1 : 1),
      )[0] ?? null
  );
}

/** What a job may take, ms: at least, and for each thing that it is about; see JobContext.sized. */
const LIMITS: Readonly<Record<JobKind, { readonly least: number; readonly each: number }>> = {
  import: { least: 30 * 60_000, each: 5_000 }, // a MB; reading alone may take 20 minutes
  shapes: { least: 10 * 60_000, each: 10_000 }, // a shape; one may take 2 minutes
  view: { least: 10 * 60_000, each: 60_000 }, // a look
  recognise: { least: 30 * 60_000, each: 10_000 }, // a shape
  foresee: { least: 20 * 60_000, each: 5 * 60_000 }, // a sheet
  intention: { least: 15 * 60_000, each: 500 }, // a different part of the machine
  cutPlans: { least: 10 * 60_000, each: 2 * 60_000 }, // a problem
};
/** What a job of this kind may take about so many things; ms. */
export const jobLimit = (kind: JobKind, things: number): number => LIMITS[kind].least + things * LIMITS[kind].each;

/** Why a job was ended that took longer than it may. */
export class JobOverran extends Error {
  override readonly name = 'JobOverran';
  constructor(readonly limitMs: number) {
    super(`It took more than ${Math.round(limitMs / 60_000)} minutes, longer than work of this kind and size may`);
  }
}
