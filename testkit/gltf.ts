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
