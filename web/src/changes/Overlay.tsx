import { Slider, Switch } from '@mantine/core';
import { useCallback, useMemo, useState } from 'react';
import { Color } from 'three';
import {
  Refusal,
  type Assembly,
  type ComponentKey,
  type Occurrence,
  type ShapeKey,
} from '../../../core/src/assembly/index.ts';
import { uniteBoxes, type Box3 as CoreBox, type Mesh } from '../../../core/src/geometry/index.ts';
import { laidOver } from '../../../core/src/revisions/index.ts';
import { Body } from '../model/solid/Body.tsx';
import { Fit } from '../model/solid/Fit.tsx';
import { byShape, machineBox, type Picks } from '../model/solid/machine.ts';
import { Stage } from '../model/solid/Stage.tsx';
import { useMeshes } from '../model/solid/useMeshes.ts';

/** Words stand beside both, and the slider tells one from the other: colour is the third way. */
const EARLIER = new Color('#a97c2f'),
  LATER = new Color('#3f6f8f'),
  STAYED = new Color('#c9cfd0');
/** Of what stayed, so that what changed inside is seen. */
const THROUGH = 0.16;

/**
 * Both machines in 3D, laid over one another: what stayed is there once, the slider fades from what was to what is. A
 * click picks a part, and what is picked is lit in both.
 */
export function Overlay({
  before,
  after,
  names,
  picked,
  onPick,
}: {
  /** As the drafter has them, under one set of keys. */
  readonly before: Assembly;
  readonly after: Assembly;
  readonly names: readonly [string, string];
  readonly picked: ComponentKey | null;
  readonly onPick: (component: ComponentKey | null) => void;
}) {
  const [share, setShare] = useState(50);
  const [through, setThrough] = useState(true);
  // A machine too large for a picture still has its list of changes.
  const { sides, refused } = useMemo(() => sidesOf(before, after), [before, after]);
  const shapes = useMemo(() => new Map(sides.flatMap(({ bodies }) => [...bodies])), [sides]);
  const { ready, settled, wanted } = useMeshes(shapes, false);
  const box = useMemo(
    () =>
      sides
        .map(({ bodies }) => machineBox(ready, bodies))
        .reduce<CoreBox | null>((one, other) => (one && other ? uniteBoxes(one, other) : (one ?? other)), null),
    [ready, sides],
  );
  const opacityOf = { stays: through ? THROUGH : 1, was: Math.min(1, 2 - share / 50), is: Math.min(1, share / 50) };
  return (
    <section className="overlay" aria-label="Both machines">
      <div className="both">
        <Stage label={`${names[0]} and ${names[1]} laid over one another`} onMissed={() => onPick(null)}>
          {sides.map(({ of, assembly, bodies }) =>
            opacityOf[of] === 0 ? null : (
              <Side
                key={of}
                assembly={assembly}
                bodies={bodies}
                meshes={ready}
                colour={{ stays: STAYED, was: EARLIER, is: LATER }[of]}
                opacity={opacityOf[of]}
                picked={picked}
                onPick={onPick}
              />
            ),
          )}
          <Fit key={String(settled)} box={box} direction="isometric" covered={0} />
        </Stage>
        {ready.length < wanted && (
          <p className="quiet" role="status">
            Shapes: {ready.length} of {wanted}
            {settled ? '; the others could not be made' : ''}
          </p>
        )}
        {refused !== null ? (
          <p className="problem">{refused}</p>
        ) : (
          wanted === 0 && (
            <p className="quiet">These structures came without shapes; the list beside says what changed.</p>
          )
        )}
        <Switch
          className="through"
          size="xs"
          label="Look through what stayed"
          checked={through}
          onChange={({ target }) => setThrough(target.checked)}
        />
      </div>
      <div className="fade">
        <span className="of was">{names[0]}</span>
        <Slider
          className="wide"
          thumbLabel={`From ${names[0]} to ${names[1]}`}
          color="ink"
          label={null}
          value={share}
          onChange={setShare}
          step={5}
        />
        <span className="of is">{names[1]}</span>
      </div>
    </section>
  );
}

function sidesOf(before: Assembly, after: Assembly) {
  try {
    const { stays, was, is } = laidOver(before, after);
    return {
      sides: [
        { of: 'stays', assembly: after, bodies: byShape(after, stays) },
        { of: 'was', assembly: before, bodies: byShape(before, was) },
        { of: 'is', assembly: after, bodies: byShape(after, is) },
      ] as const,
      refused: null,
    };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { sides: [] as const, refused: error.message };
  }
}

function Side({
  assembly,
  bodies,
  meshes,
  colour,
  opacity,
  picked,
  onPick,
}: {
  readonly assembly: Assembly;
  readonly bodies: ReadonlyMap<ShapeKey, readonly Occurrence[]>;
  readonly meshes: readonly (readonly [ShapeKey, Mesh])[];
  readonly colour: Color;
  readonly opacity: number;
  readonly picked: ComponentKey | null;
  readonly onPick: (component: ComponentKey) => void;
}) {
  const picks = useMemo<Picks>(
    () => ({
      components: new Set(assembly.components.flatMap(({ key }, index) => (key === picked ? [index] : []))),
      path: null,
    }),
    [assembly, picked],
  );
  const choose = useCallback(
    ({ components }: Occurrence) => onPick(assembly.components[components[components.length - 1]].key),
    [assembly, onPick],
  );
  return meshes.map(([shape, mesh]) => {
    const occurrences = bodies.get(shape);
    return (
      occurrences && (
        <Body
          key={shape}
          mesh={mesh}
          occurrences={occurrences}
          picks={picks}
          colour={colour}
          opacity={opacity}
          planes={NO_PLANES}
          onChoose={choose}
        />
      )
    );
  });
}
const NO_PLANES: never[] = [];
