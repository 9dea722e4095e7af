import { assemble } from '../../circuit/structure';
import { C, L, R } from '../../circuit/build';
import { relaxationOscillator, source } from '../../testing/circuits';
import { designStage, valuesOf } from '../../design/stages/stage-design';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { designWith } from '../../testing/voice-design';
import { diodeLadder } from '../../topology/voice/diode-ladder';
import { otaCascade } from '../../topology/voice/ota-cascade';
import { otaOnePole } from '../../topology/voice/ota-one-pole';
import { otaSallenKey } from '../../topology/voice/ota-sallen-key';
import { otaStateVariable } from '../../topology/voice/ota-state-variable';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import type { PartValues } from '../../topology/kit/part';
import { RUN_THROUGH, type JobContext } from '../job-context';
import { limitCycle } from './limit-cycle';
import { offScale, runSong, type Song } from './song';

const VT = (1.380649e-23 * 300.15) / 1.602176634e-19;
const songOf = async (design: Design): Promise<Song> =>
  must(await runSong({ kind: 'song', design, variantId: design.currentVariant }, RUN_THROUGH));
const partsOf = (design: Design): PartValues => {
  const [variant] = design.variants;
  return valuesOf(must(designStage(variant.ways[0].stages[0], null, design, variant.controls)), 'chosen');
};

type Rates = (x: readonly number[]) => number[];
/** Of equations written by hand: Runge and Kutta's fourth order until the wave stands, then its frequency and RMS. */
function byHand(rates: Rates, start: readonly number[], out: (x: readonly number[]) => number, aboutHz: number) {
  const h = 1 / aboutHz / 2000;
  let x = [...start];
  const mixed = (a: readonly number[], b: readonly number[], k: number) => a.map((v, i) => v + k * b[i]);
  const step = () => {
    const k1 = rates(x);
    const k2 = rates(mixed(x, k1, h / 2));
    const k3 = rates(mixed(x, k2, h / 2));
    const k4 = rates(mixed(x, k3, h));
    x = x.map((v, i) => v + (h / 6) * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]));
  };
  const periods = 120;
  for (let i = 0; i < periods * 2000; i++) step();
  const crossings: number[] = [];
  let [square, count, before] = [0, 0, out(x)];
  for (let i = 0; i < 20 * 2000; i++) {
    step();
    const now = out(x);
    if (before < 0 && now >= 0) crossings.push(i + before / (before - now));
    square += now * now;
    count++;
    before = now;
  }
  const period = (crossings[crossings.length - 1] - crossings[0]) / (crossings.length - 1);
  return { freqHz: 1 / (period * h), rmsVolts: Math.sqrt(square / count) };
}

const tanh = Math.tanh;

/** I tanh(v/2Vt) into each capacitor, a follower behind it; the fourth comes back to the first’s other input. */
function cascade(v: PartValues, R9: number) {
  const at = 1 / v.R3 + 1 / v.R4 + 1 / R9;
  const [back, round] = [1 / v.R3 / at, 1 / R9 / at];
  const rates: Rates = ([a, b, c, d]) => [
    (v.I1 / v.C1) * tanh((-back * a - round * d) / (2 * VT)),
    ...[
      [a, b, 2],
      [b, c, 3],
      [c, d, 4],
    ].map(([from, to, k]) => {
      const forward = v[`R${k}2`] / (v[`R${k}1`] + v[`R${k}2`]);
      const own = v[`R${k}4`] / (v[`R${k}3`] + v[`R${k}4`]);
      return (v.I1 / v[`C${k}`]) * tanh((forward * from - own * to) / (2 * VT));
    }),
  ];
  return { rates, start: [0.1, 0, 0, 0], out: (x: readonly number[]) => x[3] };
}

/**
 * The difference of two branches, capacitor by capacitor: 2C dx/dt is what comes from above less what goes down, each I
 * tanh(v/2nVt) of the junctions that it passes; `above` says which voltages those are.
 */
