import { Button, Group, Select, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { HouseStyle } from '../../../../contract/src/index.ts';
import { styleSteps } from '../../../../core/src/documents/index.ts';
import {
  drawSheet,
  sheetInStyle,
  sheetStyleOf,
  shippedStyles,
  type Sheet,
  type SheetInputs,
  type SheetStyle,
} from '../../../../core/src/sheets/index.ts';
import { count } from '../../count.ts';
import { keepStyle, loadStyles } from '../../data/api.ts';
import { currentStyle } from '../../data/currentStyle.ts';
import { useDocuments, useDoing, useMachine } from '../../data/openProject.ts';
import { SceneMarks } from '../surface/SceneMarks.tsx';

interface NamedStyle {
  readonly name: string;
  readonly sheet: SheetStyle;
}

/** What of sheets is kept as a house style, and taken over from one: looked at first, then on all sheets in one step. */
export function StyleField({ sheet, inputs }: { sheet: Sheet; inputs: SheetInputs }) {
  const { set, sheets } = useDocuments();
  const { billDocument } = useMachine();
  const { perform } = useDoing();
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: ['styles'], queryFn: loadStyles });
  const [name, setName] = useState<string | null>(null);
  const [chosen, setChosen] = useState<NamedStyle | null>(null);
  const styles = data?.styles ?? [];
  const kept = styles.flatMap((style): NamedStyle[] =>
    style.sheet ? [{ name: style.name, sheet: style.sheet as SheetStyle }] : [],
  );
  const all: readonly NamedStyle[] = [
    ...kept,
    ...shippedStyles.filter((one) => !kept.some((own) => own.name === one.name)),
  ];
  const take = ({ name, sheet: style }: NamedStyle, of = sheets) => {
    const steps = styleSteps(set, of, style, name);
    if (steps.length > 0) perform(`sheets as in ${name}`, ...steps);
    else notifications.show({ message: `The sheets are as ${name} says already.` });
    setChosen(null);
  };
  // A style that was kept anew, or a sheet that was changed, no longer agree.
  const differing = kept.flatMap((style) => {
    const using = sheets.filter(({ content }) => content.tables.some(({ look }) => look === style.name));
    const { list } = style.sheet;
    return list && using.length > 0 && styleSteps(set, using, { list }, style.name).length > 0
      ? [{ style, using }]
      : [];
  });
  const keep = async () => {
    const wanted = name?.trim();
    if (!wanted) return;
    const before = styles.find((style) => style.name === wanted);
    const style: HouseStyle = {
      // Its columns stay where there is such a style.
      ...(before ?? currentStyle(billDocument.content, wanted)),
      sheet: sheetStyleOf(set.content, sheet) as HouseStyle['sheet'],
    };
    try {
      queries.setQueryData(['styles'], await keepStyle(style));
      notifications.show({
        message: `${wanted} is kept, with paper, title block, list, balloons, angle and dimensions.`,
      });
      setName(null);
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  return (
    <>
      <h3>House style</h3>
      {differing.map(({ style, using }) => (
        <p key={style.name} className="problem calm">
          Lists on {count(using.length, 'sheet')} differ from {style.name}.{' '}
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => take({ ...style, sheet: { list: style.sheet.list! } }, using)}
          >
            Take over
          </Button>
        </p>
      ))}
      <Select
        size="xs"
        label="Sheets as in"
        placeholder="a style"
        value={chosen?.name ?? null}
        data={[
          ...(kept.length > 0 ? [{ group: 'Kept by the house', items: kept.map((style) => style.name) }] : []),
          { group: 'At hand', items: all.slice(kept.length).map((style) => style.name) },
        ]}
        onChange={(wanted) => setChosen(all.find((style) => style.name === wanted) ?? null)}
      />
      {chosen && (
        <>
          <StylePreview inputs={inputs} style={chosen} />
          <Group gap="xs" mt={6}>
            <Button size="compact-sm" onClick={() => take(chosen)}>
              Take over on all sheets
            </Button>
            <Button size="compact-sm" variant="default" onClick={() => setChosen(null)}>
              Leave it
            </Button>
          </Group>
        </>
      )}
      {name === null ? (
        <Button mt={6} size="compact-sm" variant="default" onClick={() => setName(kept[0]?.name ?? 'Workshop')}>
          Keep these as a style …
        </Button>
      ) : (
        <Group gap={4} mt={6} align="end" wrap="nowrap">
          <TextInput
            size="xs"
            flex={1}
            label="Name of the style"
            maxLength={150}
            autoFocus
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') void keep();
              if (event.key === 'Escape') setName(null);
            }}
          />
          <Button size="compact-sm" disabled={!name.trim()} onClick={() => void keep()}>
            Keep
          </Button>
        </Group>
      )}
    </>
  );
}

const nothingLit = () => false;

/** The sheet as it would be: its lists and balloons; views as boxes. */
function StylePreview({ inputs, style: { name, sheet: style } }: { inputs: SheetInputs; style: NamedStyle }) {
  const { scene, layout } = useMemo(
    () => drawSheet({ ...inputs, sheet: sheetInStyle(inputs.sheet, style, name) }, { viewLines: false }),
    [inputs, style, name],
  );
  const says = shippedStyles.find((one) => one.name === name)?.says;
  return (
    <figure className="stylepreview">
      <svg viewBox={`0 0 ${scene.widthMm} ${scene.heightMm}`} role="img" aria-label={`This sheet as in ${name}`}>
        {layout.views.map(({ view, box: [x0, y0, x1, y1] }) => (
          <rect key={view.id} x={x0} y={y0} width={x1 - x0} height={y1 - y0} fill="#e8eef1" />
        ))}
        <SceneMarks marks={scene.marks} isLit={nothingLit} />
      </svg>
      {says && <figcaption className="quiet">{says}</figcaption>}
    </figure>
  );
}
