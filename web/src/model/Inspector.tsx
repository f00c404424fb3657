import { ActionIcon, Button, Checkbox, SegmentedControl, Select, Switch, TextInput, Tooltip } from '@mantine/core';
import { IconArrowBackUp, IconPlus } from '@tabler/icons-react';
import { useMemo, useState, type KeyboardEvent } from 'react';
import {
  densityOf,
  editAssembly,
  isAssembly,
  partLabel,
  wordFor,
  type PathKey,
  type Treatment,
  type ComponentIndex,
} from '../../../core/src/assembly/index.ts';
import { makeBill } from '../../../core/src/bill/index.ts';
import { propertyText } from '../../../core/src/columns/index.ts';
import { catalogueSays, linkedOf } from '../../../core/src/catalogues/index.ts';
import { billDecisions, cataloguesOn, type ComponentEdits } from '../../../core/src/documents/index.ts';
import { count } from '../count.ts';
import { useDocuments, useDoing, useMachine } from '../data/openProject.ts';
import { Thumb } from '../shell/Thumb.tsx';
import { Counted } from './Counted.tsx';
import { Declare } from './Declare.tsx';
import { isLayout } from '../../../core/src/layouts/index.ts';
import { selectionValues, asTyped, type SelectionValue } from './tree/selection.ts';

interface InspectorProps {
  /** Picked components, as indices into the edited assembly; at least one. */
  readonly picked: readonly number[];
  /** The one place that was picked; null when it stands for all places. */
  readonly path: PathKey | null;
  /** Brings a place into the middle of the picture. */
  readonly onStep: (path: PathKey) => void;
}

/** What is known about the picked components and how they count; for every occurrence, or for the picked one only. */
export function Inspector({ picked, path, onStep }: InspectorProps) {
  const { assembly, original, originals, counts } = useMachine();
  const [onlyHere, setOnlyHere] = useState(false);
  const place = onlyHere && picked.length === 1 ? path : null;
  const first = assembly.components[picked[0]];
  const indices = useMemo(() => [...new Set(picked.map((index) => originals[index]))], [picked, originals]);
  const { drawn, name } = original.components[indices[0]];
  const isOnlyDrawn = drawn === true && assembly.components[indices[0]].name === name;
  const title = picked.length === 1 ? first.name || partLabel(first) : `${indices.length} components`;
  const pieces =
    indices.reduce((sum, index) => sum + counts[index], 0) +
    (picked.length === 1 && indices[0] !== picked[0] ? counts[picked[0]] : 0);
  return (
    <aside className="panel inspector" aria-label="Inspector">
      <div className="inspector-head">
        {picked.length === 1 && <Thumb component={first} size={56} />}
        <div className="wide">
          <div className="quiet">
            {picked.length > 1
              ? 'Picked together'
              : isLayout(assembly)
                ? isOnlyDrawn
                  ? 'Drawn in the layout'
                  : 'Symbol of the layout'
                : isAssembly(first)
                  ? 'Assembly'
                  : 'Part'}
            {!isLayout(assembly) && ` · ${pieces} in the machine`}
          </div>
          <h2>{title}</h2>
        </div>
      </div>
      {indices.length === 1 &&
        picked[0] !== assembly.root &&
        (isOnlyDrawn ? (
          <Declare component={indices[0]} />
        ) : (
          <Counted component={indices[0]} path={path} onStep={onStep} />
        ))}
      {path !== null && picked.length === 1 && picked[0] !== assembly.root && (
        <SegmentedControl
          fullWidth
          size="xs"
          mb={8}
          value={onlyHere ? 'here' : 'all'}
          onChange={(value) => setOnlyHere(value === 'here')}
          data={[
            { value: 'all', label: 'For every one of it' },
            { value: 'here', label: 'For this one only' },
          ]}
        />
      )}
      {!picked.includes(assembly.root) && <Treatments indices={indices} place={place} />}
      <Values indices={indices} place={place} />
      <OwnSettings />
      {indices.length === 1 && <Density index={picked[0]} />}
    </aside>
  );
}

const questions = { ownLine: 'Has it a line of its own?', countContents: 'Is what is inside it counted?' } as const;
const USUAL: Treatment = { ownLine: true, countContents: true };

