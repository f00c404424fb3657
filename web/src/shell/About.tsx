import { Modal, ScrollArea, Table } from '@mantine/core';
import licences from './licences.json' with { type: 'json' };

/** What this is, and whose work it stands on. */
export function About({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  return (
    <Modal opened={opened} onClose={onClose} title="About Sledgeboard" size="lg">
      <p>
        From a CAD assembly to its bill of materials and a ballooned assembly drawing. Everything runs on this machine;
        nothing is sent anywhere.
      </p>
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
    </Modal>
  );
}
