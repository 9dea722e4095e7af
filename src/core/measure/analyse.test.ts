import { powerOfTwo, realSpectrum, samplesOf } from '../math/fourier';
import { must } from '../result';
import { seeded } from '../testing/seeded';
import { analyse, type Analysed } from './analyse';
import { recordedBy, WORKSHOP_CARD } from './card';
import type { Recording } from './impulse';
import { sweepSamples, type Sweep } from './sweep';
import { orLong } from '@/testing/extent';

type Complex = readonly [number, number];
type Transfer = (f: number) => Complex;

const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];
const over = ([a, b]: Complex, [c, d]: Complex): Complex => {
  const size = c * c + d * d;
  return [(a * c + b * d) / size, (b * c - a * d) / size];
};
/** Butterworth low-pass of an even order, as its textbook writes it. */
const butterworth =
  (order: number, cutoffHz: number): Transfer =>
  (f) => {
    const x = f / cutoffHz;
    let h: Complex = [1, 0];
    for (let k = 0; k < order / 2; k++)
      h = over(h, [1 - x * x, 2 * Math.cos((Math.PI * (2 * k + 1)) / (2 * order)) * x]);
    return h;
  };
const notch =
  (centreHz: number, q: number, depth: number): Transfer =>
  (f) => {
    const x = f / centreHz;
    return over([1 - x * x, (depth * x) / q], [1 - x * x, x / q]);
  };

/** Seven octaves under 1 kHz, so that 1 kHz is one of the points. */
const FROM_HZ = 7.8125;
const sweepOf = (change: Partial<Sweep> = {}): Recording => {
  const sweep = {
    fromHz: FROM_HZ,
    toHz: 0.48 * (change.rateHz ?? 48e3),
    seconds: 2,
    rateHz: 48e3,
    levelDbfs: -6,
    ...change,
  };
  return { samples: must(sweepSamples(sweep)), rateHz: sweep.rateHz };
};

/** A recording of a sweep through something, so many samples late, its end sounding on. */
function through({ samples, rateHz }: Recording, transfer: Transfer, lateS = 0): Float64Array {
  const size = powerOfTwo(2 * samples.length);
  const spectrum = realSpectrum(samples, size);
  for (let k = 0; k <= size / 2; k++) {
    const f = (k * rateHz) / size;
    const turn = -2 * Math.PI * f * lateS;
    const h = times(transfer(f), [Math.cos(turn), Math.sin(turn)]);
    spectrum.set(times([spectrum[2 * k], spectrum[2 * k + 1]], h), 2 * k);
  }
  return samplesOf(spectrum, size).slice(0, samples.length + Math.ceil(lateS * rateHz));
}

function worst({ freqHz, levelDb, phaseDeg }: Analysed, transfer: Transfer, fromHz: number, toHz: number) {
  let [level, phase, count] = [0, 0, 0];
  freqHz.forEach((f, i) => {
    const [re, im] = transfer(f);
    const db = 20 * Math.log10(Math.hypot(re, im));
    if (f < fromHz || f > toHz || db < -60) return;
    count++;
    level = Math.max(level, Math.abs(levelDb[i] - db));
    const off = phaseDeg[i] - (Math.atan2(im, re) * 180) / Math.PI;
    phase = Math.max(phase, Math.abs(off - 360 * Math.round(off / 360)));
  });
  return { level, phase, count };
}

describe.each([48e3, 96e3])(
  'at %p samples a second, on the workshop’s card of 24 bits, itself divided out',
  (rateHz) => {
    const sweep = sweepOf({ rateHz });
    const card = (volts: Float64Array, seed: number): Recording => ({
      samples: recordedBy({ ...WORKSHOP_CARD, fullScaleVolts: 1 }, volts, rateHz, seed),
      rateHz,
    });
    const reference = card(sweep.samples, 1);

    test.each(orLong(rateHz > 48e3 ? [8] : [2, 8], [2, 4, 6, 8]))(
      'order %p: level within 0.05 dB, phase within 0.5°, 20 Hz to 0.4 of the rate',
      (order) => {
        const transfer = butterworth(order, 3000);
        const found = must(analyse(card(through(sweep, transfer), 2), sweep, { reference }));
        const off = worst(found, transfer, 20, 0.4 * rateHz);
        expect(off.count).toBeGreaterThan(100);
        expect(off.level).toBeLessThan(0.05);
        expect(off.phase).toBeLessThan(0.5);
      },
    );

    test('a notch of 60 dB is as deep as it is, to 1 dB', () => {
      const transfer = notch(1000, 0.25, 1e-3);
      const found = must(analyse(card(through(sweep, transfer), 3), sweep, { reference }));
      const deepest = found.levelDb.reduce((m, v) => Math.min(m, v), 0);
      expect(Math.abs(deepest + 60)).toBeLessThan(1);
      expect(found.freqHz[found.levelDb.indexOf(deepest)] / 1000).toBeCloseTo(1, 2);
    });
  },
);

