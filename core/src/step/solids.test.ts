import { describe, expect, test } from 'vitest';
import { machines } from '../../../demo/machines.ts';
import { block, lathe, move, prism, put, circle, rounded } from '../../../demo/solids.ts';
import { made } from '../../../demo/stock.ts';
import { revisionA } from '../../../demo/sledge.ts';
import { productStep, sledgeStep } from '../../../demo/writeDemo.ts';
import { bytesOf } from '../../../testkit/stepFiles.ts';
import { meshBox, meshVolume, type Mesh } from '../geometry/index.ts';
import { meshSlice, readStep } from './index.ts';

const FINE = { deflection: 0.05, angle: 0.1 };
/** The slice of a part of these solids. */
const sliceOf = (...solids: Parameters<typeof made>[3]): string =>
  readStep(bytesOf(productStep(made('P', 'Part', 'steel', solids), 'part.step'))).slices[0].text;
const meshed = (text: string): Mesh => {
  const mesh = meshSlice(text, FINE);
  if (!mesh) throw new Error('It was not meshed.');
  return mesh;
};
const cube = sliceOf(block(10, 20, 30));
/** Adds entities to a slice. */
const withEntities = (text: string, ...entities: string[]): string =>
  text.replace('ENDSEC;\nEND-ISO', `${entities.join('\n')}\nENDSEC;\nEND-ISO`);
/** The slice with one record replaced; `$1`… stand for what is in the brackets of the pattern. */
function replaced(text: string, pattern: RegExp, by: string): string {
  expect(text).toMatch(pattern);
  return text.replace(pattern, by);
}

describe('shapes that are meshed without the kernel', () => {
  const files = Object.entries(machines).map(
    ([name, make]) => [name, () => productStep(make(), `${name}.step`)] as const,
  );
  test.each([...files, ['sledge', () => sledgeStep(revisionA)] as const])('all of the %s', (_, write) => {
    const text = write();
    const { slices } = readStep(bytesOf(text));
    expect(slices.length).toBeGreaterThan(0);
    const missing = slices.filter(
      (slice) => !meshSlice(slice.text, { deflection: Math.max(0.005, slice.diagonalMm / 2000), angle: 0.1 }),
    );
    expect(missing).toEqual([]);
  });
  test('a rounded plate with holes: as much volume as by formula', () => {
    const plate = prism(rounded(80, 50, 8), 0, 6, [circle(4, 20, 10), circle(9, -15, 0)]);
    const area = 80 * 50 - (4 - Math.PI) * 64 - Math.PI * (16 + 81);
    expect(meshVolume(meshed(sliceOf(plate))) / (area * 6)).toBeCloseTo(1, 3);
  });
  test('several solids are one mesh', () => {
    const mesh = meshed(sliceOf(block(10, 10, 10), put(move(50, 0, 0), block(20, 20, 20))));
    expect(meshVolume(mesh)).toBeCloseTo(9000, 6);
    expect(mesh.faceStarts.length - 1).toBe(12);
  });
});

