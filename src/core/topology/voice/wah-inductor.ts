import { failure } from '../../result';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import { SUPPLY, wiperOf, type PartValues } from '../kit/part';
import { internalOhm } from './stage/small-transistor';
import { WAH_INDUCTOR_DRAWING } from './wah-inductor-drawing';
import { buildPair, pairFor, pairRest, pairSignal } from './stage/two-transistors';
import { format } from '../kit/working';

const PARAMETERS: ParameterSpec[] = [
  { name: 'heelHz', label: 'peak, heel down', kind: 'frequency', min: 50, max: 3e3, initial: 420 },
  { name: 'toeHz', label: 'peak, toe down', kind: 'frequency', min: 100, max: 1e4, initial: 2100 },
  { name: 'q', label: 'Q, heel down', kind: 'ratio', min: 1, max: 30, initial: 7 },
];
/**
 * Ours: a pot core of half a henry or so, the nearest that can be had, a first transistor of half a milliampere, a
 * pedal of ten kilohms.
 */
const COIL_HENRY = 0.5;
const IN_OHM = 68e3;
const PEDAL_OHM = 10e3;
const AIM = { firstAmps: 0.5e-3, secondAmps: 1e-3 };
/** R4 takes so many times the base’s current. */
const STIFF = 15;
const COUPLING_FARAD = 1e-6;
/** The coil's foot stands still where its capacitor is so many times what the coil rings with at the heel. */
const FOOT_TIMES = 75;
/** Before the pedal the phase at the heel is to be this small, as a share of what the Q turns: C4 P1 ω = so many Q. */
const PEDAL_TIMES = 50;
/** No builder takes more, F. */
const LARGEST_FARAD = 100e-6;

/** Gain round the capacitor with the pedal at the heel, and the conductance that damps the coil. */
function loop(v: PartValues) {
  const rest = pairRest(v);
  const { gain, inOhm, outOhm } = pairSignal(v, rest, v.P1);
  return { gain, outOhm, damping: 1 / v.R1 + 1 / inOhm + 1 / v.R5 };
}

/** The capacitor as the coil sees it: C2 (1 + A x), x what the pedal sends back. Farad. */
const effectiveFarad = (v: PartValues, share: number): number => v.C2 * (1 + loop(v).gain * share);

/**
 * With the pedal at x: (1/sL + G)(1 + s r C) + sC(1 + A x) = 0, r the pedal's own resistance at its wiper and the
 * output's through it; the coil's foot stands on C3, which takes 1/(ω² C3) off its inductance (own node equations).
 */
function peakAt(v: PartValues, share: number): { freqHz: number; q: number } {
  const { gain, outOhm, damping } = loop(v);
  const r = v.P1 * share * (1 - share) + share * share * outOhm;
  const rings = v.C2 * (1 + gain * share + damping * r);
  const square = (v.L1 * rings) / (1 + rings / v.C3);
  return { freqHz: 1 / (2 * Math.PI * Math.sqrt(square)), q: Math.sqrt(square) / (r * v.C2 + damping * v.L1) };
}

function measures(v: PartValues): Parameters {
  const heel = peakAt(v, 1);
  return { heelHz: heel.freqHz, toeHz: peakAt(v, 0).freqHz, q: heel.q };
}

function build(context: BuildContext): void {
  const { input, output, minus, node, part, pot } = context;
  const [i, n, held, out, top, wiper] = [node('i'), node('n'), node('b'), node('o'), node('top'), node('w')];
  part('C1', input, i);
  part('R1', i, n);
  part('L1', n, held);
  part('R5', n, held);
  part('R4', held, minus);
  part('C3', held, minus);
  part('R3', out, held);
  buildPair(context, n, out);
  part('C4', out, top);
  pot('P1', top, wiper, minus);
  part('C2', wiper, n);
  part('C5', out, output);
}

