import { must } from '../result';
import { alignmentById } from './alignments/index';
import { seeded } from '../testing/seeded';
import { limitSpan, matchBrief, type BriefLimit, type BriefMatch } from './brief-mask';
import { gainOfSections, planSections } from './plan-sections';
import { cascadeResponse } from './section';

const limit = (kind: BriefLimit['kind'], side: BriefLimit['side'], freqHz: number, db: number): BriefLimit => ({
  kind,
  side,
  freqHz,
  db,
});
const BRIEFS: [string, BriefLimit[]][] = [
  [
    'lowpass, far limit',
    [limit('at-most', 'below', 900, 1), limit('at-least', 'above', 2000, 35), limit('at-least', 'above', 11e3, 65)],
  ],
  ['lowpass, generous', [limit('at-most', 'below', 1000, 6), limit('at-least', 'above', 2000, 40)]],
  [
    'bandpass, lopsided',
    [
      limit('at-most', 'above', 300, 1),
      limit('at-most', 'below', 700, 2),
      limit('at-least', 'below', 100, 25),
      limit('at-least', 'above', 1400, 20),
      limit('at-least', 'above', 5000, 40),
    ],
  ],
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

/** Worst room of a plan at any limit, dB, on points of its own: nothing of the search is used. */
function roomOf(match: BriefMatch, limits: readonly BriefLimit[]): number {
  const alignment = alignmentById(match.alignment);
  const request = { ...match, alignment, cutoffAt: alignment.defaultCutoffAt };
  const sections = planSections(request);
  const gain = gainOfSections(request);
  const kept = limits.filter((l) => l.kind === 'at-most').map((l) => l.freqHz);
  return Math.min(
    ...limits.map((l) => {
      const far =
        l.kind === 'at-least'
          ? l.side === 'above'
            ? l.freqHz * 300
            : l.freqHz / 300
          : kept.length === 1 || match.response !== 'bandpass'
            ? l.side === 'above'
              ? l.freqHz * 10
              : l.freqHz / 10
            : l.side === 'above'
              ? Math.min(l.freqHz * 10, Math.max(...kept))
              : Math.max(l.freqHz / 10, Math.min(...kept));
      const freqHz = Float64Array.from({ length: 500 }, (_, i) => l.freqHz * (far / l.freqHz) ** (i / 499));
      const h = cascadeResponse(sections, freqHz);
      return Math.min(
        ...Array.from(freqHz, (_, i) => {
          const down = -20 * Math.log10(Math.hypot(h[2 * i], h[2 * i + 1]) * gain);
          return l.kind === 'at-most' ? l.db - down : down - l.db;
        }),
      );
    }),
  );
}

/** Whether any cutoff, ripple, attenuation (and centre) of a coarse grid meets the limits with an order. */
function anyMeets(match: BriefMatch, order: number, limits: readonly BriefLimit[]): boolean {
  const alignment = alignmentById(match.alignment);
  const ripples = alignment.hasRipple
    ? [0.1, 0.4, 1, 2, 3].concat(limits.filter((l) => l.kind === 'at-most' && l.db <= 3).map((l) => l.db))
    : [0.5];
  const attenuations = alignment.hasAttenuation
    ? [20, 50].concat(limits.filter((l) => l.kind === 'at-least').map((l) => l.db))
    : [50];
  const scales = Array.from({ length: 25 }, (_, i) => 0.6 * 2.6 ** (i / 24));
  const centres = match.response === 'bandpass' ? [0.94, 1, 1.06] : [1];
  // Its own limits alone say no at once for most: the first point that fails ends a try.
  return ripples.some((rippleDb) =>
    attenuations.some((attenuationDb) =>
      scales.some((scale) =>
        centres.some((centre) => {
          const tried = {
            ...match,
            order,
            rippleDb,
            attenuationDb,
            cutoffHz: match.response === 'bandpass' ? match.cutoffHz * centre : match.cutoffHz * scale,
            bandwidthHz: match.bandwidthHz * scale,
          };
          const request = { ...tried, alignment, cutoffAt: alignment.defaultCutoffAt };
          const sections = planSections(request);
          const gain = gainOfSections(request);
          const down = (f: number) => {
            const h = cascadeResponse(sections, Float64Array.of(f));
            return -20 * Math.log10(Math.hypot(h[0], h[1]) * gain);
          };
          return (
            limits.every((l) => (l.kind === 'at-most' ? down(l.freqHz) <= l.db : down(l.freqHz) >= l.db)) &&
            roomOf(tried, limits) >= 0
          );
        }),
      ),
    ),
  );
}

test.each(BRIEFS)(
  'every match of the brief %s meets every limit, and no cutoff, ripple or attenuation of one order less does',
  (response, limits) => {
    const matches = must(matchBrief(limits));
    expect(matches.length).toBeGreaterThan(2);
    for (const match of matches) {
      expect(match.response).toBe(response.split(',')[0]);
      expect([match.alignment, roomOf(match, limits) > -1e-3]).toEqual([match.alignment, true]);
      const step = match.response === 'bandpass' ? 2 : 1;
      const { orders } = alignmentById(match.alignment);
      const less = match.order - (match.alignment === 'linkwitz-riley' ? 2 * step : step);
      if (orders.includes(less / step))
        expect([match.alignment, anyMeets(match, less, limits)]).toEqual([match.alignment, false]);
    }
  },
);

describe('a band-stop', () => {
  const STOP = [
    limit('at-most', 'below', 800, 1),
    limit('at-least', 'above', 950, 40),
    limit('at-least', 'below', 1050, 40),
    limit('at-most', 'above', 1250, 1),
  ];

  test('is offered where a middle is lost and both sides are kept, and meets every limit between its own ends', () => {
    const matches = must(matchBrief(STOP));
    expect(matches.length).toBeGreaterThan(3);
    expect(limitSpan(STOP[1], STOP)).toEqual([950, 1050]);
    expect(limitSpan(STOP[2], STOP)).toEqual([950, 1050]);
    const spans: [BriefLimit['kind'], number, number][] = [
      ['at-most', 80, 800],
      ['at-least', 950, 1050],
      ['at-most', 1250, 12500],
    ];
    for (const match of matches) {
      expect(match.response).toBe('bandstop');
      const alignment = alignmentById(match.alignment);
      const request = { ...match, alignment, cutoffAt: alignment.defaultCutoffAt };
      const [sections, gain] = [planSections(request), gainOfSections(request)];
      for (const [kind, from, to] of spans) {
        const freqHz = Float64Array.from({ length: 800 }, (_, i) => from * (to / from) ** (i / 799));
        const h = cascadeResponse(sections, freqHz);
        const down = Array.from(freqHz, (_, i) => -20 * Math.log10(Math.hypot(h[2 * i], h[2 * i + 1]) * gain));
        if (kind === 'at-most') expect(Math.max(...down)).toBeLessThan(1.001);
        else expect(Math.min(...down)).toBeGreaterThan(39.999);
      }
    }
    // By the textbook, n of a Butterworth: from the wider transition, both edges about 1 kHz.
    const butterworth = matches.find((m) => m.alignment === 'butterworth')!;
    const omega = (1250 - 1000 ** 2 / 1250) / (1050 - 1000 ** 2 / 1050);
    const least = Math.log10((10 ** 4 - 1) / (10 ** 0.1 - 1)) / (2 * Math.log10(omega));
    expect(Math.abs(butterworth.order / 2 - Math.ceil(least))).toBeLessThan(2);
  });

  test('is refused where what is lost reaches into what is kept', () => {
    expect(matchBrief([STOP[0], limit('at-least', 'above', 700, 20), STOP[2], STOP[3]])).toMatchObject({
      ok: false,
      code: 'mask-crossed',
    });
  });
});

test('orders up to twelve are offered where fewer do not meet it: a Butterworth by its own formula', () => {
  const steep = [limit('at-most', 'below', 1000, 1), limit('at-least', 'above', 1640, 45)];
  const least = Math.log10((10 ** 4.5 - 1) / (10 ** 0.1 - 1)) / (2 * Math.log10(1.64));
  expect(Math.ceil(least)).toBe(12);
  expect(must(matchBrief(steep)).find((m) => m.alignment === 'butterworth')?.order).toBe(12);
});

test('random briefs of up to four limits: whatever is offered meets them all', () => {
  const random = seeded('briefs');
  const between = (low: number, high: number) => low * (high / low) ** random();
  for (let run = 0; run < 5; run++) {
    const edge = between(50, 5000);
    const kept = [limit('at-most', 'below', edge, between(0.2, 6))];
    if (random() < 0.5) kept.push(limit('at-most', 'below', edge * between(0.3, 0.9), between(0.05, 0.5)));
    const lost = [limit('at-least', 'above', edge * between(1.6, 5), between(15, 60))];
    if (random() < 0.5) lost.push(limit('at-least', 'above', edge * between(6, 20), between(50, 90)));
    const mirrored = random() < 0.5;
    const turn = (l: BriefLimit): BriefLimit =>
      mirrored ? { ...l, side: l.side === 'below' ? 'above' : 'below', freqHz: 1e6 / l.freqHz } : l;
    const limits = [...kept, ...lost].map(turn);
    for (const match of must(matchBrief(limits)))
      expect([limits, match.alignment, roomOf(match, limits) > -1e-3]).toEqual([limits, match.alignment, true]);
  }
});

test('a brief with a far limit: 1 dB at 900 Hz, 35 dB from 2 kHz, 65 dB from 11 kHz', () => {
  const orders = Object.fromEntries(
    must(
      matchBrief([
        limit('at-most', 'below', 900, 1),
        limit('at-least', 'above', 2000, 35),
        limit('at-least', 'above', 11e3, 65),
      ]),
    ).map((m) => [m.alignment, m.order]),
  );
  // Butterworth, each limit by itself: ½ log((10^3.5 − 1)/(10^0.1 − 1))/log(2.222) = 5.89; the far one ½ log((10^6.5 −
  // 1)/0.2589)/log(12.22) = 3.26.
  expect(orders.butterworth).toBe(6);
});

test('a pass limit of more than 3 dB is what it says: 6 dB at 1 kHz, 40 dB at 2 kHz is a Butterworth of 6', () => {
  const orders = Object.fromEntries(
    must(matchBrief([limit('at-most', 'below', 1000, 6), limit('at-least', 'above', 2000, 40)])).map((m) => [
      m.alignment,
      m.order,
    ]),
  );
  // ½ log((10⁴ − 1)/(10^0.6 − 1))/log 2 = 5.86.
  expect(orders.butterworth).toBe(6);
});

test('known orders: 1 dB at 3 kHz, 40 dB at 9 kHz', () => {
  const orders = Object.fromEntries(must(matchBrief(BRIEFS[3][1])).map((m) => [m.alignment, m.order]));
  // Butterworth: ½ log((10⁴ − 1)/(10^0.1 − 1))/log 3 = 4.81; Chebyshev: acosh(√((10⁴ − 1)/(10^0.1 − 1)))/acosh 3 =
  // 3.39.
  expect(orders.butterworth).toBe(5);
  expect(orders.chebyshev).toBe(4);
  expect(orders['inverse-chebyshev']).toBe(4);
  // Elliptic, from the degree equation K(k)K′(k₁)/(K′(k)K(k₁)) with k = 1/3, k₁ = 0.5088/99.995: 2.59.
  expect(orders.elliptic).toBe(3);
});

test.each([
  [[], 'no-mask', 'keep'],
  [[limit('at-most', 'below', 1000, 1)], 'no-mask', 'lose'],
  [[limit('at-least', 'above', 1000, 20), limit('at-most', 'above', 3000, 1)], 'no-mask', 'keep-below'],
  [[limit('at-most', 'below', 3000, 1), limit('at-least', 'above', 2000, 20)], 'mask-crossed', undefined],
])('%j is refused as %s', (limits, code, why) => {
  const result = matchBrief(limits as BriefLimit[]);
  expect(result).toMatchObject({ ok: false, code, ...(why ? { data: { why } } : {}) });
});

test(
  'a pass limit holds for a decade on its side, and ends where something is to be lost; a stop limit ' + 'never ends',
  () => {
    const [keep, low, high, lose] = [
      limit('at-most', 'below', 1000, 1),
      limit('at-least', 'below', 300, 20),
      limit('at-most', 'above', 400, 1),
      limit('at-least', 'above', 3000, 20),
    ];
    expect(limitSpan(keep, [keep])).toEqual([100, 1000]);
    expect(limitSpan(keep, [keep, low])).toEqual([300, 1000]);
    expect(limitSpan(keep, [keep, low, high])).toEqual([400, 1000]);
    expect(limitSpan(high, [high, lose])).toEqual([400, 3000]);
    expect(limitSpan(low, [keep, low])).toEqual([0, 300]);
    expect(limitSpan(lose, [keep, lose])).toEqual([3000, Infinity]);
  },
);

test('a stop limit of 0 dB asks for nothing: it is as if it were not there', () => {
  const [keep, none, lose] = [
    limit('at-most', 'above', 65, 1),
    limit('at-least', 'below', 15, 0),
    limit('at-least', 'below', 25, 30),
  ];
  expect(matchBrief([keep, none])).toEqual({ ok: false, code: 'no-mask', data: { why: 'lose' } });
  expect(matchBrief([keep, none, lose])).toEqual(matchBrief([keep, lose]));
});
