import { ActionIcon, Checkbox, Menu, Tooltip } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconCopy } from '@tabler/icons-react';
import { useMemo, useState, type ReactNode } from 'react';
import { wordFor } from '../../../core/src/assembly/index.ts';
import { usualNumbering, type Depth, type Identity, type Recipe } from '../../../core/src/bill/index.ts';
import { rulesText, type ColumnSource } from '../../../core/src/columns/index.ts';
import type { BillCommand } from '../../../core/src/documents/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { OrderDialog } from './OrderDialog.tsx';
import { QuantityDialog } from './QuantityDialog.tsx';
import { FilterDialog } from './RulesEditor.tsx';
import { RenumberDialog } from './RenumberDialog.tsx';
import { after } from './cellEdits.ts';
import { billAfter, useBillEdit } from './useBillEdit.ts';
import { useNames } from './useNames.ts';
import { VariantsDialog } from './VariantsDialog.tsx';
import { quantityWords } from './words.ts';

const depthWords: Readonly<Record<Depth, string>> = { 'single-level': 'the first level only', structured: 'indented, level by level', 'parts-only': 'every part once' };
const identityWords: Readonly<Record<Identity, string>> = { 'part-number': 'part number', name: 'name', shape: 'shape' };
const fallbacks: Readonly<Record<Identity, string>> = { 'part-number': 'the name where there is no number', name: 'the number where there is no name', shape: 'the number where there is no shape' };

type Open = 'quantity' | 'filter' | 'order' | 'numbers' | 'variants' | null;

/** How the bill is made, read as a sentence; the underlined words are the choices, each with how many lines it would give. */
export function RecipeSentence() {
  const project = useProject();
  const { assembly, bill, billDocument, treatments, components: { content: { variants } } } = project;
  const { change, following } = useBillEdit();
  const nameOf = useNames();
  const [open, setOpen] = useState<Open>(null);
  const { recipe, ledger, lines } = billDocument.content;
  const numbering = recipe.numbering ?? usualNumbering;
  const pinned = Object.values(ledger).filter((entry) => entry.pinned).length;
  const special = (word: string) => [...new Set(assembly.components.flatMap((component, index) => (treatments[index] && wordFor(treatments[index]) === word ? [component.name || component.partNumber] : [])))];
  const sentences = describe(recipe, { nameOf, special, variantName: recipe.variant ? variants[recipe.variant]?.name : undefined, lines: lines.length });
  const numbers = `Numbers ${numbering.prefix ? `with ${numbering.prefix} ` : ''}from ${numbering.start}${numbering.step === 1 ? '' : ` in steps of ${numbering.step}`}; they stay with their parts${pinned > 0 ? `, ${pinned} pinned` : ''}.`;
  const text = `List ${depthWords[recipe.depth]}, merging lines with the same ${sentences.identity}, ${sentences.quantity}, ${sentences.variant}, ${sentences.filter}, ${sentences.order}${sentences.treated}${sentences.lines}. ${numbers} ${bill.rows.length} lines.`;
  const copy = () => void navigator.clipboard.writeText(text).then(() => notifications.show({ message: 'The sentence is copied.' }), () => notifications.show({ message: 'The browser does not let the page copy; select the sentence and copy it by hand.', color: 'orange' }));
  return (
    <div className="recipe">
      List <Choice words={depthWords[recipe.depth]} label="Depth of the list">
        {(Object.keys(depthWords) as Depth[]).map((depth) => <Outcome key={depth} words={depthWords[depth]} chosen={depth === recipe.depth} command={{ kind: 'setDepth', depth }} onChoose={(command) => change(`list ${depthWords[depth]}`, command)} />)}
      </Choice>, merging lines with the same <Choice words={sentences.identity} label="What makes two lines one">
        {(Object.keys(identityWords) as Identity[]).map((identity) => <Outcome key={identity} words={`${identityWords[identity]} (${fallbacks[identity]})`} chosen={identity === recipe.identity} command={{ kind: 'setIdentity', identity }} onChoose={(command) => change(`merge by ${identityWords[identity]}`, command)} />)}
        <Menu.Divider />
        <Menu.Label>… and the same</Menu.Label>
        <IdentityWith recipe={recipe} onChange={(identityWith) => change(identityWith.length > 0 ? `merge by ${identityWith.join(', ')} too` : 'merge by it alone', { kind: 'changeRecipe', change: { identityWith: identityWith.length > 0 ? identityWith : null } })} />
      </Choice>, <Pick words={sentences.quantity} label="What is counted" onClick={() => setOpen('quantity')} />, <Pick words={sentences.variant} label="Variant" onClick={() => setOpen('variants')} />, <Pick words={sentences.filter} label="Which lines are shown" onClick={() => setOpen('filter')} />, <Pick words={sentences.order} label="Order of the lines" onClick={() => setOpen('order')} />{sentences.treated}{sentences.lines}.
      <span className="quiet"> <Pick words="Numbers" label="Renumber" onClick={() => setOpen('numbers')} />{numbers.slice('Numbers'.length)} {bill.rows.length} lines.{following ? ' Balloons follow …' : ''} </span>
      <Tooltip label="Copy the sentence"><ActionIcon size="sm" variant="subtle" color="ink" aria-label="Copy the sentence" onClick={copy}><IconCopy size={14} /></ActionIcon></Tooltip>
      {open === 'quantity' && <QuantityDialog onClose={() => setOpen(null)} />}
      {open === 'filter' && <FilterDialog onClose={() => setOpen(null)} />}
      {open === 'order' && <OrderDialog onClose={() => setOpen(null)} />}
      {open === 'numbers' && <RenumberDialog onClose={() => setOpen(null)} />}
      {open === 'variants' && <VariantsDialog onClose={() => setOpen(null)} />}
    </div>
  );
}

