import { Select } from '@mantine/core';
import { isAssembly, treatmentFor, treatmentWords, wordFor, type TreatmentWord } from '../../../core/src/assembly/index.ts';
import { propertyText } from '../../../core/src/columns/index.ts';
import { useProject } from '../data/ProjectContext.tsx';

const meaning: Readonly<Record<TreatmentWord, string>> = {
  listed: 'a line of its own, contents counted', 'listed whole': 'one line, never opened', 'opened up': 'no line, its contents take its place', 'left out': 'not in the list at all',
};

/** What is known about one component, and how it counts. */
export function ComponentInspector({ component: index }: { component: number }) {
  const { assembly, counts, components, perform } = useProject();
  const component = assembly.components[index];
  const { key, name, partNumber, description, revision, source, properties } = component;
  const facts = [['Part number', partNumber], ['Description', description], ['Revision', revision], ['Made or bought', source ?? ''], ['In the machine', `${counts[index]} ×`]].filter(([, value]) => value);
  const current = components.content.treatments[key];
  const choose = (word: string | null) => {
    if (!word) return;
    const treatment = word === 'listed' ? null : treatmentFor(word as TreatmentWord);
    perform(`${name || partNumber} ${word}`, { document: components.id, command: { kind: 'setTreatment', component: key, treatment } });
  };
  return (
    <aside className="panel" aria-label="Inspector">
      <div className="quiet">{isAssembly(component) ? 'Assembly' : 'Part'}</div>
      <h2>{name || partNumber || '(no name)'}</h2>
      <table className="facts"><tbody>{facts.map(([label, value]) => <tr key={label}><td>{label}</td><td>{value}</td></tr>)}</tbody></table>
      {index !== assembly.root && (
        <Select mt="md" label="In every bill it is" value={current ? wordFor(current) : 'listed'} onChange={choose} allowDeselect={false}
          data={treatmentWords.filter((word) => isAssembly(component) || word === 'listed' || word === 'left out').map((word) => ({ value: word, label: `${word}: ${meaning[word]}` }))} />
      )}
      {Object.keys(properties).length > 0 && <h3>Properties</h3>}
      <table className="facts"><tbody>
        {Object.entries(properties).map(([label, value]) => <tr key={label}><td>{label}</td><td>{propertyText(value)}<span className="origin">file</span></td></tr>)}
      </tbody></table>
    </aside>
  );
}
