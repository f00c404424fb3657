import type { Mesh, Placement } from '../geometry/index.ts';

/**
 * A number that says where something stands in a list. Any number will do where one is asked for, but not one that is known
 * to count something else: a row of a bill is no component.
 */
export type Index<Of extends string> = number & { readonly __index?: Of };
/** Where a component stands in `Assembly.components`. */
export type ComponentIndex = Index<'component'>;
/** Where an occurrence stands among those that are looked at. */
export type OccurrenceIndex = Index<'occurrence'>;
/** Where a row stands in `Bill.rows`; −1 for none. */
export type RowIndex = Index<'row'>;

/** A component's key: hash of what identifies it in the source, never of entity numbers. 32 hex digits. */
export type ComponentKey = string & { readonly __key: 'component' };
/** A usage's key, unique among the usages of one parent. 32 hex digits and a rank. */
export type UsageKey = string & { readonly __key: 'usage' };
/** Usage keys from the root down, joined by `/`: names one occurrence in records and documents. */
export type PathKey = string & { readonly __path: true };
/** Names a shape by content: hash of its slice of the file. */
export type ShapeKey = string & { readonly __key: 'shape' };

/** A property's value as the file gives it; `unit` as written there (mm, kg, …), absent for plain text and numbers. */
export interface PropertyValue {
  /** In `unit` where it is a number with one. */
  readonly value: string | number | boolean;
  /** Symbol as it was given, such as `mm`; absent for texts and plain numbers. */
  readonly unit?: string;
}
export type Properties = Readonly<Record<string, PropertyValue>>;

/** One placement of a component in a parent. */
export interface Usage {
  /** Of its own in the whole assembly; part of every path through it. */
  readonly key: UsageKey;
  /** Index of the used component in `Assembly.components`. */
  readonly child: ComponentIndex;
  /** The label that the designer gave to this placement; often empty. */
  readonly label: string;
  /** How many this usage stands for; 1 unless the file carries a quantity. */
  readonly quantity: number;
  /** Child coordinates to parent coordinates. */
  readonly placement: Placement;
  /** What the file says of this one usage only; it wins over what it says of the component. */
  readonly properties?: Properties;
  /** 0xRRGGBB where this one is coloured differently from its component. */
  readonly colour?: number;
}

/** Of a shape as it stands in its own coordinates; mm, mm², mm³. */
export interface ShapeMeasures {
  /** mm³. */
  readonly volume?: number;
  /** mm². */
  readonly area?: number;
  /** mm, in the coordinates of the component. */
  readonly centroid?: readonly [number, number, number];
}

/** A definition: a part, or an assembly when it has usages. */
export interface Component {
  /** Of its own in the assembly; the same after a fresh export. */
  readonly key: ComponentKey;
  /** Product id as written; may be empty. */
  readonly partNumber: string;
  /** Empty where the file gives none. */
  readonly name: string;
  /** Empty where the file gives none. */
  readonly description: string;
  /** Empty where the file gives none. */
  readonly revision: string;
  /** null where nothing says it. */
  readonly source: 'made' | 'bought' | null;
  /** null for what has no shape of its own, such as a subassembly. */
  readonly shape: ShapeKey | null;
  /** Further values by name, as the file gives them. */
  readonly properties: Properties;
  /** Who designed it, where the file says so. */
  readonly author?: string;
  /** When; ISO 8601 date. */
  readonly created?: string;
  /** Decided to be a part of its own beside others of its number; those of one tag stay together. Never in a file. */
  readonly keptApart?: string;
  /** Drawn in a layout several times and no symbol there: not counted until somebody says what it is. */
  readonly drawn?: true;
  /** What the writer measured on its shape, to check ours against. */
  readonly validation?: ShapeMeasures;
  /** What it is made of, in file order; empty for a part. */
  readonly usages: readonly Usage[];
}

/** A component of which nothing is known, such as a top over several roots. */
export const unnamed = {
  partNumber: '',
  name: '',
  description: '',
  revision: '',
  source: null,
  shape: null,
  properties: {},
} as const satisfies Omit<Component, 'key' | 'usages'>;

/** What a record has under a foreign name, such as a heading or the name of a variant; never what every object has. */
export const ownValue = <Value>(record: Readonly<Record<string, Value>>, name: string): Value | undefined =>
  Object.hasOwn(record, name) ? record[name] : undefined;
/** A foreign name as a property may have it: one that would change what the record is gets another. */
export const propertyNameFor = (name: string): string => (name === '__proto__' ? 'proto' : name);

/** A shape that a file carries as a mesh, under the key that components name it by. */
export interface ShapeMesh {
  /** Hash of its content. */
  readonly key: ShapeKey;
  /** In the coordinates of the component; mm. */
  readonly mesh: Mesh;
}

/** Something that the program noticed. */
export interface Finding {
  /** What kind it is, for programs. */
  readonly code: string;
  /** A sentence for the drafter. */
  readonly message: string;
  /** Names the finding for a decision, the same after a fresh import; absent where there is nothing to decide. */
  readonly key?: string;
  /** The components that it is about. */
  readonly components?: readonly ComponentKey[];
  /** Components that belong together, where it proposes to keep groups apart. */
  readonly groups?: readonly (readonly ComponentKey[])[];
}

/** The immutable content of one imported file: a shared graph of components. */
export interface Assembly {
  /** Of this record, as it is stored. */
  readonly version: 1;
  /** Schema name as in the file header. */
  readonly schema: string;
  /** Length unit of the source in words: mm, m, inch … */
  readonly sourceUnit: string;
  /** Index of the top component; it is unnamed and synthetic when the file has several roots. */
  readonly root: ComponentIndex;
  /** Every definition once; usages name them by index. */
  readonly components: readonly Component[];
  /** What was noticed while reading. */
  readonly findings: readonly Finding[];
  /**
   * What the build that is looked at lacks: components wherever they are, and single places. Only of an assembly in a
   * variant; nothing of it has an occurrence.
   */
  readonly absent?: { readonly components: readonly ComponentKey[]; readonly places: readonly PathKey[] };
  /** Turns the machine so that its up points along z and its front along −y; absent where it stands so already. */
  readonly turn?: Placement;
}

export const isAssembly = (component: Component): boolean => component.usages.length > 0;

/** What a drafter calls the component: its number, else its name. */
export const partLabel = (component: Component): string => component.partNumber || component.name || '(no name)';

/** Its number with its name behind it, each once. */
export const fullLabel = (component: Component): string =>
  [...new Set([component.partNumber, component.name])].filter(Boolean).join(' ') || partLabel(component);
