import { ComplexLu } from '../../analysis/elimination/dense-lu';
import { chebyshev } from '../../filter/alignments/chebyshev';
import { ellipticLadder } from '../../filter/elliptic-ladder';
import { doublyTerminated } from '../../filter/passive-ladder';
import { failure, success, type Result } from '../../result';
import { defineNetwork } from '../kit/define-network';
import type { BuildContext, PartSpec } from '../kit/define-topology';
import { LEVEL_OHM } from '../kit/design-context';
import { invertingBlock, sketch } from '../kit/drawing-blocks';
import { across, type Drawing, type Point } from '../kit/drawing';
import type { ParameterSpec, Parameters } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';
import { greatestBetween } from '../../math/search';

/** By form: its order, and whether it has nulls. */
const FORMS: ReadonlyMap<string, { readonly order: number; readonly nulls: boolean }> = new Map(
  [true, false].flatMap((nulls) =>
    [3, 4, 5, 6, 7, 8].map((order) => [`order ${order}${nulls ? ', nulls' : ''}`, { order, nulls }] as const),
  ),
);
const orderOf = (form: string): number => FORMS.get(form)?.order ?? 3;
const hasNulls = (form: string): boolean => FORMS.get(form)?.nulls ?? false;
const WITH_NULLS = [...FORMS.keys()].filter(hasNulls);

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

/**
 * Signs with which the integrators stand for node voltages and coil currents: − + + − − + + −, so that only every
 * coil's current is wanted turned over besides.
 */
const signOf = (k: number): 1 | -1 => ([-1, 1, 1, -1] as const)[(k - 1) % 4];

/** One input of an integrator: what it comes from, through what. `turned` takes it from the inverter. */
interface Input {
  readonly part: string;
  readonly kind: 'resistor' | 'capacitor';
  readonly from: number | 'in';
  readonly turned: boolean;
}

/**
 * Inputs of integrator k of n: the source or the neighbour before, the neighbour after, and through traps the nodes two
 * away.
 */
function inputsOf(form: string, k: number): Input[] {
  const n = orderOf(form);
  const node = k % 2 === 1;
  const inputs: Input[] = [
    k === 1
      ? { part: 'Rin', kind: 'resistor', from: 'in', turned: false }
      : { part: `R${k}a`, kind: 'resistor', from: k - 1, turned: node },
  ];
  if (k < n) inputs.push({ part: `R${k}b`, kind: 'resistor', from: k + 1, turned: node });
  if (hasNulls(form) && node && k > 1) inputs.push({ part: `C${k}f`, kind: 'capacitor', from: k - 2, turned: false });
  if (hasNulls(form) && node && k + 2 <= n)
    inputs.push({ part: `C${k}b`, kind: 'capacitor', from: k + 2, turned: false });
  return inputs;
}
const known = new Map<string, Input[][]>();
function inputsByState(form: string): Input[][] {
  const before = known.get(form);
  if (before) return before;
  const made = states(form).map((k) => inputsOf(form, k));
  known.set(form, made);
  return made;
}
const losesAt = (form: string, k: number): boolean => k === 1 || k === orderOf(form);
const states = (form: string): number[] => Array.from({ length: orderOf(form) }, (_, i) => i + 1);

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

/**
 * Complex output over input at a frequency, from the integrators' equations with these parts: C_k x_k' = −Σ of what
 * comes in.
 */
function responseAt(form: string, v: PartValues, freqHz: number): number {
  const n = orderOf(form);
  const w = 2 * Math.PI * freqHz;
  const [matrixRe, matrixIm, right, xRe, xIm] = [
    new Float64Array(n * n),
    new Float64Array(n * n),
    new Float64Array(n),
    new Float64Array(n),
    new Float64Array(n),
  ];
  const add = (row: number, column: number, re: number, im: number) => {
    matrixRe[row * n + column] += re;
    matrixIm[row * n + column] += im;
  };
  const inputs = inputsByState(form);
  for (let k = 1; k <= n; k++) {
    // Rows are brought to the size of their own capacitor's current at this frequency.
    const scale = 1 / (w * v[`C${k}`]);
    add(k - 1, k - 1, losesAt(form, k) ? scale / v[`R${k}d`] : 0, 1);
    for (const { part, kind, from, turned } of inputs[k - 1]) {
      const gain = turned ? -v[`R${from}o`] / v[`R${from}i`] : 1;
      if (from === 'in') right[k - 1] -= scale / v[part];
      else if (kind === 'capacitor') add(k - 1, from - 1, 0, scale * w * v[part] * gain);
      else add(k - 1, from - 1, (scale / v[part]) * gain, 0);
    }
  }
  new ComplexLu(n, matrixRe, matrixIm).solve(right, new Float64Array(n), xRe, xIm);
  return Math.hypot(xRe[n - 1], xIm[n - 1]);
}

const POINTS = 110;
/**
 * Steps of a golden section over two grid spacings: the place is then known to a millionth, the height to its square.
 */
const GOLDEN_STEPS = 24;

/** Where a function is largest between two frequencies around a peak of its own, and how large. */
function largestBetween(f: (freqHz: number) => number, from: number, to: number): number {
  return greatestBetween((log) => f(Math.exp(log)), Math.log(from), Math.log(to), GOLDEN_STEPS).value;
}

