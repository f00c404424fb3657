import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { editAssembly, listOccurrences, occurrenceCounts, structureTotals, type Assembly } from '../assembly/index.ts';
import { makeBill, noDecisions } from '../bill/index.ts';
import { newComponentEdits } from '../documents/index.ts';
import { applyToPoint, meshBox } from '../geometry/index.ts';
import { drawView, viewPlacement } from '../views/index.ts';
import { areAlike, likeSignature, type LikeChoice } from './likes.ts';
import { readPath } from './outlines.ts';
import { readLayout } from './readLayout.ts';
import { compose, readTransform } from './transforms.ts';

const inUtf8 = (text: string) => new TextEncoder().encode(text);
const svg = (inner: string, attributes = 'width="200mm" height="100mm" viewBox="0 0 200 100"') =>
  inUtf8(
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${attributes}>${inner}</svg>`,
  );
const read = (inner: string, attributes?: string) => readLayout(svg(inner, attributes)).assembly;
const counts = (assembly: Assembly): Record<string, number> => {
  const of = occurrenceCounts(assembly);
  const sums: Record<string, number> = {};
  assembly.components.forEach(({ name }, at) => {
    if (at !== assembly.root) sums[name] = (sums[name] ?? 0) + of[at];
  });
  return sums;
};
const CAP = '<symbol id="cap"><title>Cap</title><desc>On top</desc><circle r="2"/></symbol>';

describe('symbols of a layout', () => {
  it('are what uses refer to, whatever is used: a symbol, a group in defs, or a group that is drawn itself', () => {
    const assembly = read(
      `<defs>${CAP}<g id="lamp"><rect width="4" height="2"/></g></defs>
       <g id="drawn"><path d="M0 0H9"/></g><use href="#drawn" x="20"/><use xlink:href="#cap"/><use href="#cap" x="5"/><use href="#lamp"/>`,
    );
    expect(counts(assembly)).toEqual({ Cap: 2, lamp: 1, drawn: 2 });
    expect(assembly.components.find(({ name }) => name === 'Cap')!.description).toBe('On top');
  });
  it('are groups that name one, and groups of a class that stands in several places', () => {
    const crate = (x: number) => `<g class="crate big" transform="translate(${x} 0)"><rect width="3" height="3"/></g>`;
    const assembly = read(
      `<g data-symbol="Anchor" data-depth="600 mm"><path d="M0 0L2 2"/></g><g data-symbol="Anchor" data-depth="900 mm"><path d="M50 0L52 2"/></g>
       ${crate(0)}${crate(10)}${crate(20)}<g class="once"><rect width="1" height="1"/></g>`,
    );
    expect(counts(assembly)).toEqual({ Anchor: 2, crate: 3 });
    // What is drawn alike is one symbol, also where no transform says so.
    expect(assembly.components.filter(({ name }) => name === 'Anchor')).toHaveLength(1);
  });
  it('are groups with data of their own, by whatever names them; layers are none', () => {
    const assembly = read(
      `<g data-name="Layer 1"><defs>${CAP}</defs><use href="#cap"/><g data-item="Post"><rect width="1" height="9"/></g></g>
       <circle data-symbol="Dot" r="2"/><circle data-symbol="Dot" cx="40" r="2" data-colour="red"/>
       <g data-zone="N"><circle data-symbol="Dot" cx="90" r="2"/></g>
       <g data-watt="40"><rect width="4" height="4"/></g><g data-watt="15"><rect x="9" width="4" height="4"/></g>`,
    );
    expect(counts(assembly)).toEqual({ Cap: 1, Post: 1, Dot: 3, '': 2 });
    expect(assembly.components.filter(({ name }) => name === 'Dot')).toHaveLength(1);
    expect(assembly.findings.map(({ code }) => code)).toEqual(['unnamed-symbol']);
  });
  it('hold symbols, and are counted through them', () => {
    const assembly = read(
      `<defs>${CAP}<symbol id="post"><use href="#cap" y="-3"/><use href="#cap" y="3"/></symbol></defs><use href="#post"/><use href="#post" x="9"/><use href="#cap"/>`,
    );
    expect(counts(assembly)).toEqual({ Cap: 5, post: 2 });
    expect(makeBill(assembly, { depth: 'parts-only', identity: 'name' }).rows.map(({ quantity }) => quantity)).toEqual([
      5,
    ]);
  });
  it('have attributes, titles and layers of their uses as properties: numbers with units, words, yes and no', () => {
    const assembly = read(
      `<defs>${CAP}</defs><g id="North"><use href="#cap" data-colour="red" data-cable-length="12 m" data-serial="007" data-lit="true" data-name="x"><title>At the gate</title><desc>Look here</desc></use></g>`,
    );
    const [usage] = assembly.components[assembly.root].usages;
    expect(usage.label).toBe('At the gate');
    expect(usage.properties).toEqual({
      Colour: { value: 'red' },
      'Cable length': { value: 12, unit: 'm' },
      Serial: { value: '007' },
      Lit: { value: true },
      'Name here': { value: 'x' },
      Description: { value: 'Look here' },
      Layer: { value: 'North' },
    });
  });
  it('keep their keys when the file is written otherwise and something is added', () => {
    const one = read(`<defs>${CAP}</defs><use href="#cap" x="5"/><use href="#cap" x="50"/>`);
    const other = read(
      `<!-- new --><use href="#cap" x="5"/><use x="50" href="#cap"/><use href="#cap" x="90"/><defs>${CAP}</defs>`,
    );
    const keys = (assembly: Assembly) => assembly.components[assembly.root].usages.map(({ key }) => key);
    expect(other.components.find(({ name }) => name === 'Cap')!.key).toBe(
      one.components.find(({ name }) => name === 'Cap')!.key,
    );
    expect(keys(other)).toEqual(expect.arrayContaining(keys(one)));
  });
});

describe('where uses stand', () => {
  it('is where the drawing has them, in mm, y up, with all transforms on the way', () => {
    const { assembly, meshes } = readLayout(
      svg(
        `<defs><symbol id="arrow" viewBox="0 0 10 10"><path d="M0 0H10V2H0Z"/></symbol></defs>
         <g transform="translate(100 50)"><use href="#arrow" transform="rotate(90)" x="10" width="20" height="20"/></g>`,
        'width="400mm" height="200mm" viewBox="0 0 200 100"',
      ),
    );
    const [place] = listOccurrences(assembly, (at) => assembly.components[at].shape !== null);
    const [x0, y0, , x1, y1] = meshBox(meshes[0].mesh, place.placement);
    // x from 10 to 30 along what is now down the page, 4 broad, twice as large in mm.
    expect([x0, y0, x1, y1].map((value) => Math.round(value * 10) / 10)).toEqual([192, -160, 200, -120]);
  });
  it('is composed as matrices are', () => {
    const number = fc.integer({ min: -20, max: 20 });
    const step = fc.oneof(
      fc.tuple(number, number).map(([x, y]) => `translate(${x},${y})`),
      fc.tuple(number, number).map(([x, y]) => `scale(${x / 4} ${y / 4})`),
      number.map((angle) => `rotate(${angle * 7})`),
      number.map((angle) => `skewX(${angle})`),
      fc.array(number, { minLength: 6, maxLength: 6 }).map((values) => `matrix(${values.join(' ')})`),
    );
    fc.assert(
      fc.property(step, step, number, number, (one, other, x, y) => {
        const at = ([a, b, c, d, e, f]: readonly number[], px: number, py: number) => [
          a * px + c * py + e,
          b * px + d * py + f,
        ];
        const [qx, qy] = at(readTransform(other), x, y);
        const slow = at(readTransform(one), qx, qy);
        const fast = at(compose(readTransform(one), readTransform(other)), x, y);
        const text = at(readTransform(`${one} ${other}`), x, y);
        for (const axis of [0, 1]) {
          expect(fast[axis]).toBeCloseTo(slow[axis], 6);
          expect(text[axis]).toBeCloseTo(slow[axis], 6);
        }
      }),
    );
  });
  it('is drawn with its lines once, and mirrored ones too', () => {
    const { assembly, meshes } = readLayout(
      svg(
        `<defs><symbol id="l"><path d="M0 0H10V20" fill="none" stroke="black"/></symbol></defs><use href="#l" x="20" y="20"/><use href="#l" transform="translate(90 20) scale(-1 1)"/>`,
      ),
    );
    const bodies = listOccurrences(assembly, (at) => assembly.components[at].shape !== null).map(
      ({ path, placement }) => ({
        mesh: meshes[0].mesh,
        placement,
        path: path.join('/') as never,
      }),
    );
    const { ends, visible } = drawView(bodies, viewPlacement('top'));
    const length = (at: number) => Math.hypot(ends[at * 4 + 2] - ends[at * 4], ends[at * 4 + 3] - ends[at * 4 + 1]);
    const seen = [...visible.keys()].filter((at) => visible[at] === 1).reduce((sum, at) => sum + length(at), 0);
    expect(seen).toBeCloseTo(60, 1);
    expect(applyToPoint(bodies[1].placement, [10, 0, 0])[0]).toBeCloseTo(80, 6);
  });
});

describe('paths', () => {
  const ends = (d: string) => readPath(d).map(({ points, closed }) => [points.slice(-2).map(Math.round), closed]);
  it('are read in all their commands, relative ones too', () => {
    expect(ends('M10 10l5 0 0 5h-5z')).toEqual([[[10, 15], true]]);
    expect(ends('M0 0C0 10 10 10 10 0S20-10 20 0')).toEqual([[[20, 0], false]]);
    expect(ends('M0 0q5 10 10 0t10 0')).toEqual([[[20, 0], false]]);
    expect(ends('M0,0a5 5 0 1110 0M20 20V30')).toEqual([
      [[10, 0], false],
      [[20, 30], false],
    ]);
    expect(ends('M0 0L1')).toEqual([]);
    expect(ends('nonsense')).toEqual([]);
  });
  it('follow an arc at its radius', () => {
    const [{ points }] = readPath('M10 0A10 10 0 0 1 0 10');
    for (let at = 0; at < points.length; at += 2) expect(Math.hypot(points[at], points[at + 1])).toBeCloseTo(10, 6);
  });
  it('are read in time that grows with their length only', () => {
    expect(readPath(`M${'0 '.repeat(100_000)}`).length).toBeLessThan(2);
    expect(readPath('M0 0'.repeat(50_000))).toEqual([]);
  });
});

describe('shapes that are no symbol', () => {
  const shape = (d: string) => {
    const { assembly, meshes } = readLayout(
      svg(`<symbol id="s">${d}</symbol><use href="#s"/>`, 'width="900mm" height="900mm" viewBox="0 0 900 900"'),
    );
    return meshes.find(({ key }) => assembly.components.some((one) => one.shape === key))!.mesh;
  };
  const hook = (transform: string, d = 'M0 0H30V8H12V20H0Z') => `<path transform="${transform}" d="${d}" fill="red"/>`;
  const all: LikeChoice = { turned: true, mirrored: true, scaled: true };

  it('are taken up where they are drawn alike, not counted, and the same again when the file is written anew', () => {
    const inner = `<defs>${CAP}</defs><use href="#cap"/>${hook('translate(20 20)')}${hook('translate(90 60)')}${hook('translate(50 50) rotate(37)')}<path d="M0 0L9 0L3 7Z"/>`;
    const assembly = read(inner);
    const drawn = assembly.components.filter((one) => one.drawn);
    expect(drawn).toHaveLength(2);
    expect(structureTotals(assembly)).toEqual({ leafOccurrences: 1, parts: 1, assemblies: 1 });
    const { treatments } = editAssembly(assembly, newComponentEdits, new Map());
    const rows = makeBill(assembly, { depth: 'parts-only', identity: 'name' }, { ...noDecisions, treatments }).rows;
    expect(rows.map(({ quantity }) => quantity)).toEqual([1]);
    const again = read(`<!-- written anew -->${inner.replace('translate(90 60)', 'matrix(1 0 0 1 90 60)')}`);
    expect(again.components.filter((one) => one.drawn).map(({ key }) => key)).toEqual(drawn.map(({ key }) => key));
  });
  it('are alike up to what may differ, each a choice', () => {
    const own = shape(hook('translate(5 5)'));
    const cases: [string, string][] = [
      ['turned', 'rotate(123)'],
      ['mirrored', 'scale(-1 1)'],
      ['scaled', 'scale(2.5)'],
    ];
    for (const [needs, transform] of cases) {
      const other = shape(hook(`translate(200 300) ${transform}`));
      expect(areAlike(own, other, all)).toBe(true);
      expect(areAlike(own, other, { ...all, [needs]: false })).toBe(false);
    }
    expect(areAlike(own, shape(hook('translate(77 3)')), { turned: false, mirrored: false, scaled: false })).toBe(true);
    expect(areAlike(own, shape(hook('', 'M0 0H30V8H12V22H0Z')), all)).toBe(false);
    expect(areAlike(own, shape('<circle r="9"/>'), all)).toBe(false);
  });
  it('are alike for any move, turn, mirror and scale of any shape', () => {
    const coordinate = fc.integer({ min: -40, max: 40 });
    fc.assert(
      fc.property(
        fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 9 }),
        fc.integer({ min: 0, max: 359 }),
        fc.constantFrom(1, -1),
        fc.integer({ min: 2, max: 30 }),
        (points, angle, flip, scale) => {
          const d = `M${points.map((point) => point.join(' ')).join('L')}`;
          const line = (transform: string) => `<path d="${d}" transform="${transform}" fill="none" stroke="red"/>`;
          fc.pre(new Set(points.map(String)).size === points.length);
          const moved = `translate(300 200) rotate(${angle}) scale(${(flip * scale) / 10} ${scale / 10})`;
          expect(areAlike(shape(line('')), shape(line(moved)), all)).toBe(true);
          expect(likeSignature([{ points: points.flat(), closed: false }])).toBe(
            likeSignature([{ points: points.flatMap(([x, y]) => [y + 7, x - 3]), closed: false }]),
          );
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('layouts that are not taken as they are', () => {
  const refused = (inner: string | Uint8Array) => () => readLayout(typeof inner === 'string' ? svg(inner) : inner);
  const codes = (inner: string) => read(inner).findings.map(({ code }) => code);
  it('are refused in a sentence: no SVG, broken, no symbol, a symbol within itself, uses within uses without end', () => {
    expect(refused(inUtf8('<html/>'))).toThrow(/no SVG drawing/);
    expect(refused(inUtf8('<svg><g></svg>'))).toThrow(/no SVG that can be read/);
    expect(refused('<rect width="5" height="5"/>')).toThrow(/no symbols that are used/);
    expect(
      refused('<symbol id="a"><use href="#b"/></symbol><symbol id="b"><use href="#a"/></symbol><use href="#a"/>'),
    ).toThrow(/stands in itself/);
    expect(refused('<g>'.repeat(600) + '</g>'.repeat(600))).toThrow(/512 deep/);
    const bomb = Array.from(
      { length: 60 },
      (_, at) => `<symbol id="s${at}">${`<use href="#s${at + 1}"/>`.repeat(10)}</symbol>`,
    ).join('');
    expect(refused(`${bomb}<symbol id="s60"><rect width="1" height="1"/></symbol><use href="#s0"/>`)).toThrow(
      /2⁵³|more than|too many/i,
    );
    const chain = Array.from(
      { length: 20_000 },
      (_, at) => `<symbol id="s${at}"><use href="#s${at + 1}"/></symbol>`,
    ).join('');
    expect(refused(`${chain}<symbol id="s20000"><rect width="1" height="1"/></symbol><use href="#s0"/>`)).toThrow(
      /512 deep/,
    );
  });
  it('counts a bomb of uses that stays countable without drawing it', () => {
    const bomb = Array.from(
      { length: 9 },
      (_, at) => `<symbol id="s${at}">${`<use href="#s${at + 1}"/>`.repeat(10)}</symbol>`,
    ).join('');
    const assembly = read(`${bomb}<symbol id="s9"><rect width="1" height="1"/></symbol><use href="#s0"/>`);
    expect(counts(assembly).s9).toBe(1e9);
  });
  it('runs and fetches nothing, and says so; what is lost is counted under its name', () => {
    const inner = `<script>fetch("x")</script><image href="http://example.org/a.png"/><text>Gate</text><defs>${CAP}</defs><use href="#cap"/><use href="other.svg#post"/><use href="#gone"/><use href="#gone"/>`;
    expect(codes(inner)).toEqual(['kept-out', 'not-drawn', 'dangling-reference']);
    expect(counts(read(inner))).toEqual({ Cap: 1, post: 1, gone: 2 });
  });
  it('follows no entities', () => {
    const text = `<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><symbol id="c"><title>&x;</title><rect width="1" height="1"/></symbol><use href="#c"/></svg>`;
    const { assembly } = readLayout(inUtf8(text));
    expect(assembly.findings.map(({ code }) => code)).toContain('entities');
    expect(JSON.stringify(assembly)).not.toContain('root:');
  });
  it('leaves what is hidden out, and takes a symbol without a name', () => {
    expect(codes(`<defs>${CAP}</defs><use href="#cap"/><g display="none"><use href="#cap"/></g>`)).toEqual(['hidden']);
    const nameless = read('<g data-symbol=""><rect width="1" height="1"/></g>');
    expect(nameless.findings.map(({ code }) => code)).toEqual(['unnamed-symbol']);
    expect(counts(nameless)).toEqual({ '': 1 });
  });
  it('takes names that every object has', () => {
    const assembly = read(
      '<symbol id="__proto__"><rect width="1" height="1"/></symbol><use href="#__proto__" data-constructor="x" data-__proto__="y"/>',
    );
    expect(assembly.components.map(({ name }) => name)).toContain('__proto__');
    expect(Object.keys(assembly.components[assembly.root].usages[0].properties!)).toContain('Constructor');
  });
});

describe('many uses', () => {
  it('are counted as walking every element counts them', () => {
    const name = fc.constantFrom('a', 'b', 'c');
    fc.assert(
      fc.property(fc.array(fc.tuple(name, fc.boolean()), { minLength: 1, maxLength: 60 }), (uses) => {
        const defs = ['a', 'b', 'c'].map((id) => `<symbol id="${id}"><rect width="1" height="1"/></symbol>`).join('');
        const inner = uses.map(([id, grouped], at) => {
          const use = `<use href="#${id}" x="${at}" data-n="${at % 3}"/>`;
          return grouped ? `<g transform="translate(1 1)">${use}</g>` : use;
        });
        const slow: Record<string, number> = {};
        for (const [id] of uses) slow[id] = (slow[id] ?? 0) + 1;
        const full = counts(read(defs + inner.join('')));
        expect(full).toEqual(slow);
        const { assembly } = readLayout(svg(defs + inner.join('')), { shapes: false });
        expect(counts(assembly)).toEqual(slow);
      }),
      { numRuns: 60 },
    );
  });
});
