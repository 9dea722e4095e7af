import { AS_BUILT } from '../../design/compiled/compile';
import { must } from '../../result';
import { controlledDesign } from '../../testing/controlled-design';
import { deckByHand } from '../../testing/deck-by-hand';
import { diodeLegs } from '../../topology/voice/diode-legs';
import { otaCascade } from '../../topology/voice/ota-cascade';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import { variantDeck } from '../deck/variant-deck';
import { turned } from '../network/turn';
import { runVoltsPerOctave, type VoltsPerOctave } from './volts-per-octave';
import type { Design } from '../../design/document/schema';

const lawOf = (design: Design): VoltsPerOctave =>
  must(runVoltsPerOctave({ kind: 'volts-per-octave', design, variantId: design.currentVariant }))!;
const ladder = (form: string) =>
  controlledDesign(transistorLadder, 'exponential-converter', { form, parameters: { cutoffHz: 400, feedback: 2 } });

interface Complex {
  readonly re: number;
  readonly im: number;
}
const times = (a: Complex, b: Complex): Complex => ({ re: a.re * b.re - a.im * b.im, im: a.re * b.im + a.im * b.re });
const over = (a: Complex, b: Complex): Complex => {
  const square = b.re ** 2 + b.im ** 2;
  return { re: (a.re * b.re + a.im * b.im) / square, im: (a.im * b.re - a.re * b.im) / square };
};
const less = (a: Complex, b: Complex): Complex => ({ re: a.re - b.re, im: a.im - b.im });
/** (1 + s/ω)⁴ + 2 is nothing at −1 + ⁴√2 e^{jπ/4} of ω: where the search begins, as an angle. */
const FIRST_ANGLE = Math.atan2(2 ** 0.25 * Math.SQRT1_2, 2 ** 0.25 * Math.SQRT1_2 - 1);

/** The natural frequency of a deck of the whole circuit, by hand: where its reciprocal is nothing, by secants. */
function naturalHz(deck: string, temperatureC: number, near: number): number {
  const solved = deckByHand(deck, temperatureC);
  const reciprocal = ({ re, im }: Complex) => over({ re: 1, im: 0 }, solved.response('out', im / (2 * Math.PI), re));
  const at = (size: number): Complex => ({
    re: 2 * Math.PI * size * Math.cos(FIRST_ANGLE),
    im: 2 * Math.PI * size * Math.sin(FIRST_ANGLE),
  });
  let [before, now] = [at(near * 1.02), at(near * 0.99)];
  let [fBefore, fNow] = [reciprocal(before), reciprocal(now)];
  for (
    let i = 0;
    i < 40 && Math.hypot(now.re - before.re, now.im - before.im) > 1e-9 * Math.hypot(now.re, now.im);
    i++
  ) {
    const next = less(now, over(times(fNow, less(now, before)), less(fNow, fBefore)));
    [before, now] = [now, next];
    [fBefore, fNow] = [fNow, reciprocal(now)];
  }
  return Math.hypot(now.re, now.im) / (2 * Math.PI);
}

const cents = (a: number, b: number): number => 1200 * Math.log2(a / b);

test('the whole chain, volts to cutoff, warm and cold, is what a solver of its deck that shares nothing finds', () => {
  const design = ladder('tempco resistor');
  const law = lawOf(design);
  const [variant] = design.variants;
  const pitch = variant.ways[0].stages[0].parts.Jc1.control!;
  if (pitch.kind !== 'voltage') throw new Error('no jack');
  const byHand = (volts: number, temperatureC: number): number => {
    const position = (volts - pitch.fromVolts) / (pitch.toVolts - pitch.fromVolts);
    const deck = must(variantDeck(design, turned(variant, pitch.control, { position }), { ...AS_BUILT, temperatureC }));
    return naturalHz(deck, temperatureC, law.points.find((p) => p.volts === 0)!.freqHz * 2 ** volts);
  };
  const zero = byHand(0, 27);
  for (const volts of [-2, 2]) {
    const ours = law.points.find((p) => Math.abs(p.volts - volts) < 1e-9)!;
    expect(cents(byHand(volts, 27), zero) - 1200 * volts - ours.cents).toBeLessThan(0.5);
    expect(cents(byHand(volts, 27), zero) - 1200 * volts - ours.cents).toBeGreaterThan(-0.5);
  }
  const two = byHand(2, 27);
  for (const temperatureC of [17, 37]) {
    const [atNothing, atTwo] = law.drift.find((d) => d.temperatureC === temperatureC)!.cents;
    expect(Math.abs(cents(byHand(0, temperatureC), zero) - atNothing)).toBeLessThan(0.5);
    expect(Math.abs(cents(byHand(2, temperatureC), two) - atTwo)).toBeLessThan(0.5);
  }
});

