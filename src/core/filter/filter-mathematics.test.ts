import { assemble } from '../circuit/structure';
import { C, L, R, V } from '../circuit/build';
import { AcSolver } from '../analysis/ac/solver';
import { complex, magnitude } from '../math/complex';
import { logGrid } from '../math/grid';
import { must } from '../result';
import { bessel } from './alignments/bessel';
import { butterworth } from './alignments/butterworth';
import { chebyshev } from './alignments/chebyshev';
import { powerAt, withZeros } from './alignments/define-alignment';
import { elliptic } from './alignments/elliptic';
import { equirippleDelay } from './alignments/equiripple-delay';
import { gaussian } from './alignments/gaussian';
import { inverseChebyshev } from './alignments/inverse-chebyshev';
import { legendre, optimumL } from './alignments/legendre';
import { allPassDelay, allPassZeroPole, equaliseDelay } from './delay-equaliser';
import { reachOf } from './order-estimate';
import { doublyTerminated, scaledLadder, singlyTerminated, type Ladder } from './passive-ladder';
import {
  delayAt,
  fromSections,
  toBandpass,
  toBandstop,
  toBiquads,
  toHighpass,
  toLowpass,
  valueAt,
  type ZeroPole,
} from './zero-pole';

const OWN = { rippleDb: 0.5, attenuationDb: 50, cutoffAt: 'own' as const };
const HALF = { rippleDb: 0.5, cutoffAt: '-3db' as const };
const db = (power: number) => 10 * Math.log10(power);
const levelDb = (zp: ZeroPole, omega: number) => 20 * Math.log10(magnitude(valueAt(zp, complex(0, omega))));

describe('alignments against their tables', () => {
  test('optimum-L polynomials of orders 2 to 5 (Papoulis 1958, Fukada 1959)', () => {
    const tables: Record<number, number[]> = {
      2: [0, 0, 1],
      3: [0, 1, -3, 3],
      4: [0, 0, 3, -8, 6],
      5: [0, 1, -8, 28, -40, 20],
    };
    for (const [order, table] of Object.entries(tables))
      optimumL(Number(order)).forEach((c, i) => expect(c).toBeCloseTo(table[i], 10));
  });
  test('Legendre never rises, and falls faster at cutoff than Butterworth', () => {
    for (let n = 3; n <= 10; n++) {
      const [own, flat] = [legendre.prototype(n, HALF), butterworth.prototype(n, HALF)];
      expect(powerAt(own, 1)).toBeCloseTo(0.5, 9);
      for (let w = 0; w < 2; w += 0.01) expect(powerAt(own, w + 0.01)).toBeLessThanOrEqual(powerAt(own, w) + 1e-9);
      expect(powerAt(own, 1.1)).toBeLessThan(powerAt(flat, 1.1));
    }
  });
  test('equiripple delay of order 3, 0.05°: the poles of Zverev’s table, and the phase keeps within it', () => {
    const [first, second] = equirippleDelay.prototype(3, HALF);
    expect(first.omega).toBeCloseTo(1.0459, 3);
    expect(second.omega).toBeCloseTo(Math.hypot(0.8541, 1.0725), 3);
    for (const n of [4, 7, 10]) {
      const zp = fromSections(equirippleDelay.prototype(n, HALF));
      const delays = Array.from({ length: 60 }, (_, i) => delayAt(zp, 0.02 * (i + 1)));
      expect(Math.max(...delays) / Math.min(...delays)).toBeLessThan(1.02);
    }
  });
  test('Gaussian: half power at 1, close to the bell curve below it, no overshoot in its Q', () => {
    for (let n = 1; n <= 10; n++) {
      const sections = gaussian.prototype(n, HALF);
      expect(powerAt(sections, 1)).toBeCloseTo(0.5, 9);
      for (const s of sections) if (s.order === 2) expect(s.q).toBeLessThan(1.1);
    }
    expect(db(powerAt(gaussian.prototype(10, HALF), 0.5))).toBeCloseTo(-3.0103 / 4, 3);
  });
  test.each([2, 3, 5, 8, 10])('inverse Chebyshev %i: −50 dB at and above its edge, touching it, flat at DC', (n) => {
    const sections = inverseChebyshev.prototype(n, OWN);
    expect(db(powerAt(sections, 1))).toBeCloseTo(-50, 6);
    for (let w = 1; w < 20; w *= 1.003) expect(db(powerAt(sections, w))).toBeLessThan(-50 + 1e-6);
    expect(db(powerAt(sections, 1e-4))).toBeCloseTo(0, 6);
    expect(powerAt(inverseChebyshev.prototype(n, { ...HALF, attenuationDb: 50 }), 1)).toBeCloseTo(0.5, 9);
  });
  test.each([2, 3, 4, 5, 7, 10])(
    'elliptic %i: ripples between 0 and −0.5 dB below, −50 dB above, and each extreme is reached',
    (n) => {
      const sections = elliptic.prototype(n, OWN);
      const base = elliptic.dcLevelDb(n, OWN);
      const level = (w: number) => base + db(powerAt(sections, w));
      let [top, bottom] = [-Infinity, Infinity];
      for (let w = 0; w <= 1; w += 0.0005) [top, bottom] = [Math.max(top, level(w)), Math.min(bottom, level(w))];
      expect(top).toBeCloseTo(0, 4);
      expect(bottom).toBeCloseTo(-0.5, 4);
      expect(level(1)).toBeCloseTo(-0.5, 6);
      // The first crossing of −50 dB; beyond it nothing comes back above.
      let edge = 1;
      while (level(edge) > -50) edge *= 1.0002;
      let peak = -Infinity;
      for (let w = edge * 1.0005; w < 400; w *= 1.0005) peak = Math.max(peak, level(w));
      if (n > 2) expect(peak).toBeCloseTo(-50, 2);
      else expect(peak).toBeLessThan(-49.99);
    },
  );
  test('zeros go to the sharpest poles first', () => {
    const sections = withZeros(
      [
        { order: 2, omega: 0.5, q: 0.6 },
        { order: 2, omega: 1, q: 5 },
      ],
      [1.2, 3],
    );
    expect(sections).toEqual([
      { order: 2, omega: 0.5, q: 0.6, zero: 3 },
      { order: 2, omega: 1, q: 5, zero: 1.2 },
    ]);
  });
});

