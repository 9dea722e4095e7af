import { readdirSync } from 'node:fs';
import { planSections } from '../plan-sections';
import { cascadeResponse } from '../section';
import { powerAt } from './define-alignment';
import { ALIGNMENT_IDS, ALIGNMENTS, alignmentById } from './index';

const own = { rippleDb: 1, cutoffAt: 'own' } as const;
const half = { rippleDb: 1, cutoffAt: '-3db' } as const;
const qs = (id: string, order: number, options: { rippleDb: number; cutoffAt: 'own' | '-3db' } = half) =>
  alignmentById(id)
    .prototype(order, options)
    .flatMap((s) => (s.order === 2 ? [s.q] : []));

test('the registry holds every file once, under its own name', () => {
  const files = readdirSync(__dirname)
    .filter((f) => !/test|index|define/.test(f))
    .map((f) => f.replace('.ts', ''));
  expect(ALIGNMENTS.map((a) => a.id).sort()).toEqual(files.sort());
  expect([...ALIGNMENT_IDS]).toEqual(ALIGNMENTS.map((a) => a.id));
});

// Tables of L. P. Huelsman, Active and Passive Analog Filter Design, app. A, and standard filter handbooks.
test('Butterworth stage Qs', () => {
  expect(qs('butterworth', 8).map((q) => q.toFixed(4))).toEqual(['0.5098', '0.6013', '0.9000', '2.5629']);
  expect(qs('butterworth', 3)).toEqual([expect.closeTo(1, 10)]);
});
test('Bessel: Q and frequency of the fourth order at −3 dB', () => {
  const [low, high] = alignmentById('bessel').prototype(4, half);
  expect(low).toMatchObject({ omega: expect.closeTo(1.4302, 4), q: expect.closeTo(0.5219, 4) });
  expect(high).toMatchObject({ omega: expect.closeTo(1.6034, 4), q: expect.closeTo(0.8055, 4) });
});
test('Bessel normalised to delay: s² + 3s + 3', () =>
  expect(alignmentById('bessel').prototype(2, own)).toEqual([
    { order: 2, omega: expect.closeTo(Math.sqrt(3), 12), q: expect.closeTo(1 / Math.sqrt(3), 12) },
  ]));
test('Chebyshev of 1 dB: fourth order at the ripple edge', () => {
  const [low, high] = alignmentById('chebyshev').prototype(4, own);
  expect(low).toMatchObject({ omega: expect.closeTo(0.5286, 4), q: expect.closeTo(0.7845, 4) });
  expect(high).toMatchObject({ omega: expect.closeTo(0.9932, 4), q: expect.closeTo(3.559, 3) });
});
test('Linkwitz-Riley of fourth order is two Butterworths, −6.02 dB at cutoff', () => {
  expect(qs('linkwitz-riley', 4, own)).toEqual([Math.SQRT1_2, Math.SQRT1_2].map((q) => expect.closeTo(q, 12)));
  expect(10 * Math.log10(powerAt(alignmentById('linkwitz-riley').prototype(4, own), 1))).toBeCloseTo(-6.0206, 4);
});

describe.each(ALIGNMENTS)('$name', (alignment) => {
  test.each(alignment.orders)(
    'order %d: half power at the cutoff when asked for, and as many poles as the order',
    (order) => {
      const sections = alignment.prototype(order, half);
      const peak = order % 2 === 0 && alignment.hasRipple ? 10 ** 0.1 : 1;
      expect(powerAt(sections, 1) / peak).toBeCloseTo(0.5, 9);
      expect(sections.reduce((n, s) => n + s.order, 0)).toBe(order);
      const q = sections.map((s) => (s.order === 2 ? s.q : 0));
      expect(q).toEqual([...q].sort((a, b) => a - b));
    },
  );
});

test('a high-pass mirrors its low-pass about the cutoff', () => {
  const of = (response: 'lowpass' | 'highpass') =>
    planSections({
      response,
      alignment: alignmentById('bessel'),
      order: 5,
      cutoffHz: 1000,
      bandwidthHz: 1,
      ...half,
    });
  const low = cascadeResponse(of('lowpass'), Float64Array.of(2000));
  const high = cascadeResponse(of('highpass'), Float64Array.of(500));
  expect(Math.hypot(low[0], low[1])).toBeCloseTo(Math.hypot(high[0], high[1]), 12);
});
