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
import { applyFrom, changeEntries, done, refused, type CommandTable } from './applied.ts';

/** A property that the drafter has added: what its values are, and the unit they read in. */
interface OwnProperty {
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

const keysIn = ({ components, places }: { readonly components: object; readonly places: object }): string[] => [
  ...Object.keys(components),
  ...Object.keys(places),
];

export const componentCommands: CommandTable<ComponentEdits, ComponentCommand> = {
  setTreatment: {
    apply: (edits, { component, treatment }) => {
      const { map, before } = changeEntries(edits.treatments, { [component]: treatment });
      return done(edits, { treatments: map }, { kind: 'setTreatment', component, treatment: before[component] });
    },
    words: ({ treatment }) => (treatment ? 'treat a part otherwise' : 'treat a part as usual'),
    touches: ({ component }) => [`treatment ${component}`],
  },
  setTreatments: {
    apply: (edits, command) => {
      const components = changeEntries(edits.treatments, command.components),
        places = changeEntries(edits.placeTreatments, command.places);
      return done(
        edits,
        { treatments: components.map, placeTreatments: places.map },
        { kind: 'setTreatments', components: components.before, places: places.before },
      );
    },
    words: () => 'treat parts',
    touches: (command) => keysIn(command).map((key) => `treatment ${key}`),
  },
  typeValues: {
    apply: (edits, command) => {
      const { name } = command;
      const components = typeInto(edits.typed, name, command.components),
        places = typeInto(edits.typedAt, name, command.places);
      return done(
        edits,
        { typed: components.map, typedAt: places.map },
        { kind: 'typeValues', name, components: components.before, places: places.before },
      );
    },
    words: () => 'type into parts',
    touches: (command) => keysIn(command).map((key) => `value ${key} ${command.name}`),
  },
  setOwnProperty: {
    apply: (edits, { name, property }) => {
      const { map, before } = changeEntries(edits.ownProperties, { [name]: property });
      return done(edits, { ownProperties: map }, { kind: 'setOwnProperty', name, property: before[name] });
    },
    words: ({ name }) => `own property ${name}`,
    touches: ({ name }) => [`own property ${name}`],
  },
  setVariant: {
    apply: (edits, { id, variant }) => {
      const { map, before } = changeEntries(edits.variants, { [id]: variant });
      return done(edits, { variants: map }, { kind: 'setVariant', id, variant: before[id] });
    },
    words: ({ variant }) => (variant ? `variant ${variant.name}` : 'take a variant away'),
    touches: ({ id }) => [`variant ${id}`],
  },
  setUpperCase: {
    apply: (edits, { on }) => done(edits, { upperCase: on }, { kind: 'setUpperCase', on: edits.upperCase }),
    words: ({ on }) => (on ? 'texts in capitals' : 'texts as they are'),
    touches: () => ['upper case'],
  },
  setOrientation: {
    apply: (edits, { orientation }) =>
      orientation && !isOrientation(orientation)
        ? refused('Up and front cannot lie on one axis of the model.')
        : done(edits, { orientation }, { kind: 'setOrientation', orientation: edits.orientation }),
    words: () => 'turn the machine',
    touches: () => ['orientation'],
  },
  setDensity: {
    apply: (edits, { material, density }) => {
      const { map, before } = changeEntries(edits.densities, { [material]: density });
      return done(edits, { densities: map }, { kind: 'setDensity', material, density: before[material] });
    },
    words: ({ material }) => `density of ${material}`,
    touches: ({ material }) => [`density ${material}`],
  },
  decide: {
    apply: (edits, command) => {
      const { finding } = command;
      const decisions = changeEntries(edits.decisions, { [finding]: command.decision }),
        sameAs = changeEntries(edits.sameAs, command.sameAs),
        apart = command.apart && changeEntries(edits.keptApart, command.apart);
      return done(
        edits,
        { decisions: decisions.map, sameAs: sameAs.map, ...(apart ? { keptApart: apart.map } : {}) },
        {
          kind: 'decide',
          finding,
          decision: decisions.before[finding],
          sameAs: sameAs.before,
          ...(apart ? { apart: apart.before } : {}),
        },
      );
    },
    words: () => 'decide about a finding',
    touches: ({ finding, sameAs, apart = {} }) => [
      `finding ${finding}`,
      ...Object.keys(sameAs).map((key) => `same ${key}`),
      ...Object.keys(apart).map((key) => `apart ${key}`),
    ],
  },
};
export const applyComponentCommand = applyFrom(componentCommands);

function typeInto(
  map: Readonly<Record<string, Properties>>,
  name: string,
  changes: Readonly<Record<string, PropertyValue | null>>,
): { map: Record<string, Properties>; before: Record<string, PropertyValue | null> } {
  const before: Record<string, PropertyValue | null> = {};
  const values: Record<string, Properties | null> = {};
  for (const [key, value] of Object.entries(changes)) {
    const inner = changeEntries(map[key] ?? {}, { [name]: value });
    before[key] = inner.before[name];
    values[key] = Object.keys(inner.map).length > 0 ? inner.map : null;
  }
  return { map: changeEntries(map, values).map, before };
}
