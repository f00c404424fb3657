import { describe, expect, test } from 'vitest';
import { meshMoments } from '../geometry/index.ts';
import { beforeEnd, bytesOf, group, part, stepOf, times } from '../../../testkit/stepFiles.ts';
import { readStep } from './readAssembly.ts';

const plain = stepOf(group('TOP', 'Top', ...times(2, part('P', 'Plate'))));
/** The demo part's solid replaced by these tessellated entities; #900 is the item of the representation. */
function tessellated(...entities: string[]) {
  const solid = /(#\d+)=MANIFOLD_SOLID_BREP/.exec(plain)![1];
  const text = beforeEnd(
    plain.replace(
      new RegExp(`ADVANCED_BREP_SHAPE_REPRESENTATION\\('',\\((#\\d+),${solid}\\)`),
      "TESSELLATED_SHAPE_REPRESENTATION('',($1,#900)",
    ),
    ...entities,
  );
  return readStep(bytesOf(text));
}
const corners = "#910=COORDINATES_LIST('',5,((0.,0.,0.),(30.,0.,0.),(0.,20.,0.),(0.,0.,10.),(99.,99.,99.)));";

describe('shapes that a file carries as triangles', () => {
  test('a solid of triangulated faces, used twice, is one mesh; no kernel is asked', () => {
    const { assembly, slices, meshes } = tessellated(
      corners,
      "#900=TESSELLATED_SOLID('',(#901),$);",
      "#901=TRIANGULATED_FACE('',#910,4,(),$,(1,2,3,4),((1,3,2),(1,2,4),(1,4,3),(2,3,4)));",
    );
    expect([slices.length, meshes.length]).toEqual([0, 1]);
    expect(assembly.components.find(({ partNumber }) => partNumber === 'P')!.shape).toBe(meshes[0].key);
    expect(meshMoments(meshes[0].mesh).volume).toBeCloseTo(1000, 6);
  });
  test('without an index, numbers mean the coordinates themselves', () => {
    const { meshes } = tessellated(
      corners,
      "#900=TESSELLATED_SHELL('',(#901),$);",
      "#901=TRIANGULATED_FACE('',#910,5,(),$,(),((1,3,2),(1,2,4),(1,4,3),(2,3,4)));",
    );
    expect(meshMoments(meshes[0].mesh).volume).toBeCloseTo(1000, 6);
  });
  test('strips alternate their sense, fans turn about their first point', () => {
    const { meshes } = tessellated(
      corners,
      "#900=TESSELLATED_SOLID('',(#901),$);",
      "#901=COMPLEX_TRIANGULATED_FACE('',#910,4,(),$,(1,2,3,4),((1,3,2,4)),((1,2,4,3)));",
    );
    expect(meshMoments(meshes[0].mesh).volume).toBeCloseTo(1000, 6);
    expect(meshes[0].mesh.triangles.length / 3).toBe(4);
  });
  test('a colour of the solid holds for its faces', () => {
    const { meshes } = tessellated(
      corners,
      "#900=TESSELLATED_SOLID('',(#901),$);",
      "#901=TRIANGULATED_FACE('',#910,4,(),$,(1,2,3,4),((1,3,2),(1,2,4),(1,4,3),(2,3,4)));",
      "#920=DRAUGHTING_PRE_DEFINED_COLOUR('green');",
      "#921=FILL_AREA_STYLE_COLOUR('',#920);",
      "#922=STYLED_ITEM('',(#921),#900);",
    );
    expect([...new Set(meshes[0].mesh.faceColours)]).toEqual([0x00ff00]);
  });
  test('numbers beyond the list are left out, not read from elsewhere', () => {
    const { meshes } = tessellated(
      corners,
      "#900=TESSELLATED_SOLID('',(#901),$);",
      "#901=TRIANGULATED_FACE('',#910,4,(),$,(1,2,3,4),((1,3,2),(1,2,4),(1,4,3),(2,3,4),(1,2,9),(0,1,2)));",
    );
    expect(meshes[0].mesh.triangles.length / 3).toBe(4);
  });
  test('metres become millimetres', () => {
    const solid = /(#\d+)=MANIFOLD_SOLID_BREP/.exec(plain)![1];
    const text = beforeEnd(
      plain
        .replace('SI_UNIT(.MILLI.,.METRE.)', 'SI_UNIT($,.METRE.)')
        .replace(
          new RegExp(`ADVANCED_BREP_SHAPE_REPRESENTATION\\('',\\((#\\d+),${solid}\\)`),
          "TESSELLATED_SHAPE_REPRESENTATION('',($1,#900)",
        ),
      corners,
      "#900=TESSELLATED_SOLID('',(#901),$);",
      "#901=TRIANGULATED_FACE('',#910,4,(),$,(1,2,3,4),((1,3,2),(1,2,4),(1,4,3),(2,3,4)));",
    );
    expect(meshMoments(readStep(bytesOf(text)).meshes[0].mesh).volume / 1000e9).toBeCloseTo(1, 6);
  });
});
