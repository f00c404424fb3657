import { ActionIcon, Button, Checkbox, Group, Modal, NumberInput } from '@mantine/core';
import { IconPlus, IconTrash } from '@tabler/icons-react';
import { useState } from 'react';
import type { CutGroup, TypedBar } from '../../../core/src/buying/index.ts';
import { usePlanEdit, type StoredPlan } from './usePlanEdit.ts';
import { mm } from './words.ts';

type Draft = { readonly [Key in keyof TypedBar]: number | string };
const empty: Draft = { lengthMm: '', price: '', available: '' };
const numberIn = (value: number | string): number | null => (typeof value === 'number' ? value : null);

/** Which bars a section is cut from, and by which saw. */
export function GroupDialog({ open, group, onClose }: { open: StoredPlan; group: CutGroup; onClose: () => void }) {
  const { content: plan } = open;
  const { changeGroup } = usePlanEdit(open);
  const choice = Object.hasOwn(plan.groups, group.key) ? plan.groups[group.key] : {};
  const [own, setOwn] = useState(choice.bars !== undefined || group.stock.length === 0);
  const [bars, setBars] = useState<readonly Draft[]>(() => {
    const known = (choice.bars ?? group.stock).map(({ lengthMm, price, available }) => ({
      lengthMm,
      price: price ?? '',
      available: available ?? '',
    }));
    return known.length > 0 ? known : [empty];
  });
  const [saw, setSaw] = useState<{
    readonly kerfMm: number | string;
    readonly trimMm: number | string;
    readonly leastLeftOverMm: number | string;
  }>({
    kerfMm: choice.kerfMm ?? '',
    trimMm: choice.trimMm ?? '',
    leastLeftOverMm: choice.leastLeftOverMm ?? '',
  });
  const [otherwise, setOtherwise] = useState(false);
  const put = (at: number, change: Partial<Draft>) =>
    setBars(bars.map((bar, index) => (index === at ? { ...bar, ...change } : bar)));
  const typed = bars.flatMap(({ lengthMm, price, available }): TypedBar[] => {
    const length = numberIn(lengthMm);
    return length !== null && length > 0
      ? [{ lengthMm: length, price: numberIn(price), available: numberIn(available) }]
      : [];
  });
  const title = [group.section, group.material].filter(Boolean).join(', ');
  const apply = () => {
    changeGroup(`say what ${title} is cut from`, group.key, {
      bars: own ? typed : null,
      kerfMm: numberIn(saw.kerfMm),
      trimMm: numberIn(saw.trimMm),
      leastLeftOverMm: numberIn(saw.leastLeftOverMm),
      otherwise: otherwise ? true : null,
    });
    onClose();
  };
  return (
    <Modal opened onClose={onClose} title={title} size={560}>
      <p className="quiet">
        The longest piece is {mm(group.pieces[0].lengthMm)} mm. Bars come from the catalogues of the plan where their
        section and material agree, unless they are typed here.
      </p>
      <Checkbox
        label="These bars, whatever the catalogues say"
        checked={own}
        disabled={otherwise}
        onChange={({ currentTarget }) => setOwn(currentTarget.checked)}
      />
      {own && !otherwise && (
        <>
          {bars.map((bar, at) => (
            <Group key={at} gap="xs" align="end" mt="xs" wrap="nowrap">
              <NumberInput
                size="xs"
                label={at === 0 ? 'Length [mm]' : undefined}
                aria-label={`Length of bar ${at + 1} in mm`}
                data-autofocus={at === 0 || undefined}
                min={0.001}
                max={1e6}
                hideControls
                value={bar.lengthMm}
                onChange={(lengthMm) => put(at, { lengthMm })}
              />
              <NumberInput
                size="xs"
                label={at === 0 ? `Price [${plan.currency}]` : undefined}
                aria-label={`Price of bar ${at + 1}`}
                min={0}
                hideControls
                value={bar.price}
                onChange={(price) => put(at, { price })}
              />
              <NumberInput
                size="xs"
                label={at === 0 ? 'Only so many' : undefined}
                aria-label={`How many of bar ${at + 1} there are`}
                min={0}
                allowDecimal={false}
                hideControls
                value={bar.available}
                onChange={(available) => put(at, { available })}
              />
              <ActionIcon
                variant="subtle"
                color="ink"
                aria-label={`Take bar ${at + 1} away`}
                onClick={() => setBars(bars.filter((_, index) => index !== at))}
              >
                <IconTrash size={16} />
              </ActionIcon>
            </Group>
          ))}
          <Button
            size="compact-xs"
            mt={6}
            variant="subtle"
            leftSection={<IconPlus size={14} />}
            onClick={() => setBars([...bars, empty])}
          >
            Another length
          </Button>
        </>
      )}
      <Group gap="xs" mt="sm" grow>
        {(
          [
            ['kerfMm', 'Saw cut [mm]'],
            ['trimMm', 'Ends trimmed by [mm]'],
            ['leastLeftOverMm', 'Left-over kept from [mm]'],
          ] as const
        ).map(([field, label]) => (
          <NumberInput
            key={field}
            size="xs"
            label={label}
            placeholder={mm(plan[field])}
            min={0}
            hideControls
            disabled={otherwise}
            value={saw[field]}
            onChange={(value) => setSaw({ ...saw, [field]: value })}
          />
        ))}
      </Group>
      <Checkbox
        mt="sm"
        label="These pieces are not cut from bars"
        checked={otherwise}
        onChange={({ currentTarget }) => setOtherwise(currentTarget.checked)}
      />
      <Group mt="md" gap="xs">
        <Button onClick={apply} disabled={own && !otherwise && typed.length === 0}>
          Apply
        </Button>
        <Button variant="default" onClick={onClose}>
          Leave
        </Button>
      </Group>
    </Modal>
  );
}
