import { Anchor, Button, Select } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { Fragment, type ReactNode } from 'react';
import { kindOfThing, type ThingAbout } from '../../../../core/src/sheets/index.ts';
import { billShownBy } from '../../../../core/src/documents/index.ts';
import { useDocuments } from '../../data/openProject.ts';
import { AboutBalloon, BalloonLooks } from './AboutBalloon.tsx';
import { AboutList } from './AboutList.tsx';
import { AboutCentreLine, AboutDimension } from './AboutDimension.tsx';
import { AboutNote } from './AboutNote.tsx';
import { AboutSeveral } from './AboutSeveral.tsx';
import { AboutTitleBlock } from './AboutTitleBlock.tsx';
import { AboutView } from './AboutView.tsx';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { StyleField } from './StyleField.tsx';
import { PaperField } from './PaperField.tsx';
import { useChange } from './useChange.ts';
import { useIntend } from '../../data/editing/useIntend.ts';

/** Of a finding, so many items are named. */
const MOST_ITEMS = 12;
/** Of every thing what the inspector shows, while what it is about is still there; see `KindOfThing.about`. */
const abouts: Readonly<Record<ThingAbout, (props: SheetInspectorProps & { readonly of: string }) => ReactNode>> = {
  view: ({ of, ...props }) => props.sheet.views.some(({ id }) => id === of) && <AboutView {...props} />,
  balloon: ({ of, ...props }) => props.sheet.balloons.some(({ id }) => id === of) && <AboutBalloon {...props} />,
  dimension: ({ of, ...props }) => {
    const dimension = props.sheet.dimensions?.find(({ id }) => id === of);
    return dimension && <AboutDimension key={of} {...props} dimension={dimension} />;
  },
  centreLine: ({ of: _, ...props }) => <AboutCentreLine {...props} />,
  note: ({ of, ...props }) => {
    const note = props.sheet.notes.find(({ id }) => id === of);
    return note && <AboutNote key={of} {...props} note={note} />;
  },
  titleBlock: ({ of: _, ...props }) => <AboutTitleBlock {...props} />,
  list: ({ of: _, ...props }) => <AboutList {...props} />,
  sheet: () => null,
};

/** About what is picked; when nothing is, the sheet itself and what to look at on it. */
export function SheetInspector(props: SheetInspectorProps) {
  const { thing, things } = props;
  const about = thing && abouts[kindOfThing(thing.kind).about]({ ...props, of: thing.id });
  return (
    <aside className="panel" aria-label="Inspector">
      {things.length > 1 ? <AboutSeveral {...props} /> : about || <AboutSheet {...props} />}
    </aside>
  );
}

function AboutSheet({ id, place, sheet, inputs, drawn, onThing }: SheetInspectorProps) {
  const change = useChange(id);
  const { bills } = useDocuments();
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
      {sheet.clouds && (
        <Button
          mt="sm"
          ml="xs"
          size="compact-sm"
          variant="default"
          onClick={() => change('take the clouds away', { kind: 'setClouds', clouds: null })}
        >
          Take the clouds away
        </Button>
      )}
      <BalloonLooks id={id} sheet={sheet} inputs={inputs} />
      <StyleField sheet={sheet} inputs={inputs} />
      <h3>To look at on this sheet</h3>
      {drawn.problems.map(({ code, message, items }) => (
        <p key={`${code} ${message}`} className="problem">
          {message}
          {items.length > 0 && (
            <>
              <br />
              <span className="quiet">
                {items.slice(0, MOST_ITEMS).map((item, at) => {
                  const found = drawn.layout.balloons.find((laid) => laid.item === item);
                  return (
                    <Fragment key={`${item} ${at}`}>
                      {at > 0 && ', '}
                      {found ? (
                        <Anchor
                          component="button"
                          size="sm"
                          aria-label={`Go to balloon ${item}`}
                          onClick={() => onThing({ kind: 'balloon', id: found.balloon.id })}
                        >
                          {item}
                        </Anchor>
                      ) : (
                        item
                      )}
                    </Fragment>
                  );
                })}
                {items.length > MOST_ITEMS ? ` and ${items.length - MOST_ITEMS} more` : ''}
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
