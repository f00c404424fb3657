import { ActionIcon, Button, Checkbox, Group, Modal, Select, TextInput } from '@mantine/core';
import { IconArrowUp } from '@tabler/icons-react';
import { useState } from 'react';
import type { GroupKey, SortKey } from '../../../core/src/bill/index.ts';
import type { ColumnSource } from '../../../core/src/columns/index.ts';
import { useMachine } from '../data/openProject.ts';
import { useBillEdit } from '../lines/useBillEdit.ts';
import { useNames, useSources } from '../lines/useNames.ts';
import { OneMore, TakeAway } from '../controls/listButtons.tsx';
import { DialogFoot } from '../controls/DialogFoot.tsx';
import { ColumnSelect } from '../lines/ColumnSelect.tsx';

/** By what the lines are grouped and sorted: the first key decides, the next where it is equal. */
export function OrderDialog({ onClose }: { onClose: () => void }) {
  const {
    billDocument: {
      content: { recipe },
    },
  } = useMachine();
  const { change } = useBillEdit();
  const nameOf = useNames();
  const [groups, setGroups] = useState<readonly GroupKey[]>(recipe.groups ?? []);
  const [sort, setSort] = useState<readonly SortKey[]>(recipe.sort ?? []);
  const [locale, setLocale] = useState(recipe.locale ?? '');
  const known = isLocale(locale);
  const apply = () => {
    const words = [
      groups.length > 0 ? `group by ${groups.map(({ source }) => nameOf(source)).join(', ')}` : '',
      sort.length > 0 ? `sort by ${sort.map(({ source }) => nameOf(source)).join(', ')}` : '',
    ]
      .filter(Boolean)
      .join(', ');
    change(words || 'order of structure', {
      kind: 'changeRecipe',
      change: {
        groups: groups.length > 0 ? groups : null,
        sort: sort.length > 0 ? sort : null,
        locale: locale || null,
      },
    });
    onClose();
  };
  return (
    <Modal opened onClose={onClose} title="Order of the lines" size={560}>
      <p className="quiet">
        Natural order: M6 before M10, 2 before 10. What is empty comes last. Numbers stay with their parts; renumbering
        is an act of its own.
      </p>
      <h3>Grouped by</h3>
      <Keys
        keys={groups}
        onChange={setGroups}
        extra={(key, put) => (
          <Checkbox
            size="xs"
            label="sums"
            checked={key.subtotal ?? false}
            onChange={({ currentTarget: { checked } }) => put({ ...key, subtotal: checked })}
          />
        )}
      />
      <h3>Sorted by</h3>
      <Keys keys={sort} onChange={setSort} />
      <TextInput
        mt="sm"
        w={220}
        size="xs"
        label="Alphabet of (language code)"
        placeholder="as this computer"
        value={locale}
        error={known ? null : 'Not a language code; try de, sv, en-GB.'}
        onChange={(event) => setLocale(event.currentTarget.value.trim())}
      />
      <DialogFoot
        disabled={!known}
        onDo={apply}
        onClose={onClose}
        more={
          groups.length + sort.length > 0 && (
            <Button
              size="compact-md"
              variant="subtle"
              color="ink"
              onClick={() => {
                setGroups([]);
                setSort([]);
              }}
            >
              Order of structure
            </Button>
          )
        }
      >
        Apply
      </DialogFoot>
    </Modal>
  );
}

function isLocale(code: string): boolean {
  try {
    return code === '' || Intl.Collator.supportedLocalesOf(code).length >= 0;
  } catch {
    return false;
  }
}

interface KeysProps<Key extends SortKey> {
  readonly keys: readonly Key[];
  readonly onChange: (keys: readonly Key[]) => void;
  readonly extra?: (key: Key, put: (key: Key) => void) => React.ReactNode;
}

function Keys<Key extends SortKey>({ keys, onChange, extra }: KeysProps<Key>) {
  const sources = useSources('rules');
  const put = (at: number, key: Key) => onChange(keys.with(at, key));
  return (
    <div className="rules">
      {keys.map((key, at) => (
        <Group key={at} gap={6} wrap="nowrap">
          <ColumnSelect source={key.source} onChange={(source) => put(at, { ...key, source })} />
          <Select
            size="xs"
            aria-label="Direction"
            w={130}
            allowDeselect={false}
            data={['upwards', 'downwards']}
            value={key.descending ? 'downwards' : 'upwards'}
            onChange={(way) => put(at, { ...key, descending: way === 'downwards' })}
          />
          {extra?.(key, (next) => put(at, next))}
          <ActionIcon
            size="sm"
            variant="subtle"
            color="ink"
            aria-label="Earlier"
            disabled={at === 0}
            onClick={() => onChange(keys.toSpliced(at, 1).toSpliced(at - 1, 0, key))}
          >
            <IconArrowUp size={14} />
          </ActionIcon>
          <TakeAway label="Take away" onClick={() => onChange(keys.toSpliced(at, 1))} />
        </Group>
      ))}
      <div>
        <OneMore
          onClick={() =>
            onChange([
              ...keys,
              {
                source: (sources.find(({ value }) => !keys.some((key) => key.source === value))?.value ??
                  'name') as ColumnSource,
              } as Key,
            ])
          }
        >
          Key
        </OneMore>
      </div>
    </div>
  );
}
