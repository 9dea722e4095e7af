'use client';

import { App, Button, Progress, Select } from 'antd';
import { useState } from 'react';
import type { DriverMeasurement, DriverSetUp } from '@/core/jobs/loudspeaker/driver-bench';
import type { Curve, Driver } from '@/core/loudspeaker/driver';
import { firstReflectionS, lowestHz, nearFieldHz } from '@/core/measure/sound-field';
import { sweepSamples, type Sweep } from '@/core/measure/sweep';
import { failure, success, type Failure, type Result } from '@/core/result';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { INSTRUMENTS, type Instrument } from '@/store/measuring';
import { recordSweep, unlessBroken } from '@/store/sound-card';
import { QuantityInput } from '@/ui/quantity-input';
import { failureWords } from '@/ui/words/failures';
import { startJob } from '@/workers/job-client';
import { Cautions } from '@/ui/cautions';
import { joinNear, takeImpedance, type DriverEdits } from './take-curves';
import styles from './drivers.module.css';

type What = DriverSetUp['what'];
const WHAT: Readonly<Record<What, string>> = {
  impedance: 'impedance',
  far: 'far response',
  near: 'near response',
};
const RATE_HZ = 48_000;

/** What is set by hand. */
interface Bench {
  readonly what: What;
  readonly instrument: Instrument;
  readonly seriesOhm: number;
  readonly distanceM: number;
  readonly heightM: number;
  /** How long is listened, s; null: as long as the first reflection is late. */
  readonly gateS: number | null;
  readonly millivoltsPerPascal: number;
  readonly amplifierGain: number;
  readonly seconds: number;
  readonly levelDbfs: number;
}
const USUAL: Bench = {
  what: 'impedance',
  instrument: 'workshop',
  seriesOhm: 47,
  distanceM: 1,
  heightM: 1,
  gateS: null,
  millivoltsPerPascal: 10,
  amplifierGain: 10,
  seconds: 3,
  levelDbfs: -18,
};
/** Cones and domes are swept from half of where they are safe; impedances from below every resonance. */
const IMPEDANCE_FROM_HZ = 10;

const sweepOf = ({ what, seconds, levelDbfs }: Bench, { safeFromHz }: Driver): Sweep => ({
  fromHz: what === 'impedance' ? IMPEDANCE_FROM_HZ : Math.max(IMPEDANCE_FROM_HZ, safeFromHz / 2),
  toHz: 20e3,
  seconds,
  rateHz: RATE_HZ,
  levelDbfs,
});
function setUpOf(bench: Bench, { radiusM }: Driver): DriverSetUp {
  const { what, seriesOhm, distanceM, heightM, gateS, amplifierGain } = bench;
  if (what === 'impedance') return { what, seriesOhm };
  const chain = { voltsPerPascal: bench.millivoltsPerPascal / 1000, amplifierGain };
  return what === 'near' ? { what, ...chain, radiusM } : { what, ...chain, distanceM, heightM, gateS };
}
const listenedS = ({ gateS, distanceM, heightM }: Bench): number => gateS ?? firstReflectionS(distanceM, heightM);

/** Where a near response meets the far one: above what the far gate can tell, below what the cone’s size allows. */
const meetingHz = (bench: Bench, { radiusM }: Driver): number =>
  Math.round(Math.max(1.3 * lowestHz(listenedS(bench)), 0.7 * nearFieldHz(radiusM)));

const curveOf = ({ freqHz, values, phaseDeg }: DriverMeasurement): Curve => ({
  freqHz: [...freqHz],
  values: [...values],
  phaseDeg: [...phaseDeg],
});

/** What runs on the bench: how far it is, how it is stopped, and why it failed. */
function useRun() {
  const [busy, setBusy] = useState<{ share: number; stop: AbortController } | null>(null);
  const [failed, setFailed] = useState<Failure | null>(null);
  const run = async (work: (stop: AbortController) => Promise<Result<unknown>>) => {
    const stop = new AbortController();
    setFailed(null);
    setBusy({ share: 0, stop });
    const answer = await work(stop);
    setBusy(null);
    if (!answer.ok && !stop.signal.aborted) setFailed(answer);
  };
  const record = async (sweep: Sweep, stop: AbortController): Promise<Result<Float64Array>> => {
    const played = sweepSamples(sweep);
    if (!played.ok) return played;
    const progress = (share: number) => setBusy({ share, stop });
    const made = await recordSweep({ samples: played.value, rateHz: RATE_HZ, progress, signal: stop.signal });
    return made.ok ? success(made.value.samples) : made;
  };
  return { busy, failed, setFailed, run, record };
}

