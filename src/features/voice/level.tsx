'use client';

import { Button, Progress } from 'antd';
import { useState } from 'react';
import type { Bend } from '@/core/jobs/voice/bend';
import type { Modulation } from '@/core/jobs/voice/modulation';
import { formatQuantity, formatFixed } from '@/core/units/quantity';
import type { Axis } from '@/ui/chart/chart-frame';
import { QuantityInput } from '@/ui/quantity-input';
import { edit, useDesign } from '@/store/document';
import { currentWayOf } from '@/store/edits/edits';
import { setPadAndMakeUp } from '@/store/edits/network-edits';
import { useStarted } from './use-started';
import { logAxis, minus, SmallChart } from '@/ui/chart/small-chart';

const volts = (v: number) => formatQuantity(v, 'voltage', { digits: 3 });
const short = (v: number) => formatQuantity(v, 'voltage', { digits: 2, bare: true, tight: true });
const decibels = (ratio: number) => 20 * Math.log10(ratio);

const hertz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });

/**
 * How much of a signal the circuit bears, what that asks of the stages before and after, and from what level on the
 * sound itself moves the cutoff.
 */
export function Level() {
  return (
    <>
      <BendPanel />
      <ModulationPanel />
    </>
  );
}

function BendPanel() {
  const design = useDesign((d) => d);
  const [percent, setPercent] = useState(1);
  const { progress, answer: bend, stale, failed, start, stop } = useStarted('bend');
  const signal = design.brief.signalVolts * Math.SQRT2;
  return (
    <section className="panel" aria-label="How much it bears" data-testid="bend">
      <header>
        <h2>How much it bears</h2>
        {progress === null ? (
          <Button size="small" onClick={() => void start({ percent })}>
            Look for {percent}&#8239;%
          </Button>
        ) : (
          <Button size="small" onClick={stop}>
            Stop
          </Button>
        )}
      </header>
      <div className="field-row">
        <QuantityInput
          label="distortion, %"
          kind="ratio"
          step={0.5}
          value={percent}
          min={0.05}
          max={30}
          onChange={(v) => v !== null && setPercent(v)}
        />
      </div>
      {progress !== null && (
        <Progress percent={Math.round(100 * progress)} size="small" aria-label="Looking for the level" />
      )}
      {failed && <p className="reason">{failed}</p>}
      {bend && (
        <>
          {stale && <p className="reason quiet">Of the circuit as it was; look again.</p>}
          <p className="reason" data-testid="bend-result">
            {percent}&#8239;% of harmonics at <b className="figures">{volts(bend.inputVolts)}</b> peak in at{' '}
            {hertz(bend.freqHz)}, where it bears least of all it passes; {volts(bend.outputVolts)} out
            {bend.atCutoff && (
              <>
                , and {volts(bend.atCutoff.inputVolts)} at its cutoff, {hertz(bend.atCutoff.freqHz)}
              </>
            )}
            . The brief’s signal peaks at {volts(signal)}:{' '}
            {signal > bend.inputVolts
              ? `attenuate it ${formatFixed(decibels(signal / bend.inputVolts), 1)}\u202fdB before, and make as much ` +
                'up ' +
                'after.'
              : `${formatFixed(decibels(bend.inputVolts / signal), 1)}\u202fdB to spare.`}
          </p>
          <MakeUp bend={bend} signal={signal} />
          <HarmonicsChart curve={bend.curve} />
        </>
      )}
    </section>
  );
}

/**
 * The attenuator before and the gain after, set at once: as much taken as makes the signal just bearable, as much given
 * as brings it back.
 */
