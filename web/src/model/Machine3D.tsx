import { notifications } from '@mantine/notifications';
import { useCallback, useMemo, useState } from 'react';
import { Plane, Vector3 } from 'three';
import { pathKey, pathOf, usualOrientation, type Occurrence, type ShapeKey } from '../../../core/src/assembly/index.ts';
import type { Box3 as CoreBox } from '../../../core/src/geometry/index.ts';
import { wayAt } from '../../../core/src/poses/index.ts';
import { planeOfFace } from '../../../core/src/sections/index.ts';
import type { DirectionName } from '../../../core/src/views/index.ts';
import { useDocuments, useDoing, useMachine, usePicking, usePicks } from '../data/openProject.ts';
import {
  bodiesByShape,
  displaced,
  inModel,
  isIn,
  machineBox,
  nearestAxis,
  withAxis,
  type Picks,
} from './solid/machine.ts';
import { isLayout } from '../../../core/src/layouts/index.ts';
import { LayoutPicture } from './flat/LayoutPicture.tsx';
import { Body, type Clicked } from './solid/Body.tsx';
import { Fit } from './solid/Fit.tsx';
import { Fly, type Flight } from './solid/Fly.tsx';
import { KeepInSight } from './solid/KeepInSight.tsx';
import { PoseHandles, type Posing } from './solid/PoseHandles.tsx';
import { openedAcross } from '../../../core/src/sheets/index.ts';
import { useNavigate } from 'react-router';
import type { CutThere } from '../data/links.ts';
import { MachineTools, showsInside, type Asking, type Look } from './solid/MachineTools.tsx';
import { Stage } from './solid/Stage.tsx';
import { useMeshes } from './solid/useMeshes.ts';

interface Machine3DProps {
  /** Shows the tools for looking into the machine. @default false */
  readonly tools?: boolean;
  /** Components lit besides the picked one. */
  readonly also?: ReadonlySet<number>;
  /** Of a layout: whether only these are lit, and not all uses of their symbols. @default false */
  readonly exact?: boolean;
  /** Width at the right edge that something lies over, so that what is picked stays beside it; px. @default 0 */
  readonly covered?: number;
  /** What has left its seat, and how it is carried on; as assembled where absent. */
  readonly posing?: Posing | null;
  /** Whether poses are being looked at: the machine is fitted beside their panel then. */
  readonly posesOpen?: boolean;
  /** Opens and closes the panel of poses; its tool is not there where absent. */
  readonly onPoses?: () => void;
  /** A place to fly to; `count` tells one flight from the next. */
  readonly flight?: Flight | null;
}

/** Of what is looked through. */
const THROUGH = 0.22;
const PLAIN_LOOK: Look = { hidden: [], only: null, seeThrough: false, section: null };

/** The machine in 3D; a layout is drawn flat. */
export function Machine3D(props: Machine3DProps) {
  const { assembly } = useMachine();
  if (!isLayout(assembly)) return <SolidMachine {...props} />;
  const { also, exact = false, covered = 0, flight = null } = props;
  return <LayoutPicture {...(also ? { also } : {})} exact={exact} covered={covered} flight={flight} />;
}

