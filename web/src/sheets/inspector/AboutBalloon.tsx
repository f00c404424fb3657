import { Button, Checkbox, Group, Select } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useMemo, useState } from 'react';
import { arrangements, BALLOON_DISTANCE_RANGE, type Arrangement } from '../../../../core/src/balloons/index.ts';
import {
  barred,
  leaderScore,
  lookOfLettering,
  shapeOf,
  stacksOf,
  unstack,
  withOwnLook,
  zoneOf,
  type Sheet,
  type BalloonLook,
  type LaidBalloon,
  type OwnLookChange,
} from '../../../../core/src/sheets/index.ts';
import { billShownBy, sheetSteps } from '../../../../core/src/documents/index.ts';
import { RenumberDialog } from '../../lines/RenumberDialog.tsx';
import { LETTERING_RANGE } from '../../../../core/src/tables/index.ts';
import { useDocuments, useMachine } from '../../data/openProject.ts';
import { useIntend } from '../../data/editing/useIntend.ts';
import { printedColumns } from '../../../../core/src/bill/index.ts';
import { headingOf } from '../../../../core/src/columns/index.ts';
import { BalloonActions } from './BalloonActions.tsx';
import { DressFields } from './DressFields.tsx';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { MoveFields } from './MoveFields.tsx';
import { SizeInput } from './SizeInput.tsx';
import { useChange } from './useChange.ts';
import { arrangementWords, leaderEndWords, leaderScoreWords } from '../words.ts';