interface Knowing {
  readonly nameOf: (source: ColumnSource) => string;
  /** Names of what is treated so. */
  readonly special: (word: string) => string[];
  readonly variantName: string | undefined;
  readonly lines: number;
}

/** The parts of the sentence, in words. */
function describe(recipe: Recipe, { nameOf, special, variantName, lines }: Knowing): Readonly<Record<'identity' | 'quantity' | 'variant' | 'filter' | 'order' | 'treated' | 'lines', string>> {
  const { identityWith = [], machines = 1, quantityRules = [], quantityOf = {}, filter, sort = [], groups = [] } = recipe;
  const keys = (of: readonly { source: ColumnSource; descending?: boolean }[]) => of.map(({ source, descending }) => `${nameOf(source)}${descending ? ' downwards' : ''}`).join(', then ');
  const counted = [...quantityRules.map(({ is }) => quantityWords(is)), ...(Object.keys(quantityOf).length > 0 ? [`${Object.keys(quantityOf).length} by choice`] : [])];
  const named = (word: string, begin: string) => (special(word).length > 0 ? `, ${begin} ${special(word).length > 4 ? `${special(word).length} components` : special(word).join(', ')}` : '');
  return {
    identity: [identityWords[recipe.identity], ...identityWith].join(' and '),
    quantity: `counted ${counted.length > 0 ? `by the piece or ${[...new Set(counted)].join(', ')}, ` : ''}over ${machines === 1 ? 'one whole machine' : `${machines} machines`}`,
    variant: recipe.variant ? `as ${variantName ?? 'a variant that is gone'}` : 'with everything in it',
    filter: filter && filter.of.length > 0 ? `where ${rulesText(filter, nameOf)}` : 'showing every line',
    order: groups.length + sort.length === 0 ? 'in the order of structure' : [groups.length > 0 ? `grouped by ${keys(groups)}` : '', sort.length > 0 ? `sorted by ${keys(sort)}` : ''].filter(Boolean).join(' and '),
    treated: named('listed whole', 'listing whole') + named('opened up', 'opening up') + named('left out', 'leaving out'),
    lines: lines === 0 ? '' : `, with ${lines} ${lines === 1 ? 'line' : 'lines'} that ${lines === 1 ? 'has' : 'have'} no shape`,
  };
}

function Choice({ words, label, children }: { words: string; label: string; children: ReactNode }) {
  return (
    <Menu position="bottom-start" shadow="md" closeOnItemClick>
      <Menu.Target><button aria-label={`${label}: ${words}`}>{words}</button></Menu.Target>
      <Menu.Dropdown mah={460} style={{ overflowY: 'auto' }}>{children}</Menu.Dropdown>
    </Menu>
  );
}

const Pick = ({ words, label, onClick }: { words: string; label: string; onClick: () => void }) => <button aria-label={`${label}: ${words}`} onClick={onClick}>{words}</button>;

/** A choice with what it would give. */
function Outcome({ words, chosen, command, onChoose }: { words: string; chosen: boolean; command: BillCommand; onChoose: (command: BillCommand) => void }) {
  return <Menu.Item disabled={chosen} rightSection={<LineCount command={command} />} onClick={() => onChoose(command)}>{words}</Menu.Item>;
}

function LineCount({ command }: { command: BillCommand }) {
  const project = useProject();
  const words = useMemo(() => {
    if (project.bill.rows.length > 3000) return ''; // counting would hold the page up
    try {
      const next = after(project.billDocument.content, [command]);
      return next ? `${billAfter(project, next).rows.length} lines` : '';
    } catch (error) {
      return (error as { code?: string }).code === 'too-many-rows' ? 'too many lines' : 'not possible';
    }
  }, [project, command]);
  return <span className="quiet">{words}</span>;
}

/** Properties that must agree before two lines are one. */
function IdentityWith({ recipe, onChange }: { recipe: Recipe; onChange: (names: string[]) => void }) {
  const { assembly } = useProject();
  const names = useMemo(() => [...new Set(assembly.components.flatMap(({ properties }) => Object.keys(properties)))].sort(), [assembly]);
  const chosen = recipe.identityWith ?? [];
  if (names.length === 0) return <div className="quiet" style={{ padding: '4px 12px' }}>This machine has no properties.</div>;
  return <div style={{ display: 'grid', gap: 6, padding: '4px 12px 8px' }}>{names.map((name) => <Checkbox key={name} size="xs" label={name} checked={chosen.includes(name)} onChange={({ currentTarget: { checked } }) => onChange(checked ? [...chosen, name] : chosen.filter((one) => one !== name))} />)}</div>;
}
