import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Job } from '../../../contract/src/index.ts';
import { cutPlanKey, type Buying, type BuyingPlan } from '../../../core/src/buying/index.ts';
import type { CutPlan, CutProblem } from '../../../core/src/cutting/index.ts';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { cancelJob, Dropped, followJob } from '../data/api.ts';
import { billMaker } from '../data/bills/billMaker.ts';
import { orderCutPlans } from '../data/buying.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { cataloguesOf, useCatalogues } from '../data/useCatalogues.ts';

interface OpenBuying {
  /** Null before it is worked out the first time. */
  readonly buying: Buying | null;
  /** The making of cut plans, while it goes on. */
  readonly job: Job | null;
  /** Ends it; the best plan so far is kept. */
  readonly stop: () => void;
  /** Looks further where that was done. */
  readonly again: () => void;
  /** Why it is not there. */
  readonly error: string | null;
}
const NONE: ReadonlyMap<string, CutPlan> = new Map();

/** What a plan of buying comes to now: it follows the model, the list and the catalogues. */
export function useBuying(plan: BuyingPlan): OpenBuying {
  const { id, components, summary, bills } = useDocuments();
  const { original, facts } = useMachine();
  const { content: bill } = billShownBy(bills, { bill: plan.bill });
  const catalogues = useCatalogues([...new Set([...cataloguesOf([bill]), ...plan.catalogues, ...plan.stock])]);
  const [buying, setBuying] = useState<Buying | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const edits = components.content;
  const input = useMemo(
    () => ({ original, edits, facts, bill, plan, catalogues, fileName: summary.fileName }),
    [original, edits, facts, bill, plan, catalogues, summary.fileName],
  );
  const cuts = useCutPlans(id, buying);
  const run = useRef(0);
  useEffect(() => {
    const own = ++run.current;
    billMaker()
      .buying(input, cuts.plans)
      .then(
        (made) => {
          if (own !== run.current) return; // another one is on its way
          setBuying(made);
          setFailed(null);
        },
        (error: Error) => own === run.current && setFailed(error.message),
      );
  }, [input, cuts.plans]);
  return { buying, job: cuts.job, stop: cuts.stop, again: cuts.again, error: failed ?? cuts.error };
}

function useCutPlans(project: string, buying: Buying | null) {
  const queries = useQueryClient();
  const [job, setJob] = useState<Job | null>(null);
  const problems = useMemo(() => buying?.groups.flatMap(({ problem }) => problem ?? []) ?? [], [buying]);
  const keys = problems.map(cutPlanKey);
  const queryKey = ['cut plans', project, keys.join()];
  const { data: plans = NONE, error } = useQuery({
    queryKey,
    queryFn: ({ signal }) => planned(project, problems, setJob, signal),
    enabled: problems.length > 0,
    staleTime: Infinity,
    // Sections whose plan stays keep it while another one is made.
    placeholderData: keepPreviousData,
    retry: false,
  });
  return {
    plans,
    job,
    error: error?.message ?? null,
    stop: () => void (job && cancelJob(job.id)),
    again: () =>
      void queries.fetchQuery({ queryKey, queryFn: () => planned(project, problems, setJob, undefined, true) }),
  };
}

async function planned(
  project: string,
  problems: readonly CutProblem[],
  onJob: (job: Job | null) => void,
  signal?: AbortSignal,
  again = false,
): Promise<ReadonlyMap<string, CutPlan>> {
  let made = await orderCutPlans(project, problems, again);
  if (made.job !== null) {
    try {
      await followJob(made.job, onJob, signal);
      made = await orderCutPlans(project, problems);
    } catch (error) {
      // Stopped before it began: what is there stays, and the rest can be looked for again.
      if (!(error instanceof Dropped)) throw error;
    } finally {
      onJob(null);
    }
  }
  return new Map(
    problems.flatMap((problem, at) => (made.plans[at] ? [[cutPlanKey(problem), made.plans[at]] as const] : [])),
  );
}
