import { SaxesParser } from 'saxes';
import { Refusal } from '../../../core/src/assembly/index.ts';
import { renderSvg } from './rendering.ts';

/** A picture for the title block, whatever it came as. */
export interface Logo {
  readonly png: Uint8Array;
  /** Width over height. */
  readonly ratio: number;
}

/** Name of a picture in the store. @param hash SHA-256 of its bytes in hexadecimal */
export const pictureKey = (hash: string): string => `picture ${hash}`;

/** Bytes of a picture that is brought in. */
export const MOST_LOGO_BYTES = 2e6;
const MOST_PIXELS = 40e6;
/** Width of the PNG that is made of it: 600 per inch on the 40 mm that it may take. */
const WIDTH = 960;
const RATIOS = [1 / 20, 20] as const;

/**
 * Reads a PNG or SVG and draws it as a PNG of its own size: scripts in it never run, and nothing that it refers to is
 * fetched.
 * @throws Refusal for anything else, and for what is too large
 */
export async function readLogo(bytes: Uint8Array): Promise<Logo> {
  if (bytes.length > MOST_LOGO_BYTES)
    throw new Refusal(
      'logo-too-large',
      `A logo may have ${MOST_LOGO_BYTES / 1e6} MB; this file has ${(bytes.length / 1e6).toFixed(1)} MB.`,
    );
  const svg = isPng(bytes) ? svgAround(bytes) : svgText(bytes);
  if (svg === null) throw noPicture();
  if (!isPng(bytes)) refuseLargePictures(svg);
  const drawn = await renderSvg(svg, { mode: 'width', value: WIDTH }).catch((error: unknown) => {
    if (error instanceof Refusal) throw error;
    throw noPicture();
  });
  const ratio = drawn.width / drawn.height;
  if (!(ratio >= RATIOS[0] && ratio <= RATIOS[1]))
    throw new Refusal(
      'logo-too-long',
      'A logo may be up to twenty times as long as it is high, or the other way round.',
    );
  return { png: drawn.png, ratio };
}

const noPicture = () =>
  new Refusal('no-picture', 'This is no PNG or SVG picture that can be read; export the logo as one of them.');

const isPng = (bytes: Uint8Array): boolean =>
  [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a].every((byte, at) => bytes[at] === byte);

/**
 * A drawing may hold pictures that are far larger than their bytes: 400 million dots of one colour pack into a few
 * kilobytes. Of those that stand in it the sizes are read before anything is drawn.
 * @throws Refusal where they are too many dots, or their size is not known
 */
function refuseLargePictures(svg: string): void {
  let dots = 0;
  const parser = new SaxesParser();
  parser.on('error', () => {
    throw noPicture();
  });
  parser.on('opentag', ({ name, attributes }) => {
    if (!/(^|:)(image|feImage)$/i.test(name)) return;
    for (const [key, value] of Object.entries(attributes)) {
      if (!/(^|:)href$/i.test(key) || !/^\s*data:/i.test(value)) continue; // others are not fetched
      const size = dotsOf(value);
      if (size === null)
        throw new Refusal(
          'no-picture',
          'The logo holds a picture that is no PNG; export it with PNG pictures in it, or as one PNG.',
        );
      if ((dots += size) > MOST_PIXELS)
        throw new Refusal(
          'logo-too-large',
          `A logo may have ${MOST_PIXELS / 1e6} million dots; the pictures in this one have more. Export them smaller.`,
        );
    }
  });
  parser.write(svg).close();
}

/** Dots of a PNG in a `data:` address; null for anything else. */
function dotsOf(address: string): number | null {
  const [, packed] =
    /^\s*data:image\/png\s*(?:;[\w=-]+)*;base64,([A-Za-z0-9+/=\s]*)$/i.exec(address.slice(0, 400)) ?? [];
  const head = Buffer.from((packed ?? '').replace(/\s/g, ''), 'base64');
  if (head.length < 24 || !isPng(head)) return null;
  return head.readUInt32BE(16) * head.readUInt32BE(20);
}

/** The picture in a drawing of its size; width and height stand in its first chunk (PNG, ISO 15948, 11.2.2). */
function svgAround(bytes: Uint8Array): string | null {
  if (bytes.length < 33) return null;
  const head = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const [width, height] = [head.getUint32(16), head.getUint32(20)];
  if (width === 0 || height === 0) return null;
  if (width * height > MOST_PIXELS)
    throw new Refusal(
      'logo-too-large',
      `A logo may have ${MOST_PIXELS / 1e6} million dots; this one is ${width} × ${height}.`,
    );
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><image width="${width}" height="${height}" href="data:image/png;base64,${Buffer.from(bytes).toString('base64')}"/></svg>`;
}

/** Text that may be an SVG: declarations of entities, which can make much of little, are none. */
function svgText(bytes: Uint8Array): string | null {
  const text = new TextDecoder().decode(bytes);
  return /<svg[\s>]/i.test(text.slice(0, 100_000)) && !/<!ENTITY/i.test(text) ? text : null;
}
