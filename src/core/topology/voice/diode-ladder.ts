import { diode } from '../../circuit/elements/diode';
import { drivenLadder } from './driven-ladder';
import { diodeRungs } from './ladder-drawing';

/** A small silicon diode: a share of its exponential's slope goes into its own middle. */
const SMALL_DIODE = { saturation: 2e-9, emission: 1.75, farad: 3e-12 };
/** Imaginary part of D(jx) + k is 10x − 7x³: none at x² = 10/7; its real part there is nought at k = 15x² − x⁴ − 1. */
const SINGS_TIMES = Math.sqrt(10 / 7);
const SINGS_AT = (15 * 10) / 7 - (10 / 7) ** 2 - 1;

/**
 * Diodes as rungs: each pair feels those above it, so the poles spread as those of an RC ladder driven by a current: D
 * = x⁴ + 7x³ + 15x² + 10x + 1, x = s/ω (own derivation, node by node).
 */
export const diodeLadder = drivenLadder(
  {
    id: 'diode-ladder',
    name: 'Diode ladder, four poles',
    shortName: 'Diode ladder',
    words: [
      'VCF',
      'ladder filter',
      'diode filter',
      'four poles',
      '18 dB/oct',
      '24 dB/oct',
      'acid',
      'voltage-controlled filter',
      'resonance',
      'synth filter',
    ],
    reason:
      'Eight diodes for eight transistors: its poles lie apart, so it closes gently first and steeply ' +
      'later, and it takes four times the feedback to sing.',
    cautions: [
      'It starts to close at about a tenth of the frequency at which it oscillates: the cutoff asked for is the ' +
        'singing one.',
      'At feedback 18.4 it oscillates, and its level has fallen by 26 dB by then: make it up.',
      'Diodes of one batch: what one side has over the other is a thump when the cutoff moves.',
    ],
    sources: [
      'P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 3.5: the pair',
      'own derivation of the ladder’s polynomial and of the loop',
    ],
  },
  {
    emission: SMALL_DIODE.emission,
    singsAt: SINGS_AT,
    singsTimes: SINGS_TIMES,
    feedback: { label: 'feedback, oscillates at 18.4', max: 25, initial: 9 },
    cutoffLabel: 'oscillates at, control half way',
    holders: { R11: 1000, R12: 1500 },
    loopTex: 'x^4 + 7x^3 + 15x^2 + 10x + 1 + k = 0 \\Rightarrow k = 18.4',
    drawn: diodeRungs(),
    railY: 2,
    place({ plus, reference, ideal, node, part, element }, side) {
      const model = [SMALL_DIODE.saturation, SMALL_DIODE.emission, ideal ? 0 : SMALL_DIODE.farad];
      // The top hangs below the rail, so that the followers have room; between its two sides it is no resistance at
      // all.
      part('R11', plus, node('top'));
      part('R12', node('top'), reference);
      for (const [letter, first] of [
        ['a', 1],
        ['d', 2],
      ] as const)
        for (let k = 0; k < 4; k++)
          element(`D${first + 2 * k}`, diode, [k === 3 ? node('top') : side(letter, k + 1), side(letter, k)], model);
    },
  },
);
