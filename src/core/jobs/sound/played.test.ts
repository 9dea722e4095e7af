import { FIRST_SEQUENCE, playedSchema, type Move, type Sequence } from '../../design/document/played';
import { must } from '../../result';
import { controlledDesign } from '../../testing/controlled-design';
import { otaOnePole } from '../../topology/voice/ota-one-pole';
import { builtVariant, IN_TIME } from '../reading/built-variant';
import { Instrument } from './instrument';
import { moveAt, MovedPlaces } from './moves';
import { evenNotes, noteHz, sequenceNotes, stepSeconds } from './notes';
import { Player } from './player';
import { placeOf } from './sounding-place';
import { RATE_HZ } from './rate';

const sequence = (steps: Sequence['steps'], gate = 0.5): Sequence => ({ bpm: 120, baseHz: 100, gate, steps });
const step = (semitones: number | null, accent = false, slide = false) => ({ semitones, accent, slide });

test('a sequence’s notes: sixteenths of its beat, rests left out, slides held into the next', () => {
  const of = sequence([step(0, true), step(null), step(12, false, true), step(7)]);
  expect(stepSeconds(of)).toBeCloseTo(0.125, 12);
  const notes = sequenceNotes(of, 2);
  expect(notes.map((n) => n.atS)).toEqual([0, 0.25, 0.375, 0.5, 0.75, 0.875]);
  expect(notes.map((n) => n.hz)).toEqual([100, 200, noteHz(100, 7), 100, 200, noteHz(100, 7)]);
  expect(notes.map((n) => n.lastsS)).toEqual([0.0625, 0.125, 0.0625, 0.0625, 0.125, 0.0625]);
  expect(notes.map((n) => n.slid)).toEqual([false, false, true, false, false, true]);
  expect(notes[0].level).toBe(1);
  expect(notes[1].level).toBeLessThan(1);
  // A slide out of the last step goes into the next round's first.
  expect(sequenceNotes(sequence([step(0), step(3, false, true)]), 2).map((n) => n.slid)).toEqual([
    false,
    false,
    true,
    false,
  ]);
  expect(evenNotes([110, 220], 0.5).map((n) => [n.atS, n.level])).toEqual([
    [0, 1],
    [0.5, 1],
  ]);
  expect(playedSchema.safeParse({ sequence: FIRST_SEQUENCE, moves: [] }).success).toBe(true);
  expect(playedSchema.safeParse({ sequence: { ...FIRST_SEQUENCE, steps: [] }, moves: [] }).success).toBe(false);
});

/** Frequency of a wave by its upward crossings. */
function hertzOf(wave: Float64Array, rate: number): number {
  const crossings: number[] = [];
  for (let i = 1; i < wave.length; i++)
    if (wave[i - 1] < 0 && wave[i] >= 0) crossings.push(i - wave[i] / (wave[i] - wave[i - 1]));
  return ((crossings.length - 1) * rate) / (crossings[crossings.length - 1] - crossings[0]);
}
const take = (instrument: Instrument, count: number) => Float64Array.from({ length: count }, () => instrument.next());
/** Where a wave best repeats itself near a period, in samples between which it is interpolated. */
function periodOf(wave: Float64Array, near: number): number {
  const likeness = (lag: number) => {
    let sum = 0;
    for (let i = 0; i + lag < wave.length; i++) sum += wave[i] * wave[i + lag];
    return sum / (wave.length - lag);
  };
  const lags = Array.from({ length: 9 }, (_, i) => Math.round(near) - 4 + i);
  const found = lags.map(likeness);
  const k = found.indexOf(Math.max(...found));
  const [a, b, c] = [likeness(lags[k] - 1), found[k], likeness(lags[k] + 1)];
  return lags[k] + (0.5 * (a - c)) / (a - 2 * b + c);
}

test.each([110, 233.08, 440])('a plucked string of %d Hz is in tune, dies away, and is silent at first', (hz) => {
  const instrument = new Instrument('plucked', RATE_HZ);
  expect(Math.max(...take(instrument, 100).map(Math.abs))).toBe(0);
  instrument.strike({ hz, level: 1, slid: false });
  const early = take(instrument, RATE_HZ / 2);
  expect(Math.max(...early.map(Math.abs))).toBeGreaterThan(0.8);
  // Within three cents, by where it best repeats.
  const ringing = early.slice(RATE_HZ / 10);
  expect(Math.abs(1200 * Math.log2(RATE_HZ / periodOf(ringing, RATE_HZ / hz) / hz))).toBeLessThan(3);
  instrument.release();
  take(instrument, 3 * RATE_HZ);
  expect(Math.max(...take(instrument, 1000).map(Math.abs))).toBeLessThan(0.1);
});

test('a wave glides into what slides and jumps to what is struck; let go it fades within milliseconds', () => {
  const rate = 2 * RATE_HZ;
  const instrument = new Instrument('saw', rate);
  instrument.strike({ hz: 200, level: 1, slid: false });
  expect(hertzOf(take(instrument, rate / 5), rate)).toBeCloseTo(200, 0);
  instrument.strike({ hz: 400, level: 1, slid: true });
  const sliding = hertzOf(take(instrument, rate / 20), rate);
  expect(sliding).toBeGreaterThan(220);
  expect(sliding).toBeLessThan(390);
  take(instrument, rate / 10);
  expect(hertzOf(take(instrument, rate / 5), rate)).toBeCloseTo(400, 0);
  instrument.release();
  take(instrument, rate / 100);
  expect(Math.max(...take(instrument, 100).map(Math.abs))).toBe(0);
});

