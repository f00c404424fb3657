import { describe, expect, test } from 'vitest';
import { machines } from '../../../demo/machines.ts';
import { revisionA } from '../../../demo/sledge.ts';
import { block } from '../../../demo/solids.ts';
import { made } from '../../../demo/stock.ts';
import { productStep, sledgeStep } from '../../../demo/writeDemo.ts';
import { bytesOf } from '../../../testkit/stepFiles.ts';
import { meshBox, meshMoments, meshVolume } from '../../../core/src/geometry/index.ts';
import { meshSlice, readStep, type Slice } from '../../../core/src/step/index.ts';
import { kernelMesh, tessellateSlice } from './tessellate.ts';

const slicesOf = (text: string): readonly Slice[] => readStep(bytesOf(text)).slices;

describe('our own meshes beside those of the geometry kernel', () => {
  const files: [string, readonly Slice[]][] = [
    ['coaxial pack', slicesOf(productStep(machines['coaxial-pack'](), 'pack.step'))],
    ['welded frame', slicesOf(productStep(machines['welded-frame'](), 'frame.step'))],
    ['cabinet', slicesOf(productStep(machines.cabinet(), 'cabinet.step'))],
    // Every fourth shape of the sledge, since the kernel takes its time.
    ['sledge', slicesOf(sledgeStep(revisionA)).filter((_, at) => at % 4 === 0)],
  ];
  test.each(files)('%s: the same faces, box, surface and volume', async (_, slices) => {
    for (const { text, diagonalMm } of slices) {
      const deflection = Math.max(0.005, diagonalMm / 2000);
      const own = meshSlice(text, { deflection, angle: 0.1 })!,
        kernel = await kernelMesh(text, deflection);
      expect(own.faceStarts.length).toBe(kernel.faceStarts.length);
      expect(meshVolume(own) / meshVolume(kernel)).toBeCloseTo(1, 2);
      expect(meshMoments(own).area / meshMoments(kernel).area).toBeCloseTo(1, 2);
      const box = meshBox(kernel);
      meshBox(own).forEach((value, at) => expect(Math.abs(value - box[at])).toBeLessThan(deflection * 2));
    }
  });

  test('a shape with a free-form face is made by the kernel, with the same colours and faces', async () => {
    const [{ text, diagonalMm }] = slicesOf(productStep(made('P', 'Part', 'steel', [block(10, 20, 30)]), 'part.step'));
    const record = (name: string): string => new RegExp(`\\${name}=([^;]*);`).exec(text)![1];
    const top = [...text.matchAll(/(#\d+)=PLANE\('',(#\d+)\);/g)].find(([, , axes]) => {
      const [, point, normal] = /AXIS2_PLACEMENT_3D\('',(#\d+),(#\d+)/.exec(record(axes))!;
      return record(normal).includes('(0.,0.,1.)') && record(point).includes(',30.)');
    })!;
    const free = text
      .replace(
        top[0],
        `${top[1]}=B_SPLINE_SURFACE_WITH_KNOTS('',1,1,((#9001,#9002),(#9003,#9004)),.UNSPECIFIED.,.F.,.F.,.F.,(2,2),(2,2),(0.,1.),(0.,1.),.UNSPECIFIED.);`,
      )
      .replace(
        'ENDSEC;\nEND-ISO',
        `${['-50.,-50.', '-50.,50.', '50.,-50.', '50.,50.'].map((at, n) => `#${9001 + n}=CARTESIAN_POINT('',(${at},30.));`).join('\n')}\nENDSEC;\nEND-ISO`,
      );
    expect(meshSlice(free, { deflection: 0.1, angle: 0.1 })).toBeNull();
    const [mesh, plain] = [await tessellateSlice(free, diagonalMm), await tessellateSlice(text, diagonalMm)];
    expect(meshVolume(mesh)).toBeCloseTo(6000, 3);
    expect(mesh.faceStarts.length).toBe(plain.faceStarts.length);
    // The kernel rounds colours on its way through linear ones.
    const channels = (colours: Int32Array) => [...colours].flatMap((c) => [c >> 16, (c >> 8) & 255, c & 255]);
    const wanted = channels(plain.faceColours);
    expect(wanted.every((channel) => channel >= 0)).toBe(true);
    channels(mesh.faceColours).forEach((channel, at) => expect(Math.abs(channel - wanted[at])).toBeLessThanOrEqual(1));
  });

  test('what neither can make is said', async () => {
    await expect(tessellateSlice('ISO-10303-21;HEADER;ENDSEC;DATA;ENDSEC;END-ISO-10303-21;', 1)).rejects.toThrow(
      /no solid or surface/,
    );
  });
});
