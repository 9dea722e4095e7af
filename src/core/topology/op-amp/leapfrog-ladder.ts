import { chebyshev } from '../../filter/alignments/chebyshev';
import { ellipticLadder } from '../../filter/elliptic-ladder';
import { doublyTerminated } from '../../filter/passive-ladder';
import { failure, success, type Result } from '../../result';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { LEVEL_OHM } from '../kit/design-context';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import { format } from '../kit/working';
import { leapfrogDrawing } from './leapfrog-drawing';
import { FORMS, hasNulls, inputsOf, losesAt, orderOf, signOf, states, WITH_NULLS } from './leapfrog-network';
import { measured, nullsHz } from './leapfrog-reading';

const PARAMETERS: ParameterSpec[] = [
  { name: 'cutoffHz', label: 'ripple edge', kind: 'frequency', min: 1e-2, max: 1e7, initial: 1000 },
  { name: 'rippleDb', label: 'ripple', kind: 'decibel', min: 0.01, max: 3, initial: 0.5 },
  { name: 'attenuationDb', label: 'attenuation', kind: 'decibel', min: 40, max: 120, initial: 50, forms: WITH_NULLS },
];

/**
 * A ladder as a leapfrog imitates it: how long each of its storing elements takes (s at 1 rad/s and 1 ohm), the load,
 * and the shares by which nodes drive one another through their traps.
 */
interface Imitated {
  readonly times: readonly number[];
  readonly loadOhm: number;
  /** By node: share of the node two before, and of the node two after. */
  readonly couplings: readonly { readonly before: number; readonly after: number }[];
}

function imitated(form: string, { rippleDb, attenuationDb }: Parameters): Result<Imitated> {
  const order = orderOf(form);
  if (hasNulls(form)) {
    const ladder = ellipticLadder(order, rippleDb, attenuationDb);
    if (!ladder.ok) return failure('no-ladder', { order, rippleDb, attenuationDb });
    const { shunt, coils, traps } = ladder.value;
    const whole = shunt.map((c, k) => c + (traps[k - 1] ?? 0) + (traps[k] ?? 0));
    const times = Array.from({ length: order }, (_, i) => (i % 2 === 0 ? whole[i / 2] : coils[(i - 1) / 2]));
    return success({
      times,
      loadOhm: 1,
      couplings: times.map((_, i) =>
        i % 2 === 1
          ? { before: 0, after: 0 }
          : { before: (traps[i / 2 - 1] ?? 0) / whole[i / 2], after: (traps[i / 2] ?? 0) / whole[i / 2] },
      ),
    });
  }
  const options = { rippleDb, cutoffAt: 'own' as const };
  const sections = chebyshev.prototype(order, options);
  // An even order has its peaks above its level at DC: only an unlike load lets it.
  const peak = order % 2 === 0 ? 10 ** (rippleDb / 20) : 1;
  let ladder = doublyTerminated(sections, 1, 'shunt-capacitor', peak);
  if (!ladder.ok && ladder.code === 'load-does-not-fit')
    ladder = doublyTerminated(sections, Number(ladder.data.loadOhm), 'shunt-capacitor', peak);
  if (!ladder.ok) return failure('no-ladder', { order, rippleDb, attenuationDb: 0 });
  return success({
    times: ladder.value.elements,
    loadOhm: ladder.value.loadOhm,
    couplings: ladder.value.elements.map(() => ({ before: 0, after: 0 })),
  });
}

function partsOf(form: string): PartSpec[] {
  return states(form).flatMap((k): PartSpec[] => [
    ...inputsOf(form, k).map(({ part, kind, from }): PartSpec => ({
      name: part,
      kind,
      role:
        from === 'in'
          ? 'from the input'
          : kind === 'capacitor'
            ? `null: from integrator ${from}`
            : `from integrator ${from}`,
      leaveOut: 'open',
    })),
    {
      name: `C${k}`,
      kind: 'capacitor',
      role: k % 2 === 1 ? 'stands for a capacitor to ground' : 'stands for a coil',
      leaveOut: 'open',
    },
    ...(losesAt(form, k)
      ? [
          {
            name: `R${k}d`,
            kind: 'resistor' as const,
            role: k === 1 ? 'stands for the source’s resistance' : 'stands for the load',
            leaveOut: 'open' as const,
          },
        ]
      : []),
    ...(k % 2 === 0
      ? [
          { name: `R${k}i`, kind: 'resistor' as const, role: 'into the inverter', leaveOut: 'open' as const },
          { name: `R${k}o`, kind: 'resistor' as const, role: 'around the inverter', leaveOut: 'short' as const },
        ]
      : []),
  ]);
}

