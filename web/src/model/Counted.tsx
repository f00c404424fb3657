import { Button, MultiSelect, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import {
  LEFT_OUT_REASON,
  ownValue,
  wordFor,
  type PathKey,
  type ComponentIndex,
} from '../../../core/src/assembly/index.ts';
import { propertyText } from '../../../core/src/columns/index.ts';
import { count } from '../count.ts';
import { useDocuments, useDoing, useMachine, usePicking } from '../data/openProject.ts';
import { isLayout } from '../../../core/src/layouts/index.ts';
import { structureGroups, tellingApart, usesOf, type SymbolUse } from './tree/uses.ts';

interface CountedProps {
  /** Index into the original assembly. */
  readonly component: ComponentIndex;
  readonly path: PathKey | null;
  /** Brings a place into the middle. */
  readonly onStep: (path: PathKey) => void;
}

/** Attributes by which uses are told apart. */
const MOST_WAYS = 3;
/** Lines of the table of attributes. */
const SHOWN = 40;

/** How often a component stands in the machine, one use after the other, apart by attributes, single ones left out. */
export function Counted({ component, path, onStep }: CountedProps) {
  const { components } = useDocuments();
  const { assembly, originals, treatments } = useMachine();
  const { pick } = usePicking();
  const { perform } = useDoing();
  const symbols = useMemo(() => structureGroups(assembly, originals, treatments), [assembly, originals, treatments]);
  // Of a machine all places of a component are meant, those with values of their own too.
  const by = useMemo(() => (isLayout(assembly) ? symbols : Int32Array.from(originals)), [assembly, symbols, originals]);
  const uses = useMemo(
    () => (symbols[component] < 0 ? null : usesOf(assembly, by, by[component])),
    [assembly, symbols, by, component],
  );
  const edits = components.content;
  const names = useMemo(() => tellingApart(assembly, uses ?? []), [assembly, uses]);
  const [ways, setWays] = useState<readonly string[]>([]);
  const [group, setGroup] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const textOf = (use: SymbolUse): string =>
    ways.map((name) => propertyText(ownValue(assembly.components[use.component].properties, name)) || '–').join(', ');
  if (!uses || uses.length === 0) return null;
  const isOut = ({ path: at }: SymbolUse): boolean => {
    const treatment = edits.placeTreatments[at];
    return treatment !== undefined && wordFor(treatment) === 'left out';
  };
  const groups = new Map<string, SymbolUse[]>();
  if (ways.length > 0) for (const use of uses) groups.set(textOf(use), [...(groups.get(textOf(use)) ?? []), use]);
  const stepped = group === null ? uses : (groups.get(group) ?? uses);
  const at = stepped.findIndex((use) => use.path === path);
  const step = (by: number, list = stepped, from = at) => {
    const next = list[(from + by + list.length) % list.length];
    pick(next.component, next.path);
    onStep(next.path);
  };
  const out = uses.filter(isOut);
  const current = uses.find((use) => use.path === path);
  const leaveOut = () => {
    if (!current || reason === null) return;
    perform(
      `leave one out: ${reason.trim()}`,
      {
        document: components.id,
        command: {
          kind: 'setTreatments',
          components: {},
          places: { [current.path]: { ownLine: false, countContents: false } },
        },
      },
      {
        document: components.id,
        command: {
          kind: 'typeValues',
          name: LEFT_OUT_REASON,
          components: {},
          places: { [current.path]: { value: reason.trim() } },
        },
      },
    );
    setReason(null);
  };
  const takeBack = ({ path: place }: SymbolUse) =>
    perform(
      'count it again',
      { document: components.id, command: { kind: 'setTreatments', components: {}, places: { [place]: null } } },
      {
        document: components.id,
        command: { kind: 'typeValues', name: LEFT_OUT_REASON, components: {}, places: { [place]: null } },
      },
    );
  const name = assembly.components[component].name || assembly.components[component].partNumber;
  return (
    <section className="counted" aria-label={`Uses of ${name}`}>
      <div className="countedhead">
        <strong>{uses.length - out.length}</strong>
        <span className="quiet">
          counted{out.length > 0 && `, ${out.length} left out`}
          {at >= 0 && ` · this is number ${at + 1} of ${stepped.length}`}
        </span>
        <span className="wide" />
        <Button size="compact-xs" variant="default" onClick={() => step(at < 0 ? 0 : -1)}>
          Previous
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => step(1)}>
          Next
        </Button>
      </div>
      {names.length > 0 && (
        <MultiSelect
          size="xs"
          mt={6}
          label="Apart by"
          placeholder={ways.length === 0 ? 'nothing: all are counted together' : undefined}
          data={names}
          value={[...ways]}
          maxValues={MOST_WAYS}
          onChange={(next) => {
            setWays(next);
            setGroup(null);
          }}
        />
      )}
      {groups.size > 0 && (
        <table className="countedgroups" aria-label={`${name} by ${ways.join(', ')}`}>
          <tbody>
            {[...groups]
              .sort((one, other) => other[1].length - one[1].length)
              .slice(0, SHOWN)
              .map(([words, members]) => (
                <tr key={words} className={words === group ? 'open' : ''}>
                  <td className="number">{members.filter((use) => !isOut(use)).length}</td>
                  <td>
                    <button
                      onClick={() => {
                        setGroup(words);
                        step(1, members, -1);
                      }}
                    >
                      {words}
                    </button>
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      )}
      {groups.size > SHOWN && <p className="quiet">and {count(groups.size - SHOWN, 'more kind')}</p>}
      {current &&
        !isOut(current) &&
        (reason === null ? (
          <Button mt={6} size="compact-xs" variant="default" onClick={() => setReason('')}>
            Leave this one out …
          </Button>
        ) : (
          <div className="leaveout">
            <TextInput
              size="xs"
              label="Why is it not counted?"
              autoFocus
              maxLength={200}
              value={reason}
              onChange={({ currentTarget: { value } }) => setReason(value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter' && reason.trim()) leaveOut();
                if (event.key === 'Escape') {
                  event.stopPropagation();
                  setReason(null);
                }
              }}
            />
            <div className="buttons">
              <Button size="compact-xs" disabled={!reason.trim()} onClick={leaveOut}>
                Leave it out
              </Button>
              <Button size="compact-xs" variant="default" onClick={() => setReason(null)}>
                Count it
              </Button>
            </div>
          </div>
        ))}
      {out.map((use) => (
        <p key={use.path} className="problem calm">
          <button
            onClick={() => {
              pick(use.component, use.path);
              onStep(use.path);
            }}
          >
            Left out
          </button>
          : {propertyText(edits.typedAt[use.path]?.[LEFT_OUT_REASON]) || 'no reason given'}{' '}
          <Button size="compact-xs" variant="default" onClick={() => takeBack(use)}>
            Count it again
          </Button>
        </p>
      ))}
    </section>
  );
}