const driven = (n: number, above: (x: readonly number[], k: number) => number) => (v: PartValues, R9: number) => {
  const down = (x: readonly number[], k: number): number => {
    if (k > 0) return tanh(above(x, k - 1) / (2 * n * VT));
    const out = (-v.R6 / v.R5) * x[3];
    return tanh((-out * v.R10) / (R9 + v.R10) / (2 * VT));
  };
  const rates: Rates = (x) =>
    [0, 1, 2, 3].map((k) => (v.I1 / (2 * v[`C${k + 1}`])) * (tanh(above(x, k) / (2 * n * VT)) - down(x, k)));
  return { rates, start: [0.005, 0, 0, 0], out: (x: readonly number[]) => (-v.R6 / v.R5) * x[3] };
};

/** Two poles whose first capacitor stands on a foot that K of the output drives, as far as the op-amp reaches. */
function sallenKey(v: PartValues, R5: number) {
  const reach = 12 - 1.5;
  const held = (volts: number) => Math.max(-reach, Math.min(reach, volts));
  const gain = 1 + R5 / v.R6;
  const share = (k: number) => [v[`R${k}2`] / (v[`R${k}1`] + v[`R${k}2`]), v[`R${k}4`] / (v[`R${k}3`] + v[`R${k}4`])];
  const [[, b1], [f2, b2]] = [share(1), share(2)];
  // The state is the voltage across each capacitor.
  const volts = ([c1, c2]: readonly number[]) => {
    const out = held(c2);
    const foot = held(gain * out);
    return { first: held(c1 + foot), out };
  };
  const rates: Rates = (x) => {
    const { first, out } = volts(x);
    return [(v.I1 / v.C1) * tanh((-b1 * first) / (2 * VT)), (v.I1 / v.C2) * tanh((f2 * first - b2 * out) / (2 * VT))];
  };
  return { rates, start: [0.2, 0], out: (x: readonly number[]) => volts(x).out };
}

test.each([
  ['OTA cascade', designWith(otaCascade, { cutoffHz: 700, feedback: 3 }), cascade],
  ['transistor ladder', designWith(transistorLadder, { cutoffHz: 700, feedback: 3 }), driven(1, (x, k) => -x[k])],
  [
    'diode ladder',
    designWith(diodeLadder, { cutoffHz: 700, feedback: 8 }),
    driven(1.75, (x, k) => (x[k + 1] ?? 0) - x[k]),
  ],
  ['OTA Sallen-Key', designWith(otaSallenKey, { cutoffHz: 700, q: 3 }, {}, 'jfet-audio-3mhz'), sallenKey],
] as const)(
  '%s: frequency within 2 %% and level within 5 %% of Runge and Kutta’s on equations written by hand',
  async (_, design, equations) => {
    const song = await songOf(design);
    const parts = partsOf(design);
    expect(song.points.length).toBeGreaterThan(2);
    for (const point of song.points.filter((p) => p.beyond > 1.05 && p.beyond < 2)) {
      const { rates, start, out } = equations(parts, point.ohm);
      const found = byHand(rates, start, out, song.startsHz);
      expect(Math.abs(point.freqHz / found.freqHz - 1)).toBeLessThan(0.02);
      expect(Math.abs(point.rmsVolts / found.rmsVolts - 1)).toBeLessThan(0.05);
    }
  },
  120_000,
);

test('the further past its beginning, the louder, the less pure, and for a cascade the lower', async () => {
  const { points, now, pitch, startsHz } = await songOf(designWith(otaCascade, { cutoffHz: 700, feedback: 4.8 }));
  points.slice(1).forEach((p, i) => {
    expect(p.rmsVolts).toBeGreaterThan(points[i].rmsVolts);
    expect(p.harmonics[1]).toBeGreaterThan(points[i].harmonics[1]);
    expect(p.freqHz).toBeLessThan(points[i].freqHz);
  });
  // Feedback 4.8 is past 4 by as much as its resistor is less.
  expect(now!.beyond).toBeGreaterThan(1.1);
  expect(now!.beyond).toBeLessThan(1.3);
  expect(startsHz).toBeGreaterThan(650);
  // One current moves all four: its pitch keeps the current’s octaves, whatever it bends.
  const octaves = Math.log2(pitch!.points[4].freqHz / pitch!.points[0].freqHz);
  expect(octaves).toBeCloseTo(8 * (5 / 6 - 1 / 6), 1);
});