const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });
const capacitor = (name: string, role: string, couples = false): PartSpec => ({
  name,
  kind: 'capacitor',
  role,
  leaveOut: 'open',
  ...(couples ? { couples } : {}),
});
const PARTS: PartSpec[] = [
  capacitor('C1', 'in: keeps the bias in', true),
  resistor('R1', 'in line, damps with the coil'),
  { name: 'L1', kind: 'inductor', role: 'the coil', leaveOut: 'open' },
  resistor('R5', 'across the coil: how sharp'),
  capacitor('C2', 'the capacitor whose apparent size the pedal sets'),
  { name: 'P1', kind: 'potentiometer', role: 'pedal', leaveOut: 'short', turnedBy: 'pedal' },
  resistor('R3', 'brings the output’s rest back: holds both transistors'),
  resistor('R4', 'holds the base down'),
  capacitor('C3', 'holds the coil’s foot still', true),
  resistor('R6', 'first collector: gain'),
  resistor('R7', 'first emitter: gain'),
  resistor('R8', 'second emitter'),
  capacitor('C4', 'keeps the rest off the pedal', true),
  capacitor('C5', 'out: keeps the bias in', true),
];

export const wahInductor = defineNetwork({
  id: 'wah-inductor',
  readAtPeak: () => true,
  name: 'Wah with a coil, two transistors',
  shortName: 'Wah, coil',
  words: ['wah', 'wah-wah', 'pedal', 'inductor', 'foot', 'resonant pedal', 'guitar'],
  family: 'voltage-controlled',
  parameters: PARAMETERS,
  supplied: true,
  usualSupplyVolts: 9,
  polarity: -1,
  opAmps: () => 0,
  modes: ['normal'],
  reason:
    'A coil and a capacitor ring; the amplifier drives the capacitor’s far end the other way, as much as ' +
    'the pedal lets it, and so makes it seem larger: the peak moves from heel to toe.',
  cautions: [
    'The coil’s own resistance and R5 set how sharp it is: leave R5 out and it whistles at the heel.',
    'Between the ends the pedal’s own resistance damps it: the middle is duller than either end.',
    'A coil picks hum up: turn it, or screen it.',
  ],
  sources: [
    'J. M. Miller, Dependence of the Input Impedance of a Three-Electrode Vacuum Tube upon the Load in ' +
      'the Plate Circuit, Bureau of Standards 351, 1920',
    'own node equations with the pedal’s resistance',
  ],
  loop: () => ({ part: 'C4', drivenBy: 'o', path: ['w', 'n', 'c', 'o'] }),
  parts: () => PARTS,
  design(wanted, _form, context) {
    const supply = context.supplyVolts;
    if (wanted.toeHz <= wanted.heelHz * 1.05)
      return failure('heel-over-toe', { heelHz: wanted.heelHz, toeHz: wanted.toeHz });
    const L1 = context.inductor('L1', COIL_HENRY);
    const R1 = context.resistor('R1', IN_OHM);
    const P1 = context.pinned('P1') ?? PEDAL_OHM;
    const omega = 2 * Math.PI * wanted.heelHz;
    const C3 = context.capacitor('C3', Math.min(LARGEST_FARAD, FOOT_TIMES / (omega * omega * L1)));
    /** What the coil, its foot on C3, rings with at a frequency, F. */
    const ringsWith = (w: number) => 1 / (w * w * L1 - 1 / C3);
    const C2 = ringsWith(2 * Math.PI * wanted.toeHz);
    // R7 and what follows from it settle together: the gain needed depends a little on the output's resistance, which
    // depends on the parts.
    const own = internalOhm(AIM.firstAmps);
    let [R7, R5] = [200, 20e3];
    let parts: PartValues = {};
    for (let round = 0; round < 60; round++) {
      const aim = pairFor(supply, AIM, R7);
      const backAmps = STIFF * aim.baseAmps;
      const fixed = {
        L1,
        R1,
        C2,
        P1,
        R3: (aim.outVolts - aim.baseVolts) / (backAmps + aim.baseAmps),
        R4: aim.baseVolts / backAmps,
        R6: aim.R6,
        R8: aim.R8(backAmps + aim.baseAmps),
        R7,
        R5,
        C3,
        [SUPPLY]: supply,
      };
      if (!(fixed.R3 > 0))
        return failure('no-headroom', {
          supplyVolts: supply,
          emitterVolts: aim.baseVolts,
          needsVolts: 2 * aim.baseVolts,
        });
      const { gain, inOhm, outOhm } = pairSignal(fixed, pairRest(fixed), P1);
      const rC = outOhm * C2;
      // At the heel: ω² = 1/(L C (1 + A + G r)), Q = 1/(ω (r C + G L)).
      const damping = (1 / (omega * wanted.q) - rC) / L1;
      const leg = damping - 1 / R1 - 1 / inOhm;
      if (!(leg > 0))
        return failure('q-too-high', { q: wanted.q, most: 1 / (omega * (rC + L1 * (1 / R1 + 1 / inOhm))) });
      const needed = ringsWith(omega) / C2 - 1 - damping * outOhm;
      const total = (needed > 0 ? gain / needed : 1) * (R7 + own);
      R5 = 1 / leg;
      R7 = total - own;
      if (!(R7 > 0)) return failure('gain-too-high', { gain: needed, most: gain });
      parts = {
        C1: COUPLING_FARAD,
        R1,
        L1,
        R5,
        C2,
        P1,
        R3: fixed.R3,
        R4: fixed.R4,
        C3,
        R6: fixed.R6,
        R7,
        R8: fixed.R8,
        C4: context.capacitor('C4', Math.min(LARGEST_FARAD, (PEDAL_TIMES * wanted.q) / (omega * P1))),
        C5: 10 * COUPLING_FARAD,
      };
    }
    return context.meetParameters(
      PARAMETERS,
      wanted,
      parts,
      ['C1', 'C3', 'C4', 'C5', 'L1', 'R1', 'P1', 'R3', 'R4', 'R6', 'R8'],
      (v) => measures({ ...v, [SUPPLY]: supply }),
    );
  },
  measures: (_form, v) => measures(v),
  figures: [
    { label: 'capacitor at the heel', kind: 'capacitance', of: (_form, v) => effectiveFarad(v, 1) },
    { label: 'capacitor at the pedal', kind: 'capacitance', of: (_form, v) => effectiveFarad(v, 1 - wiperOf(v, 'P1')) },
    { label: 'first transistor', kind: 'current', of: (_form, v) => pairRest(v).first },
    { label: 'output rests at', kind: 'voltage', of: (_form, v) => pairRest(v).outVolts },
    {
      label: 'gain at the peak',
      kind: 'decibel',
      of: (_form, v) => 20 * Math.log10(loop(v).gain / v.R1 / loop(v).damping),
    },
  ],
  build,
  working: (_form, v) => {
    const { gain, damping } = loop(v);
    const here = 1 - wiperOf(v, 'P1');
    return [
      { says: 'the amplifier', tex: 'A = \\frac{R_6}{r_e + R_7}', value: format.ratio(gain) },
      { says: 'C2 seems, heel down', tex: 'C = C_2 (1 + A)', value: format.farad(effectiveFarad(v, 1)) },
      { says: 'as the pedal stands', tex: 'C = C_2 (1 + A x)', value: format.farad(effectiveFarad(v, here)) },
      {
        says: 'damped by',
        tex: '\\frac1G = R_1 \\parallel R_5 \\parallel \\beta (r_e + R_7)',
        value: format.ohm(1 / damping),
      },
      { says: 'the peak there', tex: 'f = \\frac{1}{2\\pi\\sqrt{L_1 C}}', value: format.hertz(peakAt(v, here).freqHz) },
      { says: 'its Q', tex: 'Q = \\frac{\\sqrt{L_1 C}}{r C_2 + G L_1}', value: format.ratio(peakAt(v, here).q) },
    ];
  },
  drawing: () => WAH_INDUCTOR_DRAWING,
});

/** The pedal’s law for views: what the capacitor seems, and where the peak is, from heel (0) to toe (1). */
export const wahAt = (v: PartValues, pedal: number): { farad: number; freqHz: number; q: number } => ({
  farad: effectiveFarad(v, 1 - pedal),
  ...peakAt(v, 1 - pedal),
});
