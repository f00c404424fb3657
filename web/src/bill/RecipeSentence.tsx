import { Menu } from '@mantine/core';
import type { ReactNode } from 'react';
import { wordFor } from '../../../core/src/assembly/index.ts';
import { makeBill, numbersToKeep, type Depth, type Identity, type Recipe } from '../../../core/src/bill/index.ts';
import type { Command } from '../../../core/src/documents/index.ts';
import { useProject } from '../data/ProjectContext.tsx';
import { useRearrange } from '../sheets/useRearrange.ts';

const depthWords: Readonly<Record<Depth, string>> = { 'single-level': 'the first level only', structured: 'indented, level by level', 'parts-only': 'every part once' };
const identityWords: Readonly<Record<Identity, string>> = { 'part-number': 'part number', name: 'name' };

/** How the bill is made, read as a sentence; the underlined words are the choices, each with how many lines it would give. */
export function RecipeSentence() {
  const { assembly, bill, billDocument, treatments, perform } = useProject();
  const rearrange = useRearrange();
  const { recipe, ledger } = billDocument.content;
  const made = (changed: Partial<Recipe>) => makeBill(assembly, { ...recipe, ...changed }, { treatments, ledger });
  const choose = (changed: Partial<Recipe>, command: Command, label: string) => {
    const next = made(changed);
    const numbers = numbersToKeep(next);
    const steps: { document: string; command: Command }[] = [{ document: billDocument.id, command }];
    if (Object.keys(numbers).length > 0) steps.push({ document: billDocument.id, command: { kind: 'setNumbers', numbers } });
    void rearrange({ ...recipe, ...changed }, { ...ledger, ...numbers }).then((more) => perform(label, ...steps, ...more));
  };
  const special = assembly.components.flatMap((component, index) => (treatments[index] ? [{ component, word: wordFor(treatments[index]) }] : []));
  const named = (word: string) => [...new Set(special.filter((one) => one.word === word).map(({ component }) => component.name || component.partNumber))].join(', ');
  const pinned = Object.values(ledger).filter((entry) => entry.pinned).length;
  return (
    <div className="recipe">
      List <Choice words={depthWords[recipe.depth]} label="Depth of the list">
        {(Object.keys(depthWords) as Depth[]).map((depth) => (
          <Menu.Item key={depth} disabled={depth === recipe.depth} rightSection={<LineCount count={() => made({ depth }).rows.length} />} onClick={() => choose({ depth }, { kind: 'setDepth', depth }, `list ${depthWords[depth]}`)}>{depthWords[depth]}</Menu.Item>
        ))}
      </Choice>, merging lines with the same <Choice words={identityWords[recipe.identity]} label="What makes two lines one">
        {(Object.keys(identityWords) as Identity[]).map((identity) => (
          <Menu.Item key={identity} disabled={identity === recipe.identity} rightSection={<LineCount count={() => made({ identity }).rows.length} />} onClick={() => choose({ identity }, { kind: 'setIdentity', identity }, `merge by ${identityWords[identity]}`)}>{identityWords[identity]}</Menu.Item>
        ))}
      </Choice>, counted over one whole machine, in the order of structure
      {named('listed whole') && <>, with <strong>{named('listed whole')}</strong> listed whole</>}
      {named('opened up') && <>, opening up <strong>{named('opened up')}</strong></>}
      {named('left out') && <>, leaving out <strong>{named('left out')}</strong></>}.
      <span className="quiet"> Numbers stay with their parts{pinned > 0 ? `; ${pinned} pinned` : ''}. {bill.rows.length} lines.</span>
    </div>
  );
}

function Choice({ words, label, children }: { words: string; label: string; children: ReactNode }) {
  return (
    <Menu position="bottom-start" shadow="md">
      <Menu.Target><button aria-label={`${label}: ${words}`}>{words}</button></Menu.Target>
      <Menu.Dropdown>{children}</Menu.Dropdown>
    </Menu>
  );
}

function LineCount({ count }: { count: () => number }) {
  let words: string;
  try {
    words = `${count()} lines`;
  } catch (error) {
    words = (error as { code?: string }).code === 'too-many-rows' ? 'too many lines' : 'not possible';
  }
  return <span className="quiet">{words}</span>;
}
