'use client';

import { Button, Progress } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { withoutRecord } from '@/core/design/without-record';
import type { Bend } from '@/core/jobs/bend';
import type { ControlLaw } from '@/core/jobs/control-law';
import { formatQuantity } from '@/core/units/quantity';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words';
import { useDesign } from '@/store/document';
import { currentVariantOf } from '@/store/edits';
import { useDesignJob } from '@/store/use-design-job';
import { startJob, type RunningJob } from '@/workers/job-client';
import { SlowCells } from './slow-cells';

/** Cents a degree: less is no drift. */
const NO_DRIFT = 0.05;
const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });

/** What the control does, how near the circuit is to singing, how it rests, and how much it bears: of voltage-controlled circuits. */
export function ControlPanel() {
  const design = useDesign((d) => d);
  const variant = currentVariantOf(design);
  const voiced = variant.ways.some((w) => w.stages.some((s) => Object.values(s.parts).some((p) => p.control?.kind === 'exponential')));
  const law = useDesignJob('control-law', voiced ? {} : null);
  if (!voiced || !law) return null;
  const { points, octaves, worstCents, driftCents, singing, rest } = law;
  const [first, last] = [points[0], points[points.length - 1]];
  return (
    <>
      <section className="panel" aria-label="Control and resonance" data-testid="control-panel">
        <h2>Control and resonance</h2>
        {points.length > 2 && (
          <p className="reason" data-testid="control-law">
            From end to end the control moves it <b className="figures">{octaves.toFixed(2)}</b> octaves, {hz(first.freqHz)} to {hz(last.freqHz)}; its worst point lies <b className="figures">{worstCents.toFixed(1)} cents</b> off the straight line.
          </p>
        )}
        {points.length > 2 && <LawTable points={points} />}
        {driftCents !== null && Math.abs(driftCents) > NO_DRIFT && (
          <p className="reason" data-testid="drift">
            A degree warmer moves it <b className="figures">{driftCents.toFixed(1).replace('-', '−')} cents</b> with its currents held. A converter that makes them from volts drifts 0.33 % of the interval besides: a resistor that rises as much, warm with it, makes up for that.
          </p>
        )}
        {singing && (
          <p className="reason" data-testid="singing">
            {singing.sings ? <b>It sings.</b> : <>It starts to sing at {singing.part} = <b className="figures">{formatQuantity(singing.atOhm, 'resistance', { digits: 3 })}</b> (now {formatQuantity(singing.nowOhm, 'resistance', { digits: 3 })}), at {hz(singing.freqHz)}.</>}{' '}
            {singing.knob !== null && <>On its pot that is at {Math.round(100 * singing.knob)} % of the track.</>}
          </p>
        )}
      </section>
      <SlowCells />
      <BendPanel freqHz={points.length > 0 ? points[Math.floor(points.length / 2)].freqHz / 8 : 200} />
      {rest && (
        <section className="panel" aria-label="At rest" data-testid="at-rest">
          <header><h2>At rest, to check first on the bench</h2><span className="figures quiet">{formatQuantity(rest.supplyAmps, 'current', { digits: 2 })}</span></header>
          <div className="rest-nodes">
            {rest.nodes.map(({ node, volts }) => <span key={node} className="figures"><span className="quiet">{node}</span> {formatQuantity(volts, 'voltage', { digits: 3 })}</span>)}
          </div>
          <Battery amps={rest.supplyAmps} />
        </section>
      )}
    </>
  );
}

const SHOWN = [0, 0.2, 0.4, 0.6, 0.8, 1];

