import { isAssembly, type ShapeKey } from '../assembly/index.ts';
import { bestOf, blocksOf, type Candidate } from './bestMatches.ts';
import { identitiesOf, numbering, plainText, type Identities } from './identities.ts';
import { shapeClasses, SAME_PLACE } from './prints.ts';
import type { Answer, Confidence, Pair, Recognition } from './records.ts';
import { withKeptShapes } from './rekey.ts';
import { matchUsages, samePlacement } from './usages.ts';

/** What agrees or differs between two components; points are weighed together into one score. */
const POINTS = {
  number: 4,
  numberWrittenDifferently: 3,
  otherNumber: -2,
  name: 2,
  nameWrittenDifferently: 1.5,
  likeName: 0.7,
  otherName: -1,
  contents: 4,
  likeContents: 3, // times the share of what both hold
  otherContents: -1,
  place: 2, // times the share of their places
  parent: 0.5,
  otherKind: -3,
  properties: 0.3,
} as const;
/** From here on two components are taken for one. */
const ENOUGH = 1.5;
/** … and from here on before others, whose neighbours they then speak for. */
const PLENTY = 4.5;
/** More in one group than this are not all compared with one another. */
const MOST_PAIRS = 40_000;
const ROUNDS = 12;

/**
 * Which component of the later assembly is which of the earlier one, by number, name, contents and place weighed
 * together: one to one, and the best of all matches together, not the first that comes. Those that agree in everything
 * go first and speak for what they hold and stand in; the others follow in rounds. Then usages, within the parents
 * that were recognised. Entity numbers, file order, units and noise below 0.001 mm have no part in it.
 * @param answers what the drafter said about pairs; they win over everything
 */
export function recognise(pair: Pair, answers: readonly Answer[] = []): Recognition {
  const { before, after, prints } = pair;
  const shapes = [before, after].flatMap(({ components }) => components.flatMap(({ shape }) => (shape ? [shape] : [])));
  const classes = shapeClasses(shapes, prints);
  const classOf = (shape: ShapeKey): number => classes.get(shape) ?? -1;
  const numbers = numbering();
  const was = identitiesOf(before, classOf, numbers),
    is = identitiesOf(after, classOf, numbers);
  const matching = new Matching(was, is, answers);
  matching.takeAnswers();
  matching.takeEqual(({ assembly, contents }, index) => {
    const { partNumber, name } = assembly.components[index];
    return partNumber || name ? JSON.stringify([partNumber, name, contents[index]]) : null;
  });
  // Number and name together outweigh all else.
  matching.takeEqual(({ assembly }, index) => {
    const { partNumber, name } = assembly.components[index];
    return partNumber && name ? JSON.stringify([partNumber, name]) : null;
  });
  for (let round = 0, least: number = PLENTY; round < ROUNDS; round++) {
    const found = matching.takeBest(least);
    if (found === 0 && least === ENOUGH) break;
    if (found === 0) least = ENOUGH;
  }
  matching.takeRoot();
  const { components } = matching;
  const usages = withKeptShapes(pair, components).components.map((component, index) =>
    components[index] < 0
      ? new Int32Array(component.usages.length).fill(-1)
      : matchUsages(
          before.components[components[index]],
          component,
          (child) => components[child],
          (child) => after.components[child],
        ),
  );
  const judged = [...components.keys()].map((index) => matching.judge(index));
  return {
    components,
    confidence: judged.map(({ confidence }) => confidence),
    why: judged.map(({ why }) => why),
    usages,
  };
}

class Matching {
  /** For every component of the later assembly its index in the earlier one, or −1. */
  readonly components: Int32Array;
  /** The other way round. */
  private readonly back: Int32Array;
  /** Pairs that the drafter told apart. */
  private readonly apart = new Set<string>();
  /** Those that the drafter said are the same. */
  private readonly said = new Set<number>();

  constructor(
    private readonly was: Identities,
    private readonly is: Identities,
    private readonly answers: readonly Answer[],
  ) {
    this.components = new Int32Array(is.assembly.components.length).fill(-1);
    this.back = new Int32Array(was.assembly.components.length).fill(-1);
  }

  private take(was: number, is: number): void {
    this.components[is] = was;
    this.back[was] = is;
  }

