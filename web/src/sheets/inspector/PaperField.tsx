import { Checkbox, Group, NumberInput, SegmentedControl, Select } from '@mantine/core';
import { OWN_SIDES, paperNames, paperSize, type Paper } from '../../../../core/src/sheets/index.ts';

const OWN = 'own size';

/** Size of the paper, which way it lies, and whether it has a frame. */
export function PaperField({ paper, onPaper }: { paper: Paper; onPaper: (paper: Paper, words: string) => void }) {
  const { widthMm, heightMm } = paperSize(paper);
  const { sides: _, ...withoutSides } = paper;
  const least = paper.blank ? OWN_SIDES.leastBlank : OWN_SIDES.leastFramed;
  const setSides = (width: number, height: number) => {
    const fitted = [width, height].map((side) => Math.min(OWN_SIDES.most, Math.max(least, side || least)));
    const [short, long] = fitted.toSorted((one, other) => one - other);
    onPaper(
      { ...paper, size: 'own', sides: [short, long], landscape: fitted[0] >= fitted[1] },
      `paper ${fitted[0]} × ${fitted[1]}`,
    );
  };
  const choose = (size: string | null) => {
    if (size === OWN) setSides(widthMm, heightMm);
    else if (size) onPaper({ ...withoutSides, size: size as Paper['size'] }, `paper ${size}`);
  };
  return (
    <>
      <Group grow align="end">
        <Select
          size="xs"
          label="Paper"
          data={[...paperNames, OWN]}
          value={paper.size === 'own' ? OWN : paper.size}
          allowDeselect={false}
          onChange={choose}
        />
        <SegmentedControl
          size="xs"
          aria-label="Which way the paper lies"
          data={['landscape', 'portrait']}
          value={paper.landscape ? 'landscape' : 'portrait'}
          onChange={(way) => onPaper({ ...paper, landscape: way === 'landscape' }, `paper ${way}`)}
        />
      </Group>
      {paper.size === 'own' && (
        <Group grow mt={6}>
          {(
            [
              ['Width, mm', widthMm, (width: number) => setSides(width, heightMm)],
              ['Height, mm', heightMm, (height: number) => setSides(widthMm, height)],
            ] as const
          ).map(([label, value, set]) => (
            <NumberInput
              key={`${label} ${value}`}
              size="xs"
              label={label}
              min={least}
              max={OWN_SIDES.most}
              defaultValue={value}
              onBlur={(event) => Number(event.currentTarget.value) !== value && set(Number(event.currentTarget.value))}
              onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
            />
          ))}
        </Group>
      )}
      <Checkbox
        mt={8}
        size="xs"
        label="No frame and no title block, as for a figure"
        checked={paper.blank ?? false}
        onChange={({ currentTarget: { checked } }) => {
          const { blank: __, ...framed } = paper;
          if (checked) return onPaper({ ...paper, blank: true }, 'paper without a frame');
          const grown = framed.sides?.map((side) => Math.max(side, OWN_SIDES.leastFramed)) as Paper['sides'];
          onPaper({ ...framed, ...(grown ? { sides: grown } : {}) }, 'paper with a frame');
        }}
      />
    </>
  );
}
