'use client';

import { tenth } from '@/ui/chart/tenth';
import { Segmented } from 'antd';
import { useState } from 'react';
import type { Turn as TurnFacts, TurnPoint } from '@/core/jobs/network/turn';
import { formatQuantity, formatSigned, formatFixed } from '@/core/units/quantity';
import { ChartFrame, usePlot, type Axis } from '@/ui/chart/chart-frame';
import { linearTicks, logTicks, tickHz } from '@/ui/chart/ticks';
import { Trace } from '@/ui/chart/trace-layer';
import { useSize } from '@/ui/use-size';
import { edit, useDesign } from '@/store/document';
import { setControl } from '@/store/edits/network-edits';
import { TURN, turnedControlOf } from '@/store/questions/live';
import { LATE_OPACITY, LateNote } from '@/ui/late-note';
import { useAnswer, useIsLate } from '@/store/questions/question';
import { useView } from '@/store/view';

type Against = 'cutoffHz' | 'gainDb' | 'q';
const NAMES: Record<Against, string> = { cutoffHz: 'cutoff', gainDb: 'gain', q: 'Q' };
const TAPERS = { linear: 'linear', log: 'log', 'reverse-log': 'reverse log' } as const;
const CHART_HEIGHT = 168;

/**
 * What the whole rotation of the control in hand does: cutoff, gain and Q against it, and which taper makes it even.
 */
export function Turn() {
  const turned = useView((s) => s.turnedControl);
  const control = useDesign((d) => turnedControlOf(d, turned));
  const turn = useAnswer(TURN);
  const late = useIsLate(TURN);
  const [wanted, setWanted] = useState<Against>('cutoffHz');
  const [ref, { width }] = useSize<HTMLDivElement>();
  if (!control || !turn || turn.controlId !== control.id) return null;
  const there = (Object.keys(NAMES) as Against[]).filter(
    (name) => name === 'gainDb' || turn.points.filter((p) => p[name] !== null).length > 1,
  );
  const against = there.includes(wanted) ? wanted : there[0];
  return (
    <section className="panel" aria-label={`Rotation of ${control.name}`} data-testid="turn">
      <header>
        <h2>{control.name} over its rotation</h2>
        <Segmented
          size="small"
          aria-label="Against rotation"
          value={against}
          onChange={setWanted}
          options={there.map((value) => ({ value, label: NAMES[value] }))}
        />
      </header>
      {late && <LateNote />}
      <div ref={ref} style={{ height: CHART_HEIGHT, opacity: late ? LATE_OPACITY : 1 }}>
        <TurnChart turn={turn} against={against} position={control.position} width={width} />
      </div>
      <p className="reason figures" data-testid="turn-range">
        {rangeWords(turn.points, against)}
      </p>
      <Tapers turn={turn} current={control.taper} onTake={(taper) => edit(setControl(control.id, { taper }))} />
    </section>
  );
}

function TurnChart({
  turn,
  against,
  position,
  width,
}: {
  turn: TurnFacts;
  against: Against;
  position: number;
  width: number;
}) {
  const points = turn.points.flatMap((p) => (p[against] === null ? [] : [{ position: p.position, value: p[against] }]));
  const values = points.map((p) => p.value);
  if (values.length < 2)
    return <p className="quiet reason">Nothing to draw: it has no such figure over the rotation.</p>;
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const x: Axis = { from: 0, to: 100, labelled: [0, 25, 50, 75, 100], format: String };
  return (
    <ChartFrame
      width={width}
      height={CHART_HEIGHT}
      x={x}
      y={against === 'cutoffHz' ? hertzAxis(low, high) : plainAxis(low, high)}
      title={
        against === 'cutoffHz'
          ? 'lowest −3 dB point, or centre of a band, Hz'
          : against === 'gainDb'
            ? 'highest level, dB'
            : 'Q'
      }
      xUnit="%"
    >
      <Trace x={points.map((p) => 100 * p.position)} y={values} className="asBuilt" testId="trace-turn" />
      <Here position={position} />
    </ChartFrame>
  );
}

function hertzAxis(low: number, high: number): Axis {
  const [from, to] = [low / 1.15, Math.max(high * 1.15, low * 1.5)];
  return {
    from,
    to,
    log: true,
    labelled: logTicks(from, to)
      .labelled.map((v) => Number(v.toPrecision(2)))
      .filter((v) => v >= from && v <= to),
    format: tickHz,
  };
}
function plainAxis(low: number, high: number): Axis {
  const room = Math.max(0.5, (high - low) * 0.1);
  return {
    from: low - room,
    to: high + room,
    labelled: linearTicks(low - room, high + room, 5),
    format: (v) => `${Number(v.toPrecision(3))}`.replace('-', '−'),
  };
}

function Here({ position }: { position: number }) {
  const plot = usePlot();
  return plot ? (
    <path
      d={`M${tenth(plot.x(100 * position))} ${plot.area.y}v${plot.area.height}`}
      className="wave-line"
      aria-hidden="true"
    />
  ) : null;
}

function rangeWords(points: readonly TurnPoint[], against: Against): string {
  const values = points.flatMap((p) => p[against] ?? []);
  const [first, last] = [values[0], values[values.length - 1]];
  if (against === 'gainDb') return `${formatSigned(first, 'decibel', 1)} … ${formatSigned(last, 'decibel', 1)}`;
  if (against === 'q') return `Q ${formatFixed(first, 2)} … ${formatFixed(last, 2)}`;
  return (
    `${formatQuantity(first, 'frequency', { digits: 3 })} … ` +
    `${formatQuantity(last, 'frequency', { digits: 3 })}, ` +
    `${formatFixed(Math.abs(Math.log2(last / first)), 1)} octaves`
  );
}

/** Which taper gives even musical steps. */
function Tapers({
  turn,
  current,
  onTake,
}: {
  turn: TurnFacts;
  current: unknown;
  onTake: (taper: keyof typeof TAPERS) => void;
}) {
  if (turn.tapers.length === 0) return null;
  return (
    <table className="sheet">
      <thead>
        <tr>
          <th>taper</th>
          <th className="number">range</th>
          <th className="number">off even steps by</th>
        </tr>
      </thead>
      <tbody>
        {turn.tapers.map(({ taper, octaves, unevenOctaves }, i) => (
          <tr key={taper} className={taper === current ? 'current' : undefined}>
            <td>
              {taper === current ? (
                <b>{TAPERS[taper]}</b>
              ) : (
                <button type="button" className="link" onClick={() => onTake(taper)}>
                  {TAPERS[taper]}
                </button>
              )}
              {i === 0 && <span className="live"> evenest</span>}
            </td>
            <td className="number">{formatFixed(octaves, 1)} oct</td>
            <td className="number">{formatFixed(unevenOctaves, 2)} oct</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