  takeAnswers(): void {
    const indexOf = ({ assembly }: Identities) => new Map(assembly.components.map(({ key }, index) => [key, index]));
    const wasAt = indexOf(this.was),
      isAt = indexOf(this.is);
    for (const answer of this.answers) {
      const was = wasAt.get(answer.was),
        is = isAt.get(answer.is);
      if (was === undefined || is === undefined) continue;
      if (!answer.same) this.apart.add(`${was} ${is}`);
      else if (this.components[is] < 0 && this.back[was] < 0) {
        this.take(was, is);
        this.said.add(is);
      }
    }
  }

  /** Those that agree in what they are called by `keyOf`, and are the only ones that do; null takes one out. */
  takeEqual(keyOf: (side: Identities, index: number) => string | null): void {
    const before = this.openBy(this.was, this.back, keyOf);
    for (const [key, later] of this.openBy(this.is, this.components, keyOf)) {
      const earlier = before.get(key);
      if (earlier?.length === 1 && later.length === 1 && this.may(earlier[0], later[0]))
        this.take(earlier[0], later[0]);
    }
  }

  /** Components that are left, by a key; those without one are in no group. */
  private openBy<Key>(
    side: Identities,
    taken: Int32Array,
    keyOf: (side: Identities, index: number) => Key | null,
  ): Map<Key, number[]> {
    const groups = new Map<Key, number[]>();
    for (let index = 0; index < taken.length; index++) {
      if (taken[index] >= 0) continue;
      const key = keyOf(side, index);
      if (key === null) continue;
      const members = groups.get(key);
      if (members) members.push(index);
      else groups.set(key, [index]);
    }
    return groups;
  }

  private may(was: number, is: number): boolean {
    return this.apart.size === 0 || !this.apart.has(`${was} ${is}`);
  }

  /** Takes the best match of those that are left with at least so many points; answers how many were taken. */
  takeBest(least: number): number {
    const candidates = this.candidates(least === ENOUGH).filter(({ score }) => score >= least);
    let taken = 0;
    for (const block of blocksOf(candidates, this.back.length)) {
      for (const { was, is } of bestOf(block)) {
        this.take(was, is);
        taken++;
      }
    }
    return taken;
  }

  /** The whole machine is the whole machine, whatever became of it. */
  takeRoot(): void {
    const was = this.was.assembly.root,
      is = this.is.assembly.root;
    if (this.back[was] < 0 && this.components[is] < 0 && this.may(was, is)) this.take(was, is);
  }

  /**
   * Pairs of components that are left and have something in common.
   * @param byHolding also assemblies of which all that is known is what they hold
   */
  private candidates(byHolding: boolean): Candidate[] {
    const pairs = new Set<number>();
    const width = this.back.length;
    const add = (was: number, is: number) => {
      if (this.back[was] < 0 && this.components[is] < 0 && this.may(was, is)) pairs.add(is * width + was);
    };
    const cross = (keyOf: (side: Identities, index: number) => string | number | null) => {
      const before = this.openBy(this.was, this.back, keyOf);
      for (const [key, later] of this.openBy(this.is, this.components, keyOf)) {
        const earlier = before.get(key) ?? [];
        // So many equal ones are told apart by their places, below, and the rest of them by their order.
        if (earlier.length * later.length > MOST_PAIRS)
          for (let at = 0; at < Math.min(earlier.length, later.length); at++) add(earlier[at], later[at]);
        else for (const one of earlier) for (const other of later) add(one, other);
      }
    };
    const part = ({ assembly }: Identities, index: number) => assembly.components[index];
    cross((side, index) => side.plainNumbers[index] || null);
    cross((side, index) => plainText(part(side, index).name) || null);
    cross((side, index) => (side.hasContents[index] ? side.contents[index] : null));
    this.addByPlace(add);
    if (byHolding) this.addByHolding(add);
    return [...pairs].map((pair) => {
      const was = pair % width,
        is = (pair - was) / width;
      return { was, is, score: this.score(was, is) };
    });
  }