test.each([
  ['second order', butterworth(2, 1000)],
  ['eighth order', butterworth(8, 1000)],
])('with no reference the delay is found and taken off the phase: %s', (_, transfer) => {
  const sweep = sweepOf();
  const lateS = 0.0123457;
  const found = must(analyse({ samples: through(sweep, transfer, lateS), rateHz: 48e3 }, sweep));
  expect(found.delayRemoved).toBe(true);
  expect(Math.abs(found.delayS - lateS)).toBeLessThan(2e-6);
  const off = worst(found, transfer, 20, 19e3);
  expect(off.level).toBeLessThan(0.02);
  expect(off.phase).toBeLessThan(1);
  const kept = must(analyse({ samples: through(sweep, transfer, lateS), rateHz: 48e3 }, sweep, { keepDelay: true }));
  const turned: Transfer = (f) => {
    const angle = -2 * Math.PI * f * lateS;
    return times(transfer(f), [Math.cos(angle), Math.sin(angle)]);
  };
  expect(worst(kept, turned, 20, 19e3).phase).toBeLessThan(0.5);
});

test('what comes at once is not called late', () => {
  const sweep = sweepOf();
  const found = must(analyse({ samples: through(sweep, butterworth(4, 1000)), rateHz: 48e3 }, sweep));
  expect(found.delayRemoved).toBe(false);
  expect(worst(found, butterworth(4, 1000), 20, 19e3).phase).toBeLessThan(0.1);
});

test('harmonics of a bent wave: a x² and b x³ of a sine A are a A/2 and b A²/4 of it', () => {
  const sweep = sweepOf({ fromHz: 10, toHz: 20e3, seconds: 4 });
  const [a, b, peak] = [0.02, 0.05, 10 ** (-6 / 20)];
  const bent = sweep.samples.map((v) => v + a * v * v + b * v ** 3);
  const { freqHz, harmonicsDb, levelDb } = must(analyse({ samples: bent, rateHz: 48e3 }, sweep));
  const [second, third, fourth] = harmonicsDb;
  freqHz.forEach((f, i) => {
    if (f < 60 || f > 3000) return;
    expect(second[i] - 20 * Math.log10((a * peak) / 2)).toBeCloseTo(0, 0);
    expect(third[i] - 20 * Math.log10((b * peak * peak) / 4)).toBeCloseTo(0, 0);
    expect(levelDb[i]).toBeCloseTo(20 * Math.log10(1 + (3 * b * peak * peak) / 4), 1);
    expect(fourth[i]).toBeLessThan(-90);
  });
  // Over the sweep's top there is no saying.
  expect(freqHz.every((f, i) => Number.isNaN(third[i]) === 3 * f > 20e3 * 1.0001 || Math.abs(3 * f - 20e3) < 20)).toBe(
    true,
  );
});

test('the noise that is claimed is the noise that levels are off by', () => {
  const sweep = sweepOf({ fromHz: 20, toHz: 20e3, seconds: 2 });
  const next = seeded('noise');
  const gauss = () => Math.sqrt(-2 * Math.log(next() + 1e-12)) * Math.cos(2 * Math.PI * next());
  const errors: number[] = [];
  for (let run = 0; run < 6; run++) {
    const noisy = through(sweep, butterworth(2, 1000)).map((v) => v + 3e-3 * gauss());
    const found = must(analyse({ samples: noisy, rateHz: 48e3 }, sweep, { gateS: 0.2, keepDelay: true }));
    found.freqHz.forEach((f, i) => {
      if (f < 50 || f > 15e3) return;
      const [re, im] = butterworth(2, 1000)(f);
      const angle = (found.phaseDeg[i] * Math.PI) / 180;
      const size = 10 ** (found.levelDb[i] / 20);
      errors.push(Math.hypot(size * Math.cos(angle) - re, size * Math.sin(angle) - im) / 10 ** (found.noiseDb[i] / 20));
    });
  }
  const rms = Math.sqrt(errors.reduce((sum, e) => sum + e * e, 0) / errors.length);
  expect(rms).toBeGreaterThan(0.7);
  expect(rms).toBeLessThan(1.4);
});

