import type { Placement } from '../core/src/geometry/index.ts';

/** Collects entity instances and gives them numbers. */
export class StepWriter {
  private readonly lines: string[] = [];
  private readonly shared = new Map<string, string>();

  /** Adds `body` as the next instance; its reference, like `#12`. */
  add(body: string): string {
    this.lines.push(body);
    return `#${this.lines.length}`;
  }

  /** Like add, but equal bodies are written once. */
  once(body: string): string {
    let known = this.shared.get(body);
    if (!known) this.shared.set(body, (known = this.add(body)));
    return known;
  }

  /** The complete exchange structure. `stamp` is an ISO date and time. */
  finish(name: string, stamp: string): string {
    return [
      'ISO-10303-21;',
      'HEADER;',
      `FILE_DESCRIPTION((${quote('Hauling sledge for an ice-core drilling camp')}),'2;1');`,
      `FILE_NAME(${quote(name)},'${stamp}',('T. Halvorsdal'),('Camp workshop'),'sledge generator','sledge generator','');`,
      "FILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }'));",
      'ENDSEC;',
      'DATA;',
      ...this.lines.map((body, at) => `#${at + 1}=${body};`),
      'ENDSEC;',
      'END-ISO-10303-21;',
      '',
    ].join('\n');
  }
}

/** A text as ISO 10303-21 writes it: quotes and backslashes doubled, everything beyond ASCII as \X2\ code units. */
export function quote(text: string): string {
  const escaped = text
    .replace(/\\/g, '\\\\')
    .replace(/'/g, "''")
    .replace(/[^\x20-\x7e]+/g, (run) => `\\X2\\${[...run].flatMap((char) => codeUnits(char)).join('')}\\X0\\`);
  return `'${escaped}'`;
}

const codeUnits = (char: string): string[] =>
  Array.from({ length: char.length }, (_, at) => char.charCodeAt(at).toString(16).toUpperCase().padStart(4, '0'));

/** A real number as ISO 10303-21 wants it: always with a decimal point. */
export function real(value: number): string {
  const text = String(Number(value.toFixed(6)));
  if (/e/i.test(text)) return '0.';
  return text.includes('.') ? text : `${text}.`;
}

export function point(step: StepWriter, [x, y, z]: readonly [number, number, number]): string {
  return step.once(`CARTESIAN_POINT('',(${real(x)},${real(y)},${real(z)}))`);
}

export function direction(step: StepWriter, [x, y, z]: readonly [number, number, number]): string {
  return step.once(`DIRECTION('',(${real(x)},${real(y)},${real(z)}))`);
}

/** An axis2_placement_3d standing where the placement puts the origin. */
export function axes(step: StepWriter, m: Placement): string {
  return step.once(
    `AXIS2_PLACEMENT_3D('',${point(step, [m[3], m[7], m[11]])},${direction(step, [m[2], m[6], m[10]])},${direction(step, [m[0], m[4], m[8]])})`,
  );
}