/** A driver swept as the bench stands, and what is taken of it; without it for the card's own part first. */
function useDriverBench({ driver, change, onFitted }: DriverEdits) {
  const { message } = App.useApp();
  const [bench, setBench] = useState(USUAL);
  const [reference, setReference] = useState<{ samples: Float64Array; of: string } | null>(null);
  const { busy, failed, setFailed, run, record } = useRun();
  const sweep = sweepOf(bench, driver);
  const setUp = setUpOf(bench, driver);
  const referenceOf = JSON.stringify([sweep, setUp.what === 'impedance' ? setUp.seriesOhm : 'cable']);
  const current = reference?.of === referenceOf ? reference.samples : null;
  const set = (patch: Partial<Bench>) => {
    setBench({ ...bench, ...patch });
    setFailed(null);
  };
  const measured = async (stop: AbortController): Promise<Result<DriverMeasurement>> => {
    if (bench.instrument === 'workshop') {
      const job = startJob<'driver-bench'>({ kind: 'driver-bench', driver, sweep, setUp, seed: 1 });
      stop.signal.addEventListener('abort', job.cancel);
      return job.answer;
    }
    if (!current) return failure('reference-missing', {});
    return unlessBroken(async () => {
      const samples = await record(sweep, stop);
      if (!samples.ok) return samples;
      const asked = { samples: samples.value, rateHz: RATE_HZ, sweep, reference: current, setUp };
      return startJob<'analyse-driver'>({ kind: 'analyse-driver', ...asked }).answer;
    });
  };
  const take = async (found: DriverMeasurement): Promise<Result<unknown>> => {
    const curve = curveOf(found);
    if (bench.what === 'impedance') return takeImpedance(curve, change, onFitted);
    if (bench.what === 'near' && driver.response.kind === 'curve') {
      const joined = joinNear(curve, driver.response.curve, meetingHz(bench, driver), change);
      if (joined.ok) void message.success(joined.value);
      return joined;
    }
    change({ response: { kind: 'curve', curve } });
    void message.success(heardWords(found));
    return success(null);
  };
  const sweepDriver = () =>
    run(async (stop) => {
      const found = await measured(stop);
      return found.ok && !stop.signal.aborted ? take(found.value) : found;
    });
  const sweepReference = () =>
    run(async (stop) => {
      const samples = await record(sweep, stop);
      if (samples.ok) setReference({ samples: samples.value, of: referenceOf });
      return samples;
    });
  return { bench, set, busy, failed, ready: bench.instrument === 'workshop' || !!current, sweepDriver, sweepReference };
}

/** A driver on the bench: its impedance behind a resistor, its sound from afar and close before its cone. */
export function DriverBench(edits: DriverEdits) {
  const { bench, set, busy, failed, ready, sweepDriver, sweepReference } = useDriverBench(edits);
  return (
    <>
      <SetUp bench={bench} set={set} />
      <Explained bench={bench} driver={edits.driver} />
      <div className={styles.start}>
        {bench.instrument === 'computer' && (
          <Button disabled={busy !== null} onClick={() => void sweepReference()}>
            {bench.what === 'impedance' ? 'Sweep without the driver' : 'Sweep the cable'}
          </Button>
        )}
        {busy ? (
          <Button onClick={() => busy.stop.abort()}>Stop</Button>
        ) : (
          <Button type="primary" disabled={!ready} onClick={() => void sweepDriver()}>
            Sweep the driver
          </Button>
        )}
        {busy && <Progress percent={Math.round(100 * busy.share)} size="small" aria-label="How far the sweep is" />}
      </div>
      {failed && (
        <p className="failure" role="alert">
          {failureWords(failed)}
        </p>
      )}
    </>
  );
}

