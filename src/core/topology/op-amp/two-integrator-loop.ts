import type { FilterResponse } from '../../filter/section';
import type { BuildContext, PartSpec } from '../kit/define-topology';

/** What the state variables have in common: two integrators after an adder, and an output at each of the three. */
export const INTEGRATOR_PARTS: readonly PartSpec[] = [
  { name: 'R6', kind: 'resistor', role: 'into the first integrator', leaveOut: 'open' },
  { name: 'C1', kind: 'capacitor', role: 'first integrator', leaveOut: 'open' },
  { name: 'R7', kind: 'resistor', role: 'into the second integrator', leaveOut: 'open' },
  { name: 'C2', kind: 'capacitor', role: 'second integrator', leaveOut: 'open' },
];

/** High-pass, band-pass and low-pass: one of them the stage's output. */
export const loopOutputs = ({
  form,
  output,
  node,
}: BuildContext<FilterResponse>): readonly [high: string, band: string, low: string] => [
  form === 'highpass' ? output : node('high'),
  form === 'bandpass' ? output : node('band'),
  form === 'lowpass' ? output : node('low'),
];

/** U2 and U3, from the adder's output on. */
export function buildIntegrators(
  { reference, node, part, opAmp }: BuildContext<FilterResponse>,
  [high, band, low]: ReturnType<typeof loopOutputs>,
): void {
  const [n2, n3] = [node('n2'), node('n3')];
  part('R6', high, n2);
  part('C1', n2, band);
  opAmp('U2', reference, n2, band);
  part('R7', band, n3);
  part('C2', n3, low);
  opAmp('U3', reference, n3, low);
}

export const loopTaps = (form: FilterResponse) => [
  { name: 'high-pass', node: form === 'highpass' ? null : 'high' },
  { name: 'band-pass', node: form === 'bandpass' ? null : 'band' },
  { name: 'low-pass', node: form === 'lowpass' ? null : 'low' },
];
