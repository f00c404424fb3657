import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Job, Shapes } from '../../../../contract/src/index.ts';
import type { Assembly, FactsByShape, Finding, ShapeFacts, ShapeKey } from '../../../../core/src/assembly/index.ts';
import { followJob, loadShapes, orderShapes } from '../api.ts';

/** How far the shapes of a project are; it can be worked on meanwhile. */
export interface ShapesState {
  readonly facts: FactsByShape;
  readonly findings: readonly Finding[];
  /** Why the making ended before all were made, and how to go on; null while it runs or is done. */
  readonly stopped: { readonly reason: string; readonly goOn: () => void } | null;
  /** Null once all are made. */
  readonly progress: {
    readonly job: string;
    readonly step: string;
    readonly done: number;
    readonly of: number;
    /** Seconds that the rest will take; null before that can be said. */ readonly left: number | null;
  } | null;
}

const NONE: Shapes = { complete: true, job: null, facts: {}, findings: [] };

/** Follows the making of shapes and gives what was measured on them. */
export function useShapes(project: string, revision: string, assembly: Assembly): ShapesState {
  const queries = useQueryClient();
  const hasShapes = assembly.components.some(({ shape }) => shape !== null);
  const { data = NONE } = useQuery({
    queryKey: ['shapes', project, revision],
    queryFn: async () => {
      const shapes = await loadShapes(project, revision);
      return shapes.complete || shapes.job ? shapes : { ...shapes, job: await orderShapes(project, revision) };
    },
    staleTime: Infinity,
    enabled: hasShapes,
  });
  const [running, setRunning] = useState<{ job: Job; left: number | null } | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const started = useRef<{ at: number; done: number } | null>(null);
  useEffect(() => {
    if (!data.job) return;
    const stop = new AbortController();
    started.current = null;
    setReason(null);
    followJob(
      data.job,
      (job) => {
        const { done, of } = job.progress;
        started.current ??= { at: performance.now(), done };
        const made = done - started.current.done,
          spent = (performance.now() - started.current.at) / 1000;
        setRunning({ job, left: made > 0 ? Math.round((spent / made) * (of - done)) : null });
      },
      stop.signal,
    )
      .then(
        () => void queries.invalidateQueries({ queryKey: ['shapes', project] }),
        // Asking again would start the next job: whether to go on is the drafter's to say.
        (error: Error) => {
          if (!stop.signal.aborted) setReason(error.message);
        },
      )
      .finally(() => {
        if (stop.signal.aborted) return;
        setRunning(null);
        void queries.invalidateQueries({ queryKey: ['mesh'] });
      });
    return () => stop.abort();
  }, [data.job, project, queries]);
  const facts = useMemo(() => new Map(Object.entries(data.facts) as [ShapeKey, ShapeFacts][]), [data.facts]);
  const findings = data.findings as readonly Finding[];
  const progress = running && data.job ? { job: data.job, ...running.job.progress, left: running.left } : null;
  const stopped =
    reason === null ? null : { reason, goOn: () => void queries.invalidateQueries({ queryKey: ['shapes', project] }) };
  return { facts, findings, progress, stopped };
}
