import equal from 'fast-deep-equal';
import { Button, Checkbox, Group, Select } from '@mantine/core';
import { removeSteps, sheetSteps, type ViewChange } from '../../../../core/src/documents/index.ts';
import {
  alignments,
  alignThings,
  distributeThings,
  inLineThings,
  moveByHand,
  scaleText,
  stackBalloons,
  standardScales,
  thingsOn,
  USUAL_SMALLEST,
  withOwnLook,
  type PlacedThing,
  type Sheet,
  type SheetView,
  type Ways,
} from '../../../../core/src/sheets/index.ts';
import type { Balloon } from '../../../../core/src/balloons/index.ts';
import { tangentLooks, type Shading, type TangentLook } from '../../../../core/src/views/index.ts';
import { count } from '../../count.ts';
import { BalloonActions } from './BalloonActions.tsx';
import { DressFields } from './DressFields.tsx';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';
import { alignWords, shadeWords, tangentWords } from '../words.ts';

/** About several things at once: in line, at equal gaps, and what views can have in common. */
export function AboutSeveral({ id, sheet, drawn, things, onThing }: SheetInspectorProps) {
  const change = useChange(id);
  const placed = thingsOn(drawn, sheet.paper);
  const movable = inLineThings(sheet, placed, things);
  const take = (label: string, ways: Ways) =>
    change(label, ...sheetSteps(sheet, moveByHand(sheet, ways, placed, drawn.layout)));
  const balloons = things.flatMap(({ kind, id: one }) =>
    kind === 'balloon' ? (sheet.balloons.find((balloon) => balloon.id === one) ?? []) : [],
  );
  const views = sheet.views.filter((view) => things.some(({ kind, id: one }) => kind === 'view' && one === view.id));
  return (
    <>
      <div className="quiet">Picked</div>
      <h2>{count(things.length, 'thing')}</h2>
      {movable.length > 1 && <InLine movable={movable} take={take} />}
      {balloons.length > 1 && balloons.every(({ view }) => view === balloons[0].view) && (
        <OnOneLeader id={id} sheet={sheet} balloons={balloons} />
      )}
      {balloons.length > 0 && balloons.length === things.length && (
        <>
          <Group gap="xs" mt="xs">
            <BalloonActions id={id} sheet={sheet} drawn={drawn} things={things} size="compact-xs" />
          </Group>
          <DressFields
            key={balloons.map((one) => one.id).join(' ')}
            dress={balloons.every(({ look }) => equal(look, balloons[0].look)) ? (balloons[0].look ?? {}) : {}}
            usual="as the others"
            onDress={(label, dress) =>
              change(label, ...sheetSteps(sheet, withOwnLook(sheet, new Set(balloons.map((one) => one.id)), dress)))
            }
          />
        </>
      )}
      {movable.length > 2 && (
        <>
          <p className="quiet">Equal gaps</p>
          <Group gap="xs">
            {(['from left to right', 'downwards'] as const).map((way, axis) => (
              <Button
                key={way}
                size="compact-xs"
                variant="default"
                onClick={() => take(`equal gaps ${way}`, distributeThings(movable, axis as 0 | 1))}
              >
                {way}
              </Button>
            ))}
          </Group>
        </>
      )}
      {views.length > 1 && <SeveralViews id={id} views={views} />}
      <Button
        mt="md"
        size="compact-sm"
        variant="default"
        onClick={() => {
          change(`take away ${count(things.length, 'thing')}`, ...removeSteps(sheet, things));
          onThing(null);
        }}
      >
        Take away
      </Button>
    </>
  );
}

function InLine({
  movable,
  take,
}: {
  readonly movable: readonly PlacedThing[];
  readonly take: (label: string, ways: Ways) => void;
}) {
  return (
    <>
      <p className="quiet">In line</p>
      <Group gap="xs">
        {alignments.map((how) => (
          <Button
            key={how}
            size="compact-xs"
            variant="default"
            title={alignWords[how]}
            onClick={() => take(alignWords[how].toLowerCase(), alignThings(movable, how))}
          >
            {how}
          </Button>
        ))}
      </Group>
    </>
  );
}

