import { ActionIcon, Checkbox, Menu, Tooltip } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconCheck, IconCopy } from '@tabler/icons-react';
import { memo, useMemo, useState, type ReactNode } from 'react';
import {
  depthWords,
  identityFallbacks,
  identityWords,
  recipeSentence,
  recipeWords,
  type Depth,
  type Identity,
  type Recipe,
} from '../../../core/src/bill/index.ts';
import { ownValue } from '../../../core/src/assembly/index.ts';
import type { BillCommand } from '../../../core/src/documents/index.ts';
import { count } from '../count.ts';
import { useMachine, useProject } from '../data/openProject.ts';
import { OrderDialog } from './OrderDialog.tsx';
import { QuantityDialog } from './QuantityDialog.tsx';
import { FilterDialog } from './FilterDialog.tsx';
import { RenumberDialog } from '../lines/RenumberDialog.tsx';
import { after } from '../../../core/src/documents/index.ts';
import { billAfter, useBillEdit } from '../lines/useBillEdit.ts';
import { useNames } from '../lines/useNames.ts';
import { VariantsDialog } from './VariantsDialog.tsx';

type Open = 'quantity' | 'filter' | 'order' | 'numbers' | 'variants' | null;

/**
 * How the bill is made, read as a sentence; the underlined words are the choices, each with how many lines it would
 * give.
 */
export const RecipeSentence = memo(function RecipeSentence() {
  const project = useProject();
  const {
    assembly,
    bill,
    billDocument,
    decisions,
    components: {
      content: { variants },
    },
  } = project;
  const { change, following } = useBillEdit();
  const nameOf = useNames();
  const [open, setOpen] = useState<Open>(null);
  const { recipe } = billDocument.content;
  const words = recipeWords(recipe, {
    assembly,
    decisions,
    nameOf,
    variantName: recipe.variant ? ownValue(variants, recipe.variant)?.name : undefined,
  });
  const text = recipeSentence(words, bill.rows.length);
  const copy = () =>
    void navigator.clipboard.writeText(text).then(
      () => notifications.show({ message: 'The sentence is copied.' }),
      () =>
        notifications.show({
          message: 'The browser does not let the page copy; select the sentence and copy it by hand.',
          color: 'orange',
        }),
    );
  return (
    <div className="recipe">
      List{' '}
      <Choice words={words.depth} label="Depth of the list">
        {(Object.keys(depthWords) as Depth[]).map((depth) => (
          <Outcome
            key={depth}
            words={depthWords[depth]}
            chosen={depth === recipe.depth}
            command={{ kind: 'setDepth', depth }}
            onChoose={(command) => change(`list ${depthWords[depth]}`, command)}
          />
        ))}
      </Choice>
      , merging lines with the same{' '}
      <Choice words={words.identity} label="What makes two lines one">
        {(Object.keys(identityWords) as Identity[]).map((identity) => (
          <Outcome
            key={identity}
            words={`${identityWords[identity]} (${identityFallbacks[identity]})`}
            chosen={identity === recipe.identity}
            command={{ kind: 'setIdentity', identity }}
            onChoose={(command) => change(`merge by ${identityWords[identity]}`, command)}
          />
        ))}
        <Menu.Divider />
        <Menu.Label>… and the same</Menu.Label>
        <IdentityWith
          recipe={recipe}
          onChange={(identityWith) =>
            change(identityWith.length > 0 ? `merge by ${identityWith.join(', ')} too` : 'merge by it alone', {
              kind: 'changeRecipe',
              change: { identityWith: identityWith.length > 0 ? identityWith : null },
            })
          }
        />
      </Choice>
      , <Pick words={words.quantity} label="What is counted" onClick={() => setOpen('quantity')} />,{' '}
      <Pick words={words.variant} label="Variant" onClick={() => setOpen('variants')} />,{' '}
      <Pick words={words.filter} label="Which lines are shown" onClick={() => setOpen('filter')} />,{' '}
      <Pick words={words.order} label="Order of the lines" onClick={() => setOpen('order')} />
      {words.rest}.
      <span className="quiet">
        {' '}
        <Pick words="Numbers" label="Renumber" onClick={() => setOpen('numbers')} />
        {words.numbers.slice('Numbers'.length)} {count(bill.rows.length, 'line')}.
        {following ? ' Balloons follow …' : ''}{' '}
      </span>
      <Tooltip label="Copy the sentence">
        <ActionIcon size="sm" variant="subtle" color="ink" aria-label="Copy the sentence" onClick={copy}>
          <IconCopy size={14} />
        </ActionIcon>
      </Tooltip>
      {open === 'quantity' && <QuantityDialog onClose={() => setOpen(null)} />}
      {open === 'filter' && <FilterDialog onClose={() => setOpen(null)} />}
      {open === 'order' && <OrderDialog onClose={() => setOpen(null)} />}
      {open === 'numbers' && <RenumberDialog onClose={() => setOpen(null)} />}
      {open === 'variants' && <VariantsDialog onClose={() => setOpen(null)} />}
    </div>
  );
});

