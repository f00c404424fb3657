import { Checkbox, Group, SegmentedControl } from '@mantine/core';
import { usualSectionLook, type SectionLook } from '../../../../../core/src/sheets/index.ts';
import { useDocuments, useDoing } from '../../../data/openProject.ts';
import { SizeInput } from '../SizeInput.tsx';

/** How the sections of all sheets look. */
export function SectionLookFields() {
  const { set } = useDocuments();
  const { perform } = useDoing();
  const look = set.content.sectionLook ?? usualSectionLook;
  const put = (
    label: string,
    changed: Partial<Omit<SectionLook, 'byMaterial'>> & { readonly byMaterial?: boolean },
  ) => {
    const { byMaterial, ...rest } = { ...look, ...changed };
    perform(label, {
      document: set.id,
      command: { kind: 'setSectionLook', look: { ...rest, ...(byMaterial ? { byMaterial } : {}) } },
    });
  };
  return (
    <fieldset className="moves">
      <legend>All sections of the set</legend>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label="Arrows of cutting lines"
        data={[
          { value: 'onto', label: 'Arrows onto the line' },
          { value: 'off', label: 'Away from it' },
        ]}
        value={look.arrows}
        onChange={(arrows) =>
          put(arrows === 'onto' ? 'arrows onto cutting lines' : 'arrows away from cutting lines', {
            arrows: arrows as SectionLook['arrows'],
          })
        }
      />
      <Group gap="xs" align="end" mt="xs" grow>
        <SizeInput
          key={`lettering ${look.lettering}`}
          label="Letters, mm"
          fitted={String(usualSectionLook.lettering)}
          value={look.lettering}
          min={1.8}
          max={20}
          digits={2}
          onValue={(lettering) =>
            put('letters of cutting lines', { lettering: lettering ?? usualSectionLook.lettering })
          }
        />
        <SizeInput
          key={`pitch ${look.pitch}`}
          label="Between hatch lines, %"
          fitted="100"
          value={Math.round(look.pitch * 100)}
          min={50}
          max={300}
          digits={0}
          onValue={(share) => put('distance of hatch lines', { pitch: (share ?? 100) / 100 })}
        />
      </Group>
      <Checkbox
        mt="xs"
        size="xs"
        label="Hatched by material"
        checked={look.byMaterial ?? false}
        onChange={({ currentTarget: { checked } }) =>
          put(checked ? 'hatch all sections by material' : 'hatch all materials alike', { byMaterial: checked })
        }
      />
    </fieldset>
  );
}
