import { Button, Checkbox, FileButton, Group, Modal, Select } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconDownload } from '@tabler/icons-react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { Form } from '../../../contract/src/index.ts';
import { isAssembly, partLabel } from '../../../core/src/assembly/index.ts';
import { count } from '../count.ts';
import { checkForm, dropForm, filledForm, keepForm, listForms, type HandedOver } from '../data/forms.ts';
import { freeName } from '../data/freeName.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { FormSetup } from './FormSetup.tsx';

/** Sentences of one file that stand in the dialog. */
const SHOWN = 40;
/** Subassemblies that are offered. */
const MOST_ASSEMBLIES = 200;

/** Hands lists over in the company's own workbook. */
export default function FormDialog({ onClose }: { readonly onClose: () => void }) {
  const queries = useQueryClient();
  const { data: forms, error } = useQuery({ queryKey: ['forms'], queryFn: listForms });
  const [chosen, setChosen] = useState<string | null>(null);
  const [setting, setSetting] = useState(false);
  const form = forms?.find(({ name }) => name === chosen) ?? forms?.find(({ map }) => map) ?? forms?.[0] ?? null;
  const put = (next: Form[]) => queries.setQueryData(['forms'], next);
  const tell = (message: string) => notifications.show({ message, color: 'orange', autoClose: 12_000 });
  const bring = async (file: File | null) => {
    if (!file) return;
    const plain = file.name.replace(/\.xls[xm]$/i, '').slice(0, 150) || 'Form';
    // A workbook that was mended takes the place of the one before of its name.
    const before = forms?.find(({ fileName }) => fileName === file.name);
    const name = before?.name ?? freeName(plain, forms?.map((one) => one.name) ?? []);
    try {
      queries.setQueryData(['form', name, file.name], await keepForm(name, file));
      await queries.invalidateQueries({ queryKey: ['forms'] });
      setChosen(name);
      setSetting(true);
    } catch (failed) {
      tell((failed as Error).message);
    }
  };
  const drop = async () => {
    if (!form) return;
    try {
      put(await dropForm(form.name));
      notifications.show({ message: `${form.name} is no longer kept; what was handed over stays.` });
    } catch (failed) {
      tell((failed as Error).message);
    }
  };
  return (
    <Modal
      opened
      onClose={onClose}
      size={setting ? 1180 : 720}
      title={
        <span className="title">{setting && form ? `How ${form.name} is filled` : 'In the company’s own form'}</span>
      }
    >
      {error && <p className="problem">{error.message}</p>}
      {setting && form ? (
        <FormSetup
          key={form.name}
          form={form}
          onDone={(next) => {
            put(next);
            setSetting(false);
          }}
          onLeave={() => setSetting(false)}
        />
      ) : (
        <>
          {forms?.length === 0 && (
            <p>
              A form is a workbook of your company’s: with its logo, headings and sums. Bring it in once and say where
              the list begins; then every list is handed over in it, and all else stays as it is.
            </p>
          )}
          <Group gap="xs" align="end">
            {forms && forms.length > 0 && (
              <Select
                size="xs"
                w={260}
                label="Form"
                allowDeselect={false}
                data={forms.map(({ name, map }) => ({ value: name, label: map ? name : `${name}, not set up yet` }))}
                value={form?.name ?? null}
                onChange={setChosen}
              />
            )}
            {form && (
              <>
                <Button size="compact-sm" variant="default" onClick={() => setSetting(true)}>
                  How it is filled …
                </Button>
                <Button size="compact-sm" variant="default" onClick={() => void drop()}>
                  Keep it no longer
                </Button>
              </>
            )}
            <FileButton onChange={(file) => void bring(file)} accept=".xlsx,.xlsm">
              {(props) => (
                <Button {...props} size="compact-sm" variant={form ? 'default' : 'filled'}>
                  Bring a workbook in …
                </Button>
              )}
            </FileButton>
          </Group>
          {form?.map && <HandOver form={form} />}
          {form && !form.map && <p className="quiet">Say how it is filled; then lists can be handed over in it.</p>}
        </>
      )}
    </Modal>
  );
}

