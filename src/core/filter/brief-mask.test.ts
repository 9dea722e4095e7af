import { must } from '../result';
import { alignmentById } from './alignments/index';
import { matchBrief, type BriefLimit } from './brief-mask';
import { gainOfSections, planSections } from './plan-sections';
import { cascadeResponse } from './section';

const limit = (
  kind: BriefLimit['kind'],
  side: BriefLimit['side'],
  freqHz: number,
  db: number,
): BriefLimit => ({ kind, side, freqHz, db });
const BRIEFS: [string, BriefLimit[]][] = [
  ['lowpass', [limit('at-most', 'below', 3000, 1), limit('at-least', 'above', 9000, 40)]],
  ['highpass', [limit('at-most', 'above', 65, 1), limit('at-least', 'below', 25, 30)]],
  [
    'bandpass',
    [
      limit('at-most', 'above', 300, 1),
      limit('at-most', 'below', 3400, 1),
      limit('at-least', 'below', 100, 20),
      limit('at-least', 'above', 9000, 25),
    ],
  ],
];

test.each(BRIEFS)(
  'every match of a %s brief meets every limit, and one order less would not',
  (response, limits) => {
    const matches = must(matchBrief(limits));
    expect(matches.length).toBeGreaterThan(4);
    for (const match of matches) {
      expect(match.response).toBe(response);
      const request = {
        ...match,
        alignment: alignmentById(match.alignment),
        cutoffAt: alignmentById(match.alignment).defaultCutoffAt,
      };
      const down = (freqHz: number, order = match.order) => {
        const h = cascadeResponse(planSections({ ...request, order }), Float64Array.of(freqHz));
        return -20 * Math.log10(Math.hypot(h[0], h[1]) * gainOfSections({ ...request, order }));
      };
      for (const { kind, freqHz, db } of limits) {
        if (kind === 'at-most') expect(down(freqHz)).toBeLessThan(db + 1e-3);
        else expect(down(freqHz)).toBeGreaterThan(db - 1e-3);
      }
    }
  },
);

test('known orders: 1 dB at 3 kHz, 40 dB at 9 kHz', () => {
  const orders = Object.fromEntries(
    must(matchBrief(BRIEFS[0][1])).map((m) => [m.alignment, m.order]),
  );
  // Butterworth: ½ log((10⁴ − 1)/(10^0.1 − 1))/log 3 = 4.81; Chebyshev: acosh(√((10⁴ − 1)/(10^0.1 − 1)))/acosh 3 = 3.39.
  expect(orders.butterworth).toBe(5);
  expect(orders.chebyshev).toBe(4);
  expect(orders['inverse-chebyshev']).toBe(4);
  // Elliptic, from the degree equation K(k)K′(k₁)/(K′(k)K(k₁)) with k = 1/3, k₁ = 0.5088/99.995: 2.59.
  expect(orders.elliptic).toBe(3);
});

test.each([
  [[], 'no-mask', 'keep'],
  [[limit('at-most', 'below', 1000, 1)], 'no-mask', 'lose'],
  [
    [limit('at-least', 'above', 1000, 20), limit('at-most', 'above', 3000, 1)],
    'no-mask',
    'keep-below',
  ],
  [
    [limit('at-most', 'below', 3000, 1), limit('at-least', 'above', 2000, 20)],
    'mask-crossed',
    undefined,
  ],
])('%j is refused as %s', (limits, code, why) => {
  const result = matchBrief(limits as BriefLimit[]);
  expect(result).toMatchObject({ ok: false, code, ...(why ? { data: { why } } : {}) });
});
