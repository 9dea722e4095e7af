import { defineNetwork } from '../kit/define-network';
import { LEVEL_OHM } from '../kit/design-context';
import { BLOCK, finished, invertingBlock, sketch } from '../kit/drawing-blocks';
import { across } from '../kit/drawing';
import type { ParameterSpec } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'unityHz', label: 'gain one at', kind: 'frequency', min: 1e-2, max: 1e6, initial: 1000 },
  { name: 'limitHz', label: 'limited above', kind: 'frequency', min: 1e-1, max: 1e8, initial: 20e3 },
];
/** It passes one at 1/(2π R2 C1), and stops rising at 1/(2π R1 C1), at R2/R1. */
const measures = ({ R1, R2, C1 }: PartValues) => ({
  unityHz: 1 / (2 * Math.PI * R2 * C1),
  limitHz: 1 / (2 * Math.PI * R1 * C1),
});

export const differentiatorWithLimit = defineNetwork({
  id: 'differentiator-with-limit',
  name: 'Differentiator with limit',
  shortName: 'Differentiator',
  words: ['differentiator', 'edge', 'high-pass with gain', 'calculus'],
  family: 'op-amp',
  parameters: PARAMETERS,
  polarity: -1,
  opAmps: () => 1,
  reason: 'Rises 6 dB an octave, up to a limit: without one it would sing and amplify every hiss.',
  cautions: [
    'Keep the limit well under the op-amp’s gain-bandwidth over R2/R1.',
    'It turns the signal over, and shows its source a capacitor.',
  ],
  sources: ['U. Tietze, C. Schenk, Electronic Circuits, 2nd ed., 11.5; −Zf/Zi'],
  parts: () => [
    { name: 'C1', kind: 'capacitor', role: 'in line: differentiates', leaveOut: 'open' },
    { name: 'R1', kind: 'resistor', role: 'in line: limits', leaveOut: 'short' },
    { name: 'R2', kind: 'resistor', role: 'fed back', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const C1 = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(wanted.unityHz))
      : 1 / (2 * Math.PI * wanted.unityHz * context.resistor('R2', LEVEL_OHM));
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { R1: 1 / (2 * Math.PI * wanted.limitHz * C1), C1, R2: 1 / (2 * Math.PI * wanted.unityHz * C1) },
      [context.capacitorsFirst ? 'C1' : 'R2'],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  figures: [{ label: 'most gain', kind: 'decibel', of: (_form, { R1, R2 }) => 20 * Math.log10(R2 / R1) }],
  transfer: (_form, { R1, R2, C1 }) => ({ numerator: [0, -R2 * C1], denominator: [1, R1 * C1] }),
  build({ input, output, reference, node, part, opAmp }) {
    const [n, i] = [node('n'), node('i')];
    part('C1', input, i);
    part('R1', i, n);
    part('R2', n, output);
    opAmp('U1', reference, n, output);
  },
  working: (_form, parts) => [
    { says: 'gain one at', tex: 'f_1 = \\frac{1}{2\\pi R_2 C_1}', value: format.hertz(measures(parts).unityHz) },
    { says: 'limited above', tex: 'f_2 = \\frac{1}{2\\pi R_1 C_1}', value: format.hertz(measures(parts).limitHz) },
    { says: 'most gain', tex: '-\\frac{R_2}{R_1}', value: `−${format.ratio(parts.R2 / parts.R1)}` },
  ],
  drawing() {
    const drawn = sketch();
    drawn.parts.push(across('C1', 'capacitor', 4, 9));
    drawn.wires.push(
      [
        [0, 9],
        [2, 9],
      ],
      [
        [6, 9],
        [8, 9],
      ],
    );
    const block = invertingBlock(drawn, 8, 9, 'U1', ['R1', 'resistor'], [['R2', 'resistor']]);
    return finished(drawn, 8 + BLOCK + 5, 17, [0, 9], block.out);
  },
});