const heardWords = ({ freqHz, heardFromM }: DriverMeasurement): string =>
  `Heard from ${formatFixed(heardFromM ?? 0, 2)}\u202fm; ${freqHz.length} points from ` +
  `${formatQuantity(freqHz[0], 'frequency', { digits: 3 })}.`;

function SetUp({ bench, set }: { bench: Bench; set: (patch: Partial<Bench>) => void }) {
  const { what, instrument } = bench;
  const figure = (
    key: Exclude<keyof Bench, 'what' | 'instrument' | 'gateS'>,
    label: string,
    min: number,
    max: number,
  ) => (
    <QuantityInput
      label={label}
      kind={KIND_OF[key] ?? 'ratio'}
      value={bench[key]}
      min={min}
      max={max}
      onChange={(v) => v !== null && set({ [key]: v })}
    />
  );
  return (
    <div className="field-row">
      <div className="field">
        <span className="label">what</span>
        <Select
          aria-label="What is measured"
          value={what}
          options={Object.entries(WHAT).map(([value, label]) => ({ value: value as What, label }))}
          popupMatchSelectWidth={false}
          onChange={(value) => set({ what: value })}
        />
      </div>
      <div className="field">
        <span className="label">with</span>
        <Select
          aria-label="Instrument"
          value={instrument}
          options={Object.entries(INSTRUMENTS).map(([value, label]) => ({ value: value as Instrument, label }))}
          popupMatchSelectWidth={false}
          onChange={(value) => set({ instrument: value })}
        />
      </div>
      {what === 'impedance' && figure('seriesOhm', 'resistor', 0.1, 1e5)}
      {what === 'far' && figure('distanceM', 'distance, m', 0.1, 20)}
      {what === 'far' && figure('heightM', 'over the floor, m', 0.1, 20)}
      {what === 'far' && (
        <QuantityInput
          label="listened to for"
          kind="time"
          allowEmpty
          placeholder={formatQuantity(listenedS({ ...bench, gateS: null }), 'time', { digits: 2 })}
          value={bench.gateS}
          min={0.0005}
          max={2}
          onChange={(gateS) => set({ gateS })}
        />
      )}
      {what !== 'impedance' && figure('millivoltsPerPascal', 'microphone, mV/Pa', 0.01, 1e4)}
      {what !== 'impedance' && figure('amplifierGain', 'amplifier, times', 0.01, 1000)}
      {figure('seconds', 'takes', 0.2, 60)}
      {figure('levelDbfs', 'peak', -90, 0)}
    </div>
  );
}
const KIND_OF: Partial<Record<keyof Bench, 'resistance' | 'time' | 'decibel'>> = {
  seriesOhm: 'resistance',
  seconds: 'time',
  levelDbfs: 'decibel',
};

function Explained({ bench, driver }: { bench: Bench; driver: Driver }) {
  const { what, instrument } = bench;
  return (
    <>
      {instrument === 'computer' && <Cautions />}
      <p className="reason quiet">
        {explanationOf(bench, driver)}
        {instrument === 'workshop' &&
          ` Simulated: one driver of this kind${what === 'impedance' ? '' : ', in a room with a floor'}.`}
      </p>
    </>
  );
}

function explanationOf(bench: Bench, driver: Driver): string {
  const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 2 });
  const ms = (v: number) => `${formatFixed(1000 * v, 1)}\u202fms`;
  const [floorS, gateS] = [firstReflectionS(bench.distanceM, bench.heightM), listenedS(bench)];
  switch (bench.what) {
    case 'impedance':
      return (
        'The card’s output through the resistor to the driver, its input across the driver. What the input has ' +
        'without the driver is swept first and divided out.'
      );
    case 'far':
      return (
        `The floor is heard ${ms(floorS)} after the driver: ` +
        `${gateS > floorS ? `up to ${ms(gateS)} it is in it` : 'what comes later is left out'}, so nothing is told ` +
        `below ${hz(lowestHz(gateS))}. The near response tells the rest.`
      );
    case 'near':
      return (
        `Half a centimetre before the cone, true up to ${hz(nearFieldHz(driver.radiusM))} at its size; joined to the ` +
        `far response at ${hz(meetingHz(bench, driver))}, to whose level it is brought.`
      );
  }
}
