import { fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import { buildLadder, drawLadder, inLine, toGround } from '../kit/ladder';
import { lossOf, PAD_PARAMETERS, parallel } from './pad';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const ARMS = [toGround('R1'), inLine('R2'), toGround('R3')];
const passes = ({ R2, R3 }: PartValues, ohm: number): number => parallel(R3, ohm) / (R2 + parallel(R3, ohm));
const measures = (parts: PartValues, ohm: number) => ({
  lossDb: lossOf(passes(parts, ohm)),
  ohm: parallel(parts.R1, parts.R2 + parallel(parts.R3, ohm)),
});

export const piPad = defineNetwork({
  id: 'pi-pad',
  name: 'Pi-pad',
  shortName: 'Pi-pad',
  words: ['attenuator', 'pad', 'constant impedance', '600 ohm'],
  family: 'rc',
  parameters: PAD_PARAMETERS,
  load: ({ ohm }) => ({ ohm }),
  reason:
    'The T-pad’s dual: the same from both sides, with larger values where the T-pad’s would be too small to solder.',
  cautions: ['Made for one resistance at both ends.'],
  sources: ['F. E. Terman, Radio Engineers’ Handbook, 1943, sec. 3: attenuators'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'across the source', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'in line', leaveOut: 'short' },
    { name: 'R3', kind: 'resistor', role: 'across the load', leaveOut: 'open' },
  ],
  design(wanted, _form, context) {
    const k = fromDecibels(wanted.lossDb);
    const leg = (wanted.ohm * (k + 1)) / (k - 1);
    return context.meetParameters(
      PAD_PARAMETERS,
      wanted,
      { R1: leg, R2: (wanted.ohm * (k * k - 1)) / (2 * k), R3: leg },
      [],
      (parts) => measures(parts, wanted.ohm),
    );
  },
  measures: (_form, parts, { ohm }) => measures(parts, ohm),
  transfer: (_form, parts, { ohm }) => ({ numerator: [passes(parts, ohm)], denominator: [1] }),
  build: (context) => buildLadder(context, ARMS),
  working: (_form, parts, { lossDb, ohm }) => [
    { says: 'voltage ratio', tex: `K = 10^{${format.ratio(lossDb)}/20}`, value: format.ratio(fromDecibels(lossDb)) },
    { says: 'legs', tex: 'R_1 = R_3 = Z\\,\\frac{K + 1}{K - 1}', value: format.ohm(parts.R1) },
    { says: 'arm', tex: 'R_2 = Z\\,\\frac{K^2 - 1}{2K}', value: format.ohm(parts.R2) },
    {
      says: 'seen by the source',
      tex: 'R_1 \\parallel (R_2 + R_3 \\parallel Z)',
      value: format.ohm(measures(parts, ohm).ohm),
    },
  ],
  drawing: () => drawLadder(ARMS),
});
