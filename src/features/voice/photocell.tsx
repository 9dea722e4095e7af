'use client';

import { Button, Select } from 'antd';
import { photocellSchema, photocellValues, USUAL_PHOTOCELL, type Photocell } from '@/core/device/photocell';
import { cellOhmOf } from '@/core/circuit/elements/optocoupler';
import { formatQuantity } from '@/core/units/quantity';
import type { Axis } from '@/ui/chart/chart-frame';
import { logTicks } from '@/ui/chart/ticks';
import { QuantityInput, type QuantityInputProps } from '@/ui/quantity-input';
import { beginGesture, edit, endGesture, useDesign } from '@/store/document';
import { setPhotocell } from '@/store/edits/network-edits';
import { SlowCells } from './slow-cells';
import { SmallChart } from '@/ui/chart/small-chart';
import styles from './voice.module.css';

const HISTORIES = [
  { value: 'rested', label: 'rested: a night in the dark' },
  { value: 'used', label: 'used: some of both' },
  { value: 'lit', label: 'lit for hours' },
];
const gesture = { onGestureStart: beginGesture, onGestureEnd: endGesture };
const MILLIAMPS = Array.from({ length: 61 }, (_, i) => 1e-3 * 10 ** (i / 12));

type Change = (patch: Partial<Photocell>) => void;
interface CellProps {
  readonly cell: Photocell;
  readonly change: Change;
}

/** The cell that faces the lamps: its table, its warmth, the light it had before, and how it follows. */
export function PhotocellPanel() {
  const own = useDesign((d) => d.preferences.photocell);
  const cell = own ?? USUAL_PHOTOCELL;
  const change: Change = (patch) => edit(setPhotocell({ ...cell, ...patch }));
  const { values } = photocellValues(cell);
  return (
    <>
      <section className="panel" aria-label="Cell" data-testid="photocell">
        <header>
          <h2>The cell, against its lamp</h2>
          {own && (
            <button type="button" className="link" onClick={() => edit(setPhotocell(null))}>
              a usual one again
            </button>
          )}
        </header>
        <CellTable cell={cell} change={change} />
        <SmallChart
          testId="cell-law"
          lines={[{ name: 'cell', x: MILLIAMPS, y: MILLIAMPS.map((ma) => cellOhmOf(values, ma)) }]}
          x={X}
          y={Y}
          title="cell, Ω, against the lamp"
          xUnit="mA"
        />
        <CellFields cell={cell} change={change} />
        <p className="reason" data-testid="cell-now">
          At a milliampere, as warm and as used as it is:{' '}
          <b className="figures">{formatQuantity(cellOhmOf(values, 1), 'resistance', { digits: 3 })}</b>. The circuit is
          designed for the cell as it stands here; typical figures, cells differ by half.
        </p>
      </section>
      <SlowCells />
    </>
  );
}

/** Points of its table that a cell may have. */
const FEWEST_POINTS = 2;
const MOST_POINTS = 16;

function CellTable({ cell, change }: CellProps) {
  // A value that would break the order of the table is not taken; the field keeps the old one.
  const setPoint = (at: number, column: 0 | 1, value: number) => {
    const points = cell.points.map((p, i): [number, number] =>
      i === at ? (column === 0 ? [value, p[1]] : [p[0], value]) : p,
    );
    if (photocellSchema.shape.points.safeParse(points).success) change({ points });
  };
  return (
    <div className={styles.cellTable}>
      <table className="sheet">
        <thead>
          <tr>
            <th>lamp</th>
            <th>cell at 25 °C</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {cell.points.map(([amps, ohm], i) => (
            <tr key={i}>
              <td>
                <QuantityInput
                  label={`lamp current of point ${i + 1}`}
                  hideLabel
                  small
                  kind="current"
                  value={amps}
                  min={1e-9}
                  max={1}
                  onChange={(v) => v !== null && setPoint(i, 0, v)}
                  {...gesture}
                />
              </td>
              <td>
                <QuantityInput
                  label={`cell of point ${i + 1}`}
                  hideLabel
                  small
                  kind="resistance"
                  value={ohm}
                  min={1e-3}
                  max={1e10}
                  onChange={(v) => v !== null && setPoint(i, 1, v)}
                  {...gesture}
                />
              </td>
              <td>
                {cell.points.length > FEWEST_POINTS && (
                  <button
                    type="button"
                    className="link"
                    aria-label={`Take point ${i + 1} out`}
                    onClick={() => change({ points: cell.points.filter((_, k) => k !== i) })}
                  >
                    out
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {cell.points.length < MOST_POINTS && (
        <Button size="small" onClick={() => change({ points: withOneMore(cell.points) })}>
          Another point
        </Button>
      )}
    </div>
  );
}

type Figure = 'darkOhm' | 'riseS' | 'fallS' | 'temperatureC' | 'perDegreePct' | 'memoryPct';
const FIGURES: readonly (readonly (Pick<QuantityInputProps, 'label' | 'kind' | 'min' | 'max' | 'step' | 'testId'> & {
  readonly of: Figure;
})[])[] = [
  [
    { of: 'darkOhm', label: 'in the dark', kind: 'resistance', min: 1, max: 1e12 },
    { of: 'riseS', label: 'rises in', kind: 'time', min: 1e-5, max: 10 },
    { of: 'fallS', label: 'falls in', kind: 'time', min: 1e-5, max: 60 },
  ],
  [
    {
      of: 'temperatureC',
      label: 'warmth, °C',
      kind: 'ratio',
      step: 1,
      min: -20,
      max: 80,
      testId: 'cell-warmth',
    },
    { of: 'perDegreePct', label: '% a degree', kind: 'ratio', step: 0.1, min: -5, max: 5 },
    { of: 'memoryPct', label: 'rested lower, %', kind: 'ratio', step: 5, min: 0, max: 80 },
  ],
];

function CellFields({ cell, change }: CellProps) {
  return (
    <>
      {FIGURES.map((row) => (
        <div key={row[0].of} className="field-row">
          {row.map(({ of, ...field }) => (
            <QuantityInput
              key={of}
              {...field}
              value={cell[of]}
              onChange={(v) => v !== null && change({ [of]: v })}
              {...gesture}
            />
          ))}
        </div>
      ))}
      <div className="field-row">
        <div className="field wide">
          <span className="label">the light it had</span>
          <Select
            aria-label="The light it had before"
            value={cell.history}
            onChange={(history) => change({ history })}
            options={HISTORIES}
            popupMatchSelectWidth={false}
          />
        </div>
      </div>
    </>
  );
}

const X: Axis = {
  from: 1e-3,
  to: 100,
  log: true,
  ...logTicks(1e-3, 100),
  format: (v) => String(Number(v.toPrecision(2))),
};
const Y: Axis = {
  from: 10,
  to: 1e7,
  log: true,
  ...logTicks(10, 1e7),
  format: (v) => formatQuantity(v, 'resistance', { digits: 2, bare: true, tight: true }),
};

/** Between the two that lie furthest apart. */
function withOneMore(points: Photocell['points']): Photocell['points'] {
  let widest = 0;
  for (let i = 1; i + 1 < points.length; i++)
    if (points[i + 1][0] / points[i][0] > points[widest + 1][0] / points[widest][0]) widest = i;
  const [a, b] = [points[widest], points[widest + 1]];
  const rounded = (v: number) => Number(v.toPrecision(3));
  return [
    ...points.slice(0, widest + 1),
    [rounded(Math.sqrt(a[0] * b[0])), rounded(Math.sqrt(a[1] * b[1]))],
    ...points.slice(widest + 1),
  ];
}
