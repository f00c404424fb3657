import { Button } from '@mantine/core';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { Revision } from '../../../contract/src/index.ts';
import type { BillEffect, Effect, ForeseenSheet, SheetEffect } from '../../../core/src/formats/index.ts';
import { count } from '../count.ts';
import { cancelJob } from '../data/api.ts';
import { lineChange } from '../data/made/useWaiting.ts';
import { useDocuments, useMachine } from '../data/openProject.ts';
import { BeforeAfter } from './BeforeAfter.tsx';
import { TakeOverDialog } from './TakeOverDialog.tsx';
import { useForeseen } from './useForeseen.ts';

/** What taking a revision over does to each bill and each sheet; one of them, or all of them, is one step away. */
export function WhatItDoes({
  effect,
  revision,
  names,
}: {
  readonly effect: Effect;
  readonly revision: Revision;
  /** What the earlier and the later revision are called. */
  readonly names: readonly [was: string, is: string];
}) {
  const { id } = useDocuments();
  const { revision: ids } = useMachine();
  const [taking, setTaking] = useState<{ documents: readonly string[]; what: string } | null>(null);
  const isBehind = ({ shows }: { readonly shows: string | null }) => (shows ?? ids.first) !== revision.id;
  const behind = [...effect.bills, ...effect.sheets].filter(isBehind);
  const foreseen = useForeseen(revision.id, effect.sheets.some(isBehind));
  const part = (
    one: BillEffect | SheetEffect,
    words: readonly string[],
    where: string,
    what: string,
    picture: ReactNode = null,
  ) => (
    <li key={one.id} className={isBehind(one) ? '' : 'done'}>
      <div className="head">
        <Link to={where} className="title ellipsis">
          {one.name}
        </Link>
        {isBehind(one) ? (
          <Button
            size="compact-sm"
            variant="default"
            aria-label={`Take over in ${one.name}`}
            onClick={() => setTaking({ documents: [one.id], what })}
          >
            Take over
          </Button>
        ) : (
          <span className="quiet">taken over</span>
        )}
      </div>
      {isBehind(one) &&
        words.map((line) => (
          <div key={line} className="quiet">
            {line}
          </div>
        ))}
      {isBehind(one) && picture}
    </li>
  );
  return (
    <section className="does" aria-label="What it does">
      <div className="head">
        <h2>What it does</h2>
        <Button
          size="compact-md"
          disabled={behind.length === 0}
          onClick={() =>
            setTaking({
              documents: behind.map((one) => one.id),
              what: `Every list and every sheet shows it: ${behind.length} in all`,
            })
          }
        >
          Take over all
        </Button>
      </div>
      <h3>Lists</h3>
      <ul>
        {effect.bills.map((bill) =>
          part(bill, billWords(bill), `/projects/${id}/bill`, `The list “${bill.name}” shows it`),
        )}
      </ul>
      <h3>Sheets</h3>
      {foreseen.running && (
        <p className="quiet" role="status">
          {foreseen.running.step} …{' '}
          <Button
            size="compact-xs"
            variant="default"
            aria-label="Stop working out how the sheets will look"
            onClick={() => void cancelJob(foreseen.running!.job)}
          >
            Stop
          </Button>
        </p>
      )}
      {foreseen.stopped && !foreseen.running && (
        <p className="quiet">
          How the sheets will look is not known: {foreseen.stopped.reason}{' '}
          <Button size="compact-xs" variant="default" onClick={foreseen.stopped.again}>
            Work it out
          </Button>
        </p>
      )}
      <ul>
        {effect.sheets.map((sheet) => {
          const known = foreseen.known?.sheets.find((one) => one.id === sheet.id);
          return part(
            sheet,
            [...sheetWords(sheet), ...(known ? foreseenWords(known) : [])],
            `/projects/${id}/sheets/${sheet.id}`,
            `The sheet “${sheet.name}” shows it, and the list whose numbers it shows`,
            known && <BeforeAfter sheet={known} title={sheet.name} name={foreseen.known!.name} names={names} />,
          );
        })}
      </ul>
      {taking && <TakeOverDialog {...taking} revision={revision} effect={effect} onClose={() => setTaking(null)} />}
    </section>
  );
}

const few = (items: readonly (string | number)[]): string =>
  `${items.slice(0, 8).join(', ')}${items.length > 8 ? ' …' : ''}`;

function billWords({ lines, given, without, overtaken }: BillEffect): string[] {
  const of = (kind: string) => lines.filter((line) => line.kind === kind).length;
  const parts = [
    of('added') > 0 ? `${count(of('added'), 'line')} added` : '',
    of('removed') > 0 ? `${of('removed')} gone` : '',
    of('changed') > 0 ? `${of('changed')} changed` : '',
  ].filter(Boolean);
  return [
    parts.length > 0 ? parts.join(', ') : 'No line changes',
    ...lines.slice(0, 6).map((line) => `${line.item} ${line.name || line.partNumber}: ${lineChange(line)}`),
    ...(lines.length > 6 ? [`and ${lines.length - 6} more`] : []),
    ...(given.length > 0 ? [`Numbers given out: ${few(given)}`] : []),
    ...(without.length > 0 ? [`Numbers without a part: ${few(without)}`] : []),
    ...overtaken.map(
      ({ item, heading, typed, is }) => `${item} ${heading}: you wrote “${typed}”, the model now says “${is}”`,
    ),
  ];
}

function sheetWords({ views, of, stay, hanging, lacking, rows: [was, is] }: SheetEffect): string[] {
  return [
    views.length === 0
      ? 'Its pictures stay'
      : of === 1
        ? 'Its picture changes'
        : `${views.length} of ${of} pictures change`,
    ...(was === is ? [] : [`Its list has ${was} lines, then ${is}`]),
    ...(stay > 0 ? [`${count(stay, 'balloon')} ${stay === 1 ? 'stays' : 'stay'}`] : []),
    ...(hanging.length > 0 ? [`Balloons without a part: ${few(hanging)}`] : []),
    ...(lacking.length > 0 ? [`New lines without a balloon: ${few(lacking)}`] : []),
  ];
}

/** What is known of a sheet once it is worked out as it will be. */
function foreseenWords({ lists, leaders, problems }: ForeseenSheet): string[] {
  return [
    ...lists.flatMap(({ heightMm: [was, is], fits: [, fits] }) => [
      ...(Math.abs(was - is) < 0.05 ? [] : [`Its list is ${was.toFixed(0)} mm high, then ${is.toFixed(0)} mm`]),
      ...(fits ? [] : ['Its list will not fit']),
    ]),
    ...(leaders.length > 0 ? [`Leaders that end elsewhere: ${few(leaders)}`] : []),
    ...problems
      .filter(({ code }) => !saidAlready.has(code))
      .map(({ message, items }) => `${message}${items.length > 0 ? ` (${few(items)})` : ''}`),
  ];
}
/** By what the sheet loses and lacks. */
const saidAlready: ReadonlySet<string> = new Set(['missing-balloons', 'hanging-balloons', 'list-too-large']);
