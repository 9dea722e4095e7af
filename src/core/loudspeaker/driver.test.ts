import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { AcSolver } from '../analysis/ac/solver';
import { currentSource } from '../circuit/elements/current-source';
import { GROUND } from '../circuit/netlist';
import { assemble } from '../circuit/structure';
import { readDriverCurve } from '../format/response-text';
import { logGrid } from '../math/grid';
import { must } from '../result';
import { demoDriverFiles, demoDrivers } from './demo-drivers';
import { curveSchema, driverSchema, type ImpedanceModel } from './driver';
import { driverResponse, pistonDirectivity } from './driver-response';
import { fitImpedance } from './fit-impedance';
import { minimumPhaseDeg } from './minimum-phase';
import { impedanceAt, modelFromParameters, voiceCoilElements } from './voice-coil';

const model: ImpedanceModel = {
  reOhm: 5.6,
  leHenry: 0.3e-3,
  lossy: [{ henry: 0.4e-3, ohm: 9 }],
  resonances: [
    { freqHz: 28, q: 4, ohm: 30 },
    { freqHz: 75, q: 5, ohm: 22 },
  ],
};

test('the voice coil as a circuit has the impedance of its formula', () => {
  const circuit = assemble({
    elements: [
      { name: 'I', definition: currentSource, nodes: [GROUND, 'top'], values: [1, 0] },
      ...voiceCoilElements('d', 'top', GROUND, model),
    ],
    merged: [],
  });
  const freqHz = logGrid(10, 40e3, 60);
  const [volts] = must(new AcSolver().sweep(circuit, freqHz, ['top']));
  freqHz.forEach((f, i) => {
    const { re, im } = impedanceAt(model, f);
    expect(Math.hypot(volts[2 * i] - re, volts[2 * i + 1] - im) / Math.hypot(re, im)).toBeLessThan(1e-9);
  });
});

test('from parameters, the peak at resonance is Re (1 + Qms/Qes)', () => {
  const made = modelFromParameters({ reOhm: 6, leHenry: 0, fsHz: 40, qms: 3, qes: 0.5 });
  expect(impedanceAt(made, 40)).toMatchObject({ re: expect.closeTo(42, 9), im: expect.closeTo(0, 9) });
  // R. H. Small: f1 f2 = fs², and there the size is √(peak · Re), with Qms = fs √r0/(f2 − f1).
  const root = Math.sqrt(7);
  const width = (40 * root) / 3;
  const f2 = width / 2 + Math.sqrt(width ** 2 / 4 + 1600);
  const { re, im } = impedanceAt(made, f2);
  expect(Math.hypot(re, im) / (6 * root)).toBeCloseTo(1, 6);
});

test('a model is found again from its curve, with and without phase', () => {
  const freqHz = Array.from(logGrid(10, 20e3, 150));
  const points = freqHz.map((f) => impedanceAt(model, f));
  const values = points.map(({ re, im }) => Math.hypot(re, im));
  const phaseDeg = points.map(({ re, im }) => (Math.atan2(im, re) * 180) / Math.PI);
  for (const phase of [phaseDeg, null]) {
    const { model: found, offPct } = must(fitImpedance({ freqHz, values, phaseDeg: phase }));
    expect(offPct).toBeLessThan(1);
    expect(found.resonances).toHaveLength(2);
    found.resonances.forEach(({ freqHz: at, ohm }, i) => {
      expect(at / model.resonances[i].freqHz).toBeCloseTo(1, 1.5);
      expect(ohm / model.resonances[i].ohm).toBeCloseTo(1, 1);
    });
    expect(found.reOhm / model.reOhm).toBeCloseTo(1, 1);
  }
});

test('what cannot be a driver’s impedance is refused with the reason', () => {
  expect(fitImpedance({ freqHz: [100, 200], values: [8, 8], phaseDeg: null })).toMatchObject({
    ok: false,
    data: { reason: expect.stringContaining('decade') },
  });
  expect(fitImpedance({ freqHz: [10, 2000], values: [8, -1], phaseDeg: null })).toMatchObject({ ok: false });
});

