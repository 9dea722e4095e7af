import { failure, success } from '../result';
import type { Calculator, CalculatorOutput } from './calculator';

const BOLTZMANN_OVER_CHARGE = 1.380649e-23 / 1.602176634e-19;
const BENCH_K = 300.15;
/**
 * What doubles a junction's current at 27 °C: Vt ln 2, V (P. R. Gray, R. G. Meyer, Analysis and Design of Analog
 * Integrated Circuits, 1.3).
 */
const OCTAVE_VOLTS = BOLTZMANN_OVER_CHARGE * BENCH_K * Math.LN2;
/** A resistor made to follow absolute temperature, parts per million a degree. */
const FOLLOWING_PPM = 3300;

const out = (label: string, kind: CalculatorOutput['kind'], value: number): CalculatorOutput => ({
  label,
  kind,
  value,
});

/**
 * Stages that serve a voltage-controlled circuit: how its current is made, how voltages are added for it, where its
 * middle comes from.
 */
export const VOICE_CALCULATORS: readonly Calculator[] = [
  {
    id: 'exponential-converter',
    name: 'Exponential converter, volts to current',
    words: 'octave cv vco vcf control voltage transistor pair drift temperature tempco',
    inputs: [
      { name: 'perOctave', label: 'volts an octave', kind: 'voltage', initial: 1 },
      { name: 'R', label: 'summing resistor', kind: 'resistance', initial: 100e3 },
      { name: 'Iref', label: 'current at 0 V', kind: 'current', initial: 10e-6 },
      { name: 'volts', label: 'control', kind: 'voltage', initial: 3 },
      { name: 'warmer', label: 'warmer by, °C', kind: 'ratio', initial: 5 },
    ],
    compute: ({ perOctave, R, Iref, volts, warmer }) => {
      if ([perOctave, R, Iref, volts].some((v) => v === null || v === undefined))
        return failure('needs-more', { wanted: 4 });
      const [octave, inline, reference, control, rise] = [
        perOctave as number,
        R as number,
        Iref as number,
        volts as number,
        warmer ?? 0,
      ];
      if (!(octave > OCTAVE_VOLTS && inline > 0 && reference > 0))
        return failure('out-of-range', {
          why: 'an octave takes more than 18 mV, and resistor and current must be above zero',
        });
      const octaves = control / octave;
      // The junctions' octave grows with absolute temperature; the divider's foot makes up for it as far as it follows.
      const bare = -1200 * octaves * (1 - BENCH_K / (BENCH_K + rise));
      // What rises is the foot, of a divider that it loads itself.
      const foot = (inline * OCTAVE_VOLTS) / (octave - OCTAVE_VOLTS);
      const warmFoot = foot * (1 + FOLLOWING_PPM * 1e-6 * rise);
      const warmVolts = (control * warmFoot) / (inline + warmFoot);
      const followed = 1200 * (warmVolts / (OCTAVE_VOLTS * (1 + rise / BENCH_K)) - octaves);
      return success([
        out('foot of the divider', 'resistance', foot),
        out('at the base for an octave', 'voltage', OCTAVE_VOLTS),
        out('current', 'current', reference * 2 ** octaves),
        out('off when warmer, cents', 'ratio', bare),
        out('with a 3300 ppm/K foot, cents', 'ratio', followed),
      ]);
    },
  },
  {
    id: 'control-summer',
    name: 'Adding control voltages',
    words: 'cv summer mixer octave range op-amp virtual earth offset',
    inputs: [
      { name: 'Rf', label: 'round the op-amp', kind: 'resistance', initial: 100e3 },
      { name: 'gain', label: 'volts out for a volt in', kind: 'ratio', initial: 1 },
      { name: 'supply', label: 'knob between ±', kind: 'voltage', initial: 12 },
      { name: 'range', label: 'the knob is to reach ±', kind: 'voltage', initial: 5 },
      { name: 'Rs', label: 'source of the CV', kind: 'resistance', initial: 1e3 },
    ],
    compute: ({ Rf, gain, supply, range, Rs }) => {
      if ([Rf, gain, supply, range].some((v) => v === null || v === undefined))
        return failure('needs-more', { wanted: 4 });
      const [back, wanted, rail, reach] = [Rf as number, gain as number, supply as number, range as number];
      if (!(back > 0 && wanted > 0 && rail > 0 && reach > 0))
        return failure('out-of-range', { why: 'every number must be above zero' });
      const inOhm = back / wanted;
      const lost = (Rs ?? 0) / (inOhm + (Rs ?? 0));
      return success([
        out('from the CV', 'resistance', inOhm),
        out('from the knob', 'resistance', (back * rail) / reach),
        out('the source takes, of each octave, cents', 'ratio', 1200 * lost),
        out('trimmed to', 'resistance', Math.max(0, inOhm - (Rs ?? 0))),
      ]);
    },
  },
  {
    id: 'virtual-ground',
    name: 'Virtual ground for one supply',
    words: 'battery half supply divider middle rail splitter',
    inputs: [
      { name: 'volts', label: 'supply', kind: 'voltage', initial: 9 },
      { name: 'R', label: 'each half of the divider', kind: 'resistance', initial: 10e3 },
      { name: 'amps', label: 'current drawn from the middle', kind: 'current', initial: 50e-6 },
      { name: 'f', label: 'lowest', kind: 'frequency', initial: 20 },
    ],
    compute: ({ volts, R, amps, f }) => {
      if ([volts, R, f].some((v) => v === null || v === undefined)) return failure('needs-more', { wanted: 3 });
      const [supply, half, lowest] = [volts as number, R as number, f as number];
      if (!(supply > 0 && half > 0 && lowest > 0))
        return failure('out-of-range', { why: 'every number must be above zero' });
      // A capacitor to a tenth of the divider's own resistance at the lowest frequency.
      return success([
        out('middle', 'voltage', supply / 2),
        out('it looks like', 'resistance', half / 2),
        out('moves by', 'voltage', ((amps ?? 0) * half) / 2),
        out('capacitor across the lower half', 'capacitance', 10 / (2 * Math.PI * lowest * (half / 2))),
        out('takes from the battery', 'current', supply / (2 * half)),
        out('behind an op-amp of 100 Ω and 100 dB', 'resistance', 100 / 1e5),
      ]);
    },
  },
];
