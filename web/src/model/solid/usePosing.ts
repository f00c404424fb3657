import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { listOccurrences, pathKey, pathOf, type PathKey } from '../../../../core/src/assembly/index.ts';
import type { Mesh, Vec3 } from '../../../../core/src/geometry/index.ts';
import { carriedOn, playedTo, type ClickedWay, type Part } from '../../../../core/src/poses/index.ts';
import { usePicks, useProject } from '../../data/openProject.ts';
import { solver } from '../../data/made/solver.ts';
import type { PosePanelProps } from '../PosePanel.tsx';
import type { PoseAxis, Posing } from './PoseHandles.tsx';

const machineAxes: readonly PoseAxis[] = [
  { name: 'left – right', along: [1, 0, 0] },
  { name: 'front – back', along: [0, 1, 0] },
  { name: 'up – down', along: [0, 0, 1] },
];

/** Which pose is on the screen, how far it is played, and what is carried on in it. */
export function usePosing(picks: readonly number[]): {
  readonly posing: Posing | null;
  readonly panel: Omit<PosePanelProps, 'onClose'>;
} {
  const project = useProject();
  const { picked, pickedPath } = usePicks();
  const { assembly, set, pick, perform } = project;
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<string | null>(null);
  const [share, setShare] = useState(1);
  const [drag, setDrag] = useState<Vec3 | null>(null);
  const [further, setFurther] = useState(false);
  const [clicked, setClicked] = useState<{ readonly of: PathKey; readonly way: ClickedWay } | null>(null);
  /** Picked one by one in 3D, beside what the program has picked. */
  const [single, setSingle] = useState<{ readonly with: string; readonly paths: readonly PathKey[] } | null>(null);
  const [along, setAlong] = useState<{ readonly with: string; readonly paths: readonly PathKey[] } | null>(null);
  const pose = (set.content.poses ?? []).find(({ id }) => id === chosen) ?? null;
  const named = `${picks.join()} ${picked} ${pickedPath}`;
  const own = useMemo<readonly PathKey[]>(() => {
    if (single?.with === named) return single.paths;
    if (picks.length < 2 && pickedPath !== null && pickedPath !== '') return [pickedPath];
    const wanted = new Set(picks.length > 0 ? picks : picked === null ? [] : [picked]);
    wanted.delete(assembly.root);
    return wanted.size === 0
      ? []
      : listOccurrences(assembly, (index) => wanted.has(index)).map(({ path }) => pathKey(path));
  }, [assembly, picked, pickedPath, picks, single, named]);
  const paths = useMemo(
    () => (along?.with === named ? [...new Set([...own, ...along.paths])] : own),
    [own, along, named],
  );
  const axes = useMemo(
    () =>
      clicked &&
      clicked.of === pickedPath &&
      !machineAxes.some(({ along: one }) =>
        one.every((v, k) => Math.abs(Math.abs(v) - Math.abs(clicked.way.along[k])) < 1e-3),
      )
        ? [...machineAxes, { name: `the ${clicked.way.of} that was clicked`, along: clicked.way.along }]
        : machineAxes,
    [clicked, pickedPath],
  );
  const moves = useMemo(() => {
    if (!pose) return [];
    return drag ? carriedOn(pose, paths, drag, further).moves : playedTo(pose.moves, share);
  }, [pose, drag, paths, further, share]);
  const posing = useMemo<Posing | null>(
    () =>
      pose && {
        pose: pose.id,
        moves,
        paths: share === 1 ? paths : [],
        axes,
        onDrag: setDrag,
        onDrop: (by) => {
          setDrag(null);
          if (by.some((value) => value !== 0))
            perform('move in the pose', {
              document: set.id,
              command: { kind: 'putPose', pose: carriedOn(pose, paths, by, further) },
            });
        },
        onWay: (of, way) => setClicked(way && { of, way }),
        places: single?.with === named ? single.paths : [],
        onAlso: (path) =>
          setSingle({ with: named, paths: own.includes(path) ? own.filter((one) => one !== path) : [...own, path] }),
      },
    [pose, moves, paths, axes, share, further, perform, set.id, single, named, own],
  );
  return {
    posing,
    panel: {
      pose,
      onPose: (id) => {
        setChosen(id);
        setShare(1);
      },
      share,
      onShare: setShare,
      paths,
      axes,
      further,
      onFurther: setFurther,
      onFastened: async () => {
        const parts = listOccurrences(assembly, (index) => assembly.components[index].shape !== null).flatMap(
          ({ path, components, placement }): Part[] => {
            const shape = assembly.components[components[components.length - 1]].shape!;
            const mesh = queries.getQueryData<Mesh>(['mesh', shape]);
            return mesh ? [{ path, mesh, placement, shape }] : [];
          },
        );
        const found = await solver().fastenedTo(parts, own);
        setAlong({ with: named, paths: found });
        return found.length;
      },
      onPath: (path) => {
        const found = listOccurrences(assembly, () => true).find((one) => pathKey(one.path) === path);
        if (found) pick(found.components[found.components.length - 1], pathKey(pathOf(path)));
      },
    },
  };
}