/** How balloons of a sheet look and stand; what suits unless it is said. What is set is seen at once. */
export function BalloonLooks({
  id,
  sheet: { balloonLook: look, balloons },
  inputs,
}: Pick<SheetInspectorProps, 'id' | 'sheet' | 'inputs'>) {
  // One that names the item, or a picture, says nothing new.
  const columns = printedColumns(inputs.columns).filter(({ source }) => source !== 'item');
  const change = useChange(id);
  const { intend, busy } = useIntend();
  const put = (label: string, changed: BalloonLook) => change(label, { kind: 'setBalloonLook', look: changed });
  /** What changes where they stand arranges them again, but those set by hand. */
  const arrange = async (label: string, changed: BalloonLook) => {
    if (balloons.length === 0) return put(label, changed);
    await place(label, { look: changed });
  };
  const place = async (label: string, how: { readonly look?: BalloonLook; readonly stacks?: true }) => {
    try {
      await intend(label, { kind: 'placeBalloons', sheet: id, ...how });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  const { fixed: _, ...unset } = look;
  const free = () => put('size of balloons by itself', unset);
  const quantity = look.quantity ?? false;
  return (
    <>
      <Group gap="xs" grow align="end" mt="xs">
        <Select
          size="xs"
          label="Balloons stand"
          disabled={busy}
          allowDeselect={false}
          value={look.arrangement ?? ''}
          data={[
            { value: '', label: 'as suits' },
            ...arrangements.map((value) => ({ value, label: arrangementWords[value] })),
          ]}
          onChange={(value) => {
            const { arrangement: __, ...rest } = look;
            const said = value ? { ...rest, arrangement: value as Arrangement } : rest;
            void arrange(value ? `balloons ${arrangementWords[value as Arrangement]}` : 'balloons as suits', said);
          }}
        />
        <SizeInput
          key={`distance ${look.distance ?? ''}`}
          label="From view, mm"
          fitted="usual"
          value={look.distance}
          min={BALLOON_DISTANCE_RANGE[0]}
          max={BALLOON_DISTANCE_RANGE[1]}
          digits={1}
          onValue={(distance) => {
            const { distance: __, ...rest } = look;
            void arrange('distance of balloons', distance === null ? rest : { ...rest, distance });
          }}
        />
      </Group>
      <Button
        mt="xs"
        size="compact-sm"
        variant="default"
        disabled={busy || balloons.length < 2}
        title="Small parts that sit on one axis and touch share a leader"
        onClick={() => void place('fasteners on one leader', { stacks: true })}
      >
        Bolts with washers and nuts on one leader
      </Button>
      <DressFields
        dress={look}
        usual=""
        onDress={(label, dress) => {
          const next = { ...look, ...dress };
          put(label, Object.fromEntries(Object.entries(next).filter(([, value]) => value !== null)) as never);
        }}
      />
      <Checkbox
        mt="xs"
        size="xs"
        label="A second text below a bar"
        checked={quantity}
        onChange={({ currentTarget: { checked } }) =>
          put(checked ? 'a second text in balloons' : 'numbers alone in balloons', barred(look, checked))
        }
      />
      <Group gap="xs" grow>
        {(['above', 'below'] as const)
          .filter((where) => where === 'above' || quantity)
          .map((where) => (
            <Select
              key={where}
              mt="xs"
              size="xs"
              label={where === 'above' ? 'First text' : 'Second text'}
              allowDeselect={false}
              value={look.columns?.[where] ?? ''}
              data={[
                { value: '', label: where === 'above' ? 'item number' : 'quantity' },
                ...columns.map((column) => ({ value: column.id, label: headingOf(column) })),
              ]}
              onChange={(value) => {
                const { columns: said, ...rest } = look;
                const next = Object.fromEntries(
                  Object.entries({ ...said, [where]: value }).filter(([, id]) => Boolean(id)),
                );
                put('what stands in balloons', Object.keys(next).length > 0 ? { ...rest, columns: next } : rest);
              }}
            />
          ))}
      </Group>
      <Group gap="xs" grow align="end">
        <SizeInput
          key={`numbers ${look.fixed ? look.lettering : ''}`}
          label="Numbers, mm"
          fitted={String(look.lettering)}
          value={look.fixed ? look.lettering : undefined}
          min={LETTERING_RANGE[0]}
          max={LETTERING_RANGE[1]}
          digits={1}
          onValue={(lettering) =>
            lettering === null
              ? free()
              : put('size of numbers', { ...lookOfLettering(lettering, quantity), ...shapeOf(look) })
          }
        />
        <SizeInput
          key={`balloons ${look.fixed ? look.radius : ''}`}
          label="Balloons, mm"
          fitted={String(Number((2 * look.radius).toFixed(1)))}
          value={look.fixed ? Number((2 * look.radius).toFixed(1)) : undefined}
          min={2}
          max={60}
          digits={1}
          onValue={(height) =>
            height === null ? free() : put('size of balloons', { ...look, radius: height / 2, fixed: true })
          }
        />
      </Group>
    </>
  );
}

/** One balloon: what it names, where its leader ends and how clearly. */
export function AboutBalloon({ id, sheet, inputs, drawn, thing, onThing }: SheetInspectorProps) {
  const { bills } = useDocuments();
  const { assembly, bill, billDocument } = useMachine();
  const [numbering, setNumbering] = useState(false);
  const change = useChange(id);
  const about = thing!.id;
  const laid = drawn.layout.balloons.find(({ balloon }) => balloon.id === about);
  const balloon = sheet.balloons.find((one) => one.id === about)!;
  if (!laid) return null;
  const step = (label: string, after: Sheet) => change(label, ...sheetSteps(sheet, after));
  const sharesLeader = stacksOf(sheet.balloons).some((stack) => stack.some((one) => one.id === balloon.id));
  const row = bill.rows[laid.row];
  const component = row && row.components.length > 0 ? assembly.components[row.components[0]] : undefined;
  return (
    <>
      <div className="quiet">Balloon</div>
      <h2 style={{ fontSize: 30 }}>{laid.item}</h2>
      <h2>{component ? component.name || component.partNumber : 'Hanging: its part has no line'}</h2>
      <BalloonFacts sheet={sheet} inputs={inputs} drawn={drawn} laid={laid} />
      {(balloon.also || drawn.layout.balloons.some((one) => one !== laid && one.row === laid.row && laid.row >= 0)) && (
        <Checkbox
          mt="xs"
          size="xs"
          label="Also here: the line has its balloon elsewhere"
          checked={balloon.also ?? false}
          onChange={({ currentTarget: { checked } }) => {
            const { also: _, ...plain } = balloon;
            change(checked ? `also here: ${laid.item}` : `balloon ${laid.item} counts again`, {
              kind: 'changeBalloons',
              remove: [],
              put: [checked ? { ...plain, also: true, byHand: true } : plain],
            });
          }}
        />
      )}
      <DressFields
        key={`dress ${balloon.id}`}
        dress={balloon.look ?? {}}
        usual="as the others"
        onDress={(label, dress) => step(`${label} of ${laid.item}`, withOwnLook(sheet, new Set([balloon.id]), dress))}
      />
      <BalloonSizes
        laid={laid}
        onLook={(look) => step(`size of balloon ${laid.item}`, withOwnLook(sheet, new Set([balloon.id]), look))}
      />
      <MoveFields key={balloon.id} sheet={sheet} balloon={balloon} />
      <Group mt="md" gap="xs">
        <Button
          size="compact-sm"
          variant="default"
          onClick={() =>
            change(balloon.byHand ? 'let balloon be arranged' : 'keep balloon here', {
              kind: 'changeBalloons',
              remove: [],
              put: [{ ...balloon, byHand: !balloon.byHand }],
            })
          }
        >
          {balloon.byHand ? 'Let it be arranged' : 'Keep here'}
        </Button>
        <BalloonActions id={id} sheet={sheet} drawn={drawn} things={[{ kind: 'balloon', id: balloon.id }]} />
        {balloon.bends && (
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => {
              const { bends: _, ...straight } = balloon;
              change(`straight leader of ${laid.item}`, { kind: 'changeBalloons', remove: [], put: [straight] });
            }}
          >
            Straight leader
          </Button>
        )}
        {laid.row >= 0 && billShownBy(bills, sheet).id === billDocument.id && (
          <Button size="compact-sm" variant="default" onClick={() => setNumbering(true)}>
            Number clockwise from here …
          </Button>
        )}
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => {
            change(`take away balloon ${laid.item}`, { kind: 'changeBalloons', remove: [balloon.id], put: [] });
            onThing(null);
          }}
        >
          Take away
        </Button>
        {sharesLeader && (
          <Button
            size="compact-sm"
            variant="default"
            onClick={() =>
              change(
                'balloons on leaders of their own',
                ...sheetSteps(sheet, unstack(sheet, balloon.id, drawn.layout.balloons)),
              )
            }
          >
            Own leaders again
          </Button>
        )}
      </Group>
      {numbering && <RenumberDialog from={balloon.id} onClose={() => setNumbering(false)} />}
    </>
  );
}

