import { Button, Group, Modal, MultiSelect, Radio, Select, TextInput } from '@mantine/core';
import { IconPlus } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import {
  ownValue,
  isAssembly,
  partLabel,
  type ComponentKey,
  type Properties,
  type Variant,
} from '../../../core/src/assembly/index.ts';
import { useDocuments, useDoing, useMachine, usePicks } from '../data/openProject.ts';
import { useBillEdit } from '../lines/useBillEdit.ts';
import { TakeAway } from '../controls/listButtons.tsx';

/** Builds of the machine: what each leaves out, exchanges and says otherwise; and which of them this bill lists. */
export function VariantsDialog({ onClose }: { onClose: () => void }) {
  const { components } = useDocuments();
  const { original, billDocument, assembly } = useMachine();
  const { pickedPath, picked } = usePicks();
  const { perform } = useDoing();
  const { change } = useBillEdit();
  const { variants } = components.content;
  const [open, setOpen] = useState<string | null>(null);
  const listed = billDocument.content.recipe.variant ?? '';
  const keep = (label: string, id: string, variant: Variant | null) =>
    perform(label, { document: components.id, command: { kind: 'setVariant', id, variant } });
  const add = () => {
    const id = crypto.randomUUID();
    keep('new variant', id, {
      name: `Variant ${Object.keys(variants).length + 1}`,
      without: [],
      withoutPlaces: [],
      exchanged: {},
      typed: {},
    });
    setOpen(id);
  };
  const options = useMemo(() => {
    const seen = new Map<string, number>();
    return original.components.flatMap((component, index) => {
      if (index === original.root) return [];
      const label = `${component.name || partLabel(component)}${component.partNumber && component.name ? ` · ${component.partNumber}` : ''}${isAssembly(component) ? ' (subassembly)' : ''}`;
      const times = (seen.get(label) ?? 0) + 1;
      seen.set(label, times);
      return [{ value: component.key as string, label: times > 1 ? `${label} (${times})` : label }];
    });
  }, [original]);
  const place =
    pickedPath && picked !== null
      ? { path: pickedPath, name: assembly.components[picked].name || partLabel(assembly.components[picked]) }
      : null;
  const variant = open === null ? undefined : ownValue(variants, open);
  return (
    <Modal opened onClose={onClose} title="Variants" size={680}>
      <Radio.Group
        label="This bill lists"
        value={listed}
        onChange={(value) =>
          change(value ? `list as ${variants[value].name}` : 'list everything', {
            kind: 'changeRecipe',
            change: { variant: value || null },
          })
        }
      >
        <Radio size="xs" mt={6} value="" label="everything that the model has" />
        {Object.entries(variants).map(([id, { name, without, withoutPlaces, exchanged }]) => (
          <Group key={id} mt={6} gap={8}>
            <Radio size="xs" value={id} label={name} />
            <span className="quiet">
              {[
                without.length + withoutPlaces.length > 0 ? `without ${without.length + withoutPlaces.length}` : '',
                Object.keys(exchanged).length > 0 ? `${Object.keys(exchanged).length} exchanged` : '',
              ]
                .filter(Boolean)
                .join(', ') || 'the same as the model so far'}
            </span>
            <Button size="compact-xs" variant="default" onClick={() => setOpen(open === id ? null : id)}>
              {open === id ? 'Done' : 'Change'}
            </Button>
            <TakeAway label={`Take ${name} away`} onClick={() => keep(`take variant ${name} away`, id, null)} />
          </Group>
        ))}
      </Radio.Group>
      <Button mt="sm" size="compact-xs" variant="default" leftSection={<IconPlus size={13} />} onClick={add}>
        New variant
      </Button>
      {open !== null && variant && (
        <div className="rulegroup" style={{ display: 'block', marginTop: 14 }}>
          <TextInput
            size="xs"
            label="Name"
            defaultValue={variant.name}
            key={open}
            onBlur={(event) =>
              event.currentTarget.value.trim() &&
              event.currentTarget.value !== variant.name &&
              keep(`name variant ${event.currentTarget.value}`, open, {
                ...variant,
                name: event.currentTarget.value.trim(),
              })
            }
          />
          <MultiSelect
            mt="xs"
            size="xs"
            label="It does without"
            searchable
            data={options}
            value={[...variant.without]}
            onChange={(keys) =>
              keep(`what ${variant.name} does without`, open, { ...variant, without: keys as ComponentKey[] })
            }
          />
          <Group mt={6} gap={8}>
            {place && !variant.withoutPlaces.includes(place.path) && (
              <Button
                size="compact-xs"
                variant="default"
                onClick={() =>
                  keep(`${variant.name} without ${place.name} here`, open, {
                    ...variant,
                    withoutPlaces: [...variant.withoutPlaces, place.path],
                  })
                }
              >
                Without the picked place: {place.name}
              </Button>
            )}
            {variant.withoutPlaces.length > 0 && (
              <>
                <span>{variant.withoutPlaces.length} single places left out</span>
                <Button
                  size="compact-xs"
                  variant="subtle"
                  color="ink"
                  onClick={() => keep(`${variant.name} with all places`, open, { ...variant, withoutPlaces: [] })}
                >
                  Have them again
                </Button>
              </>
            )}
          </Group>
          <Exchanges
            variant={variant}
            options={options}
            onKeep={(exchanged) => keep(`what ${variant.name} exchanges`, open, { ...variant, exchanged })}
          />
          <Replaced
            variant={variant}
            options={options}
            onKeep={(typed) => keep(`what ${variant.name} says`, open, { ...variant, typed })}
          />
        </div>
      )}
      {Object.keys(variants).length > 0 && (
        <p className="quiet">Quantities of several variants stand side by side when you add their columns.</p>
      )}
    </Modal>
  );
}

