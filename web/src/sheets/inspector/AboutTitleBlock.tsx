import { ActionIcon, Button, FileButton, Group, SegmentedControl, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconPlus, IconX } from '@tabler/icons-react';
import { useState, type ReactNode } from 'react';
import {
  isPlain,
  MOST_FURTHER,
  MOST_REVISIONS,
  plainTitleBlock,
  projections,
  swapSides,
  titleFieldNames,
  type Projection,
  type RevisionLine,
  type TitleBlock,
  type TitleFields,
} from '../../../../core/src/sheets/index.ts';
import { keepPicture } from '../../data/api.ts';
import { useDocuments, useDoing } from '../../data/openProject.ts';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';
import { fieldWords } from '../words.ts';

/** Texts that all sheets share, and those that this one has of its own. */
export function AboutTitleBlock({ id, sheet, place }: SheetInspectorProps) {
  const { set, sheets } = useDocuments();
  const { perform } = useDoing();
  const change = useChange(id);
  const shared = set.content.fields;
  const block = set.content.block ?? plainTitleBlock;
  const putBlock = (label: string, next: TitleBlock) =>
    perform(label, {
      document: set.id,
      command: {
        kind: 'setTitleBlock',
        block: isPlain(next) ? null : next,
      },
    });
  /** The symbol of all sheets changes, and projected views change sides. */
  const setProjection = (projection: Projection) =>
    perform(
      `${projection} angle`,
      { document: set.id, command: { kind: 'setProjection', projection } },
      ...sheets.flatMap((one) =>
        swapSides(one.content).map(
          ({ id: view, centre }) =>
            ({ document: one.id, command: { kind: 'changeView', id: view, change: { centre } } }) as const,
        ),
      ),
    );
  const several = (own: boolean) => place.of > 1 || own;
  const whose = (own: boolean, common: string, onOwn: () => void, onShared: () => void) =>
    several(own) ? (
      <button
        className="aside"
        title={
          own
            ? `Only on this sheet; click to take over “${common}” from the others`
            : 'This text stands on all sheets; click to give this sheet its own'
        }
        onClick={own ? onShared : onOwn}
      >
        {own ? 'this sheet only' : 'all sheets'}
      </button>
    ) : null;
  return (
    <>
      <div className="quiet">Title block</div>
      <h2>{{ ...shared, ...sheet.fields }.title || 'No title'}</h2>
      <p className="quiet">Double-click a cell on the paper to type into it. Projected views stand in</p>
      <SegmentedControl
        size="xs"
        mb="xs"
        aria-label="Projection"
        data={projections.map((value) => ({ value, label: `${value} angle` }))}
        value={set.content.projection ?? 'first'}
        onChange={(value) => setProjection(value as Projection)}
      />
      {titleFieldNames.map((field) => {
        const own = sheet.fields[field];
        const words = fieldWords[field].toLowerCase();
        const keep = (value: string) =>
          own === undefined
            ? perform(`${words} of all sheets`, {
                document: set.id,
                command: { kind: 'setSharedField', field, value },
              })
            : change(words, { kind: 'setField', field, value });
        return (
          <Field
            key={`${field} ${own ?? shared[field]} ${own === undefined}`}
            label={fieldWords[field]}
            stored={own ?? shared[field]}
            onKeep={keep}
            aside={whose(
              own !== undefined,
              shared[field],
              () => change(`own ${words}`, { kind: 'setField', field, value: shared[field] }),
              () => change(`${words} as on all sheets`, { kind: 'setField', field, value: null }),
            )}
          />
        );
      })}
      <Further
        block={block}
        onBlock={putBlock}
        own={sheet.further ?? []}
        onOwn={(further, value) => change('own text of a field', { kind: 'setFurther', id: further, value })}
        whose={whose}
      />
      <Logo block={block} onBlock={putBlock} />
      <Revisions block={block} onBlock={putBlock} usual={{ ...shared, ...sheet.fields }} />
    </>
  );
}

/** A picture at the right of the title. */
function Logo({ block, onBlock }: { block: TitleBlock; onBlock: (label: string, block: TitleBlock) => void }) {
  const { id } = useDocuments();
  const [busy, setBusy] = useState(false);
  const bring = async (file: File | null) => {
    if (!file) return;
    setBusy(true);
    try {
      onBlock('logo in the title block', { ...block, logo: await keepPicture(id, file) });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
    setBusy(false);
  };
  return (
    <>
      <h3>Logo</h3>
      <Group gap="xs">
        <FileButton onChange={(file) => void bring(file)} accept="image/png,image/svg+xml,.png,.svg">
          {(props) => (
            <Button size="compact-sm" variant="default" loading={busy} {...props}>
              {block.logo ? 'Another PNG or SVG …' : 'PNG or SVG …'}
            </Button>
          )}
        </FileButton>
        {block.logo && (
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => {
              const { logo: _, ...plain } = block;
              onBlock('no logo', plain);
            }}
          >
            Take it away
          </Button>
        )}
      </Group>
    </>
  );
}

