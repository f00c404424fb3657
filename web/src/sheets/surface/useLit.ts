import { useCallback, useEffect, useMemo } from 'react';
import {
  listOccurrences,
  pathKey,
  type Assembly,
  type PathKey,
  type ComponentIndex,
} from '../../../../core/src/assembly/index.ts';
import type { MarkSource } from '../../../../core/src/marks/index.ts';
import type { Vec2 } from '../../../../core/src/geometry/index.ts';
import type { SheetInputs, SheetLayout, SheetThing } from '../../../../core/src/sheets/index.ts';
import { useMachine, usePicks } from '../../data/openProject.ts';

/**
 * What of the sheet lights up with the line that is picked: its places in views, its rows and its balloons.
 * @param travelTo brings a point into sight: a line picked elsewhere leads to its balloon
 */
export function useLit(
  { bill }: SheetInputs,
  { balloons }: SheetLayout,
  thing: SheetThing | null,
  travelTo: (mm: Vec2) => void,
) {
  const { assembly } = useMachine();
  const { picked } = usePicks();
  const places = useMemo(() => litPlaces(assembly, picked), [assembly, picked]);
  const rows = useMemo(
    () => new Set(bill.rows.flatMap((row, at) => (picked !== null && row.components.includes(picked) ? [at] : []))),
    [bill, picked],
  );
  const lit = useMemo(
    () => new Set(balloons.filter(({ row }) => rows.has(row)).map(({ balloon }) => balloon.id)),
    [balloons, rows],
  );
  const isLit = useCallback(
    ({ kind, id }: MarkSource) =>
      (kind === 'balloon' && (lit.has(id) || (thing?.kind === 'balloon' && thing.id === id))) ||
      (kind === 'table' && rows.has(Number(id))),
    [lit, rows, thing],
  );
  const first = balloons.find(({ balloon }) => lit.has(balloon.id))?.centre;
  const target = first ? `${first[0]} ${first[1]}` : '';
  useEffect(() => {
    if (first) travelTo(first);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when another balloon is lit, not at every zoom
  }, [target, picked]);
  return { places, isLit };
}

/** Places of a component and of everything in it. */
function litPlaces(assembly: Assembly, picked: ComponentIndex | null): ReadonlySet<PathKey> {
  if (picked === null) return new Set();
  return new Set(
    listOccurrences(assembly, (index) => assembly.components[index].shape !== null).flatMap(({ path, components }) =>
      components.slice(1).includes(picked) ? [pathKey(path)] : [],
    ),
  );
}
