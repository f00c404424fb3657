import { Button } from '@mantine/core';
import { useState } from 'react';
import { barsText, planWorth, type CutGroup, type PlannedGroup } from '../../../core/src/buying/index.ts';
import { barLayout, type CutBar } from '../../../core/src/cutting/index.ts';
import { count } from '../count.ts';
import type { PaneProps } from './paneProps.ts';
import { GroupDialog } from './GroupDialog.tsx';
import { lineAt } from './lineOf.ts';
import { meters, mm, money } from './words.ts';

/** Sections with their bars, drawn to length with every cut; what no bars are said for asks for them. */
export function BarsView(props: PaneProps & { onAgain: () => void }) {
  const { buying, open } = props;
  const [asking, setAsking] = useState<CutGroup | null>(null);
  const planned = buying.planned.filter(({ group }) => group.stock.length > 0);
  const without = buying.planned.filter(({ group }) => group.stock.length === 0);
  const longest = Math.max(
    1,
    ...planned.flatMap(({ group, plan }) => plan?.bars.map(({ stock }) => group.stock[stock].lengthMm) ?? []),
  );
  return (
    <div className="bars">
      {buying.planned.length === 0 && (
        <p className="quiet">
          Nothing here is cut from bars: no made part has a length and a section, carried by the file, measured, or
          typed.
        </p>
      )}
      {planned.map((one) => (
        <Section
          key={one.group.key}
          {...props}
          planned={one}
          longest={longest}
          onSettings={() => setAsking(one.group)}
        />
      ))}
      {without.length > 0 && (
        <section className="withoutbars">
          <h2>Which bars are there for these?</h2>
          {without.map(({ group }) => (
            <p key={group.key} className="problem">
              <span>
                {[group.section, group.material].filter(Boolean).join(', ')}: {count(piecesOf(group), 'piece')},{' '}
                {meters(lengthOf(group))} in all, the longest {mm(group.pieces[0].lengthMm)} mm
              </span>
              <Button size="compact-xs" variant="default" onClick={() => setAsking(group)}>
                Say which bars
              </Button>
            </p>
          ))}
        </section>
      )}
      {buying.plates.length > 0 && <Plates {...props} />}
      {asking && <GroupDialog open={open} group={asking} onClose={() => setAsking(null)} />}
    </div>
  );
}

/** Ways to cut a bar that are drawn at first. */
const BARS = 60;
const piecesOf = ({ pieces }: CutGroup): number => pieces.reduce((sum, piece) => sum + piece.count, 0);
const lengthOf = ({ pieces }: CutGroup): number => pieces.reduce((sum, piece) => sum + piece.count * piece.lengthMm, 0);

function Section({
  planned: { group, plan },
  longest,
  onSettings,
  onAgain,
  ...props
}: PaneProps & { planned: PlannedGroup; longest: number; onSettings: () => void; onAgain: () => void }) {
  const { currency } = props.open.content;
  const [shown, setShown] = useState(BARS);
  const title = [group.section, group.material].filter(Boolean).join(', ');
  const problems = props.buying.problems.filter((problem) => problem.group === group.key);
  return (
    <section aria-label={title}>
      <header>
        <h2>{title}</h2>
        <span className="wide" />
        <Button size="compact-xs" variant="subtle" color="ink" onClick={onSettings}>
          Bars and saw
        </Button>
      </header>
      {!plan ? (
        <p className="quiet">The plan is being made …</p>
      ) : (
        <p className="worth">
          <strong>{barsText({ group, plan })} mm</strong>
          {plan.measure === 'price' && (
            <>
              {' · '}
              {money(plan.cost)} {currency}
            </>
          )}
          {' · '}
          {planWorth(plan)}
          {' · waste '}
          {mm(plan.wasteMm)} mm ({((100 * plan.wasteMm) / Math.max(1, plan.boughtMm)).toFixed(1)} %)
          {plan.keptMm > 0 && ` · ${mm(plan.keptMm)} mm left over and kept`}
          {plan.stopped && (
            <Button size="compact-xs" variant="default" ml={8} onClick={onAgain}>
              Look further
            </Button>
          )}
        </p>
      )}
      {problems.map(({ message }) => (
        <p key={message} className="problem">
          {message}
        </p>
      ))}
      {plan?.bars.slice(0, shown).map((bar, at) => (
        <Bar key={at} {...props} group={group} bar={bar} longest={longest} />
      ))}
      {plan && plan.bars.length > shown && (
        <Button size="compact-xs" variant="default" onClick={() => setShown(shown + BARS)}>
          Show more of {plan.bars.length - shown} ways to cut a bar
        </Button>
      )}
    </section>
  );
}