/** Fields of one's own, on top of the usual ones. */
function Further({
  block,
  onBlock,
  own,
  onOwn,
  whose,
}: {
  block: TitleBlock;
  onBlock: (label: string, block: TitleBlock) => void;
  own: readonly { readonly id: string; readonly value: string }[];
  onOwn: (further: string, value: string | null) => void;
  whose: (own: boolean, common: string, onOwn: () => void, onShared: () => void) => ReactNode;
}) {
  const [label, setLabel] = useState('');
  const { further } = block;
  const add = () => {
    const words = label.trim();
    if (!words) return;
    onBlock(`field ${words} in the title block`, {
      ...block,
      further: [...further, { id: crypto.randomUUID(), label: words, value: '' }],
    });
    setLabel('');
  };
  return (
    <>
      <h3>Further fields</h3>
      {further.map((field, at) => {
        const mine = own.find(({ id }) => id === field.id);
        const put = (value: string) =>
          mine
            ? onOwn(field.id, value)
            : onBlock(`${field.label} of all sheets`, {
                ...block,
                further: further.with(at, { ...field, value }),
              });
        return (
          <Group key={field.id} gap={4} align="end" wrap="nowrap">
            <div style={{ flex: 1 }}>
              <Field
                key={`${mine?.value ?? field.value} ${mine === undefined}`}
                label={field.label}
                stored={mine?.value ?? field.value}
                onKeep={put}
                aside={whose(
                  mine !== undefined,
                  field.value,
                  () => onOwn(field.id, field.value),
                  () => onOwn(field.id, null),
                )}
              />
            </div>
            <ActionIcon
              variant="subtle"
              color="ink"
              size={30}
              aria-label={`Take the field ${field.label} away`}
              onClick={() =>
                onBlock(`take the field ${field.label} away`, { ...block, further: further.toSpliced(at, 1) })
              }
            >
              <IconX size={15} />
            </ActionIcon>
          </Group>
        );
      })}
      {further.length < MOST_FURTHER && (
        <Group gap={4} mt={6} align="end" wrap="nowrap">
          <TextInput
            size="xs"
            flex={1}
            label="A new field is called"
            placeholder="Order number"
            maxLength={60}
            value={label}
            onChange={(event) => setLabel(event.currentTarget.value)}
            onKeyDown={(event) => event.key === 'Enter' && add()}
          />
          <ActionIcon variant="default" size={30} aria-label="Add the field" disabled={!label.trim()} onClick={add}>
            <IconPlus size={15} />
          </ActionIcon>
        </Group>
      )}
    </>
  );
}

const revisionWords: Readonly<Record<Exclude<keyof RevisionLine, 'of'>, string>> = {
  revision: 'Rev.',
  text: 'Change',
  date: 'Date',
  by: 'By',
};

/** What changed from revision to revision. */
function Revisions({
  block,
  onBlock,
  usual,
}: {
  block: TitleBlock;
  onBlock: (label: string, block: TitleBlock) => void;
  usual: TitleFields;
}) {
  const { revisions } = block;
  return (
    <>
      <h3>Revisions</h3>
      {revisions.map((line, at) => (
        <Group key={at} gap={4} mb={6} align="end" wrap="wrap">
          {(['revision', 'date', 'by', 'text'] as const).map((part) => (
            <div key={part} style={{ flex: part === 'text' ? '1 1 70%' : '1 1 26%', minWidth: 0 }}>
              <Field
                key={line[part]}
                label={revisionWords[part]}
                stored={line[part]}
                onKeep={(value) =>
                  onBlock(`revision ${line.revision}`, {
                    ...block,
                    revisions: revisions.with(at, { ...line, [part]: value }),
                  })
                }
                aside={null}
              />
            </div>
          ))}
          <ActionIcon
            variant="subtle"
            color="ink"
            size={30}
            aria-label={`Take revision ${line.revision} away`}
            onClick={() =>
              onBlock(`take revision ${line.revision} away`, { ...block, revisions: revisions.toSpliced(at, 1) })
            }
          >
            <IconX size={15} />
          </ActionIcon>
        </Group>
      ))}
      {revisions.length < MOST_REVISIONS && (
        <Button
          mt={6}
          size="compact-sm"
          variant="default"
          leftSection={<IconPlus size={14} />}
          onClick={() =>
            onBlock('a line in the revision table', {
              ...block,
              revisions: [...revisions, { revision: usual.revision, text: '', date: usual.date, by: usual.createdBy }],
            })
          }
        >
          Line in the revision table
        </Button>
      )}
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
