import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { buildLadder, drawLadder, inLine, stacked } from '../kit/ladder';
import type { PartValues } from '../kit/part';
import { decibels, fromDecibels } from '../../units/quantity';
import { format } from '../kit/working';

const ARMS = [inLine('R1', 'C1'), stacked('R2', 'C2')];
const PARAMETERS: ParameterSpec[] = [
  { name: 'lagHz', label: 'lag corner', kind: 'frequency', min: 1e-3, max: 1e8, initial: 300 },
  { name: 'leadHz', label: 'lead corner', kind: 'frequency', min: 1e-3, max: 1e8, initial: 3000 },
  { name: 'dipDb', label: 'dip between', kind: 'decibel', min: 0.5, max: 40, initial: 6 },
];

/** With T1 = R1 C1, T2 = R2 C2, T12 = R1 C2: the dip, at 1/(2π √(T1 T2)), is (T1 + T2)/(T1 + T2 + T12). */
function measures({ R1, C1, R2, C2 }: PartValues): Record<'lagHz' | 'leadHz' | 'dipDb', number> {
  const [t1, t2, t12] = [R1 * C1, R2 * C2, R1 * C2];
  return {
    lagHz: 1 / (2 * Math.PI * t2),
    leadHz: 1 / (2 * Math.PI * t1),
    dipDb: decibels((t1 + t2 + t12) / (t1 + t2)),
  };
}

export const leadLagNetwork = defineNetwork({
  id: 'lead-lag-network',
  name: 'Lead-lag network',
  shortName: 'Lead-lag',
  words: ['phase lead and lag', 'compensation'],
  family: 'rc',
  parameters: PARAMETERS,
  reason:
    'Lags below, leads above: lows and highs pass whole, and a broad dip lies between with no phase of ' +
    'its own at its floor.',
  cautions: ['What it drives loads it most in the dip.'],
  sources: ['G. F. Franklin, J. D. Powell, A. Emami-Naeini, Feedback Control of Dynamic Systems, 6.7'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'lets the highs past R1', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'the floor of the dip', leaveOut: 'short' },
    { name: 'C2', kind: 'capacitor', role: 'keeps the lows from R2', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const [t1, t2] = [1 / (2 * Math.PI * wanted.leadHz), 1 / (2 * Math.PI * wanted.lagHz)];
    const t12 = (t1 + t2) * (fromDecibels(wanted.dipDb) - 1);
    const C2 = context.capacitorsFirst
      ? context.capacitor('C2', context.capacitorLevel(1 / (2 * Math.PI * t12)))
      : t12 / context.resistor('R1', 10e3);
    const R1 = t12 / C2;
    return context.meetParameters(
      PARAMETERS,
      wanted,
      { R1, C1: t1 / R1, R2: t2 / C2, C2 },
      [context.capacitorsFirst ? 'C2' : 'R1'],
      measures,
    );
  },
  measures: (_form, parts) => measures(parts),
  transfer(_form, { R1, C1, R2, C2 }) {
    const [t1, t2, t12] = [R1 * C1, R2 * C2, R1 * C2];
    return { numerator: [1, t1 + t2, t1 * t2], denominator: [1, t1 + t2 + t12, t1 * t2] };
  },
  build: (context) => buildLadder(context, ARMS),
  working(_form, parts) {
    const got = measures(parts);
    return [
      { says: 'lag corner', tex: 'f_2 = \\frac{1}{2\\pi R_2 C_2}', value: format.hertz(got.lagHz) },
      { says: 'lead corner', tex: 'f_1 = \\frac{1}{2\\pi R_1 C_1}', value: format.hertz(got.leadHz) },
      { says: 'floor of the dip', tex: 'f = \\sqrt{f_1 f_2}', value: format.hertz(Math.sqrt(got.lagHz * got.leadHz)) },
      {
        says: 'level there',
        tex: '\\frac{R_1 C_1 + R_2 C_2}{R_1 C_1 + R_2 C_2 + R_1 C_2}',
        value: format.decibel(-got.dipDb),
      },
    ];
  },
  drawing: () => drawLadder(ARMS),
});
