import { denseResponse } from '../../testing/dense-response';
import { ALIGNMENTS } from '../../filter/alignments/index';
import { bandEdges, ordersIn } from '../../filter/plan-sections';
import { must } from '../../result';
import { runSynth, type SynthRequest } from './deck-jobs';

const [RIPPLE, ATTENUATION, CUTOFF, WIDTH] = [0.5, 50, 1000, 300];
const base = {
  kind: 'synth' as const,
  rippleDb: RIPPLE,
  attenuationDb: ATTENUATION,
  cutoffHz: CUTOFF,
  bandwidthHz: WIDTH,
  gainDb: 0,
  series: 'exact',
  opAmp: 'ideal',
};
const levels = (
  patch: Partial<SynthRequest> & Pick<SynthRequest, 'response' | 'alignment' | 'order'>,
  freqHz: readonly number[],
): number[] => denseResponse(must(runSynth({ ...base, ...patch })).deck, freqHz);

/** Level at the cutoff in each alignment's own sense, as the command's contract states it. */
const EDGE: Readonly<Record<string, number>> = {
  chebyshev: -RIPPLE,
  elliptic: -RIPPLE,
  'inverse-chebyshev': -ATTENUATION,
  'linkwitz-riley': 20 * Math.log10(0.5),
};
/** dB. */
const TENTH_PCT = 20 * Math.log10(1.001);
const HALF = -10 * Math.log10(2);
/** Of many poles the sharpest has a Q that an op-amp of a gain of 1e9 just reaches. */
const allowed = (order: number): number => (order > 10 ? 2 : 1) * TENTH_PCT;
const cases = ALIGNMENTS.filter((a) => a.id !== 'custom').flatMap((alignment) =>
  (['lowpass', 'highpass', 'bandpass', 'notch'] as const).map((response) => ({
    id: alignment.id,
    alignment,
    response,
  })),
);

test.each(cases)(
  '$id as $response, every order to ten within 0.1 %%, more poles within 0.2 %%: the edge ' +
    'lies where the contract says, judged by plain elimination',
  ({ id, alignment, response }) => {
    const band = response === 'bandpass' || response === 'notch';
    const edges = band ? bandEdges(CUTOFF, WIDTH) : [CUTOFF];
    // The middle of the pass band, as far as it goes.
    const deep = {
      lowpass: CUTOFF / 1e7,
      highpass: CUTOFF * 1e7,
      bandpass: CUTOFF,
      notch: CUTOFF / 1e7,
    }[response];
    for (const order of ordersIn(band ? (response === 'notch' ? 'bandstop' : 'bandpass') : response, alignment)) {
      // Order one, with its edge 50 dB down, makes a band of a Q in the thousands: past what an op-amp of a gain of 1e9
      // can do.
      if (band && id === 'inverse-chebyshev' && order === 2) continue;
      const got = levels({ response, alignment: id, order }, [...edges, deep]);
      for (const level of got.slice(0, edges.length))
        expect(Math.abs(level - (EDGE[id] ?? HALF))).toBeLessThan(allowed(order));
      // At the middle of the pass band an even order with ripple lies the ripple below its peak, which is at the gain
      // asked for.
      const prototype = band ? order / 2 : order;
      const middle = alignment.hasRipple && prototype % 2 === 0 ? -RIPPLE : 0;
      expect(Math.abs((got[edges.length] as number) - middle)).toBeLessThan(allowed(order));
    }
  },
  120_000,
);

test.each(ALIGNMENTS.filter((a) => a.id !== 'custom').map((a) => [a.id, a] as const))(
  '%s as all-pass leaves every level alone',
  (id, alignment) => {
    for (const order of alignment.orders)
      for (const level of levels({ response: 'allpass', alignment: id, order }, [10, 500, 1000, 3000, 1e5]))
        expect(Math.abs(level)).toBeLessThan(TENTH_PCT);
  },
);

test('gains are given, below and above one, and a gain that cannot be had is refused', () => {
  for (const [response, gainDb] of [
    ['bandpass', 12],
    ['bandpass', -6],
    ['notch', -6],
    ['lowpass', 9],
    ['highpass', -3],
  ] as const)
    expect(
      levels({ response, alignment: 'butterworth', order: 4, gainDb }, [
        { bandpass: CUTOFF, notch: 0.1, lowpass: 0.1, highpass: 1e7 }[response],
      ])[0],
    ).toBeCloseTo(gainDb, 3);
  expect(runSynth({ ...base, response: 'allpass', alignment: 'bessel', order: 1, gainDb: 6 })).toMatchObject({
    code: 'gain-not-reached',
  });
});

test.each([
  [{ response: 'bandpass', order: 3 }, '--order'],
  [{ response: 'nope', order: 2 }, '--response'],
  [{ response: 'notch', order: 2, bandwidthHz: undefined }, '--bandwidth'],
  [{ response: 'lowpass', order: 2, attenuationDb: 5 }, '--attenuation'],
  [{ response: 'bandpass', order: 2, topology: 'sallen-key-unity-gain' }, '--topology'],
  [{ response: 'lowpass', order: 2, alignment: 'custom' }, '--alignment'],
])('%j is refused at %s', (patch, option) => {
  expect(runSynth({ ...base, alignment: 'butterworth', ...patch } as SynthRequest)).toMatchObject({
    code: 'bad-option',
    data: { option },
  });
});