test('a drum falls to its pitch and is over in a second', () => {
  const drum = new Instrument('drum', RATE_HZ);
  drum.strike({ hz: 60, level: 1, slid: false });
  const begun = take(drum, RATE_HZ / 5);
  const later = take(drum, RATE_HZ / 5);
  expect(hertzOf(begun.subarray(0, 1500), RATE_HZ)).toBeGreaterThan(90);
  expect(hertzOf(later, RATE_HZ)).toBeCloseTo(60, 0);
  take(drum, RATE_HZ);
  expect(Math.max(...take(drum, 100).map(Math.abs))).toBeLessThan(0.01);
});

test('no step of a sequence is early or late, to the sample, round after round', () => {
  const rate = RATE_HZ;
  const player = new Player(
    'drum',
    100,
    { kind: 'sequence', of: sequence([step(0), step(null), step(0), step(5, true)]) },
    rate,
  );
  player.begin();
  const struckAt: number[] = [];
  let before = -1;
  for (let i = 0; i < rate; i++) {
    player.next();
    if (player.struck && player.struck.atS !== before) {
      struckAt.push(Math.round((before = player.struck.atS) * rate));
    }
  }
  const round = rate / 2;
  expect(struckAt).toEqual(
    [0, 0.25, 0.375].flatMap((s) => [s * rate]).concat([round, round + 0.25 * rate, round + 0.375 * rate]),
  );
});

test('keys: struck, and silent once let go', () => {
  const player = new Player('square', 100, { kind: 'keys' }, RATE_HZ);
  player.begin();
  const listen = () => Math.max(...Array.from({ length: 2000 }, () => Math.abs(player.next())));
  expect(listen()).toBe(0);
  player.key(300, 0.5);
  expect(listen()).toBeGreaterThan(0.4);
  expect(player.struck).toMatchObject({ accent: false });
  player.key(null, 1);
  listen();
  expect(listen()).toBe(0);
});

const envelope: Move = {
  controlId: 'x',
  depth: 0.4,
  by: { kind: 'envelope', attackS: 0.01, decayS: 0.1, accent: 0.5 },
};

test('an envelope rises straight, falls by e in its time, further on an accent; oscillations swing both ways', () => {
  const at = (timeS: number, accent = false) => moveAt(envelope, timeS, { atS: 1, accent });
  expect(at(0.9)).toBe(0);
  expect(at(1.005)).toBeCloseTo(0.2, 12);
  expect(at(1.01)).toBeCloseTo(0.4, 12);
  expect(at(1.11) / at(1.01)).toBeCloseTo(Math.exp(-1), 12);
  expect(at(1.01, true)).toBeCloseTo(0.6, 12);
  expect(moveAt(envelope, 5, null)).toBe(0);
  const swing = (shape: 'sine' | 'triangle' | 'square', timeS: number) =>
    moveAt({ controlId: 'x', depth: 0.2, by: { kind: 'oscillation', hz: 2, shape } }, timeS, null);
  expect([0, 0.125, 0.375].map((t) => swing('sine', t))).toEqual([0, 0.2, -0.2].map((v) => expect.closeTo(v, 12)));
  expect([0, 0.125, 0.25, 0.375].map((t) => swing('triangle', t))).toEqual(
    [0, 0.2, 0, -0.2].map((v) => expect.closeTo(v, 12)),
  );
  expect([0.1, 0.3].map((t) => swing('square', t))).toEqual([0.2, -0.2]);
});

test('moved places are those of the circuit with its control there, two controls at once each in its place', () => {
  const design = controlledDesign(otaOnePole, 'exponential-converter');
  const [variant] = design.variants;
  const [pitch, knob] = ['Pitch CV', 'Cutoff'].map((name) => variant.controls.find((c) => c.name === name)!.id);
  const built = must(builtVariant(design, variant.id, IN_TIME));
  const still: Move = { controlId: pitch, depth: 0.25, by: { kind: 'oscillation', hz: 1, shape: 'square' } };
  const places = MovedPlaces.of(design, variant, built, [still], 33);
  const there = must(
    builtVariant(
      {
        ...design,
        variants: [
          { ...variant, controls: variant.controls.map((c) => (c.id === pitch ? { ...c, position: 0.75 } : c)) },
        ],
      },
      variant.id,
      IN_TIME,
    ),
  );
  const moved = places.at(placeOf(built), 0.1, null);
  moved.values.forEach((v, i) => expect(v).toBeCloseTo(placeOf(there).values[i], 9));
  expect(MovedPlaces.of(design, variant, built, [{ ...still, controlId: 'nobody' }], 33).isStill).toBe(true);
  // Two at once: what both come to is what the circuit is with both there.
  const both = must(
    builtVariant(
      {
        ...design,
        variants: [
          {
            ...variant,
            controls: variant.controls.map((c) => (c.id === pitch || c.id === knob ? { ...c, position: 0.75 } : c)),
          },
        ],
      },
      variant.id,
      IN_TIME,
    ),
  );
  const together = MovedPlaces.of(design, variant, built, [still, { ...still, controlId: knob }], 33);
  // Within fourteen cents: what base currents take of one, the other does not know.
  const { values } = together.at(placeOf(built), 0.1, null);
  placeOf(both).values.forEach((v, i) => expect(Math.abs(values[i] - v)).toBeLessThanOrEqual(0.008 * Math.abs(v)));
});
