import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { buildLadder, drawLadder, inLine, stacked } from '../kit/ladder';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const ARMS = [inLine('R1'), stacked('R2', 'C1')];
const PARAMETERS: ParameterSpec[] = [
  { name: 'centreHz', label: 'most lag at', kind: 'frequency', min: 1e-3, max: 1e8, initial: 1000 },
  { name: 'lagDeg', label: 'lag there', kind: 'degree', min: 1, max: 85, initial: 45 },
];
const RAD = Math.PI / 180;

/** Most lag lies half way (in octaves) between pole and zero: sin φ = (1 − a)/(1 + a), a = R2/(R1 + R2). */
function measures({ R1, R2, C1 }: PartValues): Record<'centreHz' | 'lagDeg', number> {
  const a = R2 / (R1 + R2);
  return { centreHz: Math.sqrt(a) / (2 * Math.PI * R2 * C1), lagDeg: Math.asin((1 - a) / (1 + a)) / RAD };
}

export const lagNetwork = defineNetwork({
  id: 'lag-network',
  name: 'Lag network',
  shortName: 'Lag',
  words: ['phase lag', 'compensation', 'shelf', 'step network'],
  family: 'rc',
  parameters: PARAMETERS,
  reason: 'A low-pass that stops falling: R2 keeps a floor under the highs, and the phase comes back.',
  cautions: ['What it drives loads R1 at all frequencies: read the joint.'],
  sources: ['G. F. Franklin, J. D. Powell, A. Emami-Naeini, Feedback Control of Dynamic Systems, 6.7'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line', leaveOut: 'short' },
    { name: 'R2', kind: 'resistor', role: 'the floor under the highs', leaveOut: 'short' },
    { name: 'C1', kind: 'capacitor', role: 'takes the highs to R2', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const a = (1 - Math.sin(wanted.lagDeg * RAD)) / (1 + Math.sin(wanted.lagDeg * RAD));
    // The pole, (R1 + R2) C1, and its share R2 C1.
    const tau = 1 / (2 * Math.PI * wanted.centreHz * Math.sqrt(a));
    const C1 = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(1 / (2 * Math.PI * tau)))
      : (tau * (1 - a)) / context.resistor('R1', 10e3);
    const R1 = (tau * (1 - a)) / C1;
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { R1, R2: (tau * a) / C1, C1 },
      [context.capacitorsFirst ? 'C1' : 'R1'],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  transfer: (_form, { R1, R2, C1 }) => ({ numerator: [1, R2 * C1], denominator: [1, (R1 + R2) * C1] }),
  build: (context) => buildLadder(context, ARMS),
  working(_form, parts) {
    const { R1, R2, C1 } = parts;
    const got = measures(parts);
    return [
      {
        says: 'pole',
        tex: 'f_p = \\frac{1}{2\\pi (R_1 + R_2) C_1}',
        value: format.hertz(1 / (2 * Math.PI * (R1 + R2) * C1)),
      },
      { says: 'zero', tex: 'f_z = \\frac{1}{2\\pi R_2 C_1}', value: format.hertz(1 / (2 * Math.PI * R2 * C1)) },
      { says: 'highs pass', tex: 'a = \\frac{R_2}{R_1 + R_2}', value: format.decibel(20 * Math.log10(R2 / (R1 + R2))) },
      {
        says: 'most lag',
        tex: '\\sin\\varphi = \\frac{1-a}{1+a},\\quad f = \\sqrt{f_p f_z}',
        value: `${format.degree(got.lagDeg)} at ${format.hertz(got.centreHz)}`,
      },
    ];
  },
  drawing: () => drawLadder(ARMS),
});
