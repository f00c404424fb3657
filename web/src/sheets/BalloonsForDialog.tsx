import { Modal } from '@mantine/core';
import { useState } from 'react';
import { rulesText } from '../../../core/src/columns/index.ts';
import { noRules, RulesEditor, type Rules } from '../lines/RulesEditor.tsx';
import { useNames } from '../lines/useNames.ts';
import { DialogFoot } from '../controls/DialogFoot.tsx';

/** Which lines of the list get balloons here; those that have one keep it. */
export function BalloonsForDialog({
  onPlace,
  onClose,
}: {
  /** @param words what is chosen, for the gesture */
  readonly onPlace: (filter: Rules, words: string) => void;
  readonly onClose: () => void;
}) {
  const nameOf = useNames();
  const [rules, setRules] = useState<Rules>(noRules);
  return (
    <Modal opened onClose={onClose} title="Balloons for which lines" size={640}>
      <p className="quiet">
        Lines for which the rules hold get a balloon where they are seen best on this sheet. Balloons that are there
        stay where they are.
      </p>
      <RulesEditor rules={rules} onChange={setRules} />
      <DialogFoot
        disabled={rules.of.length === 0}
        onDo={() => {
          onPlace(rules, rulesText(rules, nameOf));
          onClose();
        }}
        onClose={onClose}
      >
        Place them
      </DialogFoot>
    </Modal>
  );
}
