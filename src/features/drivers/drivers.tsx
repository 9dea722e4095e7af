'use client';

import { App, Button, Empty, Input, Select } from 'antd';
import { DeleteOutlined, PlusOutlined, UploadOutlined } from '@ant-design/icons';
import { useMemo, useState } from 'react';
import { levelsDb } from '@/core/analysis/response';
import { readDriverCurve } from '@/core/format/response-text';
import { demoDrivers } from '@/core/loudspeaker/demo-drivers';
import type { Driver } from '@/core/loudspeaker/driver';
import { curveAt, driverResponse } from '@/core/loudspeaker/driver-response';
import { splice } from '@/core/loudspeaker/splice';
import { impedanceAt, modelFromParameters } from '@/core/loudspeaker/voice-coil';
import { logGrid } from '@/core/math/grid';
import { formatQuantity, formatFixed } from '@/core/units/quantity';
import { ChartFrame, type Axis } from '@/ui/chart/chart-frame';
import { linearTicks, logTicks, tickHz } from '@/ui/chart/ticks';
import { Trace } from '@/ui/chart/trace-layer';
import { pickTextFile } from '@/ui/download';
import { useFocusOnArrival } from '@/ui/use-focus-back';
import { QuantityInput } from '@/ui/quantity-input';
import { useSize } from '@/ui/use-size';
import { failureWords } from '@/ui/words/failures';
import { putDriver, removeDriver, useOwnDrivers } from '@/store/drivers';
import { newId } from '@/store/new-id';
import { startJob } from '@/workers/job-client';

const KINDS: { value: Driver['kind']; label: string }[] = ['woofer', 'midrange', 'tweeter', 'full-range'].map(
  (value) => ({ value: value as Driver['kind'], label: value }),
);
const COIL = { reOhm: 6, leHenry: 0.4e-3, fsHz: 50, qms: 4, qes: 0.6 };

const fresh = (count: number): Driver => ({
  id: newId(),
  name: `Driver ${count + 1}`,
  kind: 'woofer',
  nominalOhm: 8,
  impedance: modelFromParameters(COIL),
  measuredImpedance: null,
  radiusM: 0.065,
  safeFromHz: 40,
  maxWatts: 50,
  price: null,
  response: { kind: 'model', sensitivityDb: 88, lowHz: 50, lowQ: 0.7, topHz: 5000, topQ: 0.7, bumps: [] },
});

