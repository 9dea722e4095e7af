import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { buildLadder, drawLadder, inLine, toGround } from '../kit/ladder';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const ARMS = [inLine('R1', 'C1'), toGround('R2')];
const PARAMETERS: ParameterSpec[] = [
  { name: 'centreHz', label: 'most lead at', kind: 'frequency', min: 1e-3, max: 1e8, initial: 1000 },
  { name: 'leadDeg', label: 'lead there', kind: 'degree', min: 1, max: 85, initial: 45 },
];
const RAD = Math.PI / 180;

/** Most lead lies half way (in octaves) between zero and pole: sin φ = (1 − a)/(1 + a), a = R2/(R1 + R2). */
function measures({ R1, R2, C1 }: PartValues): Record<'centreHz' | 'leadDeg', number> {
  const a = R2 / (R1 + R2);
  return { centreHz: 1 / (2 * Math.PI * R1 * C1 * Math.sqrt(a)), leadDeg: Math.asin((1 - a) / (1 + a)) / RAD };
}

export const leadNetwork = defineNetwork({
  id: 'lead-network',
  name: 'Lead network',
  shortName: 'Lead',
  words: ['phase lead', 'compensation', 'speed-up'],
  family: 'rc',
  parameters: PARAMETERS,
  reason:
    'A divider whose upper resistor is bridged by a capacitor: highs pass whole, lows are divided, and ' +
    'in between the output leads.',
  cautions: [
    'What it drives belongs to R2: read the joint.',
    'It lifts highs and noise by as much as it lowers the lows.',
  ],
  sources: ['G. F. Franklin, J. D. Powell, A. Emami-Naeini, Feedback Control of Dynamic Systems, 6.7'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'upper leg', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'lets the highs past R1', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'lower leg', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const a = (1 - Math.sin(wanted.leadDeg * RAD)) / (1 + Math.sin(wanted.leadDeg * RAD));
    const tau = 1 / (2 * Math.PI * wanted.centreHz * Math.sqrt(a));
    const C1 = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(1 / (2 * Math.PI * tau)))
      : tau / context.resistor('R1', 10e3);
    const R1 = tau / C1;
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { R1, C1, R2: (a * R1) / (1 - a) },
      [context.capacitorsFirst ? 'C1' : 'R1'],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  transfer: (_form, { R1, R2, C1 }) => ({ numerator: [R2, R1 * R2 * C1], denominator: [R1 + R2, R1 * R2 * C1] }),
  build: (context) => buildLadder(context, ARMS),
  working(_form, parts) {
    const { R1, R2, C1 } = parts;
    const got = measures(parts);
    return [
      { says: 'lows pass', tex: 'a = \\frac{R_2}{R_1 + R_2}', value: format.decibel(20 * Math.log10(R2 / (R1 + R2))) },
      { says: 'zero', tex: 'f_z = \\frac{1}{2\\pi R_1 C_1}', value: format.hertz(1 / (2 * Math.PI * R1 * C1)) },
      {
        says: 'pole',
        tex: 'f_p = \\frac{1}{2\\pi (R_1 \\parallel R_2) C_1}',
        value: format.hertz((R1 + R2) / (2 * Math.PI * R1 * R2 * C1)),
      },
      {
        says: 'most lead',
        tex: '\\sin\\varphi = \\frac{1-a}{1+a},\\quad f = \\sqrt{f_z f_p}',
        value: `${format.degree(got.leadDeg)} at ${format.hertz(got.centreHz)}`,
      },
    ];
  },
  drawing: () => drawLadder(ARMS),
});