describe('how files write them', () => {
  test('lengths in metres', () => {
    const text = replaced(cube, /SI_UNIT\(\.MILLI\.,\.METRE\.\)/, 'SI_UNIT($,.METRE.)');
    const [x0, y0, z0, x1, y1, z1] = meshBox(meshed(text));
    [x1 - x0, y1 - y0, z1 - z0].forEach((extent, at) => expect(extent).toBeCloseTo([10_000, 20_000, 30_000][at], 6));
  });
  test('angles in degrees', () => {
    const cone = sliceOf(lathe([0, 0], [10, 0], [5, 20], [0, 20]));
    const inDegrees = replaced(
      replaced(
        cone,
        /(#\d+)=\(NAMED_UNIT\(\*\)PLANE_ANGLE_UNIT\(\)SI_UNIT\(\$,\.RADIAN\.\)\)/,
        "$1=(CONVERSION_BASED_UNIT('DEGREE',#9001)NAMED_UNIT(#9002)PLANE_ANGLE_UNIT())",
      ),
      /(CONICAL_SURFACE\('',#\d+,[\d.]+,)[\d.E-]+\)/,
      `$1${((Math.atan(0.25) * 180) / Math.PI).toFixed(12)})`,
    );
    const text = withEntities(
      inDegrees,
      '#9001=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(0.017453292519943295),#9003);',
      '#9002=DIMENSIONAL_EXPONENTS(0.,0.,0.,0.,0.,0.,0.);',
      '#9003=(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.));',
    );
    expect(meshVolume(meshed(text))).toBeCloseTo(meshVolume(meshed(cone)), 1);
  });
  test('a hollow as a shell turned over', () => {
    const two = sliceOf(block(30, 30, 30), put(move(0, 0, 10), block(10, 10, 10)));
    const [outer, inner] = [...two.matchAll(/MANIFOLD_SOLID_BREP\('',(#\d+)\)/g)].map(([, shell]) => shell);
    const text = withEntities(
      two
        .replace(`MANIFOLD_SOLID_BREP('',${outer})`, `BREP_WITH_VOIDS('',${outer},(#9001))`)
        .replace(`MANIFOLD_SOLID_BREP('',${inner})`, "AXIS2_PLACEMENT_3D('',#9002,$,$)"),
      `#9001=ORIENTED_CLOSED_SHELL('',*,${inner},.F.);`,
      "#9002=CARTESIAN_POINT('',(0.,0.,0.));",
    );
    expect(meshVolume(meshed(text))).toBeCloseTo(27_000 - 1000, 6);
  });
  test('surfaces alone, open at one side', () => {
    const open = cube
      .replace(/CLOSED_SHELL\('',\(#\d+,/, "OPEN_SHELL('',(")
      .replace(/MANIFOLD_SOLID_BREP\('',(#\d+)\)/, "SHELL_BASED_SURFACE_MODEL('',($1))");
    expect(meshed(open).faceStarts.length - 1).toBe(5);
    expect(meshSlice(cube.replace(/CLOSED_SHELL\('',\(#\d+,/, "CLOSED_SHELL('',("), FINE)).toBeNull();
  });
  test('bounds and faces in any sense', () => {
    const bound = /FACE_OUTER_BOUND\('',(#\d+),\.T\.\)/.exec(cube)!;
    const loop = new RegExp(`\\${bound[1]}=EDGE_LOOP\\('',\\(([^)]*)\\)\\)`).exec(cube)!;
    const turned = loop[1].split(',').reverse();
    let text = cube
      .replace(bound[0], bound[0].replace('.T.', '.F.'))
      .replace(loop[0], loop[0].replace(loop[1], turned.join()));
    for (const edge of turned)
      text = text.replace(
        new RegExp(`(\\${edge}=ORIENTED_EDGE\\('',\\*,\\*,#\\d+,)\\.([TF])\\.`),
        (_, head, sense) => `${String(head)}.${sense === 'T' ? 'F' : 'T'}.`,
      );
    expect(meshVolume(meshed(text))).toBeCloseTo(6000, 6);
  });
  test.each([
    ['a spline', "B_SPLINE_CURVE_WITH_KNOTS('',1,(FROM,TO),.UNSPECIFIED.,.F.,.F.,(2,2),(0.,1.),.UNSPECIFIED.)"],
    [
      'a rational spline',
      "(BOUNDED_CURVE()B_SPLINE_CURVE(1,(FROM,TO),.UNSPECIFIED.,.F.,.F.)B_SPLINE_CURVE_WITH_KNOTS((2,2),(0.,1.),.UNSPECIFIED.)CURVE()GEOMETRIC_REPRESENTATION_ITEM()RATIONAL_B_SPLINE_CURVE((1.,2.))REPRESENTATION_ITEM(''))",
    ],
    ['a curve on surfaces', "SURFACE_CURVE('',#9001,(),.CURVE_3D.)"],
  ])('an edge as %s', (_, curve) => {
    const [, start, end, line] = /EDGE_CURVE\('',(#\d+),(#\d+),(#\d+),\.T\.\)/.exec(cube)!;
    const pointOf = (vertex: string) => new RegExp(`\\${vertex}=VERTEX_POINT\\('',(#\\d+)\\)`).exec(cube)![1];
    const own = new RegExp(`\\${line}=(LINE\\([^)]*\\))`).exec(cube)!;
    const text = withEntities(
      cube.replace(own[0], `${line}=${curve.replace('FROM', pointOf(start)).replace('TO', pointOf(end))}`),
      `#9001=${own[1]};`,
    );
    expect(meshVolume(meshed(text))).toBeCloseTo(6000, 6);
  });
  test('faces by their corners', () => {
    const corners = ['0.,0.,0.', '10.,0.,0.', '0.,10.,0.', '0.,0.,10.'];
    const faces = [
      [0, 2, 1],
      [0, 1, 3],
      [0, 3, 2],
      [1, 2, 3],
    ];
    const normals = ['0.,0.,-1.', '0.,-1.,0.', '-1.,0.,0.', '1.,1.,1.'];
    const shell = /MANIFOLD_SOLID_BREP\('',#\d+\)/.exec(cube)![0];
    const text = withEntities(
      cube.replace(shell, "FACETED_BREP('',#9000)"),
      `#9000=CLOSED_SHELL('',(${faces.map((_, at) => `#${9100 + at * 10}`).join()}));`,
      ...corners.map((corner, at) => `#${9001 + at}=CARTESIAN_POINT('',(${corner}));`),
      ...faces.flatMap((face, at) => {
        const id = 9100 + at * 10;
        return [
          `#${id}=FACE_SURFACE('',(#${id + 1}),#${id + 3},.T.);`,
          `#${id + 1}=FACE_OUTER_BOUND('',#${id + 2},.T.);`,
          `#${id + 2}=POLY_LOOP('',(${face.map((corner) => `#${9001 + corner}`).join()}));`,
          `#${id + 3}=PLANE('',#${id + 4});`,
          `#${id + 4}=AXIS2_PLACEMENT_3D('',#${9001 + face[0]},#${id + 5},$);`,
          `#${id + 5}=DIRECTION('',(${normals[at]}));`,
        ];
      }),
    );
    expect(meshVolume(meshed(text))).toBeCloseTo(1000 / 6, 6);
  });
  test('a colour of the solid, and another of one face', () => {
    const bare = cube.replace(/#\d+=(OVER_RIDING_)?STYLED_ITEM\([^;]*;\n/g, '');
    const [, solid] = /(#\d+)=MANIFOLD_SOLID_BREP/.exec(bare)!;
    const [, face] = /(#\d+)=ADVANCED_FACE/.exec(bare)!;
    const text = withEntities(
      bare,
      `#9001=STYLED_ITEM('',(#9003),${solid});`,
      `#9002=STYLED_ITEM('',(#9004),${face});`,
      "#9003=FILL_AREA_STYLE_COLOUR('',#9005);",
      "#9004=FILL_AREA_STYLE_COLOUR('',#9006);",
      "#9005=DRAUGHTING_PRE_DEFINED_COLOUR('blue');",
      "#9006=COLOUR_RGB('',1.,0.5,0.);",
    );
    expect([...meshed(text).faceColours].sort()).toEqual([255, 255, 255, 255, 255, 0xff8000].sort());
    expect(new Set(meshed(bare).faceColours)).toEqual(new Set([-1]));
  });
});

describe('what is left to the kernel', () => {
  const round = sliceOf(lathe([0, 0], [10, 0], [5, 20], [0, 20]));
  test.each([
    [
      'a free-form face',
      cube,
      /PLANE\('',#\d+\)/,
      "B_SPLINE_SURFACE_WITH_KNOTS('',1,1,((#1)),.U.,.F.,.F.,.F.,(2),(2),(0.),(0.),.U.)",
    ],
    ['a solid of another kind', cube, /MANIFOLD_SOLID_BREP\('',(#\d+)\)/, "BLOCK('',$1,1.,2.,3.)"],
    [
      'a shell that is itself turned over',
      cube,
      /(#\d+)=CLOSED_SHELL\([^;]*;/,
      "$1=ORIENTED_CLOSED_SHELL('',*,$1,.F.);",
    ],
    ['a curve on surfaces that is itself', cube, /(#\d+)=LINE\([^;]*;/, "$1=SURFACE_CURVE('',$1,(),.CURVE_3D.);"],
    ['a radius that is none', round, /CONICAL_SURFACE\('',(#\d+),[\d.]+,/, "CONICAL_SURFACE('',$1,$$,"],
    ['a circle of nothing', round, /CIRCLE\('',(#\d+),[\d.]+\)/, "CIRCLE('',$1,0.)"],
    ['points without place', cube, /CARTESIAN_POINT\('',\([^)]*\)\)/g, "CARTESIAN_POINT('',())"],
    ['a missing face', cube, /ADVANCED_FACE\('',\(#\d+\),#\d+,\.T\.\)/, "ADVANCED_FACE('',(#77777),#77777,.T.)"],
    ['an edge without curve', cube, /(EDGE_CURVE\('',#\d+,#\d+,)#\d+/, '$1$$'],
    ['letters instead of numbers', cube, /CARTESIAN_POINT\('',\([^)]*\)\)/, "CARTESIAN_POINT('',(x,y,z))"],
    [
      'knots that fall',
      cube,
      /LINE\('',(#\d+),#\d+\)/,
      "B_SPLINE_CURVE_WITH_KNOTS('',1,($1,$1),.U.,.F.,.F.,(2,2),(1.,0.),.U.)",
    ],
  ])('%s', (_, text, pattern, by) => {
    expect(meshSlice(replaced(text, pattern, by), FINE)).toBeNull();
  });
  test('of a thousand damaged slices none does harm, and none that comes out has a gap', () => {
    let seed = 7;
    const random = (below: number): number => (seed = (seed * 48_271) % 2_147_483_647) % below;
    let kept = 0;
    for (let run = 0; run < 1000; run++) {
      const lines = (run % 2 ? cube : round).split('\n');
      const line = 7 + random(lines.length - 10);
      const numbers = [...lines[line].matchAll(/-?\d+(\.\d*)?/g)];
      const hit = numbers[random(numbers.length)];
      const by = ['0', '-1', '1E300', '$', '3', "'x'", '#5', '*'][random(8)];
      lines[line] = lines[line].slice(0, hit.index) + by + lines[line].slice(hit.index + hit[0].length);
      const mesh = meshSlice(lines.join('\n'), FINE);
      if (!mesh) continue;
      kept++;
      expect(mesh.positions.every(Number.isFinite)).toBe(true);
      expect(meshVolume(mesh)).toBeGreaterThan(0);
    }
    expect(kept).toBeGreaterThan(100);
    expect(kept).toBeLessThan(900);
  });
});
