/** The parts of a glTF 2.0 asset that are read. Source: Khronos glTF 2.0 specification (ISO/IEC 12113:2022). */
export interface Gltf {
  readonly asset?: { readonly version?: string; readonly generator?: string };
  readonly scene?: number;
  readonly scenes?: readonly { readonly nodes?: readonly number[]; readonly name?: string }[];
  readonly nodes?: readonly GltfNode[];
  readonly meshes?: readonly {
    readonly name?: string;
    readonly primitives?: readonly Primitive[];
    readonly extras?: unknown;
  }[];
  readonly materials?: readonly { readonly pbrMetallicRoughness?: { readonly baseColorFactor?: readonly number[] } }[];
  readonly accessors?: readonly Accessor[];
  readonly bufferViews?: readonly {
    readonly buffer: number;
    readonly byteOffset?: number;
    readonly byteLength: number;
    readonly byteStride?: number;
  }[];
  readonly buffers?: readonly { readonly uri?: string; readonly byteLength: number }[];
}
export interface GltfNode {
  readonly name?: string;
  readonly mesh?: number;
  readonly children?: readonly number[];
  readonly matrix?: readonly number[];
  readonly translation?: readonly number[];
  readonly rotation?: readonly number[];
  readonly scale?: readonly number[];
  readonly extras?: unknown;
}
interface Primitive {
  readonly attributes?: Readonly<Record<string, number>>;
  readonly indices?: number;
  readonly material?: number;
  readonly mode?: number;
  readonly extensions?: Readonly<Record<string, unknown>>;
}
interface Accessor {
  readonly bufferView?: number;
  readonly byteOffset?: number;
  readonly componentType: number;
  readonly count: number;
  readonly type: string;
  readonly normalized?: boolean;
  readonly sparse?: unknown;
}