/** Where its leader ends and how clearly, what the list says, and where it stands. */
function BalloonFacts({
  sheet,
  inputs,
  drawn,
  laid,
}: Pick<SheetInspectorProps, 'sheet' | 'inputs' | 'drawn'> & { readonly laid: LaidBalloon }) {
  const { bill } = useMachine();
  const { balloon } = laid;
  const lines = inputs.lines.get(balloon.view);
  const score = useMemo(() => {
    const view = drawn.layout.views.find((one) => one.view.id === laid.balloon.view);
    return laid.row >= 0 && view && lines ? leaderScore(laid, view, lines, inputs) : null;
  }, [laid, lines, drawn, inputs]);
  const row = bill.rows[laid.row];
  return (
    <table className="facts">
      <tbody>
        <tr>
          <td>Points at</td>
          <td>{leaderEndWords(balloon.end)}</td>
        </tr>
        {score && (
          <tr>
            <td>How clear</td>
            <td>{leaderScoreWords(score)}</td>
          </tr>
        )}
        {row && (
          <tr>
            <td>On the list</td>
            <td>
              {row.quantity} per {row.parent < 0 ? 'machine' : 'parent'}
            </td>
          </tr>
        )}
        <tr>
          <td>Set by</td>
          <td>{balloon.byHand ? 'hand; arranging leaves it' : 'arranging'}</td>
        </tr>
        <tr>
          <td>Zone</td>
          <td>{zoneOf(sheet.paper, laid.centre)}</td>
        </tr>
      </tbody>
    </table>
  );
}

/** Lettering and size of one balloon, where they are its own. */
function BalloonSizes({
  laid,
  onLook,
}: {
  readonly laid: LaidBalloon;
  readonly onLook: (look: OwnLookChange) => void;
}) {
  const { balloon } = laid;
  return (
    <Group gap="xs" grow align="end">
      <SizeInput
        key={`own numbers ${balloon.id} ${balloon.look?.lettering ?? ''}`}
        label="Number, mm"
        fitted={laid.lettering.toFixed(1)}
        value={balloon.look?.lettering}
        min={LETTERING_RANGE[0]}
        max={LETTERING_RANGE[1]}
        digits={1}
        onValue={(lettering) => onLook({ lettering })}
      />
      <SizeInput
        key={`own size ${balloon.id} ${balloon.look?.radius ?? ''}`}
        label="Balloon, mm"
        fitted={(2 * laid.radius).toFixed(1)}
        value={balloon.look?.radius === undefined ? undefined : 2 * balloon.look.radius}
        min={2}
        max={60}
        digits={1}
        onValue={(height) => onLook({ radius: height === null ? null : height / 2 })}
      />
    </Group>
  );
}
