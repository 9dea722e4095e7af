import { fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import { buildLadder, drawLadder, inLine, toGround } from '../kit/ladder';
import { lossOf, PAD_PARAMETERS, parallel } from './pad';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const ARMS = [inLine('R1'), toGround('R2'), inLine('R3')];
function passes({ R1, R2, R3 }: PartValues, ohm: number): number {
  const lower = parallel(R2, R3 + ohm);
  return (lower / (R1 + lower)) * (ohm / (R3 + ohm));
}
const measures = (parts: PartValues, ohm: number) => ({
  lossDb: lossOf(passes(parts, ohm)),
  ohm: parts.R1 + parallel(parts.R2, parts.R3 + ohm),
});

export const tPad = defineNetwork({
  id: 't-pad',
  name: 'T-pad',
  shortName: 'T-pad',
  words: ['attenuator', 'pad', 'constant impedance', '600 ohm'],
  family: 'rc',
  parameters: PAD_PARAMETERS,
  load: ({ ohm }) => ({ ohm }),
  reason: 'Three resistors that look the same from both sides: the pad for lines and for terminated filters.',
  cautions: [
    'Made for one resistance at both ends.',
    'From a source of that resistance half the voltage is lost before the pad: that is the line’s doing, ' +
      'not the pad’s.',
  ],
  sources: ['F. E. Terman, Radio Engineers’ Handbook, 1943, sec. 3: attenuators'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line, from the source', leaveOut: 'short' },
    { name: 'R2', kind: 'resistor', role: 'from the middle to ground', leaveOut: 'open' },
    { name: 'R3', kind: 'resistor', role: 'in line, to the load', leaveOut: 'short' },
  ],
  design(wanted, _form, context) {
    const k = fromDecibels(wanted.lossDb);
    const arm = (wanted.ohm * (k - 1)) / (k + 1);
    return context.meetParameters(
      PAD_PARAMETERS,
      wanted,
      { R1: arm, R2: (2 * wanted.ohm * k) / (k * k - 1), R3: arm },
      [],
      (parts) => measures(parts, wanted.ohm),
    );
  },
  measures: (_form, parts, { ohm }) => measures(parts, ohm),
  transfer: (_form, parts, { ohm }) => ({ numerator: [passes(parts, ohm)], denominator: [1] }),
  build: (context) => buildLadder(context, ARMS),
  working: (_form, parts, { lossDb, ohm }) => [
    { says: 'voltage ratio', tex: `K = 10^{${format.ratio(lossDb)}/20}`, value: format.ratio(fromDecibels(lossDb)) },
    { says: 'arms', tex: 'R_1 = R_3 = Z\\,\\frac{K - 1}{K + 1}', value: format.ohm(parts.R1) },
    { says: 'leg', tex: 'R_2 = Z\\,\\frac{2K}{K^2 - 1}', value: format.ohm(parts.R2) },
    { says: 'seen by the source', tex: 'R_1 + R_2 \\parallel (R_3 + Z)', value: format.ohm(measures(parts, ohm).ohm) },
  ],
  drawing: () => drawLadder(ARMS),
});
