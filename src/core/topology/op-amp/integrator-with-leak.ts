import { defineNetwork } from '../kit/define-network';
import { LEVEL_OHM } from '../kit/design-context';
import { finished, invertingBlock, sketch } from '../kit/drawing-blocks';
import type { ParameterSpec } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'unityHz', label: 'gain one at', kind: 'frequency', min: 1e-2, max: 1e7, initial: 1000 },
  { name: 'leakHz', label: 'leaks below', kind: 'frequency', min: 1e-3, max: 1e6, initial: 10 },
];
/** Without the leak it would pass one at 1/(2π R1 C1); what leaks is DC gain R2/R1, from 1/(2π R2 C1) down. */
const measures = ({ R1, R2, C1 }: PartValues) => ({
  unityHz: 1 / (2 * Math.PI * R1 * C1),
  leakHz: 1 / (2 * Math.PI * R2 * C1),
});

export const integratorWithLeak = defineNetwork({
  id: 'integrator-with-leak',
  name: 'Integrator with leak',
  shortName: 'Integrator',
  words: ['integrator', 'ramp', 'lossy integrator', 'low-pass with gain', 'calculus'],
  family: 'op-amp',
  parameters: PARAMETERS,
  polarity: -1,
  opAmps: () => 1,
  reason: 'Falls 6 dB an octave over all the band; the leak keeps offset and bias from running into the rail.',
  cautions: ['Offset comes out R2/R1 times: keep the leak no lower than you need.', 'It turns the signal over.'],
  sources: ['U. Tietze, C. Schenk, Electronic Circuits, 2nd ed., 11.4; −Zf/Zi'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line: how quickly it integrates', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'integrates', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'leaks', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const C1 = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(wanted.unityHz))
      : 1 / (2 * Math.PI * wanted.unityHz * context.resistor('R1', LEVEL_OHM));
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { R1: 1 / (2 * Math.PI * wanted.unityHz * C1), C1, R2: 1 / (2 * Math.PI * wanted.leakHz * C1) },
      [context.capacitorsFirst ? 'C1' : 'R1'],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  figures: [{ label: 'gain at DC', kind: 'decibel', of: (_form, { R1, R2 }) => 20 * Math.log10(R2 / R1) }],
  transfer: (_form, { R1, R2, C1 }) => ({ numerator: [-R2 / R1], denominator: [1, R2 * C1] }),
  build({ input, output, reference, node, part, opAmp }) {
    const n = node('n');
    part('R1', input, n);
    part('C1', n, output);
    part('R2', n, output);
    opAmp('U1', reference, n, output);
  },
  working: (_form, parts) => [
    { says: 'gain one at', tex: 'f_1 = \\frac{1}{2\\pi R_1 C_1}', value: format.hertz(measures(parts).unityHz) },
    { says: 'leaks below', tex: 'f_2 = \\frac{1}{2\\pi R_2 C_1}', value: format.hertz(measures(parts).leakHz) },
    { says: 'gain at DC', tex: '-\\frac{R_2}{R_1}', value: `−${format.ratio(parts.R2 / parts.R1)}` },
  ],
  drawing() {
    const drawn = sketch();
    const block = invertingBlock(
      drawn,
      2,
      13,
      'U1',
      ['R1', 'resistor'],
      [
        ['C1', 'capacitor'],
        ['R2', 'resistor'],
      ],
    );
    drawn.wires.push([
      [0, 13],
      [2, 13],
    ]);
    return finished(drawn, 22, 21, [0, 13], block.out);
  },
});
