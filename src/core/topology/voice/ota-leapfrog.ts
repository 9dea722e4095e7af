import { CONTROL, MIDDLE_AMPS, transconductance } from './control-current';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { otaCells } from './ota-cell';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const FORMS = ['third order', 'fifth order'];
const ORDER: Readonly<Record<string, number>> = { [FORMS[0]]: 3, [FORMS[1]]: 5 };
const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'cutoff, control half way', kind: 'frequency', min: 1, max: 1e5, initial: 800 },
];
const IN_OHM = 22e3;
const LEG_OHM = 220;

/**
 * Butterworth between equal resistors: g = 2 sin((2k − 1)π/2N) (W. R. Bennett; L. Weinberg, Network Analysis and
 * Synthesis, ch. 13).
 */
const ladderValue = (k: number, order: number): number => 2 * Math.sin(((2 * k - 1) * Math.PI) / (2 * order));
const stagesOf = (form: string): number[] => Array.from({ length: ORDER[form] }, (_, i) => i + 1);
/**
 * How many things are taken off the input of an integrator: what stands after it, and of the first the ladder’s own
 * resistor.
 */
const takenOff = (k: number): number => (k === 1 ? 2 : 1);
const names = (k: number) => ({
  in: `R${k}1`,
  inLeg: `R${k}2`,
  back: `R${k}3`,
  backLeg: `R${k}4`,
  own: `R${k}5`,
  capacitor: `C${k}`,
});

/** Shares of an integrator's two inputs: what comes from before, and of each that is taken off. */
function shares(v: PartValues, k: number): { forward: number; back: number; own: number } {
  const n = names(k);
  const at = 1 / v[n.back] + 1 / v[n.backLeg] + (takenOff(k) === 2 ? 1 / v[n.own] : 0);
  return {
    forward: v[n.inLeg] / (v[n.in] + v[n.inLeg]),
    back: 1 / v[n.back] / at,
    own: takenOff(k) === 2 ? 1 / v[n.own] / at : 0,
  };
}

const measures = (form: string, v: PartValues): Parameters => ({
  cutoffHz: (transconductance(v.I1) * shares(v, 1).forward * ladderValue(1, ORDER[form])) / v.C1 / (2 * Math.PI),
});

function build({ form, input, output, reference, node, part, opAmp, ota }: BuildContext): void {
  const order = ORDER[form];
  const out = (k: number) => (k === order ? output : node(`o${k}`));
  for (const k of stagesOf(form)) {
    const n = names(k);
    const [p, m, c] = [node(`p${k}`), node(`m${k}`), node(`n${k}`)];
    part(n.in, k === 1 ? input : out(k - 1), p);
    part(n.inLeg, p, reference);
    // The last takes itself off, the others what stands after them; the first both.
    part(n.back, k === order ? output : out(k + 1), m);
    part(n.backLeg, m, reference);
    if (takenOff(k) === 2) part(n.own, out(k), m);
    part(n.capacitor, c, reference);
    ota(`U${k}`, p, m, c);
    opAmp(`B${k}`, c, out(k), out(k));
  }
}

const partsOf = (form: string): PartSpec[] => [
  ...stagesOf(form).flatMap((k): PartSpec[] => {
    const n = names(k);
    const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });
    return [
      resistor(n.in, 'from the rung before'),
      resistor(n.inLeg, 'divides it'),
      resistor(n.back, 'takes off the rung after'),
      resistor(n.backLeg, 'divides it'),
      ...(takenOff(k) === 2 ? [resistor(n.own, 'the ladder’s own end')] : []),
      { name: n.capacitor, kind: 'capacitor', role: `rung ${k}`, leaveOut: 'open' },
    ];
  }),
  CONTROL,
];

