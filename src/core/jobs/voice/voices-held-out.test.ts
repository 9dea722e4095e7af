import { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { createNetwork } from '../../design/making/create';
import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import { deckByHand } from '../../testing/deck-by-hand';
import { commonEmitter } from '../../topology/voice/stage/common-emitter';
import type { NetworkTopology } from '../../topology/kit/define-topology';
import { diodeBandPass } from '../../topology/voice/diode-band-pass';
import { diodeLadder } from '../../topology/voice/diode-ladder';
import { diodeLegs } from '../../topology/voice/diode-legs';
import { emitterFollower } from '../../topology/voice/stage/emitter-follower';
import { base, makeId } from '../../topology/testing/designed-network';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import { wahInductor } from '../../topology/voice/wah-inductor';
import { wahInductorless } from '../../topology/voice/wah-inductorless';
import { runOperatingPoint, runResponse } from '../deck/deck-analyses';
import { designDeck } from '../deck/deck-jobs';

const BATTERY: Design['brief']['supply'] = { kind: 'single', volts: 9, virtualGroundOhm: 47 };
const FREQS = [33, 210, 640, 1500, 4700, 15e3];

/** Values off every default, a control off its middle. */
function pathOf(
  topology: NetworkTopology,
  form: string,
  parameters: Record<string, number>,
  position: number,
  supply: Design['brief']['supply'] = BATTERY,
): Design {
  const { stage, controls } = createNetwork(topology, makeId, { form, parameters });
  return {
    ...base,
    brief: { ...base.brief, supply },
    variants: base.variants.map((v) => ({
      ...v,
      controls: controls.map((c) => ({ ...c, position })),
      ways: v.ways.map((w) => ({ ...w, stages: [stage] })),
    })),
  };
}

const CASES: [string, Design][] = [
  [
    'transistor ladder',
    pathOf(transistorLadder, 'low-pass', { cutoffHz: 640, feedback: 1.7 }, 0.61, { kind: 'dual', volts: 9 }),
  ],
  ['diode ladder', pathOf(diodeLadder, 'low-pass', { cutoffHz: 1100, feedback: 6 }, 0.4, { kind: 'dual', volts: 12 })],
  [
    'diode legs, low-pass',
    pathOf(diodeLegs, 'low-pass', { padDb: -17, cutoffHz: 730, shelfDb: -26, turnHz: 600 }, 0.33),
  ],
  [
    'diode legs, high-pass',
    pathOf(diodeLegs, 'high-pass', { padDb: -11, cutoffHz: 600, shelfDb: -32, turnHz: 410 }, 0.7),
  ],
  ['one op-amp with diodes', pathOf(diodeBandPass, 'diode pair', { cutoffHz: 930, q: 5, gain: 0.4 }, 0.55)],
  ['one op-amp with LEDs', pathOf(diodeBandPass, 'LED pair', { cutoffHz: 520, q: 2, gain: 0.9 }, 0.45)],
  [
    'common emitter',
    pathOf(
      commonEmitter,
      'divider',
      { collectorAmps: 0.8e-3, emitterVolts: 0.9, gain: 22, stiffness: 9, lowestHz: 40, loadOhm: 33e3 },
      0.5,
    ),
  ],
  [
    'common emitter, bootstrapped',
    pathOf(
      commonEmitter,
      'bootstrapped',
      { collectorAmps: 0.35e-3, emitterVolts: 1.3, gain: 4.5, stiffness: 15, lowestHz: 25, loadOhm: 100e3 },
      0.5,
    ),
  ],
  [
    'follower, bootstrapped',
    pathOf(
      emitterFollower,
      'bootstrapped',
      { collectorAmps: 1.4e-3, emitterVolts: 3.6, stiffness: 7, lowestHz: 35, loadOhm: 4.7e3 },
      0.5,
    ),
  ],
  ['wah with a coil', pathOf(wahInductor, 'normal', { heelHz: 350, toeHz: 1700, q: 9 }, 0.22)],
  ['wah without a coil', pathOf(wahInductorless, 'normal', { heelHz: 500, toeHz: 2200, q: 1.3, gain: 1.4 }, 0.8)],
  ...demoDesigns()
    .filter((d) => d.title.startsWith('Stopped flute'))
    .flatMap((d) =>
      d.variants.map((v): [string, Design] => [`the stopped flute, ${v.label}`, { ...d, currentVariant: v.id }]),
    ),
];

describe.each(CASES)('%s', (_, design) => {
  const variant = design.variants.find((v) => v.id === design.currentVariant)!;
  const deck = must(designDeck(design, variant, AS_BUILT)).deck;
  const hand = deckByHand(deck);

  test('rests as a solver does that shares nothing with the engine', () => {
    const { nodes } = must(runOperatingPoint({ kind: 'operating-point', deck }));
    for (const [node, volts] of Object.entries(hand.rest))
      expect(Math.abs(nodes[node] - volts)).toBeLessThan(2e-6 * Math.max(1, Math.abs(volts)));
  });

  test('its small signal, compiled and as a deck, is that solver’s within a hundredth of a decibel', () => {
    const built = must(compile(design, variant, AS_BUILT));
    const [h] = must(new AcSolver().sweep(built.circuit, Float64Array.from(FREQS), [built.ways[0].output]));
    const read = must(
      runResponse({ kind: 'response', deck, probe: 'out', freqHz: Float64Array.from(FREQS) }, new AcSolver()),
    );
    FREQS.forEach((freqHz, i) => {
      const { re, im } = hand.response('out', freqHz);
      const level = 10 * Math.log10(re * re + im * im);
      expect(Math.abs(10 * Math.log10(h[2 * i] ** 2 + h[2 * i + 1] ** 2) - level)).toBeLessThan(0.01);
      expect(Math.abs(read.levelDb[i] - level)).toBeLessThan(0.01);
      // And its phase: the two point the same way.
      expect(
        (h[2 * i] * re + h[2 * i + 1] * im) / (Math.hypot(h[2 * i], h[2 * i + 1]) * Math.hypot(re, im)),
      ).toBeCloseTo(1, 5);
    });
  });
});
