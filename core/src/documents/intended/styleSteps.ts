import equal from 'fast-deep-equal';
import {
  blockWithStyle,
  isBlank,
  isPlain,
  sheetInStyle,
  swapSides,
  type Sheet,
  type SheetSet,
  type SheetStyle,
} from '../../sheets/index.ts';
import type { GestureStep } from '../project/projectState.ts';
import { sheetSteps } from './sheetSteps.ts';

/**
 * What makes a project look as the style of this name says of sheets: one gesture. Sheets on which something stands keep their paper.
 * Projected views change sides where the angle changes.
 */
export function styleSteps(
  set: { readonly id: string; readonly content: SheetSet },
  sheets: readonly { readonly id: string; readonly content: Sheet }[],
  style: SheetStyle,
  name: string,
): GestureStep[] {
  const { fields, projection = 'first', block, dimensionLook, sectionLook } = set.content;
  const steps: GestureStep[] = [];
  const ofSet = (command: GestureStep['command']) => steps.push({ document: set.id, command });
  if (style.projection && style.projection !== projection) {
    ofSet({ kind: 'setProjection', projection: style.projection });
    for (const { id, content } of sheets)
      for (const { id: view, centre } of swapSides(content))
        steps.push({ document: id, command: { kind: 'changeView', id: view, change: { centre } } });
  }
  if (style.owner !== undefined && style.owner !== fields.owner)
    ofSet({ kind: 'setSharedField', field: 'owner', value: style.owner });
  const styled = blockWithStyle(block, style);
  if (!isPlain(styled) && !equal(styled, block)) ofSet({ kind: 'setTitleBlock', block: styled });
  if (style.dimensionLook && !equal(style.dimensionLook, dimensionLook))
    ofSet({ kind: 'setDimensionLook', look: style.dimensionLook });
  if (style.sectionLook && !equal(style.sectionLook, sectionLook))
    ofSet({ kind: 'setSectionLook', look: style.sectionLook });
  for (const { id, content } of sheets)
    if (style.paper && isBlank(content) && !equal(style.paper, content.paper))
      steps.push({ document: id, command: { kind: 'setPaper', paper: style.paper } });
  for (const { id, content } of sheets)
    for (const command of sheetSteps(content, sheetInStyle(content, style, name)))
      steps.push({ document: id, command });
  return steps;
}