/** px of the drawing; it is stretched to the pane. */
const HEIGHT = 34;
/** A piece narrower than this part of the longest bar has no room for its number. */
const NARROW = 0.022;

function Bar({
  group,
  bar,
  longest,
  buying,
  picked,
  hovered,
  onPick,
  onHover,
}: PaneProps & { group: CutGroup; bar: CutBar; longest: number }) {
  const { lengthMm } = group.stock[bar.stock];
  const stretches = barLayout(group.problem!, bar);
  const lineOf = (piece: number) => lineAt(buying, group.pieces[piece].line);
  return (
    <div className="stockbar">
      <span className="times">{bar.count > 1 ? `${bar.count} ×` : ''}</span>
      <div className="drawn" style={{ width: `${(100 * lengthMm) / longest}%`, height: HEIGHT }}>
        {stretches.map(({ kind, from, to, piece }) => {
          const style = { left: `${(100 * from) / lengthMm}%`, width: `${(100 * (to - from)) / lengthMm}%` };
          if (kind !== 'piece')
            return (
              <span
                key={from}
                className={`stretch ${kind}`}
                style={style}
                title={`${kindWords[kind]} ${mm(to - from)} mm`}
              >
                {kind === 'left-over' && (to - from) / longest > 2 * NARROW && mm(to - from)}
              </span>
            );
          const line = lineOf(piece);
          const item = line?.items.join(', ') || line?.partNumber || '';
          const words = `${item} ${line?.name ?? ''}, ${mm(to - from)} mm, from ${mm(from)} to ${mm(to)}`;
          const isOf = (key: string | null) => line !== undefined && line.key === key;
          return (
            <button
              key={from}
              className={`stretch piece${isOf(picked) ? ' picked' : ''}${isOf(hovered) ? ' hovered' : ''}`}
              style={style}
              title={words}
              aria-label={words}
              aria-pressed={isOf(picked)}
              onMouseEnter={() => onHover(line?.key ?? null)}
              onMouseLeave={() => onHover(null)}
              onClick={() => onPick(line?.key ?? null)}
            >
              {(to - from) / longest > NARROW && item}
              {(to - from) / longest > 2.4 * NARROW && <small>{mm(to - from)}</small>}
            </button>
          );
        })}
      </div>
      <span className="quiet length">{mm(lengthMm)}</span>
    </div>
  );
}
const kindWords = { trim: 'Trimmed', kerf: 'Saw', 'left-over': 'Left over, kept:', waste: 'Waste', piece: '' } as const;

/** Plates are not cut out here: what they come to together. */
function Plates({ buying }: PaneProps) {
  return (
    <section aria-label="Plate">
      <h2>Plate, summed (how it is cut out is not planned)</h2>
      <table className="order plates">
        <thead>
          <tr>
            <th>Material</th>
            <th className="number">Thickness [mm]</th>
            <th className="number">Pieces</th>
            <th className="number">Area [m²]</th>
            <th className="number">Mass [kg]</th>
          </tr>
        </thead>
        <tbody>
          {buying.plates.map(({ material, thicknessMm, pieces, areaM2, massKg, withoutArea, withoutMass }) => (
            <tr key={`${material} ${thicknessMm}`}>
              <td>{material || 'not given'}</td>
              <td className="number">{mm(thicknessMm)}</td>
              <td className="number">{pieces}</td>
              <td className="number">{known(areaM2, 3, withoutArea)}</td>
              <td className="number">{known(massKg, 2, withoutMass)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
const known = (value: number | null, decimals: number, without: number): string =>
  value === null ? 'not known' : `${value.toFixed(decimals)}${without > 0 ? ` without ${without}` : ''}`;
