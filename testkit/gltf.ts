const corners = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1),
  sides = Uint16Array.of(0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3);
/** Corners (48 bytes) and triangles (24) of a tetrahedron with edges of 1 m along the axes, volume 1/6 m³. */
export const wedgeBytes = new Uint8Array([...new Uint8Array(corners.buffer), ...new Uint8Array(sides.buffer)]);
const uri = `data:application/octet-stream;base64,${Buffer.from(wedgeBytes).toString('base64')}`;
/** For tests: a glTF asset of these nodes whose mesh 0 is a red wedge. */
export const gltf = (nodes: object[], more: object = {}) => ({
  asset: { version: '2.0' },
  scenes: [{ nodes: [0] }],
  nodes,
  meshes: [{ name: 'Wedge', primitives: [{ attributes: { POSITION: 0 }, indices: 1, material: 0 }] }],
  materials: [{ pbrMetallicRoughness: { baseColorFactor: [1, 0, 0, 1] } }],
  accessors: [
    { bufferView: 0, componentType: 5126, count: 4, type: 'VEC3' },
    { bufferView: 1, componentType: 5123, count: 12, type: 'SCALAR' },
  ],
  bufferViews: [
    { buffer: 0, byteLength: 48 },
    { buffer: 0, byteOffset: 48, byteLength: 24 },
  ],
  buffers: [{ byteLength: 72, uri }],
  ...more,
});

/** The same asset as one binary file. */
export function gltfBinary(value: object): Uint8Array {
  const json = new TextEncoder().encode(JSON.stringify({ ...value, buffers: [{ byteLength: 72 }] }).padEnd(4096));
  const whole = new Uint8Array(12 + 8 + json.length + 8 + 72);
  const view = new DataView(whole.buffer);
  [0x46546c67, 2, whole.length, json.length, 0x4e4f534a].forEach((word, at) => view.setUint32(at * 4, word, true));
  whole.set(json, 20);
  view.setUint32(20 + json.length, 72, true);
  view.setUint32(24 + json.length, 0x004e4942, true);
  whole.set(wedgeBytes, 28 + json.length);
  return whole;
}
