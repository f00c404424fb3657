import { Button, Checkbox, Group, SegmentedControl, Select, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useState, type ReactNode } from 'react';
import { leaderEndWords, placeWords } from './words.ts';
import {
  paperNames,
  scaleText,
  standardScales,
  tablePlaces,
  titleFieldNames,
  zoneOf,
  type DrawnSheet,
  type Sheet,
  type SheetTable,
  type TablePlace,
  type TitleFields,
} from '../../../core/src/sheets/index.ts';
import {
  directionName,
  directionNames,
  tangentLooks,
  type DirectionName,
  type TangentLook,
} from '../../../core/src/views/index.ts';
import { billShownBy, type SheetCommand } from '../../../core/src/documents/index.ts';
import { count } from '../count.ts';
import { useProject } from '../data/ProjectContext.tsx';
import type { PickedThing } from './PaperSurface.tsx';
import { MoveFields } from './MoveFields.tsx';
import { PoseField } from './PoseField.tsx';
import { useIntend } from '../data/useIntend.ts';

export interface SheetInspectorProps {
  readonly id: string;
  /** The how manyth of how many in the set. */
  readonly place: { readonly sheet: number; readonly of: number };
  readonly sheet: Sheet;
  readonly drawn: DrawnSheet;
  readonly thing: PickedThing | null;
  readonly onThing: (thing: PickedThing | null) => void;
}

/** About what is picked; when nothing is, the sheet itself and what to look at on it. */
export function SheetInspector(props: SheetInspectorProps) {
  const { thing, sheet } = props;
  const view = thing?.kind === 'view' && sheet.views.some(({ id }) => id === thing.id);
  const balloon = thing?.kind === 'balloon' && sheet.balloons.some(({ id }) => id === thing.id);
  return (
    <aside className="panel" aria-label="Inspector">
      {view ? (
        <AboutView {...props} />
      ) : balloon ? (
        <AboutBalloon {...props} />
      ) : thing?.kind === 'titleBlock' ? (
        <AboutTitleBlock {...props} />
      ) : thing?.kind === 'table' ? (
        <AboutList {...props} />
      ) : (
        <AboutSheet {...props} />
      )}
    </aside>
  );
}

function useChange(id: string): (label: string, ...commands: SheetCommand[]) => void {
  const { perform } = useProject();
  return (label, ...commands) => void perform(label, ...commands.map((command) => ({ document: id, command })));
}