export const otaLeapfrog = defineNetwork({
  id: 'ota-leapfrog',
  name: 'OTA leapfrog ladder',
  shortName: 'OTA leapfrog',
  words: ['VCF', 'transconductance', 'ladder simulation', 'elliptic VCF', 'voltage-controlled filter'],
  family: 'voltage-controlled',
  modes: FORMS,
  parameters: PARAMETERS,
  opAmps: (form) => ORDER[form],
  outlet: (form) => ({ kind: 'pins', count: ORDER[form] }),
  reason:
    'A ladder between equal resistors, its coils and capacitors imitated by OTAs on one current: flat, ' +
    'steep, hardly moved by its parts, and swept whole.',
  cautions: [
    'It passes half of what comes in, as the ladder does.',
    'The OTAs want to be alike: one that is off makes a ripple, not another cutoff.',
    'It has no resonance to turn up: it is for edges, not for song.',
  ],
  sources: [
    'F. E. J. Girling, E. F. Good, Active Filters 12: the leap-frog, Wireless World 76, 1970',
    'own derivation with transconductances for resistors',
  ],
  parts: partsOf,
  design(wanted, form, context) {
    const order = ORDER[form];
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const [Rin, leg] = [context.resistor('R11', IN_OHM), context.resistor('R12', LEG_OHM)];
    const share = leg / (Rin + leg);
    // Capacitors in the ladder's proportions; the current brings them where they belong.
    const C1 = context.capacitor('C1', (transconductance(MIDDLE_AMPS) * share * ladderValue(1, order)) / omega);
    const I1 = (omega * C1) / share / ladderValue(1, order) / transconductance(1);
    const parts: Record<string, number> = {};
    for (const k of stagesOf(form)) {
      const n = names(k);
      Object.assign(parts, {
        [n.in]: Rin,
        [n.inLeg]: leg,
        [n.back]: Rin,
        [n.backLeg]: leg,
        [n.capacitor]: (C1 * ladderValue(k, order)) / ladderValue(1, order),
      });
      if (takenOff(k) === 2) Object.assign(parts, { [n.own]: Rin, [n.backLeg]: 1 / (1 / leg - 1 / Rin) });
    }
    return context.meetParameters(PARAMETERS, wanted, { ...parts, I1 }, Object.keys(parts), (v) => measures(form, v));
  },
  measures,
  transfer(form, v) {
    const order = ORDER[form];
    const gm = transconductance(v.I1);
    // From the last rung back: s C v_k = gm (forward v_k−1 − back v_k+1 − own v_k), as polynomials over v_N = 1.
    const grow = (after: readonly number[], here: readonly number[], k: number): number[] => {
      const { forward, back, own } = shares(v, k);
      const [rate, self] = [v[`C${k}`] / (gm * forward), (k === order ? back : own) / forward];
      const next = new Array<number>(here.length + 1).fill(0);
      here.forEach((c, i) => {
        next[i] += c * self;
        next[i + 1] += c * rate;
      });
      if (k < order) after.forEach((c, i) => (next[i] += (c * back) / forward));
      return next;
    };
    let [after, here]: [number[], number[]] = [[], [1]];
    for (let k = order; k >= 1; k--) [after, here] = [here, grow(after, here, k)];
    return { numerator: [1], denominator: here };
  },
  build,
  working: (form, v) => [
    {
      says: 'each rung',
      tex: '\\omega_k = \\frac{I_1}{2 V_T C_k}\\,\\frac{R_{12}}{R_{11} + R_{12}}',
      value: stagesOf(form)
        .map((k) => format.hertz((transconductance(v.I1) * shares(v, k).forward) / v[`C${k}`] / (2 * Math.PI)))
        .join(', '),
    },
    {
      says: 'cutoff',
      tex: `\\omega = g_1 \\omega_1,\\ g_1 = 2\\sin\\frac{90^\\circ}{${ORDER[form]}}`,
      value: format.hertz(measures(form, v).cutoffHz),
    },
  ],
  drawing(form) {
    const order = ORDER[form];
    const out = (k: number) => (k === order ? 'out' : `o${k}`);
    return otaCells(
      stagesOf(form).map((k) => {
        const n = names(k);
        return {
          ota: `U${k}`,
          follower: `B${k}`,
          input: k === 1 ? 'in' : out(k - 1),
          output: out(k),
          forward: [n.in, n.inLeg],
          back: [n.back, n.backLeg],
          backFrom: k === order ? null : out(k + 1),
          capacitor: n.capacitor,
          ...(takenOff(k) === 2 ? { besides: { part: n.own, from: out(k) } } : {}),
        };
      }),
      'I1',
    );
  },
});
