import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import {
  billDecisions,
  billShownBy,
  editedFor,
  sheetSteps,
  type BillDocument,
  type Command,
} from '../../../core/src/documents/index.ts';
import { drawingDirections, type BalloonPlan, type Sheet, type SheetProblem } from '../../../core/src/sheets/index.ts';
import type { DirectionName, Spots, ViewLines } from '../../../core/src/views/index.ts';
import { useProject, type OpenProject } from '../data/ProjectContext.tsx';
import { solver } from '../data/solver.ts';
import { fetchLines, fetchSpots, type Machine } from '../data/views.ts';

export interface RearrangeStep {
  readonly document: string;
  readonly command: Command;
}

/** Lines and spots of a sheet's views, from the cache or the server. */
async function materials(
  queries: QueryClient,
  machine: Machine,
  sheet: Sheet,
): Promise<{ lines: Map<string, ViewLines>; spots: Map<string, Spots> }> {
  const lines = new Map<string, ViewLines>(),
    spots = new Map<string, Spots>();
  for (const { id, direction } of sheet.views) {
    lines.set(id, await fetchLines(queries, machine, direction));
    spots.set(id, await fetchSpots(queries, machine, direction));
  }
  return { lines, spots };
}

const replaceBalloons = (document: string, sheet: Sheet, plan: BalloonPlan): RearrangeStep => {
  const kept = new Set(plan.balloons.map(({ id }) => id));
  const before = new Set(sheet.balloons.map(({ id }) => id));
  return {
    document,
    command: {
      kind: 'changeBalloons',
      remove: sheet.balloons.map(({ id }) => id).filter((id) => !kept.has(id)),
      put: plan.balloons.filter(({ id }) => !before.has(id)),
    },
  };
};

/** Arranges the balloons of a sheet in a worker; the step that puts them there, and what could not be placed. */
export function useArrange(): (sheetId: string, sheet: Sheet) => Promise<{ step: RearrangeStep; plan: BalloonPlan }> {
  const project = useProject();
  const queries = useQueryClient();
  return async (sheetId, sheet) => {
    const plan = await arrange(project, queries, sheet, project.billDocument.content);
    return { step: replaceBalloons(sheetId, sheet, plan), plan };
  };
}

/**
 * The steps that let the balloons of every sheet that shows the open bill follow it when it is about to change; part
 * of the same gesture.
 */
export function useRearrange(): (next: BillDocument) => Promise<RearrangeStep[]> {
  const project = useProject();
  const queries = useQueryClient();
  return async (next) => {
    const steps: RearrangeStep[] = [];
    for (const { id, content } of project.sheets) {
      if (
        billShownBy(project.bills, content).id === project.billDocument.id &&
        content.balloons.some(({ byHand }) => !byHand)
      )
        steps.push(replaceBalloons(id, content, await arrange(project, queries, content, next)));
    }
    return steps;
  };
}

/** The steps that let a sheet show another bill, with balloons on its lines; those placed by hand stay. */
export function useShowBill(): (
  sheetId: string,
  sheet: Sheet,
  bill: OpenProject['bills'][number],
) => Promise<RearrangeStep[]> {
  const project = useProject();
  const queries = useQueryClient();
  return async (sheetId, sheet, { id, content }) => {
    const shows: RearrangeStep = {
      document: sheetId,
      command: { kind: 'setBill', bill: id === project.bills[0].id ? null : id },
    };
    return sheet.balloons.length === 0
      ? [shows]
      : [shows, replaceBalloons(sheetId, sheet, await arrange(project, queries, sheet, content))];
  };
}

/** The steps that make the drawing of a sheet, worked out in a worker; what was placed by hand stays. */
export function useDrawing(): (
  sheetId: string,
  sheet: Sheet,
) => Promise<{ steps: RearrangeStep[]; problems: readonly SheetProblem[] }> {
  const project = useProject();
  const queries = useQueryClient();
  return async (document, sheet) => {
    const bill = project.billDocument.content;
    const directions = drawingDirections(sheet, ['isometric']);
    const lines = new Map<DirectionName, ViewLines>(),
      spots = new Map<DirectionName, Spots>();
    for (const direction of directions) {
      lines.set(direction, await fetchLines(queries, project, direction));
      spots.set(direction, await fetchSpots(queries, project, direction));
    }
    const { assembly, treatments } = project;
    const made = await solver().draw({
      sheet,
      directions,
      assembly,
      recipe: bill.recipe,
      decisions: billDecisions(bill, treatments),
      columns: bill.columns,
      lines,
      spots,
    });
    return { steps: sheetSteps(sheet, made.sheet).map((command) => ({ document, command })), problems: made.problems };
  };
}

async function arrange(
  project: OpenProject,
  queries: QueryClient,
  sheet: Sheet,
  bill: BillDocument,
): Promise<BalloonPlan> {
  const variant = bill.recipe.variant ?? null;
  // The bill may list another build than the one that is open.
  const { assembly, treatments } =
    variant === project.variant
      ? project
      : editedFor({ original: project.original, edits: project.components.content, facts: project.facts }, variant);
  return solver().arrange({
    sheet,
    assembly,
    recipe: bill.recipe,
    decisions: billDecisions(bill, treatments),
    columns: bill.columns,
    ...(await materials(queries, { id: project.id, assembly, variant }, sheet)),
  });
}