function build(context: BuildContext<string>): void {
  const { form, input, output, reference, node, part, opAmp } = context;
  const n = orderOf(form);
  const state = (k: number) => (k === n ? output : node(`x${k}`));
  for (const k of states(form)) {
    const sum = node(`n${k}`);
    for (const { part: name, from, turned } of inputsOf(form, k))
      part(name, from === 'in' ? input : turned ? node(`y${from}`) : state(from), sum);
    part(`C${k}`, sum, state(k));
    if (losesAt(form, k)) part(`R${k}d`, sum, state(k));
    opAmp(`U${k}`, reference, sum, state(k));
    if (k % 2 === 1) continue;
    part(`R${k}i`, state(k), node(`m${k}`));
    part(`R${k}o`, node(`m${k}`), node(`y${k}`));
    opAmp(`U${k}i`, reference, node(`m${k}`), node(`y${k}`));
  }
}

export const leapfrogLadder = defineNetwork({
  id: 'leapfrog-ladder',
  name: 'Leapfrog ladder',
  shortName: 'Leapfrog',
  words: ['ladder simulation', 'active ladder', 'low sensitivity', 'LC simulation', 'high order', 'Girling Good'],
  family: 'op-amp',
  modes: [...FORMS.keys()],
  parameters: PARAMETERS,
  polarity: (form) => signOf(orderOf(form)),
  opAmps: (form) => orderOf(form) + Math.floor(orderOf(form) / 2),
  reason: 'A coil-and-capacitor ladder played by integrators: as steep as it is, and as little moved by its parts.',
  cautions: [
    'Parts of the same name in neighbouring integrators track: take them from one batch.',
    'Every op-amp adds its phase around the loops: for a high cutoff take quick ones.',
    'An even order with nulls stands on the transformed approximation, which equal terminations can ' +
      'pass: its highest null is at infinity and it is flat at DC, so its poles are its own. An even order ' +
      'without nulls has a load of its own for its ripple.',
  ],
  sources: [
    'F. E. J. Girling, E. F. Good, The Leapfrog or Active Ladder Synthesis, Wireless World 76, 1970',
    'R. Schaumann, H. Xiao, M. Van Valkenburg, Design of Analog Filters, 2nd ed., 15.4',
  ],
  parts: partsOf,
  design(wanted, form, context) {
    const ladder = imitated(form, wanted);
    if (!ladder.ok) return ladder;
    const { times, loadOhm, couplings } = ladder.value;
    const pins = partsOf(form)
      .filter(({ name }) => context.pinned(name) !== undefined && !/^C\d$/.test(name))
      .map(({ name }) => name);
    if (pins.length > 0) return failure('over-pinned', { pinned: pins });
    const omega = 2 * Math.PI * wanted.cutoffHz;
    const parts: Record<string, number> = {};
    for (const k of states(form)) {
      const time = times[k - 1] / omega;
      const C =
        context.pinned(`C${k}`) ??
        (context.capacitorsFirst
          ? context.capacitor(`C${k}`, time / LEVEL_OHM)
          : time / context.resistor(`R${k}a`, LEVEL_OHM));
      const R = time / C;
      parts[`C${k}`] = C;
      for (const { part, kind, from } of inputsOf(form, k)) {
        if (kind === 'resistor') parts[part] = from === 'in' ? R / inputGain(form, loadOhm, wanted.rippleDb) : R;
        else parts[part] = C * (from === k - 2 ? couplings[k - 1].before : couplings[k - 1].after);
      }
      if (k === 1) parts.R1d = R;
      // At a node the load takes V/R_L, in a branch I·R_L.
      if (k === orderOf(form)) parts[`R${k}d`] = k % 2 === 1 ? R * loadOhm : R / loadOhm;
      if (k % 2 === 0) parts[`R${k}i`] = parts[`R${k}o`] = context.resistor(`R${k}i`, LEVEL_OHM);
    }
    return success(parts);
  },
  measures: measured,
  figures: [
    {
      label: 'lowest null',
      kind: 'frequency',
      of: (form, parts) => (hasNulls(form) ? Math.min(...nullsHz(form, parts)) : NaN),
    },
  ],
  build,
  working: (form, v) => [
    { says: 'first integrator', tex: '\\tau_1 = R_{1b} C_1', value: format.second(v.R1b * v.C1) },
    { says: 'second integrator', tex: '\\tau_2 = R_{2a} C_2', value: format.second(v.R2a * v.C2) },
    ...(hasNulls(form)
      ? [
          {
            says: 'first null',
            tex: 'f_z = \\frac{1}{2\\pi \\sqrt{R_{2a} C_2 R_{1b} C_{1b}}}',
            value: format.hertz(nullsHz(form, v)[0]),
          },
        ]
      : []),
    { says: 'source in the ladder', tex: '\\frac{R_{1d}}{R_{in}} = 2', value: format.ratio(v.R1d / v.Rin) },
  ],
  drawing: leapfrogDrawing,
});

/**
 * The ladder halves what comes in, or divides it by its load; made up for at the input, so that it passes its peak with
 * gain 1.
 */
function inputGain(form: string, loadOhm: number, rippleDb: number): number {
  if (orderOf(form) % 2 === 1) return (1 + loadOhm) / loadOhm;
  return (1 + loadOhm) * (hasNulls(form) ? 1 : 10 ** (-rippleDb / 20));
}
