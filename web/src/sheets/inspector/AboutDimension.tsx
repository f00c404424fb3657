import { Button, Checkbox, Group, NumberInput, SegmentedControl } from '@mantine/core';
import {
  centreLinesOf,
  isApart,
  dimensionDirections,
  penPair,
  roomTaken,
  USUAL_SMALLEST,
  usualDimensionLook,
  usualOffset,
  dimensionFacts,
  type CentreLineLook,
  type DimensionLook,
  type SheetDimension,
  type SheetView,
} from '../../../../core/src/sheets/index.ts';
import { isPictorial } from '../../../../core/src/views/index.ts';
import { count } from '../../count.ts';
import { useDocuments, useDoing } from '../../data/openProject.ts';
import type { SheetInspectorProps } from './inspectorProps.ts';
import { useChange } from './useChange.ts';

const alongWords = { x: 'level', y: 'upright', between: 'between the points' } as const;
const kindWords: Readonly<Record<SheetDimension['kind'], string>> = {
  width: 'Overall width',
  height: 'Overall height',
  distance: 'Distance',
  diameter: 'Diameter',
};

/** About a reference dimension: which way it measures, and how all of them are written. */
export function AboutDimension({
  id,
  drawn,
  inputs,
  dimension,
  onThing,
}: SheetInspectorProps & { dimension: SheetDimension }) {
  const change = useChange(id);
  const laid = drawn.layout.dimensions.find((one) => one.dimension.id === dimension.id);
  return (
    <>
      <div className="quiet">Reference dimension</div>
      <h2>{laid?.text ?? '(?)'}</h2>
      <p className="quiet">{kindWords[dimension.kind]}. It follows the model; drag it nearer or farther.</p>
      {dimension.kind === 'distance' && (
        <SegmentedControl
          size="xs"
          mb="xs"
          aria-label="Which way it measures"
          data={dimensionDirections.map((value) => ({ value, label: alongWords[value] }))}
          value={dimension.along}
          onChange={(along) => {
            const turned = { ...dimension, along: along as typeof dimension.along };
            const view = drawn.layout.views.find((one) => one.view.id === dimension.view);
            const offset = view
              ? usualOffset(view, turned, dimensionFacts(inputs), roomTaken(drawn.layout, dimension.id))
              : dimension.offset;
            change(`measure ${alongWords[turned.along]}`, {
              kind: 'changeDimensions',
              remove: [],
              put: [{ ...turned, offset }],
            });
          }}
        />
      )}
      <LookFields />
      <Button
        mt="md"
        size="compact-sm"
        variant="default"
        onClick={() => {
          change('take away dimension', { kind: 'changeDimensions', remove: [dimension.id], put: [] });
          onThing(null);
        }}
      >
        Take away
      </Button>
    </>
  );
}

/** How the dimensions of all sheets are written. */
function LookFields() {
  const { set } = useDocuments();
  const { perform } = useDoing();
  const look = set.content.dimensionLook ?? usualDimensionLook;
  const put = (label: string, changed: Partial<DimensionLook>) => {
    const { comma, ...rest } = { ...look, ...changed };
    perform(label, {
      document: set.id,
      command: { kind: 'setDimensionLook', look: { ...rest, ...(comma ? { comma } : {}) } },
    });
  };
  return (
    <fieldset className="moves">
      <legend>All dimensions of the set</legend>
      <Group gap="xs" align="end">
        <SegmentedControl
          size="xs"
          aria-label="Unit of dimensions"
          data={[
            { value: 'mm', label: 'mm' },
            { value: 'in', label: 'inch' },
          ]}
          value={look.unit}
          onChange={(unit) => put(`dimensions in ${unit}`, { unit: unit as DimensionLook['unit'] })}
        />
        <NumberInput
          size="xs"
          w={110}
          label="Decimals at most"
          min={0}
          max={4}
          value={look.decimals}
          onChange={(decimals) =>
            typeof decimals === 'number' && decimals !== look.decimals && put('decimals of dimensions', { decimals })
          }
        />
      </Group>
      <Checkbox
        mt="xs"
        size="xs"
        label="Decimal comma"
        checked={look.comma ?? false}
        onChange={({ currentTarget: { checked } }) =>
          put(checked ? 'decimal comma' : 'decimal point', { comma: (checked || undefined) as true })
        }
      />
    </fieldset>
  );
}