interface PartProps<Kept> {
  readonly variant: Variant;
  readonly options: { value: string; label: string }[];
  readonly onKeep: (kept: Kept) => void;
}

function Exchanges({ variant: { exchanged }, options, onKeep }: PartProps<Variant['exchanged']>) {
  const [from, setFrom] = useState<string | null>(null);
  const label = (key: string) => options.find(({ value }) => value === key)?.label ?? 'a component that is gone';
  return (
    <>
      {Object.entries(exchanged).map(([old, other]) => (
        <Group key={old} mt={6} gap={6}>
          {label(old)} → {label(other)}
          <TakeAway
            label="Do not exchange it"
            onClick={() => onKeep(Object.fromEntries(Object.entries(exchanged).filter(([key]) => key !== old)))}
          />
        </Group>
      ))}
      <Group mt={6} gap={6} align="end">
        <Select size="xs" w={260} label="It exchanges" searchable data={options} value={from} onChange={setFrom} />
        <Select
          size="xs"
          w={260}
          label="for"
          searchable
          disabled={!from}
          data={options.filter(({ value }) => value !== from)}
          value={null}
          onChange={(to) => {
            if (from && to) onKeep({ ...exchanged, [from]: to as ComponentKey });
            setFrom(null);
          }}
        />
      </Group>
    </>
  );
}

function Replaced({ variant: { typed }, options, onKeep }: PartProps<Variant['typed']>) {
  const { assembly } = useMachine();
  const [key, setKey] = useState<string | null>(null);
  const [name, setName] = useState<string | null>('Material');
  const [value, setValue] = useState('');
  const names = useMemo(
    () => [
      ...new Set([
        'Part number',
        'Name',
        'Description',
        'Revision',
        'Material',
        ...assembly.components.flatMap(({ properties }) => Object.keys(properties)),
      ]),
    ],
    [assembly],
  );
  const label = (one: string) => options.find((option) => option.value === one)?.label ?? 'a component that is gone';
  const put = () => {
    if (!key || !name) return;
    onKeep({ ...typed, [key]: { ...typed[key as ComponentKey], [name]: { value } } });
    setValue('');
  };
  const drop = (of: string, property: string) => {
    const { [property]: _gone, ...others } = typed[of as ComponentKey] as Properties;
    const rest = Object.fromEntries(Object.entries(typed).filter(([other]) => other !== of));
    onKeep(Object.keys(others).length > 0 ? { ...rest, [of]: others } : rest);
  };
  return (
    <>
      {Object.entries(typed).flatMap(([of, properties]) =>
        Object.entries(properties as Properties).map(([property, one]) => (
          <Group key={`${of} ${property}`} mt={6} gap={6}>
            {label(of)}: {property} {String(one.value)}
            <TakeAway label={`Do not say ${property} otherwise`} onClick={() => drop(of, property)} />
          </Group>
        )),
      )}
      <Group mt={6} gap={6} align="end">
        <Select size="xs" w={260} label="It says of" searchable data={options} value={key} onChange={setKey} />
        <Select size="xs" w={130} label="that its" searchable data={names} value={name} onChange={setName} />
        <TextInput
          size="xs"
          w={130}
          label="is"
          value={value}
          onChange={(event) => setValue(event.currentTarget.value)}
        />
        <Button size="compact-xs" variant="default" disabled={!key || !name || value === ''} onClick={put}>
          Put it in
        </Button>
      </Group>
    </>
  );
}
