import { Button, FileButton, Group, Menu, Modal, TextInput } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconChevronDown } from '@tabler/icons-react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { HouseStyle, Styles } from '../../../contract/src/index.ts';
import { knownColumns } from '../../../core/src/columns/index.ts';
import type { BillCommand } from '../../../core/src/documents/index.ts';
import { dropStyle, keepStyle, loadStyles, readStyle, setUsualStyle } from '../data/api.ts';
import { useMachine } from '../data/openProject.ts';
import { currentStyle } from '../data/currentStyle.ts';
import { useBillEdit } from '../lines/useBillEdit.ts';

/** House styles: columns with their formats, kept for all projects, handed on as files. */
export function StylesMenu() {
  const { assembly, billDocument } = useMachine();
  const { change } = useBillEdit();
  const queries = useQueryClient();
  const { data } = useQuery({ queryKey: ['styles'], queryFn: loadStyles });
  const [naming, setNaming] = useState<string | null>(null);
  const styles = data?.styles ?? [];
  const during = async (work: () => Promise<Styles>, told?: string) => {
    try {
      queries.setQueryData(['styles'], await work());
      if (told) notifications.show({ message: told });
    } catch (error) {
      notifications.show({ message: (error as Error).message, color: 'orange' });
    }
  };
  /** A style that is replaced keeps what it says of sheets. */
  const current = (name: string): HouseStyle => {
    const sheet = styles.find((style) => style.name === name)?.sheet;
    return { ...currentStyle(billDocument.content, name), ...(sheet ? { sheet } : {}) };
  };
  const apply = (style: HouseStyle) => {
    const known = new Set<string>(knownColumns(assembly).map(({ source }) => source));
    const lacking = style.columns
      .filter(({ source }) => source.startsWith('property:') && !known.has(source))
      .map(({ heading }) => heading);
    const commands: BillCommand[] = [{ kind: 'setColumns', columns: style.columns as never }];
    if (style.numbering) commands.push({ kind: 'changeRecipe', change: { numbering: style.numbering } });
    change(`house style ${style.name}`, ...commands);
    if (lacking.length > 0)
      notifications.show({
        message: `This machine has no ${lacking.join(', no ')}; ${lacking.length === 1 ? 'that column stays' : 'those columns stay'} empty until something is typed.`,
        color: 'orange',
        autoClose: 9000,
      });
  };
  const bring = (file: File | null) => {
    if (file) void during(async () => keepStyle(await readStyle(file)), `The style of ${file.name} is kept.`);
  };
  return (
    <>
      <Menu position="bottom-end" shadow="md" width={280}>
        <Menu.Target>
          <button>
            House style
            <IconChevronDown size={13} />
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {styles.length === 0 && <Menu.Label>None is kept yet.</Menu.Label>}
          {styles.map((style) => (
            <Menu.Item
              key={style.name}
              rightSection={
                <span className="quiet">
                  {style.columns.length} columns{style.name === data?.usual ? ', usual' : ''}
                </span>
              }
              onClick={() => apply(style)}
            >
              {style.name}
            </Menu.Item>
          ))}
          {data?.unread.map(({ name, why }) => (
            <Menu.Item key={`unread ${name}`} disabled title={why}>
              {name}: cannot be read here
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Item onClick={() => setNaming('Workshop')}>Keep these columns as a style …</Menu.Item>
          {styles.length > 0 && <Menu.Label>For new bills</Menu.Label>}
          {styles.map(({ name }) => (
            <Menu.Item
              key={`usual ${name}`}
              disabled={name === data?.usual}
              onClick={() => void during(() => setUsualStyle(name), `New bills begin with ${name}.`)}
            >
              Begin with {name}
            </Menu.Item>
          ))}
          {data?.usual && (
            <Menu.Item
              onClick={() => void during(() => setUsualStyle(null), 'New bills begin with the usual columns.')}
            >
              Begin with the usual columns
            </Menu.Item>
          )}
          <Menu.Divider />
          {styles.map((style) => (
            <Menu.Item
              key={`hand ${style.name}`}
              component="a"
              href={`data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(style, null, 2))}`}
              download={`${style.name}.json`}
            >
              {style.name} as a file
            </Menu.Item>
          ))}
          <FileButton onChange={bring} accept="application/json,.json">
            {(props) => (
              <Menu.Item {...props} closeMenuOnClick={false}>
                Bring a style file in …
              </Menu.Item>
            )}
          </FileButton>
          {styles.map(({ name }) => (
            <Menu.Item
              key={`drop ${name}`}
              onClick={() => void during(() => dropStyle(name), `${name} is no longer kept; bills keep their columns.`)}
            >
              Keep {name} no longer
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      {naming !== null && (
        <Modal opened onClose={() => setNaming(null)} title="Keep these columns as a house style" size={420}>
          <TextInput
            size="xs"
            label="Name"
            data-autofocus
            maxLength={150}
            value={naming}
            onChange={(event) => setNaming(event.currentTarget.value)}
            description={
              styles.some(({ name }) => name === naming.trim())
                ? 'A style of this name is replaced.'
                : 'Columns, their order, headings and formats, and how numbers are written.'
            }
          />
          <Group mt="md" gap="xs">
            <Button
              size="compact-md"
              disabled={!naming.trim()}
              onClick={() => {
                void during(() => keepStyle(current(naming.trim())), `${naming.trim()} is kept.`);
                setNaming(null);
              }}
            >
              Keep it
            </Button>
            <Button size="compact-md" variant="default" onClick={() => setNaming(null)}>
              Leave
            </Button>
          </Group>
        </Modal>
      )}
    </>
  );
}