test('minimum phase of filters whose phase is known', () => {
  const freqHz = logGrid(20, 20e3, 200);
  // A first-order low-pass turns by −atan(f/f0), a second-order high-pass by 180° − atan2.
  const low = freqHz.map((f) => -10 * Math.log10(1 + (f / 700) ** 2));
  const high = freqHz.map((f) => -10 * Math.log10(1 + (300 / f) ** 4));
  const [lowPhase, highPhase] = [low, high].map((level) => minimumPhaseDeg(freqHz, level));
  freqHz.forEach((f, i) => {
    if (f < 40 || f > 10e3) return;
    const x = f / 300;
    expect(Math.abs(lowPhase[i] + (Math.atan(f / 700) * 180) / Math.PI)).toBeLessThan(0.7);
    expect(Math.abs(highPhase[i] - (180 - (Math.atan2(Math.SQRT2 * x, 1 - x * x) * 180) / Math.PI))).toBeLessThan(0.7);
  });
});

test(
  'a modelled driver has its sensitivity in its flat part and falls by twelve decibels an octave on ' + 'both sides',
  () => {
    const response = {
      kind: 'model' as const,
      sensitivityDb: 88,
      lowHz: 50,
      lowQ: 0.707,
      topHz: 8000,
      topQ: 0.707,
      bumps: [{ freqHz: 1000, q: 3, gainDb: 4 }],
    };
    const levels = (...freq: number[]) => {
      const r = driverResponse({ response }, Float64Array.from(freq));
      return freq.map((_, i) => 20 * Math.log10(Math.hypot(r[2 * i], r[2 * i + 1])));
    };
    const [low, half, bump, far] = levels(5, 2.5, 1000, 64e3);
    expect(low - half).toBeCloseTo(12.04, 1);
    expect(bump).toBeCloseTo(92, 1);
    expect(far).toBeCloseTo(88 - 36.1, 0);
  },
);

test('a piston sends nothing where J1 has its first zero, and all of it ahead', () => {
  expect(pistonDirectivity(0)).toBe(1);
  expect(Math.abs(pistonDirectivity(3.831705970207512))).toBeLessThan(1e-12);
  // 2 J1(1) = 0.8801011714898… (Abramowitz and Stegun, table 9.1).
  expect(pistonDirectivity(1)).toBeCloseTo(0.88010117149, 10);
});

test('the workshop’s drivers: files as the script writes them, read back, their impedance fitted', () => {
  for (const { name, text } of demoDriverFiles()) {
    expect(readFileSync(join(__dirname, '../../../public/drivers', name), 'utf8')).toBe(text);
    const curve = must(readDriverCurve(text, name.includes('impedance') ? 'impedance' : 'response'));
    expect(curve.freqHz).toHaveLength(200);
    if (!name.includes('impedance')) continue;
    const { offPct, model: found } = must(fitImpedance(curve));
    expect(offPct).toBeLessThan(1);
    expect(found.resonances).toHaveLength(1);
  }
  for (const driver of demoDrivers()) expect(driverSchema.safeParse(driver).success).toBe(true);
});

test('a curve whose columns differ in length or whose frequencies do not rise is refused, and why is said', () => {
  const says = (curve: object) => curveSchema.safeParse(curve).error?.issues[0]?.message;
  const curve = { freqHz: [10, 20, 30], values: [1, 2, 3], phaseDeg: [0, 0, 0] };
  expect(says(curve)).toBeUndefined();
  expect(says({ ...curve, phaseDeg: null })).toBeUndefined();
  expect(says({ ...curve, values: [1, 2] })).toContain('differ in length');
  expect(says({ ...curve, phaseDeg: [0, 0, 0, 0] })).toContain('differ in length');
  expect(says({ ...curve, freqHz: [10, 30, 20] })).toContain('do not rise');
  expect(says({ ...curve, freqHz: [10, 10, 20] })).toContain('do not rise');
});
