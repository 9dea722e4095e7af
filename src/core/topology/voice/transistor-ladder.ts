import { npn } from '../../circuit/elements/bipolar';
import { drivenLadder } from './driven-ladder';
import { transistorRungs } from './ladder-drawing';

/**
 * Emitters as rungs: each pair hands the whole current on and sees nothing of what stands above it, so the four poles
 * are equal and (1 + s/ω)⁴ + k has its poles on the axis at k = 4, ω.
 */
export const transistorLadder = drivenLadder(
  {
    id: 'transistor-ladder',
    name: 'Transistor ladder, four poles',
    shortName: 'Ladder',
    words: [
      'VCF',
      'ladder filter',
      'four poles',
      '24 dB/oct',
      'voltage-controlled filter',
      'resonance',
      'self-oscillation',
      'synth filter',
    ],
    reason: 'Ten transistors and four capacitors: 24 dB an octave from one current, bending softly, singing cleanly.',
    cautions: [
      'Pairs want to be alike: what one base has over the other is a thump when the cutoff moves.',
      'At feedback 4 it oscillates; its level falls by 1 + feedback on the way.',
      'Its input bears some tens of millivolts between the bases before it bends.',
    ],
    sources: [
      'P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 3.5: the pair',
      'own derivation of the four equal poles and of the loop',
    ],
  },
  {
    emission: 1,
    singsAt: 4,
    singsTimes: 1,
    feedback: { label: 'feedback, oscillates at 4', max: 6, initial: 2 },
    cutoffLabel: 'cutoff, control half way',
    holders: { R11: 3900, R12: 390, R13: 390, R14: 390, R15: 1000 },
    loopTex: '(1 + s/\\omega)^4 + k = 0 \\Rightarrow k = 4',
    drawn: transistorRungs(),
    railY: 8,
    place({ plus, reference, node, part, element }, side, transistor) {
      for (let k = 0; k < 4; k++) {
        element(`Q${3 + 2 * k}`, npn, [side('a', k + 1), node(`k${k}`), side('a', k)], transistor);
        element(`Q${4 + 2 * k}`, npn, [side('d', k + 1), node(`k${k}`), side('d', k)], transistor);
      }
      part('R11', plus, node('k3'));
      part('R12', node('k3'), node('k2'));
      part('R13', node('k2'), node('k1'));
      part('R14', node('k1'), node('k0'));
      part('R15', node('k0'), reference);
    },
  },
);