function MakeUp({ bend, signal }: { bend: Bend; signal: number }) {
  const way = useDesign(currentWayOf);
  const padded = way.stages.find(
    (s) => !s.bypassed && s.target.kind === 'network' && s.target.parameters.padDb !== undefined,
  );
  const maker = way.stages.find((s) => !s.bypassed && s.topology === 'common-emitter');
  if (!padded || padded.target.kind !== 'network') return null;
  const padDb = Math.min(-2, Math.max(-50, padded.target.parameters.padDb - decibels(signal / bend.inputVolts)));
  const change = padDb - padded.target.parameters.padDb;
  // What goes through now, and would then: the gain that brings the signal's size back.
  const through = decibels(bend.outputVolts / bend.inputVolts) + change;
  const gain = maker && maker.target.kind === 'network' ? maker.target.parameters.gain * 10 ** (-through / 20) : null;
  return (
    <p className="reason" data-testid="make-up">
      <button
        type="button"
        className="link"
        onClick={() =>
          edit(
            setPadAndMakeUp(
              padded.id,
              Number(padDb.toFixed(2)),
              maker && gain !== null ? { stageId: maker.id, gain: Number(gain.toPrecision(3)) } : null,
            ),
          )
        }
      >
        Set the attenuator to {minus(Number(padDb.toFixed(1)))}&#8239;dB
        {gain === null ? '' : ` and the make-up gain to ${formatQuantity(gain, 'ratio', { digits: 3 })}`}
      </button>
      {gain === null
        ? '; no make-up stage follows: add a common emitter.'
        : ', so that what comes out is as large as what went in.'}
    </p>
  );
}

const NTH = ['2nd', '3rd', '4th'];

function HarmonicsChart({ curve }: { curve: Bend['curve'] }) {
  if (curve.length < 3) return null;
  const sorted = [...curve].sort((a, b) => a.volts - b.volts);
  const v = sorted.map((p) => p.volts);
  const [low, high] = [v[0], v[v.length - 1]];
  const x = logAxis(low, high, short);
  const y: Axis = { from: 0.001, to: 100, log: true, labelled: [0.001, 0.01, 0.1, 1, 10, 100], format: minus };
  return (
    <SmallChart
      testId="harmonics-chart"
      lines={[
        { name: 'all', x: v, y: sorted.map((p) => Math.max(1e-4, p.percent)) },
        ...NTH.map((name, i) => ({ name, x: v, y: sorted.map((p) => Math.max(1e-4, p.harmonics[i])) })),
      ]}
      x={x}
      y={y}
      title="harmonics, %, against the input’s peak"
      xUnit="V"
    />
  );
}

function ModulationPanel() {
  const [cents, setCents] = useState(25);
  const { progress, answer, stale, failed, start, stop } = useStarted('modulation');
  return (
    <section className="panel" aria-label="When the sound moves the cutoff" data-testid="modulation">
      <header>
        <h2>When the sound moves the cutoff</h2>
        {progress === null ? (
          <Button size="small" onClick={() => void start({ cents })}>
            Look for {cents} cents
          </Button>
        ) : (
          <Button size="small" onClick={stop}>
            Stop
          </Button>
        )}
      </header>
      <div className="field-row">
        <QuantityInput
          label="moved by, cents"
          kind="ratio"
          step={5}
          value={cents}
          min={1}
          max={1200}
          onChange={(v) => v !== null && setCents(v)}
        />
      </div>
      {progress !== null && (
        <Progress percent={Math.round(100 * progress)} size="small" aria-label="Looking for the level" />
      )}
      {failed && <p className="reason">{failed}</p>}
      {answer && <ModulationResult answer={answer} cents={cents} stale={stale} />}
    </section>
  );
}

function ModulationResult({
  answer: { curve, volts: at, cutoffHz, toneHz },
  cents,
  stale,
}: {
  answer: Modulation;
  cents: number;
  stale: boolean;
}) {
  const v = curve.map((p) => p.volts);
  const sizes = curve.map((p) => p.cents);
  const span = Math.max(50, ...sizes.map(Math.abs)) * 1.1;
  return (
    <>
      {stale && <p className="reason quiet">Of the circuit as it was; look again.</p>}
      <p className="reason" data-testid="modulation-result">
        {at === null ? (
          <>
            A tone of {hertz(toneHz)} moves the {hertz(cutoffHz)} point by less than {cents} cents up to{' '}
            {volts(v[v.length - 1])} peak.
          </>
        ) : (
          <>
            From <b className="figures">{volts(at)}</b> peak on, a tone of {hertz(toneHz)} moves the point at{' '}
            {hertz(cutoffHz)} by {cents} cents: the sound plays the filter.
          </>
        )}
      </p>
      {curve.length > 2 && (
        <SmallChart
          testId="modulation-chart"
          height={140}
          lines={[{ name: 'moved', x: v, y: sizes }]}
          x={logAxis(v[0], v[v.length - 1], short)}
          y={{ from: -span, to: span, labelled: [-span / 1.1, 0, span / 1.1].map(Math.round), format: minus }}
          title="moved, cents, against the tone’s peak"
          xUnit="V"
        />
      )}
    </>
  );
}
