import {
  isOrientation,
  type ComponentKey,
  type Orientation,
  type PathKey,
  type Properties,
  type PropertyValue,
  type StructureEdits,
  type Treatment,
  type Variant,
} from '../../assembly/index.ts';
import { refused, type Applied, type Refused } from './applied.ts';

/** A property that the drafter has added: what its values are, and the unit they read in. */
export interface OwnProperty {
  /** What can be typed. */
  readonly type: 'text' | 'number' | 'yes or no';
  /** Empty for none. */
  readonly unit: string;
}
/** What was decided about a finding. */
export interface Decision {
  /** `seen`: noticed, and nothing to do. */
  readonly answer: 'same' | 'apart' | 'seen';
}

/** What was decided about components, for every bill and sheet of a project. */
export interface ComponentEdits extends StructureEdits {
  /** Of this record, as it is stored; see `upgradeDocument`. */
  readonly version: 4;
  /** Properties that the drafter has added, by name. */
  readonly ownProperties: Readonly<Record<string, OwnProperty>>;
  /** Text typed by hand is kept in capitals. Values of the model are not touched. */
  readonly upperCase: boolean;
  /** By the key of the finding. */
  readonly decisions: Readonly<Record<string, Decision>>;
  /** Builds of the machine, by id. */
  readonly variants: Readonly<Record<string, Variant>>;
}

export const newComponentEdits: ComponentEdits = {
  version: 4,
  treatments: {},
  placeTreatments: {},
  typed: {},
  typedAt: {},
  densities: {},
  orientation: null,
  sameAs: {},
  keptApart: {},
  ownProperties: {},
  upperCase: false,
  decisions: {},
  variants: {},
};

export type ComponentCommand =
  /** How a component counts; null gives it back to the usual way (listed, contents counted). */
  | { readonly kind: 'setTreatment'; readonly component: ComponentKey; readonly treatment: Treatment | null }
  /** The same for several components and single places at once. */
  | {
      readonly kind: 'setTreatments';
      readonly components: Readonly<Record<ComponentKey, Treatment | null>>;
      readonly places: Readonly<Record<PathKey, Treatment | null>>;
    }
  /** Types values of one property: for components, and for single places; null takes them away. */
  | {
      readonly kind: 'typeValues';
      readonly name: string;
      readonly components: Readonly<Record<ComponentKey, PropertyValue | null>>;
      readonly places: Readonly<Record<PathKey, PropertyValue | null>>;
    }
  | { readonly kind: 'setOwnProperty'; readonly name: string; readonly property: OwnProperty | null }
  | { readonly kind: 'setUpperCase'; readonly on: boolean }
  /** Makes or changes a variant, or with null takes it away. */
  | { readonly kind: 'setVariant'; readonly id: string; readonly variant: Variant | null }
  | { readonly kind: 'setOrientation'; readonly orientation: Orientation | null }
  | { readonly kind: 'setDensity'; readonly material: string; readonly density: number | null }
  /**
   * Decides a finding, or with null takes the decision back; `sameAs` says which components it makes one, `apart` which
   * it keeps apart, by tags: equal ones stay together, null takes it back.
   */
  | {
      readonly kind: 'decide';
      readonly finding: string;
      readonly decision: Decision | null;
      readonly sameAs: Readonly<Record<ComponentKey, ComponentKey | null>>;
      readonly apart?: Readonly<Record<ComponentKey, string | null>> | undefined;
    };

type Done = Applied<ComponentEdits, ComponentCommand> | Refused;