test('three sweeps in one recording are averaged: the noise falls by the root of three', () => {
  const sweep = sweepOf({ fromHz: 20, toHz: 20e3, seconds: 1 });
  const next = seeded('three');
  const once = through(sweep, butterworth(2, 1000));
  const noisy = (count: number) => {
    const all = new Float64Array(count * once.length + 9000);
    for (let k = 0; k < count; k++) all.set(once, 5000 + k * once.length);
    return { samples: all.map((v) => v + 0.01 * (2 * next() - 1)), rateHz: 48e3 };
  };
  const [one, three] = [noisy(1), noisy(3)].map((r) => must(analyse(r, sweep, { gateS: 0.1 })));
  expect([one.sweeps, three.sweeps]).toEqual([1, 3]);
  const gained = one.noiseDb.reduce((sum, db, i) => sum + db - three.noiseDb[i], 0) / one.noiseDb.length;
  expect(gained).toBeGreaterThan(3);
  expect(gained).toBeLessThan(6.5);
  expect(worst(three, butterworth(2, 1000), 50, 2000).level).toBeLessThan(0.2);
});

test('a gate leaves a late echo out', () => {
  const sweep = sweepOf();
  const echo: Transfer = (f) => {
    const angle = -2 * Math.PI * f * 0.02;
    return [1 + 0.5 * Math.cos(angle), 0.5 * Math.sin(angle)];
  };
  const recording = { samples: through(sweep, echo), rateHz: 48e3 };
  const rippleOf = (found: Analysed) =>
    found.levelDb
      .filter((_, i) => found.freqHz[i] > 500 && found.freqHz[i] < 5000)
      .reduce((m, v) => Math.max(m, Math.abs(v)), 0);
  expect(rippleOf(must(analyse(recording, sweep, { gateS: 0.01 })))).toBeLessThan(0.1);
  expect(rippleOf(must(analyse(recording, sweep)))).toBeGreaterThan(3);
});

describe('a recording that is of no use says why', () => {
  const sweep = sweepOf({ fromHz: 20, toHz: 20e3, seconds: 1 });
  const good = through(sweep, butterworth(2, 1000), 0.01);
  const fails = (samples: Float64Array, rateHz = 48e3, reference?: Recording) => {
    const found = analyse({ samples, rateHz }, sweep, { reference });
    return found.ok ? 'read' : found.code;
  };
  const next = seeded('nothing');

  test.each([
    [
      'a silent reference',
      () => fails(good, 48e3, { samples: new Float64Array(good.length), rateHz: 48e3 }),
      'silent-recording',
    ],
    ['silence', () => fails(new Float64Array(good.length)), 'silent-recording'],
    ['under −100 dB', () => fails(good.map((v) => 9e-6 * v)), 'silent-recording'],
    ['over −100 dB', () => fails(good.map((v) => 4e-5 * v)), 'read'],
    ['clipped', () => fails(good.map((v) => Math.max(-1, Math.min(1, 4 * v)))), 'recording-clipped'],
    ['two samples at full scale', () => fails(good.map((v, i) => (i === 900 || i === 901 ? 1 : v))), 'read'],
    ['too short', () => fails(good.slice(0, 40_000)), 'recording-too-short'],
    ['another rate', () => fails(good, 44.1e3), 'rate-differs'],
    ['noise alone', () => fails(good.map(() => next() - 0.5)), 'sweep-not-found'],
    ['another sweep', () => fails(sweepOf({ fromHz: 300, toHz: 9e3, seconds: 1 }).samples), 'sweep-not-found'],
    ['the two swapped', () => fails(sweep.samples, 48e3, { samples: good, rateHz: 48e3 }), 'channels-swapped'],
  ])('%s', (_, run, code) => expect(run()).toBe(code));

  test('and a picture is no sweep', () => {
    const found = analyse({ samples: good, rateHz: 48e3 }, { samples: good.map(() => next()), rateHz: 48e3 });
    expect(found).toMatchObject({ ok: false, code: 'not-a-sweep' });
  });
});