  /** What stands at the same place of parents that are recognised. */
  private addByPlace(add: (was: number, is: number) => void): void {
    const parents = new Set<number>();
    for (const [child, was] of this.components.entries())
      if (was < 0) for (const { parent } of this.is.uses[child]) parents.add(parent);
    for (const is of parents) {
      const was = this.components[is];
      if (was < 0) continue;
      const earlier = this.was.assembly.components[was].usages.filter(({ child }) => this.back[child] < 0),
        later = this.is.assembly.components[is].usages.filter(({ child }) => this.components[child] < 0);
      if (earlier.length * later.length > MOST_PAIRS) {
        const places = new Map(earlier.map(({ placement, child }) => [roughPlace(placement), child]));
        for (const { placement, child } of later) {
          const found = places.get(roughPlace(placement));
          if (found !== undefined) add(found, child);
        }
      } else
        for (const one of earlier)
          for (const other of later) if (samePlacement(one.placement, other.placement)) add(one.child, other.child);
    }
  }

  /** Assemblies that hold a thing that is recognised: one that took in another one's parts may be it, whatever its name. */
  private addByHolding(add: (was: number, is: number) => void): void {
    const holders = new Map<number, Set<number>>();
    for (const [is, was] of this.components.entries()) {
      if (was < 0) continue;
      for (const { parent } of this.is.uses[is]) {
        if (this.components[parent] >= 0) continue;
        let found = holders.get(parent);
        if (!found) holders.set(parent, (found = new Set()));
        for (const use of this.was.uses[was]) if (this.back[use.parent] < 0 && found.size < 50) found.add(use.parent);
      }
    }
    for (const [is, earlier] of holders) for (const was of earlier) add(was, is);
  }

  /** The same whichever of the two is called the earlier one. */
  private score(was: number, is: number): number {
    const one = this.was.assembly.components[was],
      other = this.is.assembly.components[is];
    let score = 0;
    if (one.partNumber && other.partNumber)
      score +=
        one.partNumber === other.partNumber
          ? POINTS.number
          : this.was.plainNumbers[was] === this.is.plainNumbers[is]
            ? POINTS.numberWrittenDifferently
            : POINTS.otherNumber;
    if (one.name && other.name)
      score +=
        one.name === other.name
          ? POINTS.name
          : plainText(one.name) === plainText(other.name)
            ? POINTS.nameWrittenDifferently
            : wordsInCommon(one.name, other.name) >= 0.5
              ? POINTS.likeName
              : POINTS.otherName;
    if (isAssembly(one) !== isAssembly(other)) score += POINTS.otherKind;
    else if (this.was.hasContents[was] && this.is.hasContents[is])
      score += this.sameContents(was, is)
        ? POINTS.contents
        : isAssembly(one)
          ? POINTS.otherContents + POINTS.likeContents * this.shareOfContents(was, is)
          : POINTS.otherContents;
    const { share, sameParent } = this.places(was, is);
    score += POINTS.place * share + (sameParent ? POINTS.parent : 0);
    if (one.description && one.description === other.description) score += POINTS.properties;
    const material = one.properties.Material?.value;
    if (material !== undefined && material === other.properties.Material?.value) score += POINTS.properties;
    return score;
  }

  private sameContents = (was: number, is: number): boolean => this.was.contents[was] === this.is.contents[is];

  /** What two assemblies hold in common, as far as that is recognised or alike, as a share of what both hold. */
  private shareOfContents(was: number, is: number): number {
    const left = new Map<number, number>();
    let all = 0,
      common = 0;
    // What is recognised counts as itself, above zero; what is not as what it holds, below.
    for (const { child, quantity } of this.was.assembly.components[was].usages) {
      const key = this.back[child] >= 0 ? this.back[child] : -1 - this.was.contents[child];
      left.set(key, (left.get(key) ?? 0) + quantity);
      all += quantity;
    }
    for (const { child, quantity } of this.is.assembly.components[is].usages) {
      all += quantity;
      const key = this.components[child] >= 0 ? child : -1 - this.is.contents[child];
      const here = left.get(key) ?? 0;
      if (here === 0) continue;
      const shared = Math.min(quantity, here);
      left.set(key, here - shared);
      common += shared;
    }
    return all === 0 ? 0 : (2 * common) / all;
  }