function AboutSheet({ id, place, sheet, drawn, onThing }: SheetInspectorProps) {
  const change = useChange(id);
  const { bills } = useProject();
  const { intend, busy } = useIntend();
  const showBill = async (wanted: string) => {
    const { name } = bills.find((one) => one.id === wanted)!.content;
    try {
      await intend(`show ${name}`, { kind: 'showBill', sheet: id, bill: wanted });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  return (
    <>
      <div className="quiet">
        Sheet {place.sheet} of {place.of}
      </div>
      <h2>{sheet.name}</h2>
      <Group grow align="end">
        <Select
          size="xs"
          label="Paper"
          data={[...paperNames]}
          value={sheet.paper.size}
          allowDeselect={false}
          onChange={(size) =>
            size &&
            change(`paper ${size}`, {
              kind: 'setPaper',
              paper: { ...sheet.paper, size: size as Sheet['paper']['size'] },
            })
          }
        />
        <SegmentedControl
          size="xs"
          aria-label="Which way the paper lies"
          data={['landscape', 'portrait']}
          value={sheet.paper.landscape ? 'landscape' : 'portrait'}
          onChange={(way) =>
            change(`paper ${way}`, { kind: 'setPaper', paper: { ...sheet.paper, landscape: way === 'landscape' } })
          }
        />
      </Group>
      {bills.length > 1 && (
        <Select
          mt="xs"
          size="xs"
          label="Lines and numbers from"
          disabled={busy}
          allowDeselect={false}
          value={billShownBy(bills, sheet).id}
          data={bills.map(({ id: value, content: { name, recipe } }) => ({
            value,
            label: recipe.variant ? `${name} (lists a variant; views show the whole machine)` : name,
            disabled: Boolean(recipe.variant),
          }))}
          onChange={(value) => value && void showBill(value)}
        />
      )}
      <Button
        mt="sm"
        size="compact-sm"
        variant="default"
        onClick={() => onThing({ kind: 'titleBlock', id: 'titleBlock' })}
      >
        Title block …
      </Button>
      <h3>To look at on this sheet</h3>
      {drawn.problems.map(({ code, message, items }) => (
        <p key={`${code} ${message}`} className="problem">
          {message}
          {items.length > 0 && (
            <>
              <br />
              <span className="quiet">
                {items.slice(0, 12).join(', ')}
                {items.length > 12 ? ` and ${items.length - 12} more` : ''}
              </span>
            </>
          )}
        </p>
      ))}
      {drawn.problems.length === 0 && (
        <p className="problem calm">
          {sheet.balloons.length > 0 ? 'Nothing: every line is ballooned once.' : 'Nothing yet.'}
        </p>
      )}
    </>
  );
}

const tangentWords: Readonly<Record<TangentLook, string>> = { thin: 'thin', full: 'like all others', none: 'left out' };

function AboutView({ id, sheet, thing, onThing }: SheetInspectorProps) {
  const change = useChange(id);
  const { id: project } = useProject();
  const view = sheet.views.find((one) => one.id === thing!.id)!;
  const [typed, setTyped] = useState('');
  const own = sheet.balloons.filter((balloon) => balloon.view === view.id);
  const rescale = (scale: number) =>
    change(`scale ${scaleText(scale)}`, { kind: 'changeView', id: view.id, change: { scale } });
  const takeTyped = () => {
    const [paper, model = 1] = typed.split(':').map((part) => Number(part.trim().replace(',', '.')));
    if (paper > 0 && model > 0) rescale(paper / model);
    setTyped('');
  };
  return (
    <>
      <div className="quiet">View</div>
      <h2>{directionName(view.direction)}</h2>
      <Select
        size="xs"
        label="Seen from"
        data={directionNames.map((value) => ({ value, label: directionName(value) }))}
        value={typeof view.direction === 'string' ? view.direction : null}
        placeholder={directionName(view.direction)}
        allowDeselect={false}
        onChange={(direction) =>
          direction &&
          change(`view from ${direction}`, {
            kind: 'changeView',
            id: view.id,
            change: { direction: direction as DirectionName },
          })
        }
      />
      <PoseField id={id} sheet={sheet} view={view} />
      <Select
        mt="xs"
        size="xs"
        label="Scale"
        value={standardScales.find((scale) => Math.abs(scale - view.scale) < 1e-9)?.toString() ?? null}
        placeholder={scaleText(view.scale)}
        data={standardScales.map((scale) => ({ value: String(scale), label: scaleText(scale) }))}
        onChange={(scale) => scale && rescale(Number(scale))}
      />
      <TextInput
        mt="xs"
        size="xs"
        label="Or type one"
        placeholder="1:7.5"
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={takeTyped}
        onKeyDown={(event) => event.key === 'Enter' && takeTyped()}
      />
      <Select
        mt="xs"
        size="xs"
        label="Edges where faces meet smoothly"
        allowDeselect={false}
        data={tangentLooks.map((value) => ({ value, label: tangentWords[value] }))}
        value={view.tangent ?? 'thin'}
        onChange={(value) =>
          value &&
          change(`smooth edges ${tangentWords[value as TangentLook]}`, {
            kind: 'changeView',
            id: view.id,
            change: { tangent: value === 'thin' ? null : (value as TangentLook) },
          })
        }
      />
      <Checkbox
        mt="xs"
        size="xs"
        label="Not to scale"
        checked={view.notToScale ?? false}
        onChange={({ currentTarget: { checked } }) =>
          change(checked ? 'not to scale' : 'to scale', {
            kind: 'changeView',
            id: view.id,
            change: { notToScale: checked || null },
          })
        }
      />
      <Caption
        key={view.id}
        caption={view.caption}
        onChange={(caption) => change('caption', { kind: 'changeView', id: view.id, change: { caption } })}
      />
      <p className="quiet">
        {own.length} balloons · {view.byHand ? 'placed by hand' : 'placed by the program'}
      </p>
      <Group gap="xs" mb="xs">
        {(['svg', 'png'] as const).map((format) => (
          <Button
            key={format}
            size="compact-sm"
            variant="default"
            component="a"
            download=""
            title="Only this view with its caption and balloons, as large as here"
            href={`/api/projects/${project}/sheets/${id}/${format}?view=${encodeURIComponent(view.id)}`}
          >
            Figure as {format.toUpperCase()}
          </Button>
        ))}
      </Group>
      <Button
        size="compact-sm"
        variant="default"
        onClick={() => {
          change(
            `take away ${directionName(view.direction)} view`,
            { kind: 'changeBalloons', remove: own.map((balloon) => balloon.id), put: [] },
            { kind: 'removeView', id: view.id },
          );
          onThing(null);
        }}
      >
        Take away, with its balloons
      </Button>
    </>
  );
}

/** The words below a view: its direction and scale where nothing else is typed, none where they are turned off. */
function Caption({ caption, onChange }: { caption: string | undefined; onChange: (caption: string | null) => void }) {
  const [typed, setTyped] = useState(caption ?? '');
  const take = () => {
    if (typed.trim() !== (caption ?? '')) onChange(typed.trim() || null);
  };
  return (
    <>
      <TextInput
        mt="xs"
        size="xs"
        label="Caption"
        placeholder="direction and scale"
        disabled={caption === ''}
        value={typed}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
      <Checkbox
        mt={6}
        size="xs"
        label="No caption"
        checked={caption === ''}
        onChange={({ currentTarget: { checked } }) => {
          setTyped('');
          onChange(checked ? '' : null);
        }}
      />
    </>
  );
}

function AboutBalloon({ id, sheet, drawn, thing, onThing }: SheetInspectorProps) {
  const { assembly, bill } = useProject();
  const change = useChange(id);
  const laid = drawn.layout.balloons.find(({ balloon }) => balloon.id === thing!.id);
  const balloon = sheet.balloons.find((one) => one.id === thing!.id)!;
  if (!laid) return null;
  const row = bill.rows[laid.row];
  const component = row && row.components.length > 0 ? assembly.components[row.components[0]] : undefined;
  return (
    <>
      <div className="quiet">Balloon</div>
      <h2 style={{ fontSize: 30 }}>{laid.item}</h2>
      <h2>{component ? component.name || component.partNumber : 'Hanging: its part has no line'}</h2>
      <table className="facts">
        <tbody>
          <tr>
            <td>Points at</td>
            <td>{leaderEndWords(laid.end)}</td>
          </tr>
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
            <td>{balloon.byHand ? 'hand; arranging leaves it' : 'arrangement “ring”'}</td>
          </tr>
          <tr>
            <td>Zone</td>
            <td>{zoneOf(sheet.paper, laid.centre)}</td>
          </tr>
        </tbody>
      </table>
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
      </Group>
    </>
  );
}

function AboutList({ id, drawn, thing, onThing }: SheetInspectorProps) {
  const change = useChange(id);
  const laid = drawn.layout.tables.find(({ table }) => table.id === thing!.id);
  if (!laid) return null;
  const { table, content, measured } = laid;
  const put = (label: string, changed: SheetTable) =>
    change(label, { kind: 'changeTables', remove: [], put: [changed] });
  return (
    <>
      <div className="quiet">Parts list</div>
      <h2>{count(content.rows.length, 'line')}</h2>
      <Select
        size="xs"
        label="It hangs"
        data={tablePlaces.map((place) => ({ value: place, label: placeWords[place] }))}
        value={table.place}
        allowDeselect={false}
        onChange={(place) =>
          place && put(`list ${placeWords[place as TablePlace]}`, { ...table, place: place as TablePlace })
        }
      />
      <Checkbox
        mt="xs"
        size="xs"
        label="Only what is ballooned on this sheet"
        checked={table.onlyBallooned ?? false}
        onChange={({ currentTarget: { checked } }) => {
          const { onlyBallooned: _, ...rest } = table;
          put(
            checked ? 'list only what is ballooned' : 'list every line',
            checked ? { ...rest, onlyBallooned: true } : rest,
          );
        }}
      />
      <p className="quiet">
        Lettering {measured.style.lettering} mm, rows {measured.style.pitch} mm apart,{' '}
        {measured.strips.length === 1 ? 'in one piece' : `in ${measured.strips.length} strips`}. It follows the bill.
      </p>
      <Button
        size="compact-sm"
        variant="default"
        onClick={() => {
          change('take away list', { kind: 'changeTables', remove: [table.id], put: [] });
          onThing(null);
        }}
      >
        Take away
      </Button>
    </>
  );
}

const fieldWords: Readonly<Record<keyof TitleFields, string>> = {
  title: 'Title',
  drawingNumber: 'Drawing number',
  revision: 'Revision',
  owner: 'Owner',
  createdBy: 'Created by',
  approvedBy: 'Approved by',
  date: 'Date',
  documentType: 'Document',
};

/** Texts that all sheets share, and those that this one has of its own. */
function AboutTitleBlock({ id, sheet, place }: SheetInspectorProps) {
  const { set, perform } = useProject();
  const change = useChange(id);
  const shared = set.content.fields;
  const share = (field: keyof TitleFields, value: string) =>
    perform(`${fieldWords[field].toLowerCase()} of all sheets`, {
      document: set.id,
      command: { kind: 'setSharedField', field, value },
    });
  return (
    <>
      <div className="quiet">Title block</div>
      <h2>{{ ...shared, ...sheet.fields }.title || 'No title'}</h2>
      {titleFieldNames.map((field) => {
        const own = sheet.fields[field];
        const keep = (value: string) =>
          own === undefined
            ? share(field, value)
            : change(fieldWords[field].toLowerCase(), { kind: 'setField', field, value });
        return (
          <Field
            key={`${field} ${own ?? shared[field]} ${own === undefined}`}
            label={fieldWords[field]}
            stored={own ?? shared[field]}
            onKeep={keep}
            aside={
              place.of > 1 || own !== undefined ? (
                <button
                  className="aside"
                  title={
                    own === undefined
                      ? 'This text stands on all sheets; click to give this sheet its own'
                      : `Only on this sheet; click to take over “${shared[field]}” from the others`
                  }
                  onClick={() =>
                    own === undefined
                      ? change(`own ${fieldWords[field].toLowerCase()}`, {
                          kind: 'setField',
                          field,
                          value: shared[field],
                        })
                      : change(`${fieldWords[field].toLowerCase()} as on all sheets`, {
                          kind: 'setField',
                          field,
                          value: null,
                        })
                  }
                >
                  {own === undefined ? 'all sheets' : 'this sheet only'}
                </button>
              ) : null
            }
          />
        );
      })}
    </>
  );
}

/** Kept when it is left or Enter is pressed; Esc goes back. */
function Field({
  label,
  stored,
  onKeep,
  aside,
}: {
  label: string;
  stored: string;
  onKeep: (value: string) => void;
  /** Stands at the end of the label's line. */
  aside: ReactNode;
}) {
  const [value, setValue] = useState(stored);
  const keep = () => value !== stored && onKeep(value);
  return (
    <div className="field">
      {aside}
      <TextInput
        mt={6}
        size="xs"
        label={label}
        value={value}
        maxLength={200}
        onChange={(event) => setValue(event.currentTarget.value)}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === 'Enter') keep();
          if (event.key === 'Escape') setValue(stored);
        }}
      />
    </div>
  );
}