describe('transformations', () => {
  const prototype = fromSections(elliptic.prototype(4, OWN), 10 ** (-0.5 / 20));
  test.each([0, 0.3, 0.9, 1, 1.5, 4])(
    'at the prototype’s %d rad/s: low-pass, high-pass and both edges of a band agree with it',
    (w) => {
      const own = levelDb(prototype, w);
      expect(levelDb(toLowpass(prototype, 2000), 2000 * w)).toBeCloseTo(own, 8);
      if (w > 0) expect(levelDb(toHighpass(prototype, 2000), 2000 / w)).toBeCloseTo(own, 8);
      // (ω² − ω0²)/(B ω) = ±w
      const [centre, width] = [3000, 700];
      for (const side of [1, -1]) {
        const omega = (side * w * width) / 2 + Math.sqrt(((w * width) / 2) ** 2 + centre ** 2);
        expect(levelDb(toBandpass(prototype, centre, width), omega)).toBeCloseTo(own, 7);
        if (w > 0) {
          const away = (side * width) / w / 2 + Math.sqrt((width / w / 2) ** 2 + centre ** 2);
          expect(levelDb(toBandstop(prototype, centre, width), away)).toBeCloseTo(own, 7);
        }
      }
    },
  );
  test.each(['low-q-first', 'high-q-first', 'dynamic-range'] as const)(
    'factors in order %s multiply to the whole',
    (order) => {
      const whole = toBandpass(prototype, 3000, 700);
      const factors = toBiquads(whole, order);
      expect(factors.reduce((n, f) => n + f.order, 0)).toBe(whole.poles.length);
      for (const w of [1000, 2700, 3000, 3300, 9000]) {
        const product = factors.reduce((p, f) => {
          const top = Math.hypot(f.numerator[0] - f.numerator[2] * w * w, f.numerator[1] * w);
          return (
            (p * top) / (f.order === 1 ? Math.hypot(f.omega, w) : Math.hypot(f.omega ** 2 - w * w, (f.omega / f.q) * w))
          );
        }, 1);
        expect(20 * Math.log10(product)).toBeCloseTo(levelDb(whole, w), 7);
      }
      const qs = factors.map((f) => f.q);
      if (order === 'low-q-first') expect(qs).toEqual([...qs].sort((a, b) => a - b));
      if (order === 'high-q-first') expect(qs).toEqual([...qs].sort((a, b) => b - a));
    },
  );
  test('delay is the slope of the phase', () => {
    const zp = toHighpass(fromSections(chebyshev.prototype(5, OWN)), 100);
    const phase = (w: number) => Math.atan2(valueAt(zp, complex(0, w)).im, valueAt(zp, complex(0, w)).re);
    expect(delayAt(zp, 150)).toBeCloseTo(-(phase(150.001) - phase(149.999)) / 0.002, 7);
  });
});

