import { demoDrivers } from '../../loudspeaker/demo-drivers';
import { impedanceBeyond } from '../../measure/impedance';
import { firstReflectionS, nearFieldHz, nearOverFar } from '../../measure/sound-field';
import { sweepSamples, type Sweep } from '../../measure/sweep';
import { must } from '../../result';
import { JobRunner, type JobRequest } from '../run-job';

const runner = new JobRunner();
const RATE = 48_000;
const SWEEP: Sweep = { fromHz: 20, toHz: 20e3, seconds: 1, rateHz: RATE, levelDbfs: -6 };
const played = must(sweepSamples(SWEEP));

type SetUp = Extract<JobRequest, { kind: 'analyse-driver' }>['setUp'];
const analysed = async (samples: Float64Array, setUp: SetUp) =>
  must(
    await runner.run<'analyse-driver'>({
      kind: 'analyse-driver',
      samples,
      rateHz: RATE,
      sweep: SWEEP,
      reference: played,
      setUp,
    }),
  );
const far = (gateS: number | null): SetUp => ({
  what: 'far',
  distanceM: 1,
  heightM: 1,
  gateS,
  voltsPerPascal: 0.01,
  amplifierGain: 10,
});

test('an impedance comes back from the share of the voltage that is across it', () => {
  const [seriesOhm, z] = [22, { re: 5.1, im: 13.7 }];
  const size = Math.hypot(seriesOhm + z.re, z.im);
  const share = Math.hypot(z.re, z.im) / size;
  const angle = Math.atan2(z.im, z.re) - Math.atan2(z.im, seriesOhm + z.re);
  const found = impedanceBeyond(
    {
      freqHz: Float64Array.of(1000),
      levelDb: Float64Array.of(20 * Math.log10(share)),
      phaseDeg: Float64Array.of((angle * 180) / Math.PI - 360),
      noiseDb: Float64Array.of(-60),
    },
    seriesOhm,
  );
  expect(found.ohm[0]).toBeCloseTo(Math.hypot(z.re, z.im), 9);
  expect(found.phaseDeg[0]).toBeCloseTo((Math.atan2(z.im, z.re) * 180) / Math.PI, 9);
  // dZ = R dH / (1 − H)²: per cent of Z, dH / |H (1 − H)|.
  expect(found.offPct[0]).toBeCloseTo(0.1 / (share * (seriesOhm / size)), 9);
});

test('8 ohm and 1 mH behind 22 ohm, from a recording stepped in time: within 1 % and 1° to 6 kHz', async () => {
  const [series, r, l] = [22, 8, 1e-3];
  const [finer, step] = [8, 1 / (8 * RATE)];
  const source = must(sweepSamples({ ...SWEEP, rateHz: finer * RATE }));
  // di/dt = (u − i (R + r)) / L, exactly over each step for u straight between them.
  const decay = Math.exp((-(series + r) / l) * step);
  const tau = l / (series + r) / step;
  let [i, before] = [0, 0];
  const across = source.map((u) => {
    i = i * decay + (before * (1 - decay) + (u - before) * (1 - tau * (1 - decay))) / (series + r);
    before = u;
    return u - series * i;
  });
  const samples = Float64Array.from(played, (_, k) => across[finer * k] ?? 0);
  const { freqHz, values, phaseDeg, gateS } = await analysed(samples, { what: 'impedance', seriesOhm: series });
  expect(gateS).toBeNull();
  freqHz.forEach((f, k) => {
    if (f < 40 || f > 6000) return;
    const x = 2 * Math.PI * f * l;
    expect(Math.abs(values[k] / Math.hypot(r, x) - 1)).toBeLessThan(0.01);
    expect(Math.abs(phaseDeg[k] - (Math.atan2(x, r) * 180) / Math.PI)).toBeLessThan(1);
  });
});

const near = (radiusM: number): SetUp => ({ what: 'near', radiusM, voltsPerPascal: 0.01, amplifierGain: 10 });

/** A pulse at 1 m and its echo off the floor, as loud as they come; whole samples late. */
function withEcho(): { samples: Float64Array; directS: number } {
  const late = Math.round(RATE / 343);
  const later = late + Math.round(firstReflectionS(1, 1) * RATE) + 20;
  const samples = new Float64Array(played.length + 2000);
  played.forEach((v, i) => {
    samples[i + late] += 0.01 * v;
    samples[i + later] += 0.006 * v;
  });
  return { samples, directS: late / RATE };
}