/** The drivers there are: from measured files or from their few figures, for every crossover to choose from. */
export function Drivers() {
  useFocusOnArrival('drivers-heading');
  const own = useOwnDrivers();
  const [chosen, setChosen] = useState<string | null>(null);
  const [beside, setBeside] = useState<string | null>(null);
  const { message } = App.useApp();
  const all = useMemo(() => [...(own ?? []), ...demoDrivers().filter((d) => !own?.some((o) => o.id === d.id))], [own]);
  const driver = all.find((d) => d.id === chosen) ?? all[0];
  const other = all.find((d) => d.id === beside && d.id !== driver?.id);
  const mine = own?.some((o) => o.id === driver?.id) ?? false;
  const add = () => {
    const made = fresh(own?.length ?? 0);
    void putDriver(made).then(() => setChosen(made.id));
  };
  const copy = (from: Driver) => {
    const made = { ...from, id: newId(), name: `${from.name}, own` };
    void putDriver(made).then(() => setChosen(made.id));
  };
  const remove = (gone: Driver) => {
    void removeDriver(gone.id);
    setChosen(null);
    const key = newId();
    void message.open({
      key,
      type: 'info',
      duration: 8,
      content: (
        <span>
          Removed.{' '}
          <Button
            size="small"
            type="link"
            onClick={() => {
              void putDriver(gone);
              message.destroy(key);
            }}
          >
            Undo
          </Button>
        </span>
      ),
    });
  };
  return (
    <>
      <div className="shelf-bar">
        <h1 id="drivers-heading" tabIndex={-1}>
          Drivers
        </h1>
        <span className="shelf-actions">
          <Button type="primary" icon={<PlusOutlined />} onClick={add}>
            Add a driver
          </Button>
        </span>
      </div>
      <div className="drivers-room">
        <ul className="drivers-list" aria-label="Drivers">
          {all.map((d) => (
            <li key={d.id}>
              <button
                type="button"
                className={`plain driver-entry${d.id === driver?.id ? ' current' : ''}`}
                aria-pressed={d.id === driver?.id}
                onClick={() => setChosen(d.id)}
                data-testid="driver-entry"
              >
                <b>{d.name}</b>
                <span className="quiet">
                  {d.kind}, {formatQuantity(d.nominalOhm, 'resistance')}
                  {own?.some((o) => o.id === d.id) ? '' : ', workshop’s'}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {driver ? (
          <div className="driver-sheet">
            {mine ? (
              <DriverForm key={driver.id} driver={driver} onRemove={() => remove(driver)} />
            ) : (
              <section className="panel">
                <header>
                  <h2>{driver.name}</h2>
                  <Button size="small" onClick={() => copy(driver)}>
                    Copy to my drivers
                  </Button>
                </header>
                <p className="reason quiet">
                  One of the workshop’s made-up drivers, measured in its box. Its files:{' '}
                  <a href={`/drivers/${driver.id}-response.txt`} download>
                    response
                  </a>
                  ,{' '}
                  <a href={`/drivers/${driver.id}-impedance.txt`} download>
                    impedance
                  </a>
                  .
                </p>
              </section>
            )}
            <div className="field wide drivers-beside">
              <span className="label">beside it</span>
              <Select
                allowClear
                aria-label="Another driver beside it"
                value={other?.id}
                placeholder="another driver"
                options={all.filter((d) => d.id !== driver.id).map((d) => ({ value: d.id, label: d.name }))}
                onChange={(id: string | undefined) => setBeside(id ?? null)}
              />
            </div>
            <DriverCharts driver={driver} other={other} />
          </div>
        ) : (
          <Empty description="No driver yet." />
        )}
      </div>
    </>
  );
}

function DriverForm({ driver, onRemove }: { driver: Driver; onRemove: () => void }) {
  const { notification, message } = App.useApp();
  const [off, setOff] = useState<number | null>(null);
  const [meetHz, setMeetHz] = useState(300);
  const change = (patch: Partial<Driver>) => void putDriver({ ...driver, ...patch });
  const refuse = (name: string, words: string) =>
    notification.error({ title: `${name} was not taken`, description: words, duration: 0 });
  async function readResponse(near: boolean): Promise<void> {
    const file = await pickTextFile('.frd,.txt,.csv');
    if (!file) return;
    const read = readDriverCurve(file.text, 'response');
    if (!read.ok) return refuse(file.name, failureWords(read));
    const { freqHz, values, phaseDeg } = read.value;
    const taken = { freqHz, values, phaseDeg };
    if (near && driver.response.kind === 'curve') {
      const joined = splice(taken, driver.response.curve, meetHz);
      if (!joined.ok) return refuse(file.name, failureWords(joined));
      change({ response: { kind: 'curve', curve: joined.value.curve } });
      return void message.success(
        `Joined at ${formatQuantity(meetHz, 'frequency')}, the near one shifted by ` +
          `${formatFixed(joined.value.shiftDb, 1)}\u202fdB.`,
      );
    }
    change({ response: { kind: 'curve', curve: taken } });
    void message.success(
      `${freqHz.length} points taken` +
        `${phaseDeg ? '' : '; it has no phase, so minimum phase is made from its level'}` +
        `${read.value.sorted ? '; sorted by frequency' : ''}.`,
    );
  }
  async function readImpedance(): Promise<void> {
    const file = await pickTextFile('.zma,.txt,.csv');
    if (!file) return;
    const read = readDriverCurve(file.text, 'impedance');
    if (!read.ok) return refuse(file.name, failureWords(read));
    const { freqHz, values, phaseDeg } = read.value;
    const curve = { freqHz, values, phaseDeg };
    const fit = await startJob<'fit-impedance'>({ kind: 'fit-impedance', curve }).answer;
    if (!fit.ok) return refuse(file.name, failureWords(fit));
    setOff(fit.value.offPct);
    change({ measuredImpedance: curve, impedance: fit.value.model });
  }
  const { response, impedance } = driver;
  const [main] = [...impedance.resonances].sort((a, b) => b.ohm - a.ohm);
  const coil = {
    reOhm: impedance.reOhm,
    leHenry: impedance.leHenry + impedance.lossy.reduce((sum, l) => sum + l.henry, 0),
    fsHz: main?.freqHz ?? 50,
    qms: main?.q ?? 4,
    qes: main ? (impedance.reOhm * main.q) / main.ohm : 0.6,
  };
  const setCoil = (patch: Partial<typeof coil>) =>
    change({ impedance: modelFromParameters({ ...coil, ...patch }), measuredImpedance: null });
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
      <div className="field-row">
        <div className="field">
          <span className="label">kind</span>
          <Select
            aria-label="Kind of driver"
            value={driver.kind}
            options={KINDS}
            onChange={(kind) => change({ kind })}
          />
        </div>
        <QuantityInput
          label="nominal"
          kind="resistance"
          value={driver.nominalOhm}
          min={0.5}
          max={1000}
          onChange={(v) => v !== null && change({ nominalOhm: v })}
        />
        <QuantityInput
          label="radius, cm"
          kind="ratio"
          value={Number((100 * driver.radiusM).toPrecision(4))}
          min={0.3}
          max={60}
          onChange={(v) => v !== null && change({ radiusM: v / 100 })}
        />
        <QuantityInput
          label="safe from"
          kind="frequency"
          value={driver.safeFromHz}
          min={5}
          max={20e3}
          onChange={(v) => v !== null && change({ safeFromHz: v })}
        />
        <QuantityInput
          label="watts"
          kind="ratio"
          value={driver.maxWatts}
          min={0.1}
          max={5000}
          onChange={(v) => v !== null && change({ maxWatts: v })}
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
      <div className="field-row driver-files">
        <Button icon={<UploadOutlined />} onClick={() => void readResponse(false)}>
          Response file
        </Button>
        <Button icon={<UploadOutlined />} onClick={() => void readImpedance()}>
          Impedance file
        </Button>
        {response.kind === 'curve' && (
          <>
            <Button onClick={() => void readResponse(true)}>Join a near measurement</Button>
            <QuantityInput
              label="at"
              kind="frequency"
              value={meetHz}
              min={20}
              max={5000}
              onChange={(v) => v !== null && setMeetHz(v)}
            />
            <Button
              onClick={() =>
                change({
                  response: {
                    kind: 'model',
                    sensitivityDb: 88,
                    lowHz: coil.fsHz,
                    lowQ: 0.7,
                    topHz: 6000,
                    topQ: 0.7,
                    bumps: [],
                  },
                })
              }
            >
              From figures instead
            </Button>
          </>
        )}
      </div>
      {off !== null && (
        <p className="reason" data-testid="fit-off">
          The impedance is fitted as a circuit, within {formatFixed(off, 1)}&#8239;% over the whole curve.
        </p>
      )}
      {response.kind === 'curve' && (
        <p className="reason quiet">
          Response from a file, {response.curve.freqHz.length} points
          {response.curve.phaseDeg ? ', with its phase' : '; minimum phase made from its level'}.
        </p>
      )}
      {response.kind === 'model' && (
        <div className="field-row">
          <QuantityInput
            label="dB at 2.83 V, 1 m"
            kind="decibel"
            step={0.5}
            value={response.sensitivityDb}
            min={40}
            max={140}
            onChange={(v) => v !== null && change({ response: { ...response, sensitivityDb: v } })}
            testId="sensitivity"
          />
          <QuantityInput
            label="low end"
            kind="frequency"
            value={response.lowHz}
            min={5}
            max={1e4}
            onChange={(v) => v !== null && change({ response: { ...response, lowHz: v } })}
          />
          <QuantityInput
            label="Q there"
            kind="ratio"
            value={response.lowQ}
            min={0.2}
            max={10}
            onChange={(v) => v !== null && change({ response: { ...response, lowQ: v } })}
          />
          <QuantityInput
            label="top end"
            kind="frequency"
            value={response.topHz}
            min={100}
            max={1e5}
            onChange={(v) => v !== null && change({ response: { ...response, topHz: v } })}
          />
          <QuantityInput
            label="Q there"
            kind="ratio"
            value={response.topQ}
            min={0.2}
            max={10}
            onChange={(v) => v !== null && change({ response: { ...response, topQ: v } })}
          />
          <Button
            size="small"
            icon={<PlusOutlined />}
            disabled={response.bumps.length >= 8}
            onClick={() =>
              change({
                response: {
                  ...response,
                  bumps: [...response.bumps, { freqHz: response.topHz * 0.8, q: 4, gainDb: 4 }],
                },
              })
            }
          >
            bump
          </Button>
        </div>
      )}
      {response.kind === 'model' &&
        response.bumps.map((bump, i) => {
          const set = (patch: Partial<typeof bump>) =>
            change({
              response: { ...response, bumps: response.bumps.map((b, k) => (k === i ? { ...b, ...patch } : b)) },
            });
          return (
            <div key={i} className="field-row">
              <QuantityInput
                label="bump at"
                kind="frequency"
                value={bump.freqHz}
                min={20}
                max={1e5}
                onChange={(v) => v !== null && set({ freqHz: v })}
              />
              <QuantityInput
                label="Q"
                kind="ratio"
                value={bump.q}
                min={0.2}
                max={50}
                onChange={(v) => v !== null && set({ q: v })}
              />
              <QuantityInput
                label="height"
                kind="decibel"
                step={0.5}
                value={bump.gainDb}
                min={-30}
                max={30}
                onChange={(v) => v !== null && set({ gainDb: v })}
              />
              <Button
                size="small"
                type="text"
                icon={<DeleteOutlined />}
                aria-label="Remove this bump"
                onClick={() => change({ response: { ...response, bumps: response.bumps.filter((_, k) => k !== i) } })}
              />
            </div>
          );
        })}
      <div className="field-row">
        <QuantityInput
          label="Re"
          kind="resistance"
          value={coil.reOhm}
          min={0.3}
          max={1000}
          onChange={(v) => v !== null && setCoil({ reOhm: v })}
          testId="driver-re"
        />
        <QuantityInput
          label="Le"
          kind="inductance"
          value={coil.leHenry}
          min={0}
          max={0.1}
          onChange={(v) => v !== null && setCoil({ leHenry: v })}
        />
        <QuantityInput
          label="fs"
          kind="frequency"
          value={coil.fsHz}
          min={5}
          max={1e4}
          onChange={(v) => v !== null && setCoil({ fsHz: v })}
        />
        <QuantityInput
          label="Qms"
          kind="ratio"
          value={coil.qms}
          min={0.1}
          max={50}
          onChange={(v) => v !== null && setCoil({ qms: v })}
        />
        <QuantityInput
          label="Qes"
          kind="ratio"
          value={coil.qes}
          min={0.05}
          max={50}
          onChange={(v) => v !== null && setCoil({ qes: v })}
        />
      </div>
      <p className="reason quiet">
        Re, Le, fs and the Qs make the impedance when there is no file; changing one puts a fitted file away.
      </p>
    </section>
  );
}

const FREQ = logGrid(20, 20e3, 301);
const X: Axis = { from: 20, to: 20e3, log: true, ...logTicks(20, 20e3), format: tickHz };

function DriverCharts({ driver, other }: { driver: Driver; other: Driver | undefined }) {
  const [ref, { width }] = useSize<HTMLDivElement>();
  const shown = [driver, ...(other ? [other] : [])];
  const levels = shown.map((d) => levelsDb(driverResponse(d, FREQ)));
  const sizes = shown.map((d) =>
    FREQ.map((f) => {
      const { re, im } = impedanceAt(d.impedance, f);
      return Math.hypot(re, im);
    }),
  );
  const top = 5 * Math.ceil((Math.max(...levels.map((l) => Math.max(...l))) + 2) / 5);
  const most = 4 * Math.ceil(Math.min(80, 1.1 * Math.max(...sizes.map((s) => Math.max(...s)))) / 4);
  const level: Axis = { from: top - 40, to: top, labelled: linearTicks(top - 40, top, 8), format: (v) => `${v}` };
  const ohm: Axis = { from: 0, to: most, labelled: linearTicks(0, most, 5), format: (v) => `${v}` };
  const measured = driver.measuredImpedance && curveAt({ ...driver.measuredImpedance, phaseDeg: null }, FREQ).levelDb;
  return (
    <div ref={ref} className="driver-charts">
      <ChartFrame width={width} height={250} x={X} y={level} title="level at 1 m for 2.83 V, dB" xUnit="Hz">
        {levels.map((l, i) => (
          <Trace key={shown[i].id} x={FREQ} y={l} className={i === 0 ? 'asBuilt' : 'ghost'} />
        ))}
      </ChartFrame>
      <ChartFrame
        width={width}
        height={200}
        x={X}
        y={ohm}
        title={measured ? 'impedance, ohm: measured, and the circuit fitted to it dotted' : 'impedance, ohm'}
        xUnit="Hz"
      >
        {measured && <Trace x={FREQ} y={measured} className="measured" />}
        {sizes.map((s, i) => (
          <Trace key={shown[i].id} x={FREQ} y={s} className={i === 0 ? (measured ? 'ideal' : 'asBuilt') : 'ghost'} />
        ))}
      </ChartFrame>
    </div>
  );
}