  /** How many of their places within parents that are recognised are the same. */
  private places(was: number, is: number): { share: number; sameParent: boolean } {
    const earlier = this.was.uses[was],
      later = this.is.uses[is];
    const byParent = new Map<number, number[]>();
    for (const { parent, at } of earlier) {
      const known = byParent.get(parent);
      if (known) known.push(at);
      else byParent.set(parent, [at]);
    }
    let same = 0,
      sameParent = false;
    for (const { parent, at } of later) {
      const mine = this.components[parent] < 0 ? undefined : byParent.get(this.components[parent]);
      if (!mine) continue;
      sameParent = true;
      const { placement } = this.is.assembly.components[parent].usages[at];
      const { usages } = this.was.assembly.components[this.components[parent]];
      const found = mine.findIndex((one) => samePlacement(usages[one].placement, placement));
      if (found < 0) continue;
      same++;
      mine.splice(found, 1);
      if (same >= ENOUGH_PLACES) break;
    }
    return { share: same / Math.max(1, Math.min(ENOUGH_PLACES, Math.max(earlier.length, later.length))), sameParent };
  }

  /** How well a component is recognised, and what speaks for it. */
  judge(is: number): { confidence: Confidence | null; why: string } {
    const was = this.components[is];
    if (was < 0) return { confidence: null, why: '' };
    if (this.said.has(is)) return { confidence: 'sure', why: 'you said so' };
    const one = this.was.assembly.components[was],
      other = this.is.assembly.components[is];
    const number = one.partNumber !== '' && this.was.plainNumbers[was] === this.is.plainNumbers[is];
    const name = one.name !== '' && one.name === other.name;
    const known = this.was.hasContents[was] === 1 && this.is.hasContents[is] === 1;
    const contents = known && this.sameContents(was, is);
    const isMachine = was === this.was.assembly.root && is === this.is.assembly.root;
    const { share, sameParent } =
      (number && (name || contents)) || isMachine ? { share: 1, sameParent: true } : this.places(was, is);
    const place = share >= 0.5;
    const partly = !contents && isAssembly(one) && isAssembly(other) && this.shareOfContents(was, is) >= 0.5;
    const inWords = (holds: boolean, word: string) => (holds ? [word] : []);
    const held = isAssembly(other) ? 'contents' : 'shape';
    const agree = [
      ...inWords(number, 'number'),
      ...inWords(name, 'name'),
      ...inWords(contents, held),
      ...inWords(partly, 'most of its contents'),
      ...inWords(place, 'place'),
    ];
    const differ = [
      ...inWords(!number && !!(one.partNumber || other.partNumber), 'number'),
      ...inWords(!name && !!(one.name || other.name), 'name'),
      ...inWords(known && !contents, held),
      ...inWords(!place && !isMachine, 'place'),
    ];
    const why = `${agree.length > 0 ? `the same ${agree.join(', ')}` : 'nothing is the same'}${differ.length > 0 ? `; another ${differ.join(', ')}` : ''}`;
    const sure =
      (number && (name || contents || partly || (place && !known) || isMachine)) ||
      (name && contents && (place || !one.partNumber || !other.partNumber)) ||
      (isAssembly(other) && contents && (sameParent || isMachine)) ||
      (isMachine && (name || partly));
    const likely =
      (number && place) || (contents && (name || place)) || (name && (place || partly)) || (partly && place);
    return { confidence: sure ? 'sure' : likely ? 'likely' : 'doubtful', why };
  }
}
const ENOUGH_PLACES = 200;

const roughPlace = (placement: readonly number[]): string =>
  placement.map((value, at) => Math.round(at % 4 === 3 ? value / (10 * SAME_PLACE) : value * 1e4)).join();

const wordsOf = (text: string): Set<string> =>
  new Set(
    text
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
      .filter(Boolean),
  );
/** Words that two names share, of all of theirs. */
function wordsInCommon(one: string, other: string): number {
  const words = wordsOf(one),
    others = wordsOf(other);
  const common = [...words].filter((word) => others.has(word)).length;
  return common / Math.max(1, words.size + others.size - common);
}

/** Less than this share of the parts recognised, and none but the machine itself surely: another machine. */
const HARDLY = 0.1;

/** Whether a later assembly is another machine altogether: hardly anything in it is recognised, and nothing surely. */
export function nothingAlike({ components, confidence }: Recognition, { before, after }: Pair): boolean {
  const found = [...components.keys()].filter((is) => components[is] >= 0 && is !== after.root);
  const fewer = Math.min(before.components.length, after.components.length) - 1;
  if (fewer < 2) return false; // too few to tell
  return found.length < HARDLY * fewer || found.every((is) => confidence[is] === 'doubtful');
}
