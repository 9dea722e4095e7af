import { failure } from '../../result';
import { decibels, fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import { buildLadder, drawLadder, inLine, paired } from '../kit/ladder';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const ARMS = [inLine('R1', 'C1'), paired('R2', 'C2')];
const PARAMETERS: ParameterSpec[] = [
  { name: 'lossDb', label: 'loss', kind: 'decibel', min: 0.5, max: 80, initial: 20 },
  { name: 'inputOhm', label: 'seen by the source', kind: 'resistance', min: 1, max: 1e9, initial: 100e3 },
  { name: 'loadOhm', label: 'into', kind: 'resistance', min: 1, max: 1e12, initial: 1e6 },
  { name: 'loadFarad', label: 'and', kind: 'capacitance', min: 1e-13, max: 1e-3, initial: 220e-12 },
  { name: 'compensation', label: 'speed-up, 1 is flat', kind: 'ratio', min: 0.05, max: 20, initial: 1 },
];

/** R2 with the load across it. */
const lower = ({ R2 }: PartValues, { loadOhm }: Parameters): number => (R2 * loadOhm) / (R2 + loadOhm);

function measures(parts: PartValues, parameters: Parameters): Record<string, number> {
  const r = lower(parts, parameters);
  return {
    lossDb: decibels((parts.R1 + r) / r),
    inputOhm: parts.R1 + r,
    loadOhm: parameters.loadOhm,
    loadFarad: parts.C2,
    compensation: (parts.R1 * parts.C1) / (r * parts.C2),
  };
}

/**
 * A divider that knows what it drives: the load is part of the lower leg, and a capacitor across R1 makes up for the
 * load's capacitance, R1 C1 = (R2 ∥ load) C2.
 */
export const loadedDivider = defineNetwork({
  id: 'loaded-divider',
  name: 'Divider with load and speed-up capacitor',
  shortName: 'Divider',
  words: ['voltage divider', 'attenuator', 'compensated divider', 'probe', 'speed-up capacitor', 'potential divider'],
  family: 'rc',
  parameters: PARAMETERS,
  load: ({ loadOhm }) => ({ ohm: loadOhm }),
  reason:
    'Takes a known share and keeps its corners square: the speed-up capacitor does for the highs what R1 ' +
    'does for the lows.',
  cautions: [
    'Below 1 a square wave comes out round, above 1 it overshoots: trim C1 on a square wave.',
    'The source sees the capacitors in series as a load at high frequencies.',
  ],
  sources: ['J. Millman, H. Taub, Pulse, Digital, and Switching Waveforms, 2.11: compensated attenuators'],
  parts: () => [
    { name: 'R1', kind: 'resistor', role: 'upper leg', leaveOut: 'open' },
    { name: 'C1', kind: 'capacitor', role: 'speed-up, across the upper leg', leaveOut: 'open' },
    { name: 'R2', kind: 'resistor', role: 'lower leg', leaveOut: 'open' },
    { name: 'C2', kind: 'capacitor', role: 'cable and input of what is driven', leaveOut: 'open', given: true },
  ],
  design(wanted, _form, context) {
    const ratio = fromDecibels(wanted.lossDb);
    const r = wanted.inputOhm / ratio;
    if (r >= wanted.loadOhm * (1 - 1e-9)) return failure('load-too-heavy', { loadOhm: wanted.loadOhm, needsOhm: r });
    const R1 = wanted.inputOhm - r;
    const parts = {
      R1,
      C1: (wanted.compensation * r * wanted.loadFarad) / R1,
      R2: 1 / (1 / r - 1 / wanted.loadOhm),
      C2: wanted.loadFarad,
    };
    return context.meetParameters(PARAMETERS, wanted, parts, [], (values) => measures(values, wanted));
  },
  measures: (_form, parts, parameters) => measures(parts, parameters),
  transfer(_form, parts, parameters) {
    const { R1, C1, C2 } = parts;
    const r = lower(parts, parameters);
    return { numerator: [r, r * R1 * C1], denominator: [R1 + r, R1 * r * (C1 + C2)] };
  },
  build: (context) => buildLadder(context, ARMS),
  working(_form, parts, parameters) {
    const got = measures(parts, parameters);
    const load = format.ohm(parameters.loadOhm).replace('Ω', '\\Omega').replace(' ', '\\,');
    return [
      {
        says: 'lower leg, loaded',
        tex: `R_2 \\parallel \\mathrm{${load}}`,
        value: format.ohm(lower(parts, parameters)),
      },
      {
        says: 'passes',
        tex: `\\frac{R_2 \\parallel \\mathrm{${load}}}{R_1 + R_2 \\parallel \\mathrm{${load}}}`,
        value: format.decibel(-got.lossDb),
      },
      {
        says: 'highs, without C1',
        tex: 'f = \\frac{1}{2\\pi (R_1 \\parallel R_2 \\parallel R_{load})\\, C_2}',
        value: format.hertz(1 / (2 * Math.PI * (1 / (1 / parts.R1 + 1 / lower(parts, parameters))) * parts.C2)),
      },
      { says: 'flat when', tex: 'R_1 C_1 = (R_2 \\parallel R_{load})\\, C_2', value: format.ratio(got.compensation) },
    ];
  },
  drawing: () => drawLadder(ARMS),
});