/** Turn, pan, zoom; a click picks a part, and what is picked is lit. */
function SolidMachine({
  tools = false,
  also,
  covered = 0,
  posing = null,
  posesOpen = false,
  onPoses,
  flight = null,
}: Machine3DProps) {
  const { components, id } = useDocuments();
  const {
    assembly,
    shapes: { progress, stopped },
  } = useMachine();
  const { picked, pickedPath } = usePicks();
  const { pick } = usePicking();
  const { perform } = useDoing();
  const seats = useMemo(() => bodiesByShape(assembly), [assembly]);
  const moves = posing?.moves;
  const bodies = useMemo(() => (moves ? displaced(seats, moves) : seats), [seats, moves]);
  const { ready, settled, wanted } = useMeshes(bodies, progress !== null);
  const places = posing?.places;
  const picks: Picks = useMemo(
    () => ({
      components: new Set([...(also ?? []), ...(picked === null || also?.size ? [] : [picked])]),
      path: also?.size ? null : pickedPath === null || pickedPath === '' ? null : pathOf(pickedPath),
      ...(places && places.length > 0 ? { places: places.map(pathOf) } : {}),
    }),
    [picked, pickedPath, also, places],
  );
  const { onWay, onAlso: onPlace } = posing ?? {};
  const [look, setLook] = useState<Look>(PLAIN_LOOK);
  const [from, setFrom] = useState<{ direction: DirectionName; count: number }>({ direction: 'isometric', count: 0 });
  const [asking, setAsking] = useState<Asking>(null);
  const box = useMemo(() => (ready.length > 0 ? machineBox(ready, bodies) : null), [ready, bodies]);
  const shown = useMemo(
    () =>
      new Map(
        [...bodies].map(([shape, occurrences]) => [
          shape,
          occurrences.filter(
            (one) =>
              (!look.only || look.only.some((wanted) => isIn(one, wanted))) &&
              !look.hidden.some((gone) => isIn(one, gone)),
          ),
        ]),
      ),
    [bodies, look.only, look.hidden],
  );
  const goal = useMemo(
    () => flight && boxOf(ready, bodies, { components: new Set(), path: pathOf(flight.path) }),
    [flight, ready, bodies],
  );
  const inSight = useMemo(
    () => (tools && (picks.path || picks.components.size > 0) ? boxOf(ready, bodies, picks) : null),
    [tools, ready, bodies, picks],
  );
  const planes = useMemo(() => {
    if (!look.section || !box) return [];
    const { axis, share, flipped } = look.section;
    const at = box[axis] + (box[axis + 3] - box[axis]) * share;
    const normal = new Vector3(
      ...([0, 1, 2].map((one) => (one === axis ? (flipped ? 1 : -1) : 0)) as [number, number, number]),
    );
    return [new Plane(normal, flipped ? -at : at)];
  }, [look.section, box]);
  const navigate = useNavigate();
  const cutOnSheet = ({ axis, share, flipped }: NonNullable<Look['section']>, within: CoreBox) =>
    navigate(`/projects/${id}/sheets`, {
      state: {
        cut: openedAcross({ axis, at: within[axis] + (within[axis + 3] - within[axis]) * share }, flipped),
      } satisfies CutThere,
    });
  const choose = useCallback(
    (occurrence: Occurrence, { normal, face, point, reach, also: more }: Clicked) => {
      const { shape } = assembly.components[occurrence.components[occurrence.components.length - 1]];
      const mesh = ready.find(([known]) => known === shape)?.[1];
      if (asking === 'cut') {
        const { axis: usual = 1 } = look.section ?? {};
        const plane = mesh ? planeOfFace(mesh, occurrence.placement, face, usual) : null;
        if (!plane || !box)
          return void notifications.show({
            message: 'That face stands askew or is free-form; click a hole, a shaft or a face along an axis.',
            color: 'orange',
          });
        const [low, high] = [box[plane.axis], box[plane.axis + 3]];
        setLook({
          ...look,
          section: {
            axis: plane.axis,
            share: (plane.at - low) / (high - low || 1),
            flipped: look.section?.axis === plane.axis ? look.section.flipped : showsInside(plane.axis),
          },
        });
        return setAsking(null);
      }
      if (!asking) {
        const place = pathKey(occurrence.path);
        if (more && onPlace) return onPlace(place);
        onWay?.(place, mesh ? wayAt(mesh, occurrence.placement, face, point, reach) : null);
        return pick(occurrence.components[occurrence.components.length - 1], place);
      }
      const before = components.content.orientation ?? usualOrientation;
      const orientation = withAxis(before, asking, nearestAxis(inModel(normal, assembly.turn)));
      perform(`${asking === 'up' ? 'up' : 'front'} is ${orientation[asking]} of the model`, {
        document: components.id,
        command: { kind: 'setOrientation', orientation },
      });
      setAsking(asking === 'up' ? 'front' : null);
    },
    [asking, pick, components, assembly, perform, ready, onWay, onPlace, look, box],
  );
  return (
    <div className="machine">
      <Stage
        label="The machine in 3D"
        onMissed={({ ctrlKey, metaKey }) => {
          if (!asking && !ctrlKey && !metaKey) pick(null);
        }}
      >
        {ready.map(([shape, mesh]) => (
          <Body
            key={shape}
            mesh={mesh}
            occurrences={shown.get(shape) ?? []}
            picks={picks}
            opacity={look.seeThrough ? THROUGH : 1}
            planes={planes}
            onChoose={choose}
          />
        ))}
        <Fit
          key={`${from.count} ${from.direction} ${settled} ${posesOpen} ${posing?.pose ?? ''} ${assembly.turn?.join() ?? ''}`}
          box={settled || progress === null ? box : null}
          direction={from.direction}
          covered={posesOpen ? covered : 0}
        />
        {posing && posing.paths.length > 0 && (
          <PoseHandles
            posing={posing}
            at={boxOf(
              ready,
              bodies,
              posing.paths.map((path) => ({ components: new Set(), path: pathOf(path) })),
            )}
          />
        )}
        {inSight && !posing && box && <KeepInSight box={inSight} covered={covered} />}
        {flight && goal && <Fly key={flight.count} goal={goal} whole={box!} />}
      </Stage>
      {!settled || ready.length < wanted ? (
        <div className="corner quiet">
          Shapes: {ready.length} of {wanted}
          {settled && progress === null && stopped === null && ready.length < wanted
            ? '; the others could not be made'
            : ''}
        </div>
      ) : null}
      {wanted === 0 && (
        <div className="centre quiet" style={{ position: 'absolute', inset: 0 }}>
          This structure came without shapes. Its list and its numbers work all the same.
        </div>
      )}
      {asking && (
        <div className="asking" role="status">
          {asking === 'cut'
            ? 'Click a hole or a shaft to cut through its axis, or a face to cut along it through the middle of its part.'
            : `Click a face that looks ${asking === 'up' ? 'up' : 'to the front'} when the machine stands as it is used.`}
        </div>
      )}
      <MachineTools
        full={tools}
        look={look}
        onLook={setLook}
        picks={picks.components.size > 0 || picks.path ? picks : null}
        onFrom={(direction) => setFrom({ direction, count: from.count + 1 })}
        asking={asking}
        onAsk={setAsking}
        {...(onPoses ? { onPoses } : {})}
        {...(look.section && box ? { onSection: () => cutOnSheet(look.section!, box) } : {})}
        poses={posing !== null}
      />
    </div>
  );
}

/** Box around what is picked; null where nothing of it has a shape. */
const boxOf = (
  meshes: Parameters<typeof machineBox>[0],
  bodies: ReadonlyMap<ShapeKey, readonly Occurrence[]>,
  picks: Picks | readonly Picks[],
): CoreBox | null => {
  const all: readonly Picks[] = 'components' in picks ? [picks] : picks;
  return machineBox(
    meshes,
    new Map(
      [...bodies].map(([shape, occurrences]) => [
        shape,
        occurrences.filter((one) => all.some((each) => isIn(one, each))),
      ]),
    ),
  );
};
