import { decibels, fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import { buildLadder, drawLadder, inLine } from '../kit/ladder';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'stepDb', label: 'step', kind: 'decibel', min: 0.2, max: 12, initial: 4 },
  { name: 'centreHz', label: 'half way at', kind: 'frequency', min: 20, max: 2e4, initial: 550 },
  { name: 'ohm', label: 'works against', kind: 'resistance', min: 0.5, max: 1000, initial: 8 },
];
const ARMS = [inLine('L1', 'R1')];

/**
 * Coil and resistor side by side before Z: zero at R/L, pole at RZ/((R + Z) L); half of the decibels lie at their
 * geometric mean.
 */
function measures({ R1, L1 }: PartValues, { ohm }: Parameters): Parameters {
  return {
    stepDb: decibels((ohm + R1) / ohm),
    centreHz: ((R1 / L1) * Math.sqrt(ohm / (ohm + R1))) / (2 * Math.PI),
    ohm,
  };
}

export const baffleStep = defineNetwork({
  id: 'baffle-step',
  name: 'Baffle-step shelf',
  shortName: 'Baffle step',
  words: ['baffle diffraction', 'shelf', 'bass step', 'cabinet edge', 'contour'],
  family: 'loudspeaker',
  parameters: PARAMETERS,
  load: ({ ohm }) => ({ ohm }),
  reason:
    'Below the frequency where the cabinet’s front is half a wave wide the sound goes round behind; the ' +
    'shelf takes the top down to match what is left below.',
  cautions: [
    'The whole step is 6 dB in the open; near a wall 3 or 4 are enough.',
    'It costs its decibels of sensitivity.',
  ],
  sources: ['H. F. Olson, Direct Radiator Loudspeaker Enclosures, J. AES 17, 1969', 'own derivation of the shelf'],
  parts: () => [
    { name: 'L1', kind: 'inductor', role: 'passes the bottom', leaveOut: 'open' },
    { name: 'R1', kind: 'resistor', role: 'passes the top, less the step', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const R1 = wanted.ohm * (fromDecibels(wanted.stepDb) - 1);
    const L1 = (R1 / (2 * Math.PI * wanted.centreHz)) * Math.sqrt(wanted.ohm / (wanted.ohm + R1));
    return context.meetParameters(PARAMETERS.slice(0, 2), wanted, { L1, R1 }, [], (parts) => measures(parts, wanted));
  },
  measures: (_form, parts, parameters) => measures(parts, parameters),
  transfer: (_form, { R1, L1 }, { ohm }) => ({
    numerator: [ohm * R1, ohm * L1],
    denominator: [ohm * R1, (ohm + R1) * L1],
  }),
  arms: () => ARMS,
  build: (context) => buildLadder(context, ARMS),
  working: (_form, parts, wanted) => [
    {
      says: 'step',
      tex: '20\\log\\frac{Z + R_1}{Z}',
      value: `${format.ratio(measures(parts, wanted).stepDb)}\u202fdB`,
    },
    {
      says: 'half way',
      tex: 'f = \\frac{R_1}{2\\pi L_1}\\sqrt{\\frac{Z}{Z + R_1}}',
      value: format.hertz(measures(parts, wanted).centreHz),
    },
  ],
  drawing: () => drawLadder(ARMS),
});