/** The two questions; what the answer does to the list is shown before it is applied. */
function Treatments({ indices, place }: { indices: readonly number[]; place: PathKey | null }) {
  const { components } = useDocuments();
  const {
    assembly,
    original,
    originals,
    treatments,
    facts,
    billDocument: { content: billContent },
    bill,
  } = useMachine();
  const { perform } = useDoing();
  const [wanted, setWanted] = useState<Treatment | null>(null);
  const edits = components.content;
  const now =
    place === null
      ? indices.map((index) => edits.treatments[original.components[index].key] ?? USUAL)
      : [edits.placeTreatments[place] ?? treatments[originals.indexOf(indices[0])] ?? USUAL];
  const common = (question: keyof Treatment) =>
    now.every((one) => one[question] === now[0][question]) ? now[0][question] : null;
  const opens = indices.some((index) => isAssembly(original.components[index]));
  const changed = useMemo(
    () =>
      wanted
        ? changeTreatments(
            edits,
            indices.map((index) => original.components[index].key),
            place,
            wanted,
          )
        : null,
    [edits, indices, original, place, wanted],
  );
  const effect = useMemo(() => {
    if (!changed) return null;
    const next = editAssembly(original, { ...edits, ...changed.result }, facts);
    const label = (of: typeof assembly, row: { components: readonly ComponentIndex[] }) =>
      row.components.length === 0
        ? ''
        : of.components[row.components[0]].name || partLabel(of.components[row.components[0]]);
    const after = makeBill(next.assembly, billContent.recipe, billDecisions(billContent, next.treatments), {
      columns: billContent.columns,
    });
    const before = new Set(bill.rows.map((row) => label(assembly, row))),
      left = new Set(after.rows.map((row) => label(next.assembly, row)));
    return {
      from: bill.rows.length,
      to: after.rows.length,
      gone: [...before].filter((name) => !left.has(name)),
      come: [...left].filter((name) => !before.has(name)),
    };
  }, [changed, original, edits, facts, billContent, bill, assembly]);
  const answer = (question: keyof Treatment, value: boolean) =>
    setWanted({
      ...(wanted ?? { ownLine: common('ownLine') ?? true, countContents: common('countContents') ?? true }),
      [question]: value,
    });
  const apply = () => {
    if (!changed) return;
    perform(
      `${indices.length === 1 ? partLabel(original.components[indices[0]]) : `${indices.length} components`} ${wordFor(wanted!)}${place === null ? '' : ' here'}`,
      { document: components.id, command: changed.command },
    );
    setWanted(null);
  };
  const shown = (question: keyof Treatment) => (wanted ? wanted[question] : common(question));
  return (
    <div className="questions">
      {(Object.keys(questions) as (keyof Treatment)[])
        .filter((question) => question === 'ownLine' || opens)
        .map((question) => (
          <div key={question} role="group" aria-label={questions[question]}>
            <span>{questions[question]}</span>
            <SegmentedControl
              size="xs"
              value={shown(question) === null ? 'several' : shown(question) ? 'yes' : 'no'}
              onChange={(value) => answer(question, value === 'yes')}
              data={[
                { value: 'yes', label: 'yes' },
                { value: 'no', label: 'no' },
                ...(shown(question) === null ? [{ value: 'several', label: 'several', disabled: true }] : []),
              ]}
            />
          </div>
        ))}
      <div className="quiet">
        In lists:{' '}
        <strong>
          {wanted
            ? wordFor(leafWise(wanted, opens))
            : new Set(now.map((one) => wordFor(leafWise(one, opens)))).size === 1
              ? wordFor(leafWise(now[0], opens))
              : 'several'}
        </strong>
      </div>
      {effect && (
        <div className="problem calm" role="status">
          The list has {count(effect.from, 'line')} now and {effect.to} then.
          {effect.gone.length + effect.come.length === 0 &&
            effect.from === effect.to &&
            ' No line changes in this depth of the list.'}
          {effect.gone.length > 0 && <div>No longer listed: {shortList(effect.gone)}</div>}
          {effect.come.length > 0 && <div>Newly listed: {shortList(effect.come)}</div>}
          <div className="buttons">
            <Button size="compact-xs" onClick={apply}>
              Apply
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => setWanted(null)}>
              Leave
            </Button>
          </div>
        </div>
      )}
    </div>
  );
}

/** A part has no contents, so the second answer says nothing about it. */
const leafWise = (treatment: Treatment, opens: boolean): Treatment =>
  opens ? treatment : { ownLine: treatment.ownLine, countContents: treatment.ownLine };
const shortList = (names: readonly string[]): string =>
  names.length > 6 ? `${names.slice(0, 5).join(', ')} and ${names.length - 5} more` : names.join(', ');

