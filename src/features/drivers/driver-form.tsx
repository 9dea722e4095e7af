'use client';

import { Button, Input, Select } from 'antd';
import { DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import { useState } from 'react';
import type { Driver } from '@/core/loudspeaker/driver';
import { asKind } from '@/core/loudspeaker/driver-kinds';
import { mainResonance, modelFromParameters } from '@/core/loudspeaker/voice-coil';
import type { QuantityKind } from '@/core/units/quantity';
import { formatFixed } from '@/core/units/quantity';
import { changeDriver } from '@/store/shelf/drivers';
import { QuantityInput } from '@/ui/quantity-input';
import { DriverFiles } from './driver-files';
import { MeasureDriver } from './measure-driver';
import type { ChangeDriver } from './take-curves';

const KINDS: { value: Driver['kind']; label: string }[] = ['woofer', 'midrange', 'tweeter', 'full-range'].map(
  (value) => ({ value: value as Driver['kind'], label: value }),
);

/** A number that is always there. */
interface Figure {
  readonly label: string;
  readonly kind: QuantityKind;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  readonly testId?: string;
  readonly set: (value: number) => void;
}

const Figures = ({ of }: { of: readonly Figure[] }) =>
  of.map(({ set, ...figure }, i) => (
    <QuantityInput key={`${figure.label} ${i}`} {...figure} onChange={(v) => v !== null && set(v)} />
  ));

/** A driver of the maker's own: what it is, its curves from files or measured, or its few figures. */
export function DriverForm({ driver, onRemove }: { driver: Driver; onRemove: () => void }) {
  const [off, setOff] = useState<number | null>(null);
  const change: ChangeDriver = (patch) => void changeDriver(driver.id, patch);
  const { response } = driver;
  return (
    <section className="panel" aria-label={driver.name} data-testid="driver-form">
      <header>
        <Input
          className="way-title"
          aria-label="Name of the driver"
          key={driver.name}
          defaultValue={driver.name}
          maxLength={80}
          onBlur={(e) => change({ name: e.target.value.trim() || driver.name })}
        />
        <Button
          size="small"
          type="text"
          icon={<DeleteOutlined />}
          aria-label={`Remove ${driver.name}`}
          onClick={onRemove}
        />
      </header>
      <WhatItIs driver={driver} change={change} />
      <DriverFiles driver={driver} change={change} onFitted={setOff} />
      {off !== null && (
        <p className="reason" data-testid="fit-off">
          The impedance is fitted as a circuit, within {formatFixed(off, 1)}&#8239;% over the whole curve.
        </p>
      )}
      <MeasureDriver driver={driver} change={change} onFitted={setOff} />
      {response.kind === 'curve' ? (
        <p className="reason quiet">
          Response from a measurement, {response.curve.freqHz.length} points
          {response.curve.phaseDeg ? ', with its phase' : '; minimum phase made from its level'}.
        </p>
      ) : (
        <ModelledResponse response={response} set={(patch) => change({ response: { ...response, ...patch } })} />
      )}
      <Coil driver={driver} change={change} />
    </section>
  );
}

function WhatItIs({ driver, change }: { driver: Driver; change: ChangeDriver }) {
  return (
    <div className="field-row">
      <div className="field">
        <span className="label">kind</span>
        <Select
          aria-label="Kind of driver"
          value={driver.kind}
          options={KINDS}
          onChange={(kind) => change(asKind(driver, kind))}
        />
      </div>
      <Figures
        of={[
          {
            label: 'nominal',
            kind: 'resistance',
            value: driver.nominalOhm,
            min: 0.5,
            max: 1000,
            set: (v) => change({ nominalOhm: v }),
          },
          {
            label: 'radius, cm',
            kind: 'ratio',
            value: Number((100 * driver.radiusM).toPrecision(4)),
            min: 0.3,
            max: 60,
            set: (v) => change({ radiusM: v / 100 }),
          },
          {
            label: 'safe from',
            kind: 'frequency',
            value: driver.safeFromHz,
            min: 5,
            max: 20e3,
            set: (v) => change({ safeFromHz: v }),
          },
          {
            label: 'watts',
            kind: 'ratio',
            value: driver.maxWatts,
            min: 0.1,
            max: 5000,
            set: (v) => change({ maxWatts: v }),
          },
        ]}
      />
      <QuantityInput
        label="cone may go, mm"
        kind="ratio"
        allowEmpty
        placeholder="–"
        step={0.5}
        value={driver.excursionM === undefined ? null : Number((1000 * driver.excursionM).toFixed(3))}
        min={0.1}
        max={100}
        onChange={(v) => change({ excursionM: v === null ? undefined : v / 1000 })}
      />
      <QuantityInput
        label="price"
        kind="ratio"
        allowEmpty
        placeholder="–"
        value={driver.price}
        min={0}
        max={1e6}
        onChange={(v) => change({ price: v })}
      />
    </div>
  );
}

type Modelled = Extract<Driver['response'], { kind: 'model' }>;
const MOST_BUMPS = 8;

function ModelledResponse({ response, set }: { response: Modelled; set: (patch: Partial<Modelled>) => void }) {
  const { bumps, sensitivityDb, lowHz, lowQ, topHz, topQ } = response;
  return (
    <>
      <div className="field-row">
        <Figures
          of={[
            {
              label: 'dB at 2.83 V, 1 m',
              kind: 'decibel',
              step: 0.5,
              value: sensitivityDb,
              min: 40,
              max: 140,
              testId: 'sensitivity',
              set: (v) => set({ sensitivityDb: v }),
            },
            { label: 'low end', kind: 'frequency', value: lowHz, min: 5, max: 1e4, set: (v) => set({ lowHz: v }) },
            { label: 'Q there', kind: 'ratio', value: lowQ, min: 0.2, max: 10, set: (v) => set({ lowQ: v }) },
            { label: 'top end', kind: 'frequency', value: topHz, min: 100, max: 1e5, set: (v) => set({ topHz: v }) },
            { label: 'Q there', kind: 'ratio', value: topQ, min: 0.2, max: 10, set: (v) => set({ topQ: v }) },
          ]}
        />
        <Button
          size="small"
          icon={<PlusOutlined />}
          disabled={bumps.length >= MOST_BUMPS}
          onClick={() => set({ bumps: [...bumps, { freqHz: topHz * 0.8, q: 4, gainDb: 4 }] })}
        >
          bump
        </Button>
      </div>
      {bumps.map((bump, i) => (
        <BumpRow
          key={i}
          bump={bump}
          set={(patch) => set({ bumps: bumps.map((b, k) => (k === i ? { ...b, ...patch } : b)) })}
          remove={() => set({ bumps: bumps.filter((_, k) => k !== i) })}
        />
      ))}
    </>
  );
}

type Bump = Modelled['bumps'][number];
interface BumpRowProps {
  readonly bump: Bump;
  readonly set: (patch: Partial<Bump>) => void;
  readonly remove: () => void;
}

function BumpRow({ bump: { freqHz, q, gainDb }, set, remove }: BumpRowProps) {
  return (
    <div className="field-row">
      <Figures
        of={[
          { label: 'bump at', kind: 'frequency', value: freqHz, min: 20, max: 1e5, set: (v) => set({ freqHz: v }) },
          { label: 'Q', kind: 'ratio', value: q, min: 0.2, max: 50, set: (v) => set({ q: v }) },
          {
            label: 'height',
            kind: 'decibel',
            step: 0.5,
            value: gainDb,
            min: -30,
            max: 30,
            set: (v) => set({ gainDb: v }),
          },
        ]}
      />
      <Button size="small" type="text" icon={<DeleteOutlined />} aria-label="Remove this bump" onClick={remove} />
    </div>
  );
}

/** What makes the impedance where no file does, read back from the circuit. */
function coilOf({ impedance }: Driver) {
  const main = mainResonance(impedance);
  return {
    reOhm: impedance.reOhm,
    leHenry: impedance.leHenry + impedance.lossy.reduce((sum, l) => sum + l.henry, 0),
    fsHz: main?.freqHz ?? 50,
    qms: main?.q ?? 4,
    qes: main ? (impedance.reOhm * main.q) / main.ohm : 0.6,
  };
}

function Coil({ driver, change }: { driver: Driver; change: ChangeDriver }) {
  const coil = coilOf(driver);
  const set = (patch: Partial<typeof coil>) =>
    change({ impedance: modelFromParameters({ ...coil, ...patch }), measuredImpedance: null });
  return (
    <>
      <div className="field-row">
        <Figures
          of={[
            {
              label: 'Re',
              kind: 'resistance',
              value: coil.reOhm,
              min: 0.3,
              max: 1000,
              testId: 'driver-re',
              set: (v) => set({ reOhm: v }),
            },
            { label: 'Le', kind: 'inductance', value: coil.leHenry, min: 0, max: 0.1, set: (v) => set({ leHenry: v }) },
            { label: 'fs', kind: 'frequency', value: coil.fsHz, min: 5, max: 1e4, set: (v) => set({ fsHz: v }) },
            { label: 'Qms', kind: 'ratio', value: coil.qms, min: 0.1, max: 50, set: (v) => set({ qms: v }) },
            { label: 'Qes', kind: 'ratio', value: coil.qes, min: 0.05, max: 50, set: (v) => set({ qes: v }) },
          ]}
        />
      </div>
      <p className="reason quiet">
        Re, Le, fs and the Qs make the impedance when none was measured; changing one puts a fitted curve away.
      </p>
    </>
  );
}
