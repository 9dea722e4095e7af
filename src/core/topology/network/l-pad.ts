import { fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import { buildLadder, drawLadder, inLine, toGround } from '../kit/ladder';
import { lossOf, PAD_PARAMETERS, parallel } from './pad';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const ARMS = [inLine('R1'), toGround('R2')];
const passes = ({ R1, R2 }: PartValues, ohm: number): number => parallel(R2, ohm) / (R1 + parallel(R2, ohm));
const measures = (parts: PartValues, ohm: number) => ({
  lossDb: lossOf(passes(parts, ohm)),
  ohm: parts.R1 + parallel(parts.R2, ohm),
});

export const lPad = defineNetwork({
  id: 'l-pad',
  name: 'L-pad',
  shortName: 'L-pad',
  words: ['attenuator', 'pad', 'constant impedance', 'impedance match'],
  family: 'rc',
  parameters: PAD_PARAMETERS,
  load: ({ ohm }) => ({ ohm }),
  reason:
    'Two resistors lower the level and keep what the source sees as it was; the load, looking back, sees ' +
    'something else.',
  cautions: [
    'Behind a power amplifier give both resistors their watts: they get hot.',
    'Made for one load: with another both loss and resistance change.',
  ],
  sources: ['F. E. Terman, Radio Engineers’ Handbook, 1943, sec. 3: attenuators'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'in line', leaveOut: 'short' },
    { name: 'R2', kind: 'resistor', role: 'across the load', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const k = fromDecibels(wanted.lossDb);
    return context.meetParameters(
      PAD_PARAMETERS,
      wanted,
      { R1: wanted.ohm * (1 - 1 / k), R2: wanted.ohm / (k - 1) },
      [],
      (parts) => measures(parts, wanted.ohm),
    );
  },
  measures: (_form, parts, { ohm }) => measures(parts, ohm),
  transfer: (_form, parts, { ohm }) => ({ numerator: [passes(parts, ohm)], denominator: [1] }),
  build: (context) => buildLadder(context, ARMS),
  working: (_form, parts, { lossDb, ohm }) => [
    { says: 'voltage ratio', tex: `K = 10^{${format.ratio(lossDb)}/20}`, value: format.ratio(fromDecibels(lossDb)) },
    { says: 'in line', tex: 'R_1 = Z\\left(1 - \\frac1K\\right)', value: format.ohm(parts.R1) },
    { says: 'across the load', tex: 'R_2 = \\frac{Z}{K - 1}', value: format.ohm(parts.R2) },
    { says: 'seen by the source', tex: 'R_1 + R_2 \\parallel Z', value: format.ohm(measures(parts, ohm).ohm) },
  ],
  drawing: () => drawLadder(ARMS),
});
