import { Checkbox, Menu, Popover, Select, Stack } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { Fragment, useState } from 'react';
import { buyingRoles, roleWords, sourcesFor, type BuyingRole } from '../../../core/src/buying/index.ts';
import { currencies, propertyNames, referenceOf } from '../../../core/src/columns/index.ts';
import { billShownBy } from '../../../core/src/documents/index.ts';
import { listCatalogues } from '../data/api.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { Amount } from './LinePanel.tsx';
import { usePlanEdit, type StoredPlan } from './usePlanEdit.ts';
import { mm } from './words.ts';

const named = (names: readonly string[], none: string): string =>
  names.length === 0 ? none : names.length === 1 ? names[0] : `${names.slice(0, -1).join(', ')} and ${names.at(-1)!}`;

/** What is planned, as a sentence whose choices are underlined. */
export function PlanSentence({ open }: { open: StoredPlan }) {
  const { bills } = useDocuments();
  const { assembly } = useMachine();
  const { content: plan } = open;
  const { change } = usePlanEdit(open);
  const bill = billShownBy(bills, { bill: plan.bill });
  return (
    <p className="recipe">
      Everything for <Built open={open} /> as{' '}
      <Menu position="bottom-start">
        <Menu.Target>
          <button>{bill.content.name}</button>
        </Menu.Target>
        <Menu.Dropdown>
          {bills.map(({ id, content }) => (
            <Menu.Item
              key={id}
              onClick={() => change(`buy what ${content.name} lists`, { kind: 'changePlan', change: { bill: id } })}
            >
              {content.name}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>{' '}
      lists it, with{' '}
      <Choice words={`${mm(plan.sparePercent)} %`}>
        <Amount
          label="Spares of what is bought by the piece [%]"
          value={plan.sparePercent}
          typed={false}
          onType={(value) =>
            change('say how many spares', { kind: 'changePlan', change: { sparePercent: value ?? 0 } })
          }
        />
      </Choice>{' '}
      spares; prices from{' '}
      <Catalogues
        open={open}
        field="catalogues"
        none={bill.content.catalogues?.length ? 'the list’s catalogues' : 'no catalogue'}
      />{' '}
      in <Currency open={open} />, bars from <Catalogues open={open} field="stock" none="no catalogue" />, cut with{' '}
      <Cutting open={open} />. <Columns open={open} names={propertyNames(assembly)} />
    </p>
  );
}

interface OfPlan {
  readonly open: StoredPlan;
}

/** How many of which variants. */
function Built({ open }: OfPlan) {
  const { components } = useDocuments();
  const { content: plan } = open;
  const { change } = usePlanEdit(open);
  const variants = [
    {
      id: null as string | null,
      name: Object.keys(components.content.variants).length > 0 ? 'the whole machine' : 'machine',
    },
    ...Object.entries(components.content.variants).map(([id, { name }]) => ({ id: id as string | null, name })),
  ];
  const countOf = (variant: string | null) => plan.builds.find((one) => one.variant === variant)?.count ?? 0;
  const build = (variant: string | null, count: number) => {
    const builds = plan.builds.some((one) => one.variant === variant)
      ? plan.builds.map((one) => (one.variant === variant ? { variant, count } : one))
      : [...plan.builds, { variant, count }];
    // The last machine stays: a plan for none plans nothing.
    if (builds.some((one) => one.count > 0))
      change('say what is built', { kind: 'changePlan', change: { builds: builds.filter((one) => one.count > 0) } });
  };
  const machines = plan.builds.filter(({ count }) => count > 0);
  const builtWords = named(
    machines.map(({ variant, count }) => {
      const name = variants.find(({ id }) => id === variant)?.name ?? 'a variant that is gone';
      return variants.length > 1 ? `${count} × ${name}` : `${count} ${count === 1 ? 'machine' : 'machines'}`;
    }),
    'nothing',
  );
  return (
    <Popover position="bottom-start" withinPortal>
      <Popover.Target>
        <button>{builtWords}</button>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={6}>
          {variants.map(({ id, name }) => (
            <Amount
              key={id ?? ''}
              label={name}
              value={countOf(id)}
              typed={false}
              whole
              onType={(value) => build(id, value ?? 0)}
            />
          ))}
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}

/** Which catalogues prices, or bars, come from. */
function Catalogues({ open, field, none }: OfPlan & { readonly field: 'catalogues' | 'stock'; readonly none: string }) {
  const { content: plan } = open;
  const { change } = usePlanEdit(open);
  const { data: catalogues = [] } = useQuery({ queryKey: ['catalogues'], queryFn: listCatalogues });
  const names = plan[field].map((id) => catalogues.find((one) => one.id === id)?.name ?? 'a catalogue that is gone');
  const tick = (id: string) =>
    change(field === 'stock' ? 'say where bars come from' : 'say where prices come from', {
      kind: 'changePlan',
      change: { [field]: plan[field].includes(id) ? plan[field].filter((one) => one !== id) : [...plan[field], id] },
    });
  return (
    <Popover position="bottom-start" withinPortal>
      <Popover.Target>
        <button>{named(names, none)}</button>
      </Popover.Target>
      <Popover.Dropdown>
        {catalogues.length === 0 ? (
          <span className="quiet">There is no catalogue yet; bring a table in under Catalogues.</span>
        ) : (
          <Stack gap={6}>
            {catalogues.map(({ id, name }) => (
              <Checkbox key={id} size="xs" label={name} checked={plan[field].includes(id)} onChange={() => tick(id)} />
            ))}
          </Stack>
        )}
      </Popover.Dropdown>
    </Popover>
  );
}

/** In what is counted, and what other money is worth in it. */
function Currency({ open }: OfPlan) {
  const { content: plan } = open;
  const { change } = usePlanEdit(open);
  return (
    <Choice words={plan.currency}>
      <Select
        size="xs"
        label="Currency"
        searchable
        allowDeselect={false}
        data={[...currencies]}
        value={plan.currency}
        onChange={(currency) =>
          currency && change(`count in ${currency}`, { kind: 'changePlan', change: { currency } })
        }
      />
      {currencies
        .filter((code) => code !== plan.currency)
        .map((code) => (
          <Fragment key={code}>
            {(Object.hasOwn(plan.rates, code) || ['USD', 'GBP', 'NOK', 'SEK', 'CHF'].includes(code)) && (
              <Amount
                label={`One ${code} in ${plan.currency}`}
                value={Object.hasOwn(plan.rates, code) ? plan.rates[code] : null}
                typed={Object.hasOwn(plan.rates, code)}
                onType={(rate) =>
                  change(`say the rate of ${code}`, {
                    kind: 'setEntries',
                    entries: { rates: { [code]: rate !== null && rate > 0 ? rate : null } },
                  })
                }
              />
            )}
          </Fragment>
        ))}
    </Choice>
  );
}

/** How bars are cut. */
function Cutting({ open }: OfPlan) {
  const { content: plan } = open;
  const { change } = usePlanEdit(open);
  return (
    <Choice
      words={`a saw of ${mm(plan.kerfMm)} mm${plan.trimMm > 0 ? ` and ends trimmed by ${mm(plan.trimMm)} mm` : ''}`}
    >
      {(
        [
          ['kerfMm', 'Saw cut [mm]'],
          ['trimMm', 'Ends trimmed by [mm]'],
          ['leastLeftOverMm', 'Left-overs kept from [mm]'],
        ] as const
      ).map(([field, label]) => (
        <Amount
          key={field}
          label={label}
          value={plan[field]}
          typed={false}
          onType={(value) => change('say how it is cut', { kind: 'changePlan', change: { [field]: value ?? 0 } })}
        />
      ))}
    </Choice>
  );
}

function Choice({ words, children }: { words: string; children: React.ReactNode }) {
  return (
    <Popover position="bottom-start" withinPortal trapFocus>
      <Popover.Target>
        <button>{words}</button>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={6}>{children}</Stack>
      </Popover.Dropdown>
    </Popover>
  );
}

/** Which column or property says what buying has to know. */
function Columns({ open, names }: { open: StoredPlan; names: readonly string[] }) {
  const { bills } = useDocuments();
  const { change } = usePlanEdit(open);
  const [shown, setShown] = useState(false);
  const { content: plan } = open;
  const { columns } = billShownBy(bills, { bill: plan.bill }).content;
  const found = sourcesFor(plan.sources, names);
  const made = columns.filter(({ source }) => source === 'pattern' || source === 'formula');
  const choices = [
    ...names.map((name) => ({ value: `property:${name}`, label: name })),
    ...made.map((column) => ({ value: referenceOf(column), label: column.heading })),
  ];
  const known = new Set(choices.map(({ value }) => value));
  const set = (role: BuyingRole, source: string | null) =>
    change(`say where ${roleWords[role].toLowerCase()} is found`, {
      kind: 'setEntries',
      entries: { sources: { [role]: source } },
    });
  return (
    <Popover position="bottom-end" withinPortal opened={shown} onChange={setShown} trapFocus>
      <Popover.Target>
        <button className="aside" onClick={() => setShown(!shown)}>
          what is found where
        </button>
      </Popover.Target>
      <Popover.Dropdown className="rolelist">
        {buyingRoles.map((role) => {
          const value = found[role] ?? null;
          return (
            <Select
              key={role}
              size="xs"
              label={roleWords[role]}
              placeholder="nothing says it"
              searchable
              clearable={Object.hasOwn(plan.sources, role)}
              data={
                value !== null && !known.has(value)
                  ? [...choices, { value, label: value.replace(/^property:/, '') }]
                  : choices
              }
              value={value}
              onChange={(source) => set(role, source)}
            />
          );
        })}
      </Popover.Dropdown>
    </Popover>
  );
}