test('a state variable sings too once its damping is nearly none; what has no such part says so', async () => {
  const song = await songOf(designWith(otaStateVariable, { cutoffHz: 3000, q: 5 }, {}, 'jfet-audio-3mhz'));
  expect(song.part).toBe('R5');
  expect(song.points.length).toBeGreaterThan(0);
  const design = designWith(otaOnePole, { cutoffHz: 700 });
  expect(await runSong({ kind: 'song', design, variantId: design.currentVariant }, RUN_THROUGH)).toMatchObject({
    ok: false,
    code: 'no-song',
  });
}, 60_000);

test('pitch is off a straight scale by as much as its middle is', () => {
  const at = (position: number, cents: number) => ({ position, volts: null, freqHz: 400 * 2 ** (cents / 1200) });
  expect(offScale([at(0, 0), at(0.5, 1200), at(1, 2424)])).toBeCloseTo(12, 6);
  expect(offScale([at(0, 0), at(0.25, 620), at(0.5, 1200), at(1, 2400)])).toBeCloseTo(20, 6);
  expect(offScale([at(0, 0), at(1, 2424)])).toBeNull();
});

test('what no op-amp holds has no wave, and says so', async () => {
  const design = designWith(otaSallenKey, { cutoffHz: 700, q: 3 });
  expect(await runSong({ kind: 'song', design, variantId: design.currentVariant }, RUN_THROUGH)).toMatchObject({
    ok: false,
    code: 'no-bounds',
  });
}, 60_000);

test('what jumps from rail to rail has the period that its RC asks for', async () => {
  const { circuit, periodS } = relaxationOscillator();
  const out = circuit.structure.nodeOf('out')!;
  const cycle = must(await limitCycle(circuit, out, 1 / periodS, RUN_THROUGH));
  expect(cycle.freqHz * periodS).toBeGreaterThan(0.98);
  expect(cycle.freqHz * periodS).toBeLessThan(1.01);
  // Nearly a square wave: a third, a fifth of the first, and no even ones.
  expect(cycle.harmonics[1]).toBeCloseTo(1 / 3, 1);
  expect(cycle.harmonics[0]).toBeLessThan(0.02);
}, 60_000);

test('what rings and is lossy dies away; cancelled it stops', async () => {
  const ring = (ohm: number) =>
    assemble({
      elements: [
        source('Vin', 'in', '0', { dc: 0 }),
        R('R', 'in', 'a', ohm),
        L('L', 'a', 'out', 0.1),
        C('C', 'out', '0', 1e-7),
      ],
      merged: [],
    });
  const hz = 1 / (2 * Math.PI * Math.sqrt(0.1 * 1e-7));
  const run = (ohm: number, context: JobContext) =>
    limitCycle(ring(ohm), ring(ohm).structure.nodeOf('out')!, hz, context);
  expect(await run(10, RUN_THROUGH)).toMatchObject({ ok: false, code: 'dies-away', data: { freqHz: hz } });
  expect(await run(10, { ...RUN_THROUGH, signal: AbortSignal.abort() })).toMatchObject({ code: 'cancelled' });
  const design = designWith(otaCascade, { cutoffHz: 700, feedback: 3 });
  const stop = { ...RUN_THROUGH, signal: AbortSignal.abort() };
  expect(await runSong({ kind: 'song', design, variantId: design.currentVariant }, stop)).toMatchObject({
    code: 'cancelled',
  });
});