function changeTreatments(edits: ComponentEdits, keys: readonly string[], place: PathKey | null, wanted: Treatment) {
  const value = wanted.ownLine && wanted.countContents && place === null ? null : wanted;
  const components = place === null ? Object.fromEntries(keys.map((key) => [key, value])) : {};
  const places = place === null ? {} : { [place]: value };
  const merged = (map: Readonly<Record<string, Treatment>>, changes: Record<string, Treatment | null>) =>
    Object.fromEntries(
      Object.entries({ ...map, ...changes }).filter((entry): entry is [string, Treatment] => entry[1] !== null),
    );
  return {
    command: { kind: 'setTreatments', components, places } as const,
    result: {
      treatments: merged(edits.treatments, components),
      placeTreatments: merged(edits.placeTreatments, places),
    },
  };
}

const originWords: Readonly<Record<string, string>> = {
  file: 'file',
  measured: 'measured',
  catalogue: 'catalogue',
  typed: 'typed',
  'file, this one': 'file, this one',
  'typed, this one': 'typed, this one',
};

/** Every known value; click to type another, an arrow takes what was typed back. */
function Values({ indices, place }: { indices: readonly number[]; place: PathKey | null }) {
  const { components } = useDocuments();
  const { original, edited, facts, billDocument, catalogues } = useMachine();
  const { perform } = useDoing();
  const edits = components.content;
  const values = useMemo(() => {
    const linked = linkedOf(billDocument.content.catalogues, cataloguesOn(billDocument.content, catalogues));
    const said = linked.length === 0 ? undefined : catalogueSays(edited, linked);
    return selectionValues(original, indices, edits, facts, Object.keys(edits.ownProperties), place, said);
  }, [original, edited, indices, edits, facts, place, billDocument.content, catalogues]);
  const keys = indices.map((index) => original.components[index].key);
  const type = (name: string, value: ReturnType<typeof asTyped> | null) => {
    const each = <Key extends string>(of: readonly Key[]) => Object.fromEntries(of.map((key) => [key, value]));
    perform(value === null ? `${name} back to what the model says` : `${name} ${propertyText(value) || 'empty'}`, {
      document: components.id,
      command: {
        kind: 'typeValues',
        name,
        components: place === null ? each(keys) : {},
        places: place === null ? {} : each([place]),
      },
    });
  };
  return (
    <>
      <h3>Properties</h3>
      <table className="facts values">
        <tbody>
          {values.map((value) => (
            <ValueRow
              key={value.name}
              value={value}
              onType={(text) =>
                type(
                  value.name,
                  asTyped(
                    text,
                    value.common?.value,
                    edits.upperCase,
                    edits.ownProperties[value.name]?.type,
                    edits.ownProperties[value.name]?.unit || undefined,
                  ),
                )
              }
              onBack={() => type(value.name, null)}
            />
          ))}
        </tbody>
      </table>
    </>
  );
}

function ValueRow({
  value: { name, common, texts, typed },
  onType,
  onBack,
}: {
  value: SelectionValue;
  onType: (text: string) => void;
  onBack: () => void;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const bare = common
    ? String(typeof common.value.value === 'boolean' ? (common.value.value ? 'yes' : 'no') : common.value.value)
    : '';
  const finish = () => {
    if (draft !== null && (common === null || draft.trim() !== bare)) onType(draft);
    setDraft(null);
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === 'Enter') finish();
    if (event.key === 'Escape') {
      event.stopPropagation();
      setDraft(null);
    }
  };
  const below = common?.layers[1];
  const tip = !common
    ? `Several: ${texts
        .map((text) => text || '(none)')
        .slice(0, 8)
        .join(', ')}`
    : [common.how, below && `${originWords[below.origin]}: ${propertyText(below.value) || '(empty)'}`]
        .filter(Boolean)
        .join(' · ');
  return (
    <tr>
      <td>{name}</td>
      <td>
        {draft !== null ? (
          <TextInput
            size="xs"
            autoFocus
            aria-label={name}
            value={draft}
            placeholder={common ? '' : 'one value for all'}
            onChange={(event) => setDraft(event.currentTarget.value)}
            onBlur={finish}
            onKeyDown={onKey}
          />
        ) : (
          <>
            <Tooltip label={tip} disabled={!tip} multiline maw={280} openDelay={400}>
              <button
                className="value"
                aria-label={`${name}: ${common ? propertyText(common.value) || 'empty' : 'several'}`}
                onClick={() => setDraft(bare)}
              >
                {common ? propertyText(common.value) || <span className="quiet">–</span> : <em>several</em>}
              </button>
            </Tooltip>
            {common && common.layers.length > 0 && (propertyText(common.value) !== '' || typed) && (
              <span className="origin">{originWords[common.origin]}</span>
            )}
          </>
        )}
      </td>
      <td className="back">
        {typed && (
          <ActionIcon
            size="xs"
            variant="subtle"
            color="ink"
            aria-label={`${name} back to what the model says`}
            onClick={onBack}
          >
            <IconArrowBackUp size={14} />
          </ActionIcon>
        )}
      </td>
    </tr>
  );
}

