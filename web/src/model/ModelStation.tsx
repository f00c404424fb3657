import { useCallback, useMemo, useState } from 'react';
import { useHotkeys } from '@mantine/hooks';
import { useDocuments, useMachine, usePicking, usePicks } from '../data/openProject.ts';
import { FindingsPanel, isOpen } from './FindingsPanel.tsx';
import type { PathKey } from '../../../core/src/assembly/index.ts';
import type { Flight } from './solid/Fly.tsx';
import { Inspector } from './Inspector.tsx';
import { Machine3D } from './Machine3D.tsx';
import { PosePanel } from './PosePanel.tsx';
import { usePosing } from './solid/usePosing.ts';
import { StructureTree } from './tree/StructureTree.tsx';

const NONE: ReadonlySet<number> = new Set();
/** Width of what opens over the right edge of the picture; as in model.css. px */
const PANEL = 300;

/** Structure left, machine right; picking lights both. Findings and inspector share the right edge. */
export function ModelStation() {
  const {
    components: {
      content: { decisions },
    },
  } = useDocuments();
  const { assembly, originals, findings } = useMachine();
  const { picked, pickedPath } = usePicks();
  const { pick } = usePicking();
  const [also, setAlso] = useState(NONE);
  const [panel, setPanel] = useState<'findings' | 'poses' | null>(null);
  const [flight, setFlight] = useState<Flight | null>(null);
  const fly = useCallback((path: PathKey) => setFlight((before) => ({ path, count: (before?.count ?? 0) + 1 })), []);
  const close = useCallback(() => setPanel(null), []);
  useHotkeys([
    [
      'Escape',
      () => {
        if (panel === 'findings') setPanel(null);
        else {
          setAlso(NONE);
          pick(null);
        }
      },
    ],
  ]);
  const several = useMemo(() => [...also].filter((index) => index < assembly.components.length), [also, assembly]);
  const posed = usePosing(several);
  const all = several.length > 0 ? several : picked === null ? [] : [picked];
  const open = findings.filter((finding) => isOpen(finding, decisions)).length;
  return (
    <main className={panel === 'poses' ? 'main posing' : 'main'}>
      <StructureTree
        also={also}
        onAlso={setAlso}
        findings={{ open, show: () => setPanel(panel === 'findings' ? null : 'findings') }}
      />
      <Machine3D
        tools
        also={also}
        covered={panel !== null || all.length > 0 ? PANEL : 0}
        posesOpen={panel === 'poses'}
        posing={panel === 'poses' ? posed.posing : null}
        flight={flight}
        onPoses={() => setPanel(panel === 'poses' ? null : 'poses')}
      />
      {panel === 'findings' ? (
        <FindingsPanel onClose={close} />
      ) : panel === 'poses' ? (
        <PosePanel {...posed.panel} onClose={close} />
      ) : (
        all.length > 0 && (
          <Inspector
            key={all.length === 1 ? `one ${originals[all[0]]}` : all.join()}
            picked={all}
            path={all.length === 1 ? pickedPath : null}
            onStep={fly}
          />
        )
      )}
    </main>
  );
}