function LawTable({ points }: { points: ControlLaw['points'] }) {
  const rows = SHOWN.map((position) => points.reduce((a, b) => (Math.abs(b.position - position) < Math.abs(a.position - position) ? b : a)));
  return (
    <div className="sheet-scroll" tabIndex={0} role="region" aria-label="Control against frequency and Q">
      <table className="sheet speaker-figures law-table">
        <tbody>
          <tr><th>control, %</th>{rows.map((r) => <td key={r.position} className="number">{Math.round(100 * r.position)}</td>)}</tr>
          <tr><th>frequency</th>{rows.map((r) => <td key={r.position} className="number">{formatQuantity(r.freqHz, 'frequency', { digits: 2, bare: true }).replace(' ', '')}</td>)}</tr>
          <tr><th>Q</th>{rows.map((r) => <td key={r.position} className="number">{r.q < 0 ? 'sings' : r.q.toFixed(1)}</td>)}</tr>
        </tbody>
      </table>
    </div>
  );
}

function Battery({ amps }: { amps: number }) {
  const [hours, setHours] = useState(0.5);
  if (amps <= 0) return null;
  return (
    <div className="field-row">
      <QuantityInput label="a battery of, Ah" kind="ratio" step={0.1} value={hours} min={0.01} max={100} onChange={(v) => v !== null && setHours(v)} />
      <p className="reason">These transistors and strings alone run <b className="figures">{Math.round(hours / amps)}</b> hours on it; op-amps take theirs besides.</p>
    </div>
  );
}

/** The level at which it bends by so much, looked for on request. */
function BendPanel({ freqHz }: { freqHz: number }) {
  const design = useDesign((d) => d);
  const [percent, setPercent] = useState(1);
  const [progress, setProgress] = useState<number | null>(null);
  const [bend, setBend] = useState<Bend | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const running = useRef<RunningJob<Bend> | null>(null);
  useEffect(() => () => running.current?.cancel(), []);
  const look = async () => {
    setFailed(null);
    setProgress(0);
    const job = startJob<'bend'>({ kind: 'bend', design: withoutRecord(design), variantId: design.currentVariant, freqHz: Math.max(20, Math.min(2000, freqHz)), percent }, setProgress);
    running.current = job;
    const answer = await job.answer;
    setProgress(null);
    if (answer.ok) setBend(answer.value);
    else if (answer.code !== 'cancelled') setFailed(failureWords(answer));
  };
  return (
    <section className="panel" aria-label="How much it bears" data-testid="bend">
      <header>
        <h2>How much it bears</h2>
        {progress === null ? <Button size="small" onClick={() => void look()}>Look for {percent} %</Button> : <Button size="small" onClick={() => running.current?.cancel()}>Stop</Button>}
      </header>
      <div className="field-row"><QuantityInput label="distortion, %" kind="ratio" step={0.5} value={percent} min={0.05} max={30} onChange={(v) => v !== null && setPercent(v)} /></div>
      {progress !== null && <Progress percent={Math.round(100 * progress)} size="small" aria-label="Looking for the level" />}
      {failed && <p className="reason">{failed}</p>}
      {bend && (
        <>
          <p className="reason" data-testid="bend-result">
            {percent} % of harmonics at <b className="figures">{formatQuantity(bend.inputVolts, 'voltage', { digits: 3 })}</b> peak in, {formatQuantity(bend.outputVolts, 'voltage', { digits: 3 })} out. The brief’s signal peaks at {formatQuantity(design.brief.signalVolts * Math.SQRT2, 'voltage', { digits: 3 })}:{' '}
            {design.brief.signalVolts * Math.SQRT2 > bend.inputVolts ? `attenuate it ${(20 * Math.log10((design.brief.signalVolts * Math.SQRT2) / bend.inputVolts)).toFixed(1)} dB before, and make as much up after.` : `${(20 * Math.log10(bend.inputVolts / (design.brief.signalVolts * Math.SQRT2))).toFixed(1)} dB to spare.`}
          </p>
          <p className="reason figures quiet">{bend.harmonics.map((h, i) => `${i + 2}nd: ${(100 * h).toFixed(2)} %`.replace('3nd', '3rd').replace(/([4-9])nd/, '$1th')).slice(0, 4).join(' · ')}</p>
        </>
      )}
    </section>
  );
}