describe('how far a prototype keeps and from where it loses', () => {
  const OWN_CUTOFF = { rippleDb: 0.5, attenuationDb: 50, cutoffAt: 'own' } as const;
  test('Butterworth and Chebyshev: their closed forms, inside the ripple too', () => {
    // Loss 10 log(1 + ω^2n), and 10 log(1 + ε² T_n²).
    const flat = reachOf(butterworth, 5, OWN_CUTOFF);
    expect(flat.keepsTo(1) / (10 ** 0.1 - 1) ** 0.1).toBeCloseTo(1, 6);
    expect(flat.losesFrom(40) / (1e4 - 1) ** 0.1).toBeCloseTo(1, 6);
    const rippled = reachOf(chebyshev, 3, OWN_CUTOFF);
    const epsilon = Math.sqrt(10 ** 0.05 - 1);
    expect(rippled.keepsTo(0.5)).toBeCloseTo(1, 6);
    expect(rippled.losesFrom(40)).toBeCloseTo(Math.cosh(Math.acosh(Math.sqrt(1e4 - 1) / epsilon) / 3), 5);
    // First 0.1 dB: ε² T3² = 10^0.01 − 1 with T3 = 4ω³ − 3ω, on its way to its first dip.
    const t = Math.sqrt(10 ** 0.01 - 1) / epsilon;
    const omega = rippled.keepsTo(0.1);
    expect(omega).toBeLessThan(0.5);
    expect(3 * omega - 4 * omega ** 3).toBeCloseTo(t, 6);
  });
  test('with nulls: past the edge of an even order nothing deeper ever comes, of an odd order it does', () => {
    expect(reachOf(inverseChebyshev, 4, OWN_CUTOFF).losesFrom(50)).toBeCloseTo(1, 6);
    expect(reachOf(inverseChebyshev, 4, OWN_CUTOFF).losesFrom(51)).toBe(Infinity);
    const odd = reachOf(inverseChebyshev, 5, OWN_CUTOFF).losesFrom(70);
    expect(db(powerAt(inverseChebyshev.prototype(5, OWN_CUTOFF), odd))).toBeCloseTo(-70, 4);
    for (let w = odd; w < 1e4; w *= 1.01)
      expect(db(powerAt(inverseChebyshev.prototype(5, OWN_CUTOFF), w))).toBeLessThan(-70 + 1e-6);
  });
});

test.each([
  [2, 0.01, 140],
  [3, 0.01, 140],
  [5, 0.01, 140],
  [10, 0.01, 140],
  [8, 1, 20],
  [7, 0.1, 120],
])(
  'elliptic of order %d, %d dB and %d dB: ripples stay in their bounds on both sides',
  (order, rippleDb, attenuationDb) => {
    const options = { rippleDb, attenuationDb, cutoffAt: 'own' } as const;
    const sections = elliptic.prototype(order, options);
    const base = elliptic.dcLevelDb(order, options);
    const level = (w: number) => base + db(powerAt(sections, w));
    for (let w = 0; w <= 1; w += 0.001) expect(level(w)).toBeGreaterThan(-rippleDb - 1e-6);
    for (let w = 0; w <= 1; w += 0.001) expect(level(w)).toBeLessThan(1e-6);
    // Stop band: from 1/k on, k by the degree equation's own ladder of nulls: none lies inside it.
    const edge = reachOf(elliptic, order, options).losesFrom(attenuationDb);
    expect(edge).toBeGreaterThan(1);
    const nulls = sections.flatMap((s) => (s.order === 2 && s.zero !== undefined ? [s.zero] : []));
    expect(nulls).toHaveLength(Math.floor(order / 2));
    nulls.forEach((zero) => expect(zero).toBeGreaterThan(edge));
    for (let w = edge; w < edge * 1e4; w *= 1.01) expect(level(w)).toBeLessThan(-attenuationDb + 1e-3);
  },
);

test.each([
  [1, 140],
  [2, 140],
  [3, 10],
  [10, 60],
])('inverse Chebyshev of order %d, %d dB: half power at 1 when that is its cutoff', (order, attenuationDb) => {
  const sections = inverseChebyshev.prototype(order, { rippleDb: 0.5, attenuationDb, cutoffAt: '-3db' });
  expect(powerAt(sections, 1)).toBeCloseTo(0.5, 9);
  expect(powerAt(sections, 0.9)).toBeGreaterThan(0.5);
});