/** Edge, ripple and attenuation that given parts come to: peaks and dips of the response looked for one by one. */
function measured(form: string, v: PartValues, wanted: Parameters): Parameters {
  const size = (f: number) => responseAt(form, v, f);
  const rough = wanted.cutoffHz;
  const grid = Array.from({ length: POINTS }, (_, i) => rough * 10 ** (-1.5 + (3.5 * i) / (POINTS - 1)));
  const sizes = grid.map(size);
  const dc = size(rough * 1e-6);
  const turns = (sign: 1 | -1) =>
    sizes.flatMap((s, i) =>
      i > 0 && i < POINTS - 1 && sign * s > sign * sizes[i - 1] && sign * s >= sign * sizes[i + 1]
        ? [{ i, value: sign * largestBetween((f) => sign * size(f), grid[i - 1], grid[i + 1]) }]
        : [],
    );
  const half = dc / 2;
  const passed = (i: number) => sizes[i] > half;
  const peaks = turns(1);
  const peak = Math.max(dc, ...peaks.filter(({ i }) => passed(i)).map(({ value }) => value));
  const dips = turns(-1)
    .filter(({ i }) => passed(i))
    .map(({ value }) => value);
  const low = Math.min(dc, peak, ...dips);
  const rippleDb = 20 * Math.log10(peak / low);
  // The edge is where it falls below the ripple asked for, for good.
  const floor = peak * 10 ** (-wanted.rippleDb / 20);
  let last = sizes.length - 1;
  while (last > 0 && !passed(last)) last--;
  let above = last;
  while (above > 0 && sizes[above] < floor) above--;
  let [a, b] = [grid[above], grid[Math.min(POINTS - 1, last + 1)]];
  for (let i = 0; i < 44; i++) {
    const middle = Math.sqrt(a * b);
    if (size(middle) > floor) a = middle;
    else b = middle;
  }
  const back = peaks.filter(({ i }) => !passed(i)).map(({ value }) => value);
  return {
    cutoffHz: Math.sqrt(a * b),
    rippleDb,
    ...(hasNulls(form) ? { attenuationDb: back.length > 0 ? 20 * Math.log10(peak / Math.max(...back)) : NaN } : {}),
  };
}

/** Where the coupling capacitors make their nulls: each trap's, from what both its nodes know of it. */
function nullsHz(form: string, v: PartValues): number[] {
  if (!hasNulls(form)) return [];
  return states(form)
    .filter((k) => k % 2 === 0 && k < orderOf(form))
    .map((k) => 1 / (2 * Math.PI * Math.sqrt(v[`R${k}a`] * v[`C${k}`] * v[`R${k - 1}b`] * v[`C${k - 1}b`])));
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

/** The name of a state's voltage on the sheet; the last is the output. */
const netName = (k: number, turned: boolean, order: number): string =>
  k === order && !turned ? 'out' : `${signOf(k) * (turned ? -1 : 1) < 0 ? '−' : ''}${k % 2 === 1 ? 'V' : 'I'}${k}`;
const INPUT_ROW = 5;
const COLUMN = 29;
const LEAD_IN = 5;

/** Every op-amp with its own inputs, joined by the names of voltages: a leapfrog's wires would hide what it does. */
function drawing(form: string): Drawing {
  const n = orderOf(form);
  const drawn = sketch();
  const blocks = states(form).flatMap((k) =>
    k % 2 === 0
      ? [
          { k, inverter: false },
          { k, inverter: true },
        ]
      : [{ k, inverter: false }],
  );
  const next: [number, number] = [2, 2];
  for (const { k, inverter } of blocks) {
    const column = next[0] <= next[1] ? 0 : 1;
    const x = LEAD_IN + column * COLUMN;
    const inputs = inverter ? [] : inputsOf(form, k);
    const feedback = inverter
      ? [[`R${k}o`, 'resistor'] as const]
      : [[`C${k}`, 'capacitor'] as const, ...(losesAt(form, k) ? [[`R${k}d`, 'resistor'] as const] : [])];
    const y = next[column] + 2.5 + 4.8 * feedback.length;
    const first = inverter ? ([`R${k}i`, 'resistor'] as const) : ([inputs[0].part, inputs[0].kind] as const);
    const block = invertingBlock(drawn, x, y, inverter ? `U${k}i` : `U${k}`, first, feedback);
    const label = (at: Point, text: string) => {
      drawn.wires.push([at, [x, at[1]]]);
      drawn.ports.push({ label: text, at, side: 'left' });
    };
    label(
      [x - LEAD_IN + 1, y],
      inverter ? netName(k, false, n) : inputs[0].from === 'in' ? 'in' : netName(inputs[0].from, inputs[0].turned, n),
    );
    inputs.slice(1).forEach(({ part, kind, from, turned }, i) => {
      const row = y + INPUT_ROW * (i + 1);
      drawn.parts.push(across(part, kind, x + 2.5, row));
      drawn.wires.push(
        [
          [x, row],
          [x + 0.5, row],
        ],
        [
          [x + 4.5, row],
          [block.sum[0], row],
        ],
      );
      label([x - LEAD_IN + 1, row], netName(from as number, turned, n));
    });
    if (inputs.length > 1) drawn.wires.push([block.sum, [block.sum[0], y + INPUT_ROW * (inputs.length - 1)]]);
    const end: Point = [block.out[0] + 4, block.out[1]];
    drawn.wires.push([block.out, end]);
    drawn.ports.push({ label: netName(k, inverter, n), at: end, side: 'right' });
    next[column] = y + Math.max(7, INPUT_ROW * inputs.length + 1.5);
  }
  return { width: LEAD_IN + COLUMN + 21, height: Math.max(...next) + 2, ...drawn };
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
  drawing,
});

/**
 * The ladder halves what comes in, or divides it by its load; made up for at the input, so that it passes its peak with
 * gain 1.
 */
function inputGain(form: string, loadOhm: number, rippleDb: number): number {
  if (orderOf(form) % 2 === 1) return (1 + loadOhm) / loadOhm;
  return (1 + loadOhm) * (hasNulls(form) ? 1 : 10 ** (-rippleDb / 20));
}