/** Balloons of one view, put on the leader of the first of them. */
function OnOneLeader({
  id,
  sheet,
  balloons,
}: {
  readonly id: string;
  readonly sheet: Sheet;
  readonly balloons: readonly Balloon[];
}) {
  const change = useChange(id);
  const stack = (as: 'row' | 'column') =>
    stackBalloons(
      sheet,
      balloons.map((one) => one.id),
      as,
    );
  return (
    <>
      <p className="quiet">On the leader of the first picked</p>
      <Group gap="xs">
        {(['row', 'column'] as const).map((as) => (
          <Button
            key={as}
            size="compact-xs"
            variant="default"
            onClick={() => change('balloons on one leader', ...sheetSteps(sheet, stack(as)))}
          >
            in a {as}
          </Button>
        ))}
      </Group>
    </>
  );
}

const flags = [
  { label: 'Hidden edges, dashed', key: 'hidden', value: true },
  { label: 'Path lines', key: 'pathLines', value: true },
  { label: 'Centre lines of what is round', key: 'centreLines', value: { smallest: USUAL_SMALLEST } },
  { label: 'Not to scale', key: 'notToScale', value: true },
] as const;

/** What views can have in common. */
function SeveralViews({ id, views }: { readonly id: string; readonly views: readonly SheetView[] }) {
  const change = useChange(id);
  const all = (label: string, changed: ViewChange) =>
    change(label, ...views.map((view) => ({ kind: 'changeView', id: view.id, change: changed }) as const));
  const everyOne = (has: (view: SheetView) => boolean) => views.every(has);
  const some = (has: (view: SheetView) => boolean) => views.some(has) && !views.every(has);
  return (
    <>
      <h3>{count(views.length, 'view')}</h3>
      <Select
        size="xs"
        label="Scale of all"
        placeholder={everyOne(({ scale }) => scale === views[0].scale) ? scaleText(views[0].scale) : 'differs'}
        value={null}
        data={standardScales.map((scale) => ({ value: String(scale), label: scaleText(scale) }))}
        onChange={(scale) => scale && all(`scale ${scaleText(Number(scale))}`, { scale: Number(scale) })}
      />
      <Select
        mt="xs"
        size="xs"
        label="Edges where faces meet smoothly"
        placeholder="differs"
        value={everyOne(({ tangent }) => tangent === views[0].tangent) ? (views[0].tangent ?? 'thin') : null}
        data={tangentLooks.map((value) => ({ value, label: tangentWords[value] }))}
        onChange={(value) =>
          value &&
          all(`smooth edges ${tangentWords[value as TangentLook]}`, {
            tangent: value === 'thin' ? null : (value as TangentLook),
          })
        }
      />
      <Select
        mt="xs"
        size="xs"
        label="Faces"
        placeholder="differs"
        data={shadeWords}
        value={everyOne(({ shade }) => shade === views[0].shade) ? (views[0].shade ?? '') : null}
        onChange={(shade) =>
          shade !== null && all(shade ? `faces in ${shade}` : 'lines only', { shade: (shade as Shading) || null })
        }
      />
      <Checkbox
        mt="xs"
        size="xs"
        label="Balloons around all of them together"
        checked={everyOne(({ group }) => group !== undefined && group === views[0].group)}
        onChange={({ currentTarget: { checked } }) =>
          all(checked ? 'balloons around several views' : 'balloons around each view', {
            group: checked ? views[0].id : null,
          })
        }
      />
      {flags.map(({ label, key, value }) => (
        <Checkbox
          key={key}
          mt="xs"
          size="xs"
          label={label}
          checked={everyOne((view) => view[key] !== undefined)}
          indeterminate={some((view) => view[key] !== undefined)}
          onChange={({ currentTarget: { checked } }) =>
            all(`${label.toLowerCase()}: ${checked ? 'yes' : 'no'}`, { [key]: checked ? value : null })
          }
        />
      ))}
    </>
  );
}
