const MARKS: readonly (readonly [readonly number[], string])[] = [
  [[0x89, 0x50, 0x4e, 0x47], 'the mark of a PNG picture'],
  [[0xff, 0xd8, 0xff], 'the mark of a JPEG picture'],
  [[0x47, 0x49, 0x46, 0x38], 'the mark of a GIF picture'],
  [[0x50, 0x4b, 3, 4], 'the mark of a ZIP archive'],
  [[0x25, 0x50, 0x44, 0x46], 'the mark of a PDF document'],
  [[0x1f, 0x8b], 'the mark of a gzip archive'],
  [[0x67, 0x6c, 0x54, 0x46], 'the mark of a binary glTF file'],
];

/** What a file begins with, in words for a sentence that says it is not what was expected. */
export function describeStart(bytes: Uint8Array): string {
  for (const [mark, name] of MARKS) if (mark.every((byte, at) => bytes[at] === byte)) return name;
  const start = [...bytes.subarray(0, 20)];
  const text = start
    .map((byte) => (byte >= 32 && byte < 127 ? String.fromCharCode(byte) : ' '))
    .join('')
    .trim();
  return start.some((byte) => byte === 0) || !text ? 'binary data' : `“${text}”`;
}
