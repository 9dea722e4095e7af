import { rationalAt, type Rational } from '../../filter/rational';
import { magnitude } from '../../math/complex';
import { defineNetwork } from '../kit/define-network';
import type { ParameterSpec } from '../kit/parameter';
import { buildLadder, drawLadder, inLine, openLadder, toGround } from '../kit/ladder';
import type { Arm } from '../kit/arm';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'turnHz', label: 'turned over at', kind: 'frequency', min: 1e-3, max: 1e8, initial: 1000 },
];
const low = (form: string): boolean => form === 'low-pass';
const arms = (form: string): Arm[] => {
  const [s, p] = low(form) ? ['R', 'C'] : ['C', 'R'];
  return [1, 2, 3].flatMap((k) => [inLine(`${s}${k}`), toGround(`${p}${k}`)]);
};

function ladderOf(form: string, { R1, R2, R3, C1, C2, C3 }: PartValues): number[] {
  return low(form)
    ? openLadder([R1, R2, R3], [C1, C2, C3])
    : openLadder([1 / C1, 1 / C2, 1 / C3], [1 / R1, 1 / R2, 1 / R3]);
}
function transfer(form: string, parts: PartValues): Rational {
  const ladder = ladderOf(form, parts);
  return low(form)
    ? { numerator: [1], denominator: ladder }
    : { numerator: [0, 0, 0, 1], denominator: [...ladder].reverse() };
}
/**
 * V(in)/V(out) = 1 + a x + b x² + c x³ is real where a x + c x³ = 0: x² = −a/c, with x = s for a low-pass and 1/s for a
 * high-pass.
 */
function turnHz(form: string, parts: PartValues): number {
  const [, a, , c] = ladderOf(form, parts);
  return (low(form) ? Math.sqrt(a / c) : Math.sqrt(c / a)) / (2 * Math.PI);
}
const lossThere = (form: string, parts: PartValues): number =>
  1 / magnitude(rationalAt(transfer(form, parts), turnHz(form, parts)));

export const phaseShiftLadder = defineNetwork({
  id: 'phase-shift-ladder',
  name: 'Phase-shift ladder, three sections',
  shortName: 'Phase shift',
  words: ['phase-shift oscillator', 'three RC sections', '180 degrees', '60 degrees a section'],
  family: 'rc',
  modes: ['high-pass', 'low-pass'],
  parameters: PARAMETERS,
  reason:
    'Three sections turn the signal over at one frequency; with an inverting amplifier of 29 it oscillates there.',
  cautions: [
    'Loaded by what it drives it loses more than 29 times, and the oscillator does not start.',
    'Unequal sections, each ten times the one before, lose only about eight times.',
  ],
  sources: ['E. L. Ginzton, L. M. Hollingsworth, Phase-Shift Oscillators, Proc. IRE 29, 1941'],
  parts: (form) => {
    const line = low(form) ? 'R' : 'C';
    return [1, 2, 3].flatMap((k) => [
      {
        name: `R${k}`,
        kind: 'resistor' as const,
        role: line === 'R' ? 'in line' : 'to ground',
        leaveOut: line === 'R' ? ('short' as const) : ('open' as const),
      },
      {
        name: `C${k}`,
        kind: 'capacitor' as const,
        role: line === 'C' ? 'in line' : 'to ground',
        leaveOut: line === 'C' ? ('short' as const) : ('open' as const),
      },
    ]);
  },
  design(wanted, form, context) {
    // Equal parts: ω R C = √6 for the low-pass, 1/√6 for the high-pass.
    const product = (low(form) ? Math.sqrt(6) : 1 / Math.sqrt(6)) / (2 * Math.PI * wanted.turnHz);
    const C = context.capacitorsFirst
      ? context.capacitor('C1', context.capacitorLevel(1 / (2 * Math.PI * product)))
      : product / context.resistor('R1', 10e3);
    const R = product / C;
    const first = [1, 2, 3].map((k) => `${context.capacitorsFirst ? 'C' : 'R'}${k}`);
    return context.meetParameters(PARAMETERS, wanted, { R1: R, C1: C, R2: R, C2: C, R3: R, C3: C }, first, (parts) => ({
      turnHz: turnHz(form, parts),
    }));
  },
  measures: (form, parts) => ({ turnHz: turnHz(form, parts) }),
  figures: [{ label: 'loss there, times', kind: 'ratio', of: lossThere }],
  transfer,
  build: (context) => buildLadder(context, arms(context.form)),
  working: (form, parts) => [
    {
      says: 'turned over at',
      tex: low(form) ? 'f = \\frac{\\sqrt6}{2\\pi R_1 C_1}' : 'f = \\frac{1}{2\\pi \\sqrt6\\, R_1 C_1}',
      value: format.hertz(turnHz(form, parts)),
    },
    { says: 'gain that makes it sing', tex: 'K = -29', value: `−${format.ratio(lossThere(form, parts))}` },
  ],
  drawing: (form) => drawLadder(arms(form)),
});
