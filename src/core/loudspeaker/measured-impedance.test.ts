import { C, L, R, V } from '../circuit/build';
import { measuredPort } from '../circuit/elements/measured-port';
import type { ElementInstance } from '../circuit/netlist';
import { assemble } from '../circuit/structure';
import { AcSolver } from '../analysis/ac/solver';
import { demoDesigns } from '../design/demo/demo';
import { AS_BUILT, compile } from '../design/compiled/compile';
import { logGrid } from '../math/grid';
import { must } from '../result';
import type { Curve, ImpedanceModel } from './driver';
import { fitImpedance } from './fit-impedance';
import { driverImpedance, excessAdmittance } from './measured-impedance';
import { impedanceAt, voiceCoilElements } from './voice-coil';

const solver = new AcSolver();
const model = (patch: Partial<ImpedanceModel> = {}): ImpedanceModel => ({
  reOhm: 5.9,
  leHenry: 0.3e-3,
  lossy: [{ henry: 0.4e-3, ohm: 8 }],
  resonances: [{ freqHz: 48, q: 4, ohm: 31 }],
  ...patch,
});
const [fit, truth] = [model({ reOhm: 6.98, lossy: [], resonances: [{ freqHz: 55, q: 3, ohm: 25 }] }), model()];
const freqHz = Array.from(logGrid(10, 30e3, 1800));
const curveOf = (of: ImpedanceModel, phase = true): Curve => ({
  freqHz,
  values: freqHz.map((f) => Math.hypot(impedanceAt(of, f).re, impedanceAt(of, f).im)),
  phaseDeg: phase
    ? freqHz.map((f) => (Math.atan2(impedanceAt(of, f).im, impedanceAt(of, f).re) * 180) / Math.PI)
    : null,
});
const measured = { impedance: fit, measuredImpedance: curveOf(truth) };
const at = logGrid(12, 28e3, 97);
const sizes = (row: Float64Array) => Float64Array.from(at, (_, i) => Math.hypot(row[2 * i], row[2 * i + 1]));

/** A crossover of two drivers on one source, each given by elements. */
const crossover = (low: ElementInstance[], high: ElementInstance[]) =>
  assemble({
    merged: [],
    elements: [
      V('Vin', 'source', '0', 1),
      R('Rs', 'source', 'in', 0.4),
      L('L1', 'in', 'low', 1.2e-3),
      C('C1', 'low', '0', 10e-6),
      C('C2', 'in', 'high', 6.8e-6),
      ...low,
      ...high,
    ],
  });
const port = (name: string, node: string): ElementInstance => ({
  name,
  definition: measuredPort,
  nodes: [node, '0'],
  values: [0, 0],
  excess: excessAdmittance(measured)!,
});

test('a measured impedance counts in AC, whatever circuit was fitted to it: two drivers on one source', () => {
  const direct = crossover(voiceCoilElements('a', 'low', '0', truth), voiceCoilElements('b', 'high', '0', truth));
  const used = crossover(
    [...voiceCoilElements('a', 'low', '0', fit), port('am', 'low')],
    [...voiceCoilElements('b', 'high', '0', fit), port('bm', 'high')],
  );
  const [expected, got, without] = [
    direct,
    used,
    crossover(voiceCoilElements('a', 'low', '0', fit), voiceCoilElements('b', 'high', '0', fit)),
  ].map((c) => must(solver.sweep(c, at, ['low', 'high', 'in'])).map(sizes));
  got.forEach((row, k) => row.forEach((v, i) => expect(v / expected[k][i]).toBeCloseTo(1, 3)));
  // The fitted circuit alone is far off: it is the measurement that is used.
  expect(Math.max(...without[0].map((v, i) => Math.abs(v / expected[0][i] - 1)))).toBeGreaterThan(0.05);
  const amps = must(solver.branchCurrents(used, at, ['Vin']))[0];
  const truly = must(solver.branchCurrents(direct, at, ['Vin']))[0];
  amps.forEach((v, i) => expect(v).toBeCloseTo(truly[i], 3));
});

test('between its ends it is the file, beyond them the fitted circuit made to meet it', () => {
  const of = driverImpedance(measured);
  expect(of(freqHz[700]).re).toBeCloseTo(impedanceAt(truth, freqHz[700]).re, 6);
  const [end, beyond] = [of(30e3), of(60e3)];
  expect(end.im).toBeCloseTo(impedanceAt(truth, 30e3).im, 6);
  const share = (f: number, z: { re: number; im: number }) => {
    const own = impedanceAt(fit, f);
    return Math.hypot(z.re, z.im) / Math.hypot(own.re, own.im);
  };
  expect(share(60e3, beyond)).toBeCloseTo(share(30e3, end), 9);
  const bare = driverImpedance({ impedance: fit, measuredImpedance: curveOf(truth, false) })(1000);
  const own = impedanceAt(fit, 1000);
  expect(Math.atan2(bare.im, bare.re)).toBeCloseTo(Math.atan2(own.im, own.re), 9);
  const size = impedanceAt(truth, 1000);
  expect(Math.hypot(bare.re, bare.im)).toBeCloseTo(Math.hypot(size.re, size.im), 4);
});

test('a semi-inductive coil is fitted with two lossy inductances, far nearer than one could be', () => {
  // Leach: Z = Re + K ω^n (cos(nπ/2) + j sin(nπ/2)), and a resonance.
  const leach = (f: number) => {
    const [n, k, w] = [0.65, 0.03, 2 * Math.PI * f];
    const z = impedanceAt({ ...truth, leHenry: 0, lossy: [] }, f);
    const size = k * w ** n;
    return { re: z.re + size * Math.cos((n * Math.PI) / 2), im: z.im + size * Math.sin((n * Math.PI) / 2) };
  };
  const curve: Curve = {
    freqHz,
    values: freqHz.map((f) => Math.hypot(leach(f).re, leach(f).im)),
    phaseDeg: freqHz.map((f) => (Math.atan2(leach(f).im, leach(f).re) * 180) / Math.PI),
  };
  const { model: found, offPct } = must(fitImpedance(curve));
  expect(found.lossy).toHaveLength(2);
  expect(offPct).toBeLessThan(3);
  expect(Math.abs(found.reOhm / 5.9 - 1)).toBeLessThan(0.15);
});

test('the workshop’s two-way is solved with what was measured of its drivers', () => {
  const design = demoDesigns().find((d) => d.title.startsWith('Tone cabinet, two-way'))!;
  const { circuit } = must(compile(design, design.variants[0], AS_BUILT));
  expect(circuit.structure.ports.length).toBe(design.drivers!.filter((d) => d.measuredImpedance).length);
});
