import { Button, Checkbox, Group, Select } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { leaderEndWords } from './words.ts';
import { barred, lookOfLettering, zoneOf, type BalloonLook, type SheetThing } from '../../../core/src/sheets/index.ts';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { AboutList } from './AboutList.tsx';
import { AboutCentreLine, AboutDimension } from './AboutDimension.tsx';
import { AboutNote } from './AboutNote.tsx';
import { AboutSeveral } from './AboutSeveral.tsx';
import { AboutTitleBlock } from './AboutTitleBlock.tsx';
import { AboutView } from './AboutView.tsx';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { MoveFields } from './MoveFields.tsx';
import { SizeInput } from './SizeInput.tsx';
import { LETTERING_RANGE } from '../../../core/src/tables/index.ts';
import { StyleField } from './StyleField.tsx';
import { PaperField } from './PaperField.tsx';
import { useChange } from './useChange.ts';
import { useIntend } from '../data/useIntend.ts';

/** What is picked of a view is about that view. */
const OF_VIEW: ReadonlySet<SheetThing['kind']> = new Set(['view', 'caption', 'region', 'regionSize', 'viewSize']);

/** About what is picked; when nothing is, the sheet itself and what to look at on it. */
export function SheetInspector(props: SheetInspectorProps) {
  const { thing, things, sheet } = props;
  const view = thing && OF_VIEW.has(thing.kind) && sheet.views.some(({ id }) => id === thing.id);
  const note = thing?.kind === 'note' && sheet.notes.find(({ id }) => id === thing.id);
  const dimension = thing?.kind === 'dimension' && sheet.dimensions?.find(({ id }) => id === thing.id);
  const balloon =
    (thing?.kind === 'balloon' || thing?.kind === 'leaderEnd') && sheet.balloons.some(({ id }) => id === thing.id);
  return (
    <aside className="panel" aria-label="Inspector">
      {things.length > 1 ? (
        <AboutSeveral {...props} />
      ) : view ? (
        <AboutView {...props} />
      ) : balloon ? (
        <AboutBalloon {...props} />
      ) : dimension ? (
        <AboutDimension key={dimension.id} {...props} dimension={dimension} />
      ) : thing?.kind === 'centreLine' ? (
        <AboutCentreLine {...props} />
      ) : note ? (
        <AboutNote key={note.id} {...props} note={note} />
      ) : thing?.kind === 'titleBlock' ? (
        <AboutTitleBlock {...props} />
      ) : thing?.kind === 'table' || thing?.kind === 'columnEdge' ? (
        <AboutList {...props} />
      ) : (
        <AboutSheet {...props} />
      )}
    </aside>
  );
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
      <PaperField paper={sheet.paper} onPaper={(paper, words) => change(words, { kind: 'setPaper', paper })} />
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
      <BalloonSizes id={id} sheet={sheet} />
      <StyleField sheet={sheet} />
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

/** How large balloons and their numbers are; the largest for which there is room unless it is said. */
function BalloonSizes({ id, sheet: { balloonLook: look } }: Pick<SheetInspectorProps, 'id' | 'sheet'>) {
  const change = useChange(id);
  const put = (label: string, changed: BalloonLook) => change(label, { kind: 'setBalloonLook', look: changed });
  const { fixed: _, ...unset } = look;
  const free = () => put('size of balloons by itself', unset);
  const quantity = look.quantity ?? false;
  return (
    <>
      <Checkbox
        mt="xs"
        size="xs"
        label="Balloons say the quantity too"
        checked={quantity}
        onChange={({ currentTarget: { checked } }) =>
          put(checked ? 'quantities in balloons' : 'numbers alone in balloons', barred(look, checked))
        }
      />
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
            lettering === null ? free() : put('size of numbers', lookOfLettering(lettering, quantity))
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