test('a gate up to the first reflection leaves a flat source flat, calibrated, with its distance', async () => {
  const { samples, directS } = withEcho();
  const { freqHz, values, gateS, heardFromM } = await analysed(samples, far(null));
  // √(1² + 2²) − 1 m at 343 m/s.
  expect(gateS).toBeCloseTo((Math.sqrt(5) - 1) / 343, 9);
  expect(freqHz[0]).toBeGreaterThanOrEqual(1 / (gateS ?? 1));
  expect(freqHz[0]).toBeLessThan(1.05 / (gateS ?? 1));
  expect(heardFromM).toBeCloseTo(directS * 343, 2);
  // A hundredth of what was played: 2.83 V at the driver are 0.283 V of the card, 2.83 mV at 10 mV/Pa are 0.283 Pa.
  const expected = 20 * Math.log10((0.283 * 0.01) / 0.01 / 20e-6);
  const middle = [...values].filter((_, k) => freqHz[k] > 600 && freqHz[k] < 15e3);
  for (const db of middle) expect(Math.abs(db - expected)).toBeLessThan(0.2);
  // Listened to for longer, the floor is in it.
  const long = await analysed(samples, far(0.02));
  const ripple = [...long.values].filter((_, k) => long.freqHz[k] > 600 && long.freqHz[k] < 2000);
  expect(Math.max(...ripple) - Math.min(...ripple)).toBeGreaterThan(6);
});

test('close before a cone it is louder than at 1 m by 2 r / a, and up to k a = 1 the same', () => {
  expect(nearOverFar(0.065, 1)).toBeCloseTo(2 / 0.065, 3);
  expect(20 * Math.log10(nearOverFar(0.065, nearFieldHz(0.065)) / nearOverFar(0.065, 1))).toBeGreaterThan(-0.5);
  expect(20 * Math.log10(nearOverFar(0.065, 4 * nearFieldHz(0.065)) / nearOverFar(0.065, 1))).toBeLessThan(-5);
});

test('a simulated driver is one of its kind: near the model, and no two the same', async () => {
  const driver = demoDrivers().find((d) => d.kind === 'woofer');
  if (!driver) throw new Error('no woofer');
  const bench = async (setUp: SetUp, seed: number) =>
    must(await runner.run<'driver-bench'>({ kind: 'driver-bench', driver, sweep: SWEEP, setUp, seed }));
  const [one, other] = [
    await bench({ what: 'impedance', seriesOhm: 47 }, 1),
    await bench({ what: 'impedance', seriesOhm: 47 }, 2),
  ];
  const at = (m: typeof one, hz: number) => m.values[m.freqHz.findIndex((f) => f >= hz)];
  expect(at(one, 300)).not.toBeCloseTo(at(other, 300), 3);
  for (const m of [one, other]) expect(Math.abs(at(m, 300) / driver.impedance.reOhm - 1.15)).toBeLessThan(0.3);
  const heard = await bench(far(null), 1);
  expect(heard.heardFromM).toBeGreaterThan(0.9);
  expect(heard.heardFromM).toBeLessThan(1.15);
});

test('a driver whose file ends above its resonance falls below it by 12 dB an octave', async () => {
  const driver = demoDrivers().find((d) => d.kind === 'woofer');
  if (!driver) throw new Error('no woofer');
  const [main] = [...driver.impedance.resonances].sort((a, b) => b.ohm - a.ohm);
  const curve = { freqHz: [400, 20e3], values: [88, 88], phaseDeg: [0, 0] };
  const setUp = near(driver.radiusM);
  const sweep = { ...SWEEP, fromHz: 10, seconds: 1.5 };
  const heard = must(
    await runner.run<'driver-bench'>({
      kind: 'driver-bench',
      driver: { ...driver, response: { kind: 'curve', curve } },
      sweep,
      setUp,
      seed: 1,
    }),
  );
  const at = (hz: number) => heard.values[heard.freqHz.findIndex((f) => f >= hz)];
  expect(at(main.freqHz / 2) - at(main.freqHz / 4)).toBeGreaterThan(9);
  expect(at(main.freqHz / 2) - at(main.freqHz / 4)).toBeLessThan(13);
  expect(Math.abs(at(8 * main.freqHz) - at(4 * main.freqHz))).toBeLessThan(2);
});

test('close before the cone it has the level of 1 m by its radius, told to k a = 1', async () => {
  const driver = demoDrivers().find((d) => d.kind === 'woofer');
  if (!driver) throw new Error('no woofer');
  const curve = { freqHz: [20, 20e3], values: [88, 88], phaseDeg: [0, 0] };
  const flat = { ...driver, response: { kind: 'curve', curve } } as const;
  const setUp = near(driver.radiusM);
  const heard = must(
    await runner.run<'driver-bench'>({ kind: 'driver-bench', driver: flat, sweep: SWEEP, setUp, seed: 3 }),
  );
  // One of its kind: its level within three deviations of 0.4 dB.
  heard.freqHz.forEach((f, i) => {
    if (f > 40 && f < 300) expect(Math.abs(heard.values[i] - 88)).toBeLessThan(1.3);
  });
  const end = 343 / (2 * Math.PI * driver.radiusM);
  const last = heard.freqHz[heard.freqHz.length - 1];
  expect(last).toBeLessThanOrEqual(end);
  expect(last).toBeGreaterThan(end / 1.04);
  expect(heard.heardFromM).toBeNull();
});