/** Properties of the drafter's own, and how typed text is kept. */
function OwnSettings() {
  const { components } = useDocuments();
  const { perform } = useDoing();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [type, setType] = useState<'text' | 'number' | 'yes or no'>('text');
  const [unit, setUnit] = useState('');
  const add = () => {
    perform(`add property ${name.trim()}`, {
      document: components.id,
      command: {
        kind: 'setOwnProperty',
        name: name.trim(),
        property: { type, unit: type === 'number' ? unit.trim() : '' },
      },
    });
    setOpen(false);
    setName('');
  };
  return (
    <div className="own">
      {open ? (
        <div className="own-form">
          <TextInput
            size="xs"
            label="Name"
            autoFocus
            value={name}
            onChange={(event) => setName(event.currentTarget.value)}
          />
          <Select
            size="xs"
            label="Its values are"
            allowDeselect={false}
            value={type}
            onChange={(value) => setType((value ?? 'text') as typeof type)}
            data={['text', 'number', 'yes or no']}
          />
          {type === 'number' && (
            <TextInput size="xs" label="Unit" value={unit} onChange={(event) => setUnit(event.currentTarget.value)} />
          )}
          <div className="buttons">
            <Button size="compact-xs" disabled={!name.trim()} onClick={add}>
              Add
            </Button>
            <Button size="compact-xs" variant="default" onClick={() => setOpen(false)}>
              Leave
            </Button>
          </div>
        </div>
      ) : (
        <Button size="compact-xs" variant="subtle" leftSection={<IconPlus size={14} />} onClick={() => setOpen(true)}>
          Property
        </Button>
      )}
      <Checkbox
        size="xs"
        label="Typed text in capitals"
        checked={components.content.upperCase}
        onChange={(event) =>
          perform(event.currentTarget.checked ? 'typed text in capitals' : 'typed text as typed', {
            document: components.id,
            command: { kind: 'setUpperCase', on: event.currentTarget.checked },
          })
        }
      />
    </div>
  );
}

/** Where the density of this material comes from, and another one for the project. */
function Density({ index }: { index: number }) {
  const { components } = useDocuments();
  const { assembly } = useMachine();
  const { perform } = useDoing();
  const [draft, setDraft] = useState<string | null>(null);
  const material = propertyText(assembly.components[index].properties.Material).trim();
  if (!material || isAssembly(assembly.components[index])) return null;
  const known = densityOf(material, components.content.densities);
  const own = Object.keys(components.content.densities).find((name) => name.toLowerCase() === material.toLowerCase());
  const keep = () => {
    const density = Number((draft ?? '').replace(',', '.'));
    if (draft !== null && density >= 1 && density <= 30_000)
      perform(`density of ${material} ${density}`, {
        document: components.id,
        command: { kind: 'setDensity', material, density },
      });
    setDraft(null);
  };
  return (
    <p className="quiet density">
      Density of {material}:{' '}
      {draft === null ? (
        <button className="value" onClick={() => setDraft(known ? String(known.density) : '')}>
          {known ? `${known.density} kg/m³` : 'not known, so no mass'}
        </button>
      ) : (
        <TextInput
          size="xs"
          autoFocus
          aria-label={`Density of ${material} in kg/m³`}
          value={draft}
          onChange={(event) => setDraft(event.currentTarget.value)}
          onBlur={keep}
          onKeyDown={(event) => {
            if (event.key === 'Enter') keep();
            if (event.key === 'Escape') setDraft(null);
          }}
        />
      )}
      {own && (
        <Switch
          size="xs"
          checked
          label="own value of this project"
          onChange={() =>
            perform(`density of ${material} as usual`, {
              document: components.id,
              command: { kind: 'setDensity', material: own, density: null },
            })
          }
        />
      )}
    </p>
  );
}