/** Puts reference dimensions on a view. */
export function DimensionVerbs({
  id,
  view,
  inputs,
  drawn,
  onThing,
  onMeasuring,
}: Pick<SheetInspectorProps, 'id' | 'inputs' | 'drawn' | 'onThing' | 'onMeasuring'> & { view: SheetView }) {
  const change = useChange(id);
  const laid = drawn.layout.views.find((one) => one.view.id === view.id);
  if (!laid || view.detail) return null;
  const overall = (kind: 'width' | 'height') => {
    const made = { id: crypto.randomUUID(), view: view.id, kind, offset: 0 } as const;
    change(`dimension of the ${kind}`, {
      kind: 'changeDimensions',
      remove: [],
      put: [{ ...made, offset: usualOffset(laid, made, dimensionFacts(inputs), roomTaken(drawn.layout)) }],
    });
    onThing({ kind: 'dimension', id: made.id });
  };
  return (
    <>
      <p className="quiet" style={{ marginTop: 8 }}>
        Reference dimension of
      </p>
      {isPictorial(view.direction) ? (
        <p className="quiet">Nothing is measured in a pictorial view.</p>
      ) : (
        <Group gap="xs">
          {!isApart(view, inputs) &&
            (['width', 'height'] as const).map((kind) => (
              <Button key={kind} size="compact-xs" variant="default" onClick={() => overall(kind)}>
                {kind}
              </Button>
            ))}
          <Button size="compact-xs" variant="default" onClick={() => onMeasuring({ view: view.id, kind: 'distance' })}>
            two points …
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => onMeasuring({ view: view.id, kind: 'diameter' })}>
            something round …
          </Button>
        </Group>
      )}
    </>
  );
}

/** Which round features of a view have centre lines. */
export function CentreLineFields({
  id,
  view,
  drawn,
  onMeasuring,
}: Pick<SheetInspectorProps, 'id' | 'drawn' | 'onMeasuring'> & { view: SheetView }) {
  const change = useChange(id);
  const look = view.centreLines;
  const put = (label: string, centreLines: CentreLineLook | null) =>
    change(label, { kind: 'changeView', id: view.id, change: { centreLines } });
  const laid = drawn.layout.views.find((one) => one.view.id === view.id);
  const drawnLines = laid ? centreLinesOf(view, laid.lines, 0.25).length : 0;
  return (
    <>
      <Checkbox
        mt="xs"
        size="xs"
        label="Centre lines of what is round"
        checked={look !== undefined}
        onChange={({ currentTarget: { checked } }) =>
          put(checked ? 'draw centre lines' : 'leave centre lines out', checked ? { smallest: USUAL_SMALLEST } : null)
        }
      />
      {look && (
        <Group gap="xs" mt={4} align="end">
          <NumberInput
            key={look.smallest}
            size="xs"
            w={150}
            label="From a diameter of, mm"
            min={0}
            max={1000}
            decimalScale={1}
            defaultValue={look.smallest}
            onBlur={(event) => {
              const smallest = Number(event.currentTarget.value);
              if (smallest >= 0 && event.currentTarget.value !== '' && smallest !== look.smallest)
                put('size of centre lines', { ...look, smallest });
            }}
            onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
          />
          <span className="quiet">{count(drawnLines, 'line')}</span>
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => onMeasuring({ view: view.id, kind: 'centreLine' })}
          >
            Of something smaller …
          </Button>
          {look.off && look.off.length > 0 && (
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => put('centre lines back', { smallest: look.smallest, ...(look.on ? { on: look.on } : {}) })}
            >
              Those taken away again
            </Button>
          )}
        </Group>
      )}
    </>
  );
}

/** About one centre line. */
export function AboutCentreLine({ id, sheet, drawn, thing, onThing }: SheetInspectorProps) {
  const change = useChange(id);
  const view = sheet.views.find((one) => one.id === thing!.id);
  const laid = drawn.layout.views.find((one) => one.view.id === view?.id);
  const line =
    view && laid && thing?.kind === 'centreLine'
      ? centreLinesOf(view, laid.lines, penPair(sheet.paper).thin).find((one) => one.id === thing.line)
      : undefined;
  if (!view || !line) return null;
  const look = view.centreLines ?? { smallest: USUAL_SMALLEST };
  return (
    <>
      <h2>Centre line</h2>
      <p className="quiet">Of {count(line.members.length, 'round feature')} on one axis.</p>
      <Button
        size="compact-sm"
        variant="default"
        onClick={() => {
          change('take away centre line', {
            kind: 'changeView',
            id: view.id,
            change: { centreLines: { ...look, off: [...new Set([...(look.off ?? []), ...line.members])] } },
          });
          onThing(null);
        }}
      >
        Take away
      </Button>
    </>
  );
}
