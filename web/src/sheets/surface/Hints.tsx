import { useLocalStorage } from '@mantine/hooks';
import type { SheetLayout } from '../../../../core/src/sheets/index.ts';

const hints = [
  'This list is computed from the assembly. Click a line: its part lights up in the view, and in every other pane.',
  'A balloon belongs to a part, so its number is always that of the list. Drag it anywhere; it stays where you put it.',
  'The strip below says which items are ballooned: full is once, outlined is missing. Click a tile to go there.',
];

/** Three words of welcome, one after the other, each put away for good with one click. */
export function Hints({ layout, zoom }: { layout: SheetLayout; zoom: number }) {
  const [seen, setSeen] = useLocalStorage({ key: 'hints-seen', defaultValue: 0, getInitialValueInEffect: false });
  if (seen >= hints.length || layout.tables.length === 0) return null;
  const [balloon] = layout.balloons;
  const places = [
    { left: layout.titleBlock[0] * zoom - 245, top: layout.titleBlock[1] * zoom - 30 },
    { left: (balloon?.centre[0] ?? 60) * zoom + 22, top: (balloon?.centre[1] ?? 60) * zoom - 10 },
    { left: 120, bottom: 6 },
  ];
  return (
    <div className="hint" style={places[seen]} role="note" onPointerDown={(event) => event.stopPropagation()}>
      {hints[seen]}
      <div>
        <button onClick={() => setSeen(seen + 1)}>{seen + 1 < hints.length ? 'Next' : 'Done'}</button>{' '}
        {seen + 1 < hints.length && <button onClick={() => setSeen(hints.length)}>No hints</button>}
      </div>
    </div>
  );
}
