import { AS_BUILT, compile } from '../../design/compiled/compile';
import { countingIds, createPlan } from '../../design/making/create';
import type { Design, Plan } from '../../design/document/schema';
import type { SinglePath } from '../../design/making/single-path';
import type { AlignmentId } from '../../filter/alignments/index';
import type { PlanResponse } from '../../filter/plan-sections';
import { must } from '../../result';
import { bruteCurve } from '../../testing/brute-curve';
import { deskOf } from '../../testing/desk-of';
import { lonePath } from '../../testing/lone-path';
import type { DeskMark } from '../desk/desk-types';

const makeId = countingIds('m');
/** With ideal op-amps. */
const path = (given: SinglePath): Design => lonePath(given, { device: 'ideal' });

type Mark<K> = Extract<DeskMark, { kind: K }>;
const marksOf = <K extends DeskMark['kind']>(result: { marks: readonly DeskMark[] }, kind: K): Mark<K>[] =>
  result.marks.filter((m): m is Mark<K> => m.kind === kind);

describe('slopes', () => {
  const AN_ORDER = 20 * Math.log10(2);
  const slopes = (design: Design) => marksOf(deskOf(design), 'slope').map((m) => m.slopeDbPerOctave / AN_ORDER);
  const of = (response: PlanResponse, alignment: AlignmentId, order: number, more: Partial<Plan> = {}) =>
    path({ plan: { ...createPlan(makeId(), response, alignment, order, 1000), ...more } });

  test('are asymptotic: poles over zeros on the high side, zeros at the origin on the low one', () => {
    expect(slopes(of('lowpass', 'butterworth', 5))).toEqual([-5]);
    expect(slopes(of('highpass', 'chebyshev', 3))).toEqual([3]);
    expect(slopes(of('bandpass', 'butterworth', 4, { bandwidthHz: 100 }))).toEqual([2, -2]);
    // An odd elliptic falls by one order beyond its last null, an even one not at all; a notch is level on both sides.
    expect(slopes(of('lowpass', 'elliptic', 5))).toEqual([-1]);
    expect(slopes(of('lowpass', 'elliptic', 4))).toEqual([]);
    expect(slopes(path({ topology: 'twin-t', wanted: { notchHz: 60 } }))).toEqual([]);
  });

  test('to a stop limit counts from the cutoff to the highest level beyond the limit, nulls or not', () => {
    const bare = of('lowpass', 'inverse-chebyshev', 5, { attenuationDb: 50 });
    const limit = { id: 'm', kind: 'at-least' as const, side: 'above' as const, freqHz: 2000, db: 40 };
    const design = { ...bare, brief: { ...bare.brief, mask: [limit] } };
    const result = deskOf(design);
    const [{ freqHz, fromHz, slopeDbPerOctave, levelDb }] = marksOf(result, 'transition');
    const [cutoff] = marksOf(result, 'cutoff');
    const built = must(compile(design, design.variants[0], AS_BUILT));
    const brute = bruteCurve(built.circuit, built.ways[0].output, 2000, 2e5);
    expect([freqHz, fromHz]).toEqual([2000, cutoff.freqHz]);
    expect(levelDb).toBeCloseTo(brute.highest().levelDb, 2);
    expect(slopeDbPerOctave).toBeCloseTo((levelDb - cutoff.levelDb) / Math.log2(2000 / cutoff.freqHz), 9);
  });

  test('to a stop limit rises with frequency below a high-pass, like its slope', () => {
    const bare = of('highpass', 'butterworth', 3);
    const limit = { id: 'm', kind: 'at-least' as const, side: 'below' as const, freqHz: 250, db: 30 };
    const [{ slopeDbPerOctave }] = marksOf(deskOf({ ...bare, brief: { ...bare.brief, mask: [limit] } }), 'transition');
    // |H|² = x⁶/(1 + x⁶) at x = 1/4, against half power at x = 1: two octaves.
    const lost = 10 * Math.log10(1 / (1 + 4 ** 6)) - 10 * Math.log10(0.5);
    expect(slopeDbPerOctave).toBeCloseTo(-lost / 2, 0);
  });

  test('is written on the flank that shows it, and beyond the nulls where the flank falls faster', () => {
    const [plain] = marksOf(deskOf(of('lowpass', 'butterworth', 5)), 'slope');
    expect(plain.levelDb).toBeCloseTo(plain.referenceDb - 22, 0);
    const [nulls] = marksOf(deskOf(of('lowpass', 'elliptic', 5)), 'slope');
    expect(nulls.freqHz).toBeGreaterThan(10e3);
  });
});

test(
  'at a null the predicted phase goes to the side that the built one does: no whole turn comes between ' + 'them',
  () => {
    const plan = { ...createPlan('p', 'lowpass', 'elliptic', 5, 3000), rippleDb: 0.5, attenuationDb: 50 };
    const design = lonePath({ plan }, { device: 'micropower-1mhz' });
    const desk = deskOf(design, { grid: { fromHz: 20, toHz: 40e3, points: 401 } });
    const apart = Array.from(desk.ideal.phaseDeg, (p, i) => Math.abs(p - desk.asBuilt.phaseDeg[i])).sort(
      (a, b) => a - b,
    );
    // But for the points between the two nulls, the ideal's and the built one's.
    expect(apart[Math.floor(0.97 * apart.length)]).toBeLessThan(120);
  },
);

test('every notch of a phaser is marked, where its all-passes have turned it over by odd half turns', () => {
  const design = lonePath({ topology: 'junction-fet-phaser', form: '6 stages', wanted: { cutoffHz: 700 } });
  const { marks } = deskOf(design);
  // N atan(f/f0) = 90° (2i − 1): six stages at tan 15°, tan 45°, tan 75°; the parts are of a series of five per cent.
  const notches = marks.filter((m) => m.kind === 'notch');
  expect(notches.map((m) => Math.log2(m.freqHz / 700))).toEqual(
    [15, 45, 75].map((deg) => expect.closeTo(Math.log2(Math.tan((deg * Math.PI) / 180)), 0)),
  );
  for (const { levelDb } of notches) expect(levelDb).toBeLessThan(-30);
});