test('two octaves up, a plain resistor drifts as kT/q; a tempco and a warm pair do not', () => {
  // The interval itself: what the pair's kT/q takes of two octaves for ten degrees, less what the voice has anyway.
  const interval = (form: string) => {
    const [atNothing, atTwo] = lawOf(ladder(form)).drift.find((d) => d.temperatureC === 37)!.cents;
    return atTwo - atNothing;
  };
  expect(Math.abs(interval('plain resistor') + 2400 * (10 / 310.15))).toBeLessThan(1.5);
  expect(Math.abs(interval('tempco resistor'))).toBeLessThan(2);
  expect(Math.abs(interval('heated pair'))).toBeLessThan(1);
});

test('with both trimmers where they are said to belong, it is in tune at every volt that is read', () => {
  const design = controlledDesign(otaCascade, 'exponential-converter', { parameters: { cutoffHz: 400, feedback: 1 } });
  const { trim, scale, stageId } = lawOf(design);
  expect(trim!.parts.map((p) => p.part)).toEqual(['Rc4', 'Rc7']);
  for (const { ohm, lowOhm, highOhm } of trim!.parts) {
    expect(ohm).toBeGreaterThan(lowOhm);
    expect(ohm).toBeLessThan(highOhm);
  }
  expect(scale!.measured).not.toBeCloseTo(1, 4);
  const trimmed: Design = {
    ...design,
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((w) => ({
        ...w,
        stages: w.stages.map((s) =>
          s.id !== stageId
            ? s
            : {
                ...s,
                parts: {
                  ...s.parts,
                  ...Object.fromEntries(
                    trim!.parts.map(({ part, ohm, fixedOhm }) => [
                      part,
                      { ...s.parts[part], use: { kind: 'series' as const, values: [fixedOhm, ohm - fixedOhm] } },
                    ]),
                  ),
                },
              },
        ),
      })),
    })),
  };
  const after = lawOf(trimmed).trim!;
  for (const { volts, nowHz, wantedHz } of after.readings) {
    expect(Math.abs(cents(nowHz, wantedHz))).toBeLessThan(Math.abs(volts) > 1 ? 6 : 1);
    // The target is what the trimmed circuit shows: an octave a volt to a few cents.
    expect(wantedHz / after.readings[1].wantedHz / 2 ** volts).toBeCloseTo(1, 2);
  }
});

test('a linear chain moves diodes by its volts, from nothing at the knob’s end; a bare current has no volts', () => {
  const law = lawOf(
    controlledDesign(diodeLegs, 'linear-converter', { supply: { kind: 'single', volts: 9, virtualGroundOhm: 10 } }),
  );
  expect(law.scale).toBeNull();
  expect(law.trim).toBeNull();
  const first = law.points[0].amps;
  // Two volts are what brings the middle again.
  const doubled = law.points[law.points.length - 1];
  expect((doubled.amps - first) / first / (doubled.volts / 2)).toBeGreaterThan(0.95);
  expect((doubled.amps - first) / first / (doubled.volts / 2)).toBeLessThan(1.05);
  expect(law.points.every((p, i) => i === 0 || p.amps > law.points[i - 1].amps)).toBe(true);
});
