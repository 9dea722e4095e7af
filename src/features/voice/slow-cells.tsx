'use client';

import { useState } from 'react';
import type { GateResponse } from '@/core/jobs/voice/gate-response';
import { formatQuantity } from '@/core/units/quantity';
import { ChartFrame, type Axis } from '@/ui/chart/chart-frame';
import { linearTicks, logTicks } from '@/ui/chart/ticks';
import { Trace } from '@/ui/chart/trace-layer';
import { QuantityInput } from '@/ui/quantity-input';
import { useSize } from '@/ui/use-size';
import { useDesignJob } from '@/store/use-design-job';

const STYLES = ['asBuilt', 'ghost'];
const SHOWN_AFTER_S = 0.6;
const ms = (s: number) => formatQuantity(s, 'time', { digits: 2 });
const ohmTick = (v: number) => formatQuantity(v, 'resistance', { digits: 2 }).replace(/[ Ω]/g, '');

/** How lamp and cell follow a gate: quick to open, slow to close. Only where there are any. */
export function SlowCells() {
  const [gateS, setGateS] = useState(0.1);
  const [attackS, setAttack] = useState(0);
  const [decayS, setDecay] = useState(0);
  const response = useDesignJob('gate-response', { gateS, attackS, decayS });
  if (!response) return null;
  const [first] = response.cells;
  return (
    <section className="panel" aria-label="Lamp and cell" data-testid="slow-cells">
      <h2>Lamp and cell</h2>
      <div className="field-row">
        <QuantityInput
          label="lit for"
          kind="time"
          value={gateS}
          min={1e-3}
          max={2}
          onChange={(v) => v !== null && setGateS(v)}
        />
        <QuantityInput
          label="rising for"
          kind="time"
          value={attackS}
          min={0}
          max={2}
          onChange={(v) => v !== null && setAttack(v)}
        />
        <QuantityInput
          label="dying away in"
          kind="time"
          value={decayS}
          min={0}
          max={2}
          onChange={(v) => v !== null && setDecay(v)}
        />
      </div>
      <p className="reason" data-testid="cell-times">
        {first.openS !== null ? (
          <>
            Open after <b className="figures">{ms(first.openS)}</b>, within a tenth of its{' '}
            {formatQuantity(first.litOhm, 'resistance', { digits: 2 })}
          </>
        ) : (
          <>Put out before it is open</>
        )}
        ; ten times as much <b className="figures">{first.closeS !== null ? ms(first.closeS) : 'long'}</b> after the
        gate. Real cells differ by half, and remember light: an evening in the dark makes them slower.
      </p>
      <CellChart response={response} until={gateS + SHOWN_AFTER_S} />
    </section>
  );
}

function CellChart({ response, until }: { response: GateResponse; until: number }) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const count = response.timeS.findIndex((t) => t > until);
  const time = response.timeS.subarray(0, count);
  const low = 10 ** Math.floor(Math.log10(Math.min(...response.cells.map((c) => c.litOhm))));
  const x: Axis = {
    from: time[0],
    to: until,
    labelled: linearTicks(0, until, 6),
    format: (s) => `${Math.round(1000 * s)}`,
  };
  const y: Axis = { from: low, to: 1e7, log: true, ...logTicks(low, 1e7), format: ohmTick };
  return (
    <div ref={ref} className="spectrum">
      <ChartFrame width={width} height={150} x={x} y={y} title="cell, Ω" xUnit="ms">
        {response.cells.map(({ name, ohm }, i) => (
          <Trace
            key={name}
            x={time}
            y={ohm.subarray(0, count)}
            className={STYLES[i % STYLES.length]}
            testId={`cell-${name}`}
          />
        ))}
      </ChartFrame>
    </div>
  );
}
