import { Button, Modal } from '@mantine/core';
import { useMemo, useState } from 'react';
import { rulesText } from '../../../core/src/columns/index.ts';
import { after } from '../../../core/src/documents/index.ts';
import { useProject } from '../data/openProject.ts';
import { noRules, RulesEditor, type Rules } from '../lines/RulesEditor.tsx';
import { billAfter, useBillEdit } from '../lines/useBillEdit.ts';
import { useNames } from '../lines/useNames.ts';
import { DialogFoot } from '../controls/DialogFoot.tsx';

/** Which lines the bill shows, with how many would be left before it is applied. */
export function FilterDialog({ onClose }: { onClose: () => void }) {
  const project = useProject();
  const { change } = useBillEdit();
  const nameOf = useNames();
  const [rules, setRules] = useState<Rules>(project.billDocument.content.recipe.filter ?? noRules);
  const filter = rules.of.length > 0 ? rules : null;
  const left = useMemo(() => {
    const next = after(project.billDocument.content, [{ kind: 'changeRecipe', change: { filter } }]);
    return next && project.bill.rows.length <= 3000 ? billAfter(project, next).rows.length : null;
  }, [project, filter]);
  const apply = () => {
    change(filter ? `show where ${rulesText(filter, nameOf)}` : 'show every line', {
      kind: 'changeRecipe',
      change: { filter },
    });
    onClose();
  };
  return (
    <Modal opened onClose={onClose} title="Which lines are shown" size={640}>
      <p className="quiet">
        A line is listed when the rules hold for it; numbers do not change. A subassembly stays as long as something in
        it is listed.
      </p>
      <RulesEditor rules={rules} onChange={setRules} />
      {left !== null && (
        <p role="status">
          {left} {left === 1 ? 'line' : 'lines'} would be listed.
        </p>
      )}
      <DialogFoot
        onDo={apply}
        onClose={onClose}
        more={
          filter && (
            <Button size="compact-md" variant="subtle" color="ink" onClick={() => setRules(noRules)}>
              Show every line
            </Button>
          )
        }
      >
        Apply
      </DialogFoot>
    </Modal>
  );
}