export function applyComponentCommand(edits: ComponentEdits, command: ComponentCommand): Done {
  const done = (changed: Partial<ComponentEdits>, inverse: ComponentCommand): Done => ({
    ok: true,
    document: { ...edits, ...changed },
    inverse,
  });
  switch (command.kind) {
    case 'setTreatment': {
      const { map, before } = changeMap(edits.treatments, { [command.component]: command.treatment });
      return done(
        { treatments: map },
        { kind: 'setTreatment', component: command.component, treatment: before[command.component] },
      );
    }
    case 'setTreatments': {
      const components = changeMap(edits.treatments, command.components),
        places = changeMap(edits.placeTreatments, command.places);
      return done(
        { treatments: components.map, placeTreatments: places.map },
        { kind: 'setTreatments', components: components.before, places: places.before },
      );
    }
    case 'typeValues': {
      const components = typeInto(edits.typed, command.name, command.components),
        places = typeInto(edits.typedAt, command.name, command.places);
      return done(
        { typed: components.map, typedAt: places.map },
        { kind: 'typeValues', name: command.name, components: components.before, places: places.before },
      );
    }
    case 'setOwnProperty': {
      const { map, before } = changeMap(edits.ownProperties, { [command.name]: command.property });
      return done(
        { ownProperties: map },
        { kind: 'setOwnProperty', name: command.name, property: before[command.name] },
      );
    }
    case 'setVariant': {
      const { map, before } = changeMap(edits.variants, { [command.id]: command.variant });
      return done({ variants: map }, { kind: 'setVariant', id: command.id, variant: before[command.id] });
    }
    case 'setUpperCase':
      return done({ upperCase: command.on }, { kind: 'setUpperCase', on: edits.upperCase });
    case 'setOrientation':
      if (command.orientation && !isOrientation(command.orientation))
        return refused('Up and front cannot lie on one axis of the model.');
      return done({ orientation: command.orientation }, { kind: 'setOrientation', orientation: edits.orientation });
    case 'setDensity': {
      const { map, before } = changeMap(edits.densities, { [command.material]: command.density });
      return done(
        { densities: map },
        { kind: 'setDensity', material: command.material, density: before[command.material] },
      );
    }
    case 'decide': {
      const decisions = changeMap(edits.decisions, { [command.finding]: command.decision }),
        sameAs = changeMap(edits.sameAs, command.sameAs),
        apart = command.apart && changeMap(edits.keptApart, command.apart);
      return done(
        { decisions: decisions.map, sameAs: sameAs.map, ...(apart ? { keptApart: apart.map } : {}) },
        {
          kind: 'decide',
          finding: command.finding,
          decision: decisions.before[command.finding],
          sameAs: sameAs.before,
          ...(apart ? { apart: apart.before } : {}),
        },
      );
    }
  }
}

/** The map with these entries set, or with null taken out, and what stood there before. */
function changeMap<Value>(
  map: Readonly<Record<string, Value>>,
  changes: Readonly<Record<string, Value | null>>,
): { map: Record<string, Value>; before: Record<string, Value | null> } {
  const after: Record<string, Value> = { ...map };
  const before: Record<string, Value | null> = {};
  for (const [key, value] of Object.entries(changes)) {
    before[key] = Object.hasOwn(map, key) ? map[key] : null;
    if (value === null) delete after[key];
    else after[key] = value;
  }
  return { map: after, before };
}

function typeInto(
  map: Readonly<Record<string, Properties>>,
  name: string,
  changes: Readonly<Record<string, PropertyValue | null>>,
): { map: Record<string, Properties>; before: Record<string, PropertyValue | null> } {
  const before: Record<string, PropertyValue | null> = {};
  const values: Record<string, Properties | null> = {};
  for (const [key, value] of Object.entries(changes)) {
    const inner = changeMap(map[key] ?? {}, { [name]: value });
    before[key] = inner.before[name];
    values[key] = Object.keys(inner.map).length > 0 ? inner.map : null;
  }
  return { map: changeMap(map, values).map, before };
}

/** What a command changes, by name. */
export function componentTouches(command: ComponentCommand): string[] {
  switch (command.kind) {
    case 'setTreatment':
      return [`treatment ${command.component}`];
    case 'setTreatments':
      return [...Object.keys(command.components), ...Object.keys(command.places)].map((key) => `treatment ${key}`);
    case 'typeValues':
      return [...Object.keys(command.components), ...Object.keys(command.places)].map(
        (key) => `value ${key} ${command.name}`,
      );
    case 'setOwnProperty':
      return [`own property ${command.name}`];
    case 'setUpperCase':
      return ['upper case'];
    case 'setVariant':
      return [`variant ${command.id}`];
    case 'setOrientation':
      return ['orientation'];
    case 'setDensity':
      return [`density ${command.material}`];
    case 'decide':
      return [
        `finding ${command.finding}`,
        ...Object.keys(command.sameAs).map((key) => `same ${key}`),
        ...Object.keys(command.apart ?? {}).map((key) => `apart ${key}`),
      ];
  }
}
