import { Button } from '@mantine/core';
import type { ComponentKey } from '../../../core/src/assembly/index.ts';
import type { ComparedSide, Effect } from '../../../core/src/formats/index.ts';
import { Thumb } from '../shell/Thumb.tsx';
import type { Compared } from './useCompared.ts';

/** The picked part as it was and as it is, side by side. */
export function AboutPart({
  picked,
  compared: { before, after, changes },
  effect,
  onElsewhere,
}: {
  readonly picked: ComponentKey;
  readonly compared: Compared;
  readonly effect: Effect | null;
  /** Asks what else it was; absent where nothing can be said about that any more. */
  readonly onElsewhere?: (component: ComponentKey) => void;
}) {
  const was = before.components.find(({ key }) => key === picked),
    is = after.components.find(({ key }) => key === picked);
  const at = changes.components.findIndex(({ key }) => key === picked);
  // Both are sorted alike: what matters most first.
  const told = at < 0 ? undefined : effect?.model.components[at];
  const places = changes.usages.filter(({ component }) => component === picked);
  const moved = places.filter(({ kind }) => kind === 'moved');
  const rows: (readonly [what: string, was: string, is: string])[] = [
    ['Number', was?.partNumber ?? '', is?.partNumber ?? ''],
    ['Name', was?.name ?? '', is?.name ?? ''],
    ...(told
      ? ([
          ['Pieces', String(told.was?.quantity ?? ''), String(told.is?.quantity ?? '')],
          ['Size', sizeOf(told.was), sizeOf(told.is)],
          ['Volume', volumeOf(told.was), volumeOf(told.is)],
          ...told.changes
            .filter((what) => what.startsWith('property:'))
            .map((what) => {
              const name = what.slice('property:'.length);
              return [name, told.was?.properties?.[name] ?? '', told.is?.properties?.[name] ?? ''] as const;
            }),
        ] as const)
      : []),
  ];
  return (
    <section className="aboutpart" aria-label="What is otherwise">
      <table className="facts">
        <thead>
          <tr>
            <td />
            <td>{was ? <Thumb component={was} size={44} /> : 'not there'}</td>
            <td>{is ? <Thumb component={is} size={44} /> : 'not there'}</td>
          </tr>
        </thead>
        <tbody>
          {rows
            .filter(([, one, other]) => one !== '' || other !== '')
            .map(([what, one, other]) => (
              <tr key={what}>
                <td>{what}</td>
                <td>{one}</td>
                <td className={one === other ? undefined : 'otherwise'}>{other}</td>
              </tr>
            ))}
        </tbody>
      </table>
      {moved.length > 0 && (
        <p className="quiet">
          {moved.length === 1 ? 'One place has moved' : `${moved.length} places have moved`} within what it stands in,
          by up to {Math.max(...moved.map(({ distanceMm = 0 }) => distanceMm)).toFixed(1)} mm
          {moved.some(({ turned }) => turned) ? ', some of them turned' : ''}.
        </p>
      )}
      {is && onElsewhere && (
        <Button size="compact-sm" variant="default" onClick={() => onElsewhere(is.key)}>
          {was ? 'It was another part …' : 'It is not new …'}
        </Button>
      )}
    </section>
  );
}

const sizeOf = (side: ComparedSide | null | undefined): string => (side?.size ? `${side.size.join(' × ')} mm` : '');
const volumeOf = (side: ComparedSide | null | undefined): string =>
  side?.volume === undefined ? '' : `${(side.volume / 1000).toFixed(1)} cm³`;
