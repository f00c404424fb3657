import { Button, NumberInput, Select } from '@mantine/core';
import { useState } from 'react';
import { componentsAlong, partLabel, pathKey, type PathKey } from '../../../../core/src/assembly/index.ts';
import type { Balloon } from '../../../../core/src/balloons/index.ts';
import type { Vec3 } from '../../../../core/src/geometry/index.ts';
import { wholeStep, withMove } from '../../../../core/src/poses/index.ts';
import type { Sheet } from '../../../../core/src/sheets/index.ts';
import { useDocuments, useDoing, useMachine } from '../../data/openProject.ts';

const axes = ['along x', 'along y', 'along z'] as const;

/** How far the part of a balloon, or what it stands in, has left its seat in the pose of the balloon's view. */
export function MoveFields({ sheet, balloon }: { sheet: Sheet; balloon: Balloon }) {
  const { set } = useDocuments();
  const { assembly } = useMachine();
  const { perform } = useDoing();
  const [depth, setDepth] = useState(balloon.path.length);
  const view = sheet.views.find(({ id }) => id === balloon.view);
  const pose = set.content.poses?.find(({ id }) => id === view?.pose);
  const along = componentsAlong(assembly, balloon.path);
  if (!pose || !along || balloon.path.length === 0) return null;
  const path: PathKey = pathKey(balloon.path.slice(0, depth));
  const move = pose.moves.find((one) => one.path === path);
  const step = move ? wholeStep(move) : ([0, 0, 0] as const);
  const part = partLabel(assembly.components[along[depth]]);
  const put = (next: Vec3) => {
    if (next.every((value, axis) => value === step[axis])) return;
    perform(`move ${part}`, { document: set.id, command: { kind: 'putPose', pose: withMove(pose, path, next) } });
  };
  return (
    <fieldset className="moves">
      <legend>From its seat in “{pose.name}”, mm</legend>
      {balloon.path.length > 1 && (
        <Select
          size="xs"
          label="What moves"
          allowDeselect={false}
          data={balloon.path.map((_, at) => ({
            value: String(at + 1),
            label: partLabel(assembly.components[along[at + 1]]),
          }))}
          value={String(depth)}
          onChange={(value) => value && setDepth(Number(value))}
        />
      )}
      <div className="axes">
        {axes.map((label, axis) => (
          <Way
            key={`${label} ${path} ${step[axis]}`}
            label={label}
            value={step[axis]}
            onChange={(value) => put(step.map((old, at) => (at === axis ? value : old)) as unknown as Vec3)}
          />
        ))}
      </div>
      <Button size="compact-sm" variant="default" disabled={!move} onClick={() => put([0, 0, 0])}>
        Back to its seat
      </Button>
    </fieldset>
  );
}

/** One number, taken over with Enter or when it is left. */
function Way({ label, value, onChange }: { label: string; value: number; onChange: (value: number) => void }) {
  const [typed, setTyped] = useState<number | string>(value);
  const take = () => (typeof typed === 'number' ? onChange(typed) : setTyped(value));
  return (
    <NumberInput
      size="xs"
      label={label}
      hideControls
      decimalScale={2}
      min={-1e6}
      max={1e6}
      value={typed}
      onChange={setTyped}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
    />
  );
}