function HandOver({ form }: { readonly form: Form }) {
  const { id, bills, summary } = useDocuments();
  const { billDocument, assembly } = useMachine();
  const [picked, setPicked] = useState<HandedOver>({ bills: [billDocument.id], assemblies: [] });
  const assemblies = useMemo(
    () =>
      assembly.components
        .filter((component, at) => at !== assembly.root && isAssembly(component))
        .slice(0, MOST_ASSEMBLIES),
    [assembly],
  );
  // The open bill goes first: it is the one that subassemblies are listed like.
  const over = {
    ...picked,
    bills: [...picked.bills].sort((a, b) => Number(b === billDocument.id) - Number(a === billDocument.id)),
  };
  const files = over.bills.length === 0 ? 0 : over.bills.length + over.assemblies.length;
  const {
    data: checked,
    error,
    isFetching,
  } = useQuery({
    queryKey: ['formcheck', id, form, over, summary.changed, billDocument.content],
    queryFn: () => checkForm(id, form.name, over),
    enabled: files > 0,
    retry: false,
  });
  const toggle = (list: keyof HandedOver, key: string, on: boolean) =>
    setPicked({ ...picked, [list]: on ? [...picked[list], key] : picked[list].filter((one) => one !== key) });
  const problems = checked?.flatMap((file) => file.problems) ?? [];
  const stops = problems.some((one) => one.stops);
  const ready = checked !== undefined && !isFetching && !error && !stops && files > 0;
  return (
    <>
      <fieldset className="formlists">
        <legend>Lists</legend>
        {bills.map((bill) => (
          <Checkbox
            key={bill.id}
            size="xs"
            label={bill.content.name}
            checked={picked.bills.includes(bill.id)}
            onChange={({ currentTarget: { checked: on } }) => toggle('bills', bill.id, on)}
          />
        ))}
      </fieldset>
      {assemblies.length > 0 && (
        <fieldset className="formlists">
          <legend>Subassemblies, each in a file of its own, with the columns of “{billDocument.content.name}”</legend>
          {assemblies.map((component) => (
            <Checkbox
              key={component.key}
              size="xs"
              label={
                component.name && component.partNumber
                  ? `${component.partNumber} ${component.name}`
                  : partLabel(component)
              }
              checked={picked.assemblies.includes(component.key)}
              disabled={!picked.bills.includes(billDocument.id)}
              onChange={({ currentTarget: { checked: on } }) => toggle('assemblies', component.key, on)}
            />
          ))}
        </fieldset>
      )}
      <div role="status" className="formproblems">
        {error ? (
          <p className="problem">{error.message}</p>
        ) : files === 0 ? (
          <p className="quiet">Choose a list.</p>
        ) : !checked ? (
          <p>Looking at what goes into the form …</p>
        ) : problems.length === 0 ? (
          <p className="quiet">Everything that the form asks for is there, and has room.</p>
        ) : (
          checked.map((file) => (
            <section key={file.fileName} aria-label={file.fileName}>
              {checked.length > 1 && <b>{file.fileName}</b>}
              {file.problems.slice(0, SHOWN).map(({ message, stops: isStop }, at) => (
                <p key={at} className={isStop ? 'problem' : 'problem calm'}>
                  {message}
                </p>
              ))}
              {file.count > SHOWN && <p className="quiet">and {count(file.count - SHOWN, 'more sentence')}</p>}
            </section>
          ))
        )}
      </div>
      <Group mt="md" gap="xs">
        <Button
          component="a"
          size="compact-md"
          leftSection={<IconDownload size={15} />}
          aria-disabled={!ready}
          data-disabled={!ready || undefined}
          {...(ready ? { href: filledForm(id, form.name, over), download: true } : {})}
        >
          {files > 1 ? `Hand over ${files} workbooks as one ZIP` : 'Hand over'}
        </Button>
        {ready && checked.length === 1 && <span className="quiet">{checked[0].fileName}</span>}
        {stops && <span>Nothing is written while something stands in the way.</span>}
      </Group>
    </>
  );
}
