import { Clipper, EndType, JoinType } from 'clipper2-ts';
import {
  componentsAlong,
  materialFamily,
  ownValue,
  pathOf,
  type Assembly,
  type ComponentKey,
  type MaterialFamily,
  type PathKey,
} from '../../assembly/index.ts';
import type { Vec2 } from '../../geometry/index.ts';
import {
  areaWithin,
  hatchLines,
  hatchStyles,
  pitchFor,
  type HatchedArea,
  type HatchStyle,
} from '../../sections/index.ts';
import { cutAreas, type ViewLines } from '../../views/index.ts';

/** A cut face of a view; on its view plane, mm at 1:1. */
export interface CutArea extends HatchedArea {
  /** Which plane made it. */
  readonly plane: number;
  /** What it belongs to: index into `paths` of the lines. */
  readonly occurrence: number;
  /** What it is made of; null where nobody knows. */
  readonly family: MaterialFamily | null;
}

const knownAreas = new WeakMap<ViewLines, { readonly assembly: Assembly; readonly areas: readonly CutArea[] }>();

/** The cut faces that are seen in a view, by the part that they belong to. Kept with the lines. */
export function cutAreasOf(lines: ViewLines, assembly: Assembly): readonly CutArea[] {
  const before = knownAreas.get(lines);
  if (before?.assembly === assembly) return before.areas;
  const areas = findAreas(lines, assembly);
  knownAreas.set(lines, { assembly, areas });
  return areas;
}

function findAreas(lines: ViewLines, assembly: Assembly): CutArea[] {
  return cutAreas(lines).map((rings, face): CutArea => {
    const occurrence = lines.cutOccurrences![face];
    const along = componentsAlong(assembly, pathOf(lines.paths[occurrence]));
    const component = along && assembly.components[along[along.length - 1]];
    const material = component && ownValue(component.properties, 'Material');
    return {
      part: component?.key ?? lines.paths[occurrence],
      plane: lines.cutPlanes![face],
      occurrence,
      rings,
      family: material ? materialFamily(String(material.value)) : null,
    };
  });
}

type Styles = ReadonlyMap<string, HatchStyle>;
const knownStyles = new WeakMap<
  readonly CutArea[],
  { readonly views: readonly (readonly CutArea[])[]; readonly styles: Styles }
>();

/**
 * Styles for the parts of these views, so that parts side by side in one plane of any of them differ. The same ones where the
 * views are the same: a page asks at every move of the pointer.
 */
export function stylesFor(all: readonly (readonly CutArea[])[]): Styles {
  const views = all.filter((areas) => areas.length > 0);
  if (views.length === 0) return new Map();
  const before = knownStyles.get(views[0]);
  if (before?.views.length === views.length && before.views.every((areas, at) => areas === views[at]))
    return before.styles;
  const styles = findStyles(views);
  knownStyles.set(views[0], { views, styles });
  return styles;
}

function findStyles(views: readonly (readonly CutArea[])[]): Styles {
  return hatchStyles(
    views.flatMap((areas) =>
      [...new Set(areas.map(({ plane }) => plane))].map((own) => areas.filter(({ plane }) => plane === own)),
    ),
  );
}

/** What is thinner on paper is filled; between filled areas there is a gap (ISO 128-50, 5). mm */
const THIN = 2,
  GAP = 0.5;
/** Lattice on which areas are narrowed; steps per mm on paper. */
const STEPS = 1000;

/** What of cut faces is drawn: lines, x1, y1, x2, y2 each; mm at 1:1. */
interface Hatching {
  readonly hatched: number[];
  /** Lines so close that they fill the area. */
  readonly filled: number[];
}

/** On which paper something is hatched. */
interface HatchedOn {
  /** Paper mm per mm. */
  readonly scale: number;
  /** Narrow pen of the sheet; mm. */
  readonly pen: number;
  /** Whether parts are hatched by what they are made of. */
  readonly byMaterial?: boolean;
  /** Between lines, as a share of the usual. */
  readonly pitch?: number;
}
const knownHatching = new WeakMap<
  readonly CutArea[],
  Required<HatchedOn> & { readonly styles: Styles; readonly made: Hatching }
>();

/** The hatching of the cut faces of a view. Kept for what was asked last. */
export function hatchingOf(
  areas: readonly CutArea[],
  styles: Styles,
  { scale, pen, byMaterial = false, pitch = 1 }: HatchedOn,
): Hatching {
  const before = knownHatching.get(areas);
  if (
    before?.styles === styles &&
    before.scale === scale &&
    before.pen === pen &&
    before.byMaterial === byMaterial &&
    before.pitch === pitch
  )
    return before.made;
  const on = { scale, pen, byMaterial, pitch };
  const made = hatch(areas, styles, on);
  knownHatching.set(areas, { ...on, styles, made });
  return made;
}

