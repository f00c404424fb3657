/** Line from 1 of a byte offset; counted only when a sentence needs it. */
export function lineAt(bytes: Uint8Array, offset: number): number {
  let line = 1;
  for (let at = 0; at < offset && at < bytes.length; at++) if (bytes[at] === 10) line++;
  return line;
}
