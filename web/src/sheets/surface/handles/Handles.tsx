import { directionName } from '../../../../../core/src/views/index.ts';
import type { CentreLine, DrawnSheet } from '../../../../../core/src/sheets/index.ts';
import { LeaderHandles, RailHandles } from './BalloonHandles.tsx';
import { BoxHandle } from './BoxHandle.tsx';
import { ListHandles, type ListHandlesProps } from './ListHandles.tsx';
import { isPickedOf, PICKED, type HandleProps } from './picked.ts';
import { CutPieceHandles, CuttingLineHandles } from './CuttingLineHandles.tsx';
import { CentreLineHandles, RegionHandles, SizeHandle } from './ViewHandles.tsx';

interface HandlesProps extends HandleProps, ListHandlesProps {
  readonly drawn: DrawnSheet;
  /** Of each view, by its id. */
  readonly centreLines: ReadonlyMap<string, readonly CentreLine[]>;
  /** CSS pixels per mm. */
  readonly zoom: number;
}

/** Invisible shapes over what can be picked and dragged, the lowest first. */
export function Handles({ drawn: { layout, notes }, things, centreLines, start, onRow, onFit, zoom }: HandlesProps) {
  const each = { things, start };
  const outline = (id: string, ...kinds: Parameters<typeof isPickedOf>[2][]) =>
    isPickedOf(things, id, ...kinds) ? PICKED : undefined;
  const isAlone = things.length === 1;
  return (
    <g>
      {layout.titleBlock[2] > layout.titleBlock[0] && (
        <BoxHandle
          box={layout.titleBlock}
          label="Title block"
          style={{ cursor: 'pointer' }}
          onPointerDown={start({ kind: 'titleBlock', id: 'titleBlock' })}
        />
      )}
      {layout.views.map(({ view: { id, detail, section, direction }, box }) => (
        <BoxHandle
          key={id}
          box={box}
          label={
            detail
              ? `Detail ${detail.letter}`
              : section?.letter
                ? `Section ${section.letter}`
                : `View ${directionName(direction)}`
          }
          data-view={id}
          onPointerDown={start({ kind: 'view', id })}
          style={outline(id, 'view', 'viewSize')}
        />
      ))}
      {layout.views.map((laid) => (
        <CentreLineHandles key={laid.view.id} laid={laid} lines={centreLines.get(laid.view.id) ?? []} {...each} />
      ))}
      {layout.views.map(({ view: { id, detail } }) => (
        <RegionHandles key={id} id={id} detail={detail} views={layout.views} {...each} />
      ))}
      {layout.views.map((laid) => (
        <CutPieceHandles key={laid.view.id} laid={laid} {...each} />
      ))}
      {layout.cuttingLines.map((line) => (
        <CuttingLineHandles key={`${line.section} ${line.on}`} line={line} {...each} />
      ))}
      {layout.views.map(({ view: { id }, captionBox, captionText }) =>
        captionBox ? (
          <BoxHandle
            key={id}
            box={captionBox}
            label={`Caption ${captionText}`}
            onPointerDown={start({ kind: 'caption', id })}
            style={outline(id, 'caption')}
          />
        ) : null,
      )}
      {layout.tables.map((table) => (
        <ListHandles key={table.table.id} table={table} onRow={onRow} onFit={onFit} {...each} />
      ))}
      {notes.map(({ note: { id, text, lettering }, box: [x0, y0, x1, y1] }) => (
        <BoxHandle
          key={id}
          box={[x0, y0, x1, Math.max(y1, y0 + lettering)]}
          label={`Note ${text.slice(0, 40)}`}
          onPointerDown={start({ kind: 'note', id })}
          style={outline(id, 'note')}
        />
      ))}
      {layout.views
        .filter(({ view: { id } }) => isAlone && isPickedOf(things, id, 'view', 'viewSize'))
        .map((laid) => (
          <SizeHandle key={laid.view.id} laid={laid} start={start} />
        ))}
      {layout.dimensions.map(({ dimension: { id }, outline: corners, text, value, across }) =>
        value === null ? null : (
          <polygon
            key={id}
            className="grab"
            role="button"
            points={corners.join(' ')}
            aria-label={`Dimension ${text}`}
            onPointerDown={start({ kind: 'dimension', id })}
            style={{
              cursor: Math.abs(across[0]) > Math.abs(across[1]) ? 'ew-resize' : 'ns-resize',
              ...outline(id, 'dimension'),
            }}
          />
        ),
      )}
      <RailHandles rails={layout.rails} {...each} />
      {layout.balloons.map(({ balloon: { id }, box, radius, item }) => (
        <BoxHandle
          key={id}
          box={box}
          rx={radius}
          label={`Balloon ${item}`}
          data-balloon={id}
          onPointerDown={start({ kind: 'balloon', id })}
          style={isAlone ? undefined : outline(id, 'balloon')}
        />
      ))}
      {layout.balloons.map((laid) => (
        <LeaderHandles key={laid.balloon.id} laid={laid} zoom={zoom} {...each} />
      ))}
    </g>
  );
}