function Choice({ words, label, children }: { words: string; label: string; children: ReactNode }) {
  return (
    <Menu position="bottom-start" shadow="md" closeOnItemClick>
      <Menu.Target>
        <button aria-label={`${label}: ${words}`}>{words}</button>
      </Menu.Target>
      <Menu.Dropdown mah={460} style={{ overflowY: 'auto' }}>
        {children}
      </Menu.Dropdown>
    </Menu>
  );
}

const Pick = ({ words, label, onClick }: { words: string; label: string; onClick: () => void }) => (
  <button aria-label={`${label}: ${words}`} onClick={onClick}>
    {words}
  </button>
);

/** A choice with what it would give. */
function Outcome({
  words,
  chosen,
  command,
  onChoose,
}: {
  words: string;
  chosen: boolean;
  command: BillCommand;
  onChoose: (command: BillCommand) => void;
}) {
  return (
    <Menu.Item
      aria-current={chosen}
      leftSection={<IconCheck size={14} visibility={chosen ? 'visible' : 'hidden'} />}
      rightSection={<LineCount command={command} />}
      onClick={() => chosen || onChoose(command)}
    >
      {words}
    </Menu.Item>
  );
}

function LineCount({ command }: { command: BillCommand }) {
  const project = useProject();
  const words = useMemo(() => {
    if (project.bill.rows.length > 3000) return ''; // counting would hold the page up
    try {
      const next = after(project.billDocument.content, [command]);
      return next ? count(billAfter(project, next).rows.length, 'line') : '';
    } catch (error) {
      return (error as { code?: string }).code === 'too-many-rows' ? 'too many lines' : 'not possible';
    }
  }, [project, command]);
  return <span className="quiet">{words}</span>;
}

/** Properties that must agree before two lines are one. */
function IdentityWith({ recipe, onChange }: { recipe: Recipe; onChange: (names: string[]) => void }) {
  const { assembly } = useMachine();
  const names = useMemo(
    () => [...new Set(assembly.components.flatMap(({ properties }) => Object.keys(properties)))].sort(),
    [assembly],
  );
  const chosen = recipe.identityWith ?? [];
  if (names.length === 0)
    return (
      <div className="quiet" style={{ padding: '4px 12px' }}>
        This machine has no properties.
      </div>
    );
  return (
    <div style={{ display: 'grid', gap: 6, padding: '4px 12px 8px' }}>
      {names.map((name) => (
        <Checkbox
          key={name}
          size="xs"
          label={name}
          checked={chosen.includes(name)}
          onChange={({ currentTarget: { checked } }) =>
            onChange(checked ? [...chosen, name] : chosen.filter((one) => one !== name))
          }
        />
      ))}
    </div>
  );
}