describe('passive ladders', () => {
  const close = (got: readonly number[], table: readonly number[], digits = 4) =>
    table.forEach((v, i) => expect(got[i]).toBeCloseTo(v, digits));

  test('equal terminations: Butterworth g_k = 2 sin((2k − 1)π/2n), Chebyshev and Bessel from the tables', () => {
    for (let n = 1; n <= 9; n++)
      close(
        must(doublyTerminated(butterworth.prototype(n, OWN))).elements,
        Array.from({ length: n }, (_, k) => 2 * Math.sin(((2 * k + 1) * Math.PI) / (2 * n))),
        3,
      );
    // L. Weinberg, Network Analysis and Synthesis, table 13.3: 0.5 dB, ripple edge.
    close(must(doublyTerminated(chebyshev.prototype(3, OWN))).elements, [1.5963, 1.0967, 1.5963], 3);
    close(must(doublyTerminated(chebyshev.prototype(5, OWN))).elements, [1.7058, 1.2296, 2.5408, 1.2296, 1.7058], 3);
    // Bessel of order 3, half power at 1, from the low-impedance end (A. Zverev, Handbook of Filter Synthesis, p. 312).
    const bessel3 = must(doublyTerminated(bessel.prototype(3, HALF))).elements;
    close(
      [...bessel3].sort((a, b) => a - b),
      [0.3374, 0.9705, 2.2034],
      3,
    );
  });
  test('from no resistance: the crossover tables of Butterworth', () => {
    // First element next to the source: 3/2, 4/3, 1/2 and 1.5307, 1.5772, 1.0824, 0.3827.
    close(must(singlyTerminated(butterworth.prototype(3, OWN))).elements, [1.5, 4 / 3, 0.5], 8);
    close(must(singlyTerminated(butterworth.prototype(4, OWN))).elements, [1.5307, 1.5772, 1.0824, 0.3827]);
  });

  /** The ladder as a circuit, its level at the load in dB against DC. */
  function response(ladder: Ladder, sourceOhm: number, grid: Float64Array): Float64Array {
    const elements = [V('V', 'in', '0', 1)];
    let at = 'in';
    if (sourceOhm > 0) elements.push(R('Rs', 'in', (at = 's'), sourceOhm));
    scaledLadder(ladder, 2 * Math.PI * 1000, 8).forEach(({ coil, value }, i) => {
      if (coil) elements.push(L(`L${i}`, at, `n${i}`, value));
      else elements.push(C(`C${i}`, at, '0', value));
      if (coil) at = `n${i}`;
    });
    elements.push(R('RL', at, '0', 8 * ladder.loadOhm));
    const [v] = must(new AcSolver().sweep(assemble({ elements, merged: [] }), grid, [at]));
    return grid.map((_, i) => 20 * Math.log10(Math.hypot(v[2 * i], v[2 * i + 1])));
  }
  const grid = logGrid(10, 10e3, 40);

  test.each([
    ['Butterworth 6', butterworth.prototype(6, OWN), 1],
    ['Chebyshev 7', chebyshev.prototype(7, OWN), 1],
    ['Legendre 5', legendre.prototype(5, OWN), 1],
    ['Gaussian 4', gaussian.prototype(4, OWN), 1],
    ['Butterworth 4 into twice the resistance', butterworth.prototype(4, OWN), 2],
  ] as const)('built and simulated, it is the prototype: %s', (_, sections, load) => {
    const ladder = must(doublyTerminated(sections, load));
    const got = response(ladder, 8, grid);
    grid.forEach((f, i) =>
      expect(got[i] - got[0]).toBeCloseTo(db(powerAt(sections, f / 1000) / powerAt(sections, 0.01)), 2),
    );
  });
  test.each([2, 3, 4, 5, 8])('from a stiff source, order %i', (n) => {
    const sections = butterworth.prototype(n, OWN);
    const got = response(must(singlyTerminated(sections)), 0, grid);
    grid.forEach((f, i) => expect(got[i]).toBeCloseTo(db(powerAt(sections, f / 1000)), 6));
  });
  test('a Chebyshev of even order does not fit equal terminations, and it is said what would', () => {
    const refused = doublyTerminated(chebyshev.prototype(4, OWN), 1, 'series-coil', 10 ** (0.5 / 20));
    expect(refused).toMatchObject({ ok: false, code: 'load-does-not-fit' });
    if (!refused.ok) expect(Number(refused.data.loadOhm)).toBeCloseTo(1.9841, 3);
  });
});

test('a delay equaliser evens out a Chebyshev’s delay, and leaves its level alone', () => {
  const filter = fromSections(chebyshev.prototype(4, OWN));
  const { sections, rippleBeforeS, rippleAfterS } = equaliseDelay(filter, 0.9, 2);
  expect(rippleAfterS).toBeLessThan(rippleBeforeS / 4);
  const allPass = allPassZeroPole(sections);
  for (const w of [0.1, 0.5, 2]) {
    expect(levelDb(allPass, w)).toBeCloseTo(0, 10);
    expect(delayAt(allPass, w)).toBeCloseTo(
      sections.reduce((sum, s) => sum + allPassDelay(s, w), 0),
      8,
    );
  }
});