function hatch(
  areas: readonly CutArea[],
  styles: Styles,
  { scale, pen, byMaterial, pitch: ofSet }: Required<HatchedOn>,
): Hatching {
  const hatched: number[] = [],
    filled: number[] = [];
  // A part has one pitch, however large its faces are: its largest one says which.
  const largest = new Map<string, number>();
  for (const { part, rings } of areas)
    largest.set(part, Math.max(largest.get(part) ?? 0, areaWithin(rings) * scale * scale));
  for (const { part, rings, family } of areas) {
    const { angle, pitch } = styles.get(part) ?? { angle: Math.PI / 4, pitch: 1 };
    if (isThin(rings, scale)) {
      const inner = narrowed(rings, GAP / 2, scale);
      for (const value of hatchLines(inner.length > 0 ? inner : rings, { angle, pitch: (0.8 * pen) / scale }))
        filled.push(value);
    } else
      for (const value of patternLines(rings, (byMaterial && family) || 'metal', {
        angle,
        pitch: (pitchFor(largest.get(part)!) * pitch * ofSet) / scale,
      }))
        hatched.push(value);
  }
  return { hatched, filled };
}

/** Of the pitch: how near the two lines of a pair lie, and a dash and the gap behind it. */
const PAIR = 0.28,
  DASH = 1.6,
  DASH_GAP = 0.8;

/** Lines of metal, a lattice of plastic, pairs of wood, dashes of insulation. */
function patternLines(rings: CutArea['rings'], family: MaterialFamily, style: HatchStyle): number[] {
  const lines = hatchLines(rings, style);
  if (family === 'plastic') return [...lines, ...hatchLines(rings, { ...style, angle: style.angle + Math.PI / 2 })];
  if (family === 'wood') {
    // The second line of each pair: the area moved across, hatched, moved back.
    const [dx, dy] = [-Math.sin(style.angle) * PAIR * style.pitch, Math.cos(style.angle) * PAIR * style.pitch];
    const moved = rings.map((ring) => ring.map(([x, y]): Vec2 => [x - dx, y - dy]));
    return [...lines, ...hatchLines(moved, style).map((value, at) => value + (at % 2 === 0 ? dx : dy))];
  }
  return family === 'insulation' ? dashed(lines, style) : lines;
}

/** Lines broken into dashes on one lattice, so that those of neighbouring areas go on into one another. */
function dashed(lines: readonly number[], { angle, pitch }: HatchStyle): number[] {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const period = (DASH + DASH_GAP) * pitch;
  const dashes: number[] = [];
  for (let at = 0; at < lines.length; at += 4) {
    const [x, y] = [lines[at], lines[at + 1]];
    const from = x * c + y * s,
      to = lines[at + 2] * c + lines[at + 3] * s;
    for (let dash = Math.floor(from / period); dash * period < to; dash++) {
      const [a, b] = [Math.max(from, dash * period), Math.min(to, dash * period + DASH * pitch)];
      if (a < b) dashes.push(x + (a - from) * c, y + (a - from) * s, x + (b - from) * c, y + (b - from) * s);
    }
  }
  return dashes;
}

const isThin = (rings: CutArea['rings'], scale: number): boolean => narrowed(rings, THIN / 2, scale).length === 0;

/** An area without what lies within this distance of its border; mm on paper. */
function narrowed(rings: CutArea['rings'], by: number, scale: number): Vec2[][] {
  const steps = STEPS * scale;
  const paths = rings.map((ring) =>
    ring.map(([x, y]) => ({ x: Math.round(x * steps), y: Math.round(y * steps), z: 0 })),
  );
  return Clipper.inflatePaths(paths, -by * STEPS, JoinType.Miter, EndType.Polygon).map((path) =>
    path.map(({ x, y }): Vec2 => [x / steps, y / steps]),
  );
}

/**
 * Parts through which the planes of a section go, as far as they are seen, in the order in which they are met.
 * @param partOf place in the machine; null where there is none
 */
export function cutParts(
  { paths, cutOccurrences, cutWhole }: ViewLines,
  partOf: (path: PathKey) => ComponentKey | null,
): { readonly part: ComponentKey; readonly isWhole: boolean }[] {
  const found = new Map<ComponentKey, boolean>();
  for (const [list, isWhole] of [
    [cutOccurrences ?? [], false],
    [cutWhole ?? [], true],
  ] as const)
    for (const occurrence of list) {
      const part = partOf(paths[occurrence]);
      if (part !== null && !found.has(part)) found.set(part, isWhole);
    }
  return [...found].map(([part, isWhole]) => ({ part, isWhole }));
}
