import { useCallback, useState } from 'react';
import { useHotkeys } from '@mantine/hooks';
import { useProject } from '../data/ProjectContext.tsx';
import { FindingsPanel, isOpen } from './FindingsPanel.tsx';
import { Inspector } from './Inspector.tsx';
import { Machine3D } from './Machine3D.tsx';
import { StructureTree } from './StructureTree.tsx';

const NONE: ReadonlySet<number> = new Set();
/** Width of what opens over the right edge of the picture; as in desk.css. px */
const PANEL = 300;

/** Structure left, machine right; picking lights both. Findings and inspector share the right edge. */
export function ModelStation() {
  const {
    picked,
    pickedPath,
    pick,
    assembly,
    findings,
    components: {
      content: { decisions },
    },
  } = useProject();
  const [also, setAlso] = useState(NONE);
  const [showsFindings, setShowsFindings] = useState(false);
  const close = useCallback(() => setShowsFindings(false), []);
  useHotkeys([
    [
      'Escape',
      () => {
        if (showsFindings) setShowsFindings(false);
        else {
          setAlso(NONE);
          pick(null);
        }
      },
    ],
  ]);
  const several = [...also].filter((index) => index < assembly.components.length);
  const all = several.length > 0 ? several : picked === null ? [] : [picked];
  const open = findings.filter((finding) => isOpen(finding, decisions)).length;
  return (
    <main className="main">
      <StructureTree also={also} onAlso={setAlso} findings={{ open, show: () => setShowsFindings(!showsFindings) }} />
      <Machine3D tools also={also} covered={showsFindings || all.length > 0 ? PANEL : 0} />
      {showsFindings ? (
        <FindingsPanel onClose={close} />
      ) : (
        all.length > 0 && (
          <Inspector key={`${all.join()} ${pickedPath}`} picked={all} path={all.length === 1 ? pickedPath : null} />
        )
      )}
    </main>
  );
}
