import { Spotlight } from '@mantine/spotlight';
import { IconBox, IconFileText, IconListDetails, IconSearch } from '@tabler/icons-react';
import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import { useDocuments, useMachine, usePicking } from '../data/openProject.ts';
import { Thumb } from './Thumb.tsx';

/** Ctrl K: any part by number, name, description or property, and the stations. */
export function Find() {
  const { id } = useDocuments();
  const { assembly, counts } = useMachine();
  const { pick } = usePicking();
  const navigate = useNavigate();
  const actions = useMemo(
    () => [
      {
        group: 'Places',
        actions: [
          {
            id: 'model',
            label: 'Model',
            leftSection: <IconBox size={18} />,
            onClick: () => navigate(`/projects/${id}/model`),
          },
          {
            id: 'bill',
            label: 'Bill',
            leftSection: <IconListDetails size={18} />,
            onClick: () => navigate(`/projects/${id}/bill`),
          },
          {
            id: 'sheets',
            label: 'Sheets',
            leftSection: <IconFileText size={18} />,
            onClick: () => navigate(`/projects/${id}/sheets`),
          },
        ],
      },
      {
        group: 'Parts',
        actions: assembly.components.map((component, index) => ({
          id: component.key,
          label: component.name || component.partNumber,
          leftSection: <Thumb component={component} size={22} />,
          description: [component.partNumber, component.description, counts[index] > 1 ? `${counts[index]} times` : '']
            .filter(Boolean)
            .join(' · '),
          keywords: Object.values(component.properties).map(({ value }) => String(value)),
          onClick: () => pick(index),
        })),
      },
    ],
    [id, assembly, counts, pick, navigate],
  );
  return (
    <Spotlight
      attributes={{ content: { 'aria-label': 'Find a part or a place' } }}
      actions={actions}
      shortcut={null}
      limit={12}
      nothingFound="Nothing in this machine is called that."
      highlightQuery
      scrollable
      maxHeight={420}
      searchProps={{ leftSection: <IconSearch size={18} />, placeholder: 'Part number, name, material …' }}
    />
  );
}
