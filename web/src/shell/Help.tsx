import { Modal, ScrollArea, Table, Tabs } from '@mantine/core';
import licences from './licences.json' with { type: 'json' };

const job: readonly (readonly [string, string])[] = [
  ['Projects', 'Drop a STEP, glTF, 3MF, SVG or list file. It is read here; nothing is sent anywhere.'],
  ['Model', 'Look through the structure. Say what has a line of its own, correct values, answer the findings.'],
  ['Bill', 'Choose depth, order and columns in the sentence on top; type into the list as in a spreadsheet.'],
  [
    'Sheets',
    '“Make the drawing” places a view, the list and the balloons; drag what you want elsewhere. It stays there.',
  ],
  ['Buying', 'Say how many machines; see what to order, how to cut it from bars, what it costs, and issue the order.'],
  [
    'Changes',
    'Bring in a fresh export of the model; see what it changes, then take it over sheet by sheet or all at once.',
  ],
  ['Hand over', 'The sheet as PDF or SVG, the list as XLSX, CSV, TSV or JSON.'],
];
const keys: readonly (readonly [string, string])[] = [
  ['Ctrl Z, Ctrl Y', 'undo, redo'],
  ['Ctrl K', 'find a part or a place'],
  ['Esc', 'leave one level: typing, what is picked'],
  ['List: arrows, Enter', 'move; Enter or F2 types, Ctrl Enter fills the selection; Tab leaves the list'],
  ['List: Tab while typing', 'keeps the cell and goes to the next'],
  ['Heading: arrows, Alt and arrows', 'to the next heading; wider and narrower'],
  ['List: Ctrl C, X, V, D', 'copy, cut and paste from and to spreadsheets; fill down'],
  ['Tree: arrows, Shift, Ctrl A', 'move and fold, pick several, all'],
  ['Changes: arrows', 'go through the parts of both revisions, fold'],
  ['Buying: arrows, Enter', 'go through the lines to order; pick one'],
  ['Sheet: N, Shift N, Ctrl A', 'next, previous thing on the sheet; all of them'],
  ['Sheet: Shift and click, or a frame', 'pick several; the right button opens what can be done with them'],
  ['Sheet: Enter, or double-click', 'type the text of what is picked: title block, note, caption'],
  ['Sheet: arrows, Shift, Alt', 'move what is picked by 1 mm, with Shift by 10, with Alt by 0.1'],
  ['Sheet: Ctrl C, Ctrl V', 'copy views and notes, put them on this or another sheet'],
  ['Sheet: Ctrl while dragging', 'put a view anywhere, without lining it up'],
  ['Sheet: Delete', 'take away what is picked'],
  ['Sheet: Ctrl wheel', 'zoom about the pointer'],
  ['Sheet: middle button, or Space and drag', 'push the paper'],
];
const places: readonly (readonly [string, string])[] = [
  ['Quantities by size, machines', 'Bill, in the sentence: “counted …”'],
  ['A column for a property the file lacks', 'Bill, “+ column”: type its name'],
  ['Sums below a column', 'Bill, menu of the heading'],
  ['Renumber, pins, gaps', 'Bill, “Numbers”; pins in the bar of the picked cell'],
  ['Two builds of one machine', 'Bill, “Variants”'],
  ['Another list of the same machine', 'Bill, the name of the list: new, duplicate, compare'],
  ['Bars, saw, which column says what', 'Buying, in the sentence, and beside each section'],
  ['Up and front of the machine', 'Model, beside the 3D picture'],
  [
    'Poses: what has left its seat',
    'Model, beside the 3D picture; which one a view shows: Sheets, inspector of the view',
  ],
  ['Dimensions, centre lines, details', 'Sheets, inspector of a picked view'],
  [
    'Another revision of the model',
    'Changes: bring in, compare, take over; clouds come off in the inspector of a sheet',
  ],
  ['Sheets of single parts', 'Sheets, arrow beside “Make the drawing”'],
  ['Paper, title block, which list a sheet shows', 'Sheets, inspector when nothing is picked'],
  ['What is wrong on the sheet', 'Sheets, inspector; which items lack a balloon: the strip at the bottom'],
];

const Rows = ({ rows }: { rows: readonly (readonly [string, string])[] }) => (
  <Table fz="sm" mt="sm">
    <Table.Tbody>
      {rows.map(([what, words]) => (
        <Table.Tr key={what}>
          <Table.Td style={{ width: 230, fontWeight: 600 }}>{what}</Table.Td>
          <Table.Td>{words}</Table.Td>
        </Table.Tr>
      ))}
    </Table.Tbody>
  </Table>
);

/** The job in a minute, keys, where each thing is; and behind them whose work this stands on. */
export function Help({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal opened={opened} onClose={onClose} title="Help" size="lg">
      <Tabs defaultValue="job" keepMounted={false}>
        <Tabs.List>
          <Tabs.Tab value="job">The job in a minute</Tabs.Tab>
          <Tabs.Tab value="keys">Keys</Tabs.Tab>
          <Tabs.Tab value="places">Where things are</Tabs.Tab>
          <Tabs.Tab value="licences">Licences</Tabs.Tab>
        </Tabs.List>
        <Tabs.Panel value="job">
          <Rows rows={job} />
        </Tabs.Panel>
        <Tabs.Panel value="keys">
          <Rows rows={keys} />
        </Tabs.Panel>
        <Tabs.Panel value="places">
          <Rows rows={places} />
        </Tabs.Panel>
        <Tabs.Panel value="licences">
          <Licences />
        </Tabs.Panel>
      </Tabs>
    </Modal>
  );
}

function Licences() {
  return (
    <>
      <p>
        The geometry kernel is Open CASCADE Technology (LGPL 2.1 with exception), used through occt-import-js (LGPL 2.1)
        as a separate, replaceable file. Lettering: B612 and Source Sans 3; titles: Barlow Semi Condensed (all SIL Open
        Font License 1.1).
      </p>
      <ScrollArea h={320}>
        <Table fz="xs" striped>
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Package</Table.Th>
              <Table.Th>Version</Table.Th>
              <Table.Th>Licence</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {licences.map(({ name, version, licence }) => (
              <Table.Tr key={`${name} ${version}`}>
                <Table.Td>{name}</Table.Td>
                <Table.Td>{version}</Table.Td>
                <Table.Td>{licence}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </ScrollArea>
    </>
  );
}
