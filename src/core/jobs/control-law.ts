import { linearise } from '../analysis/linearise';
import { operatingPoint } from '../analysis/operating-point';
import { naturalFrequencies } from '../analysis/poles';
import { compiledRunner } from '../analysis/sound';
import type { Assembled } from '../circuit/structure';
import { OPTOCOUPLER_VALUES } from '../circuit/elements/optocoupler';
import { AS_BUILT, compile, type Compilation } from '../design/compile';
import type { Design, PartControl, Variant } from '../design/schema';
import type { Complex } from '../math/complex';
import { failure, success, type Result } from '../result';
import type { JobContext } from './job-context';
import { turned } from './turn';

/** What a control does to a filter that is moved by a current, how near it is to singing, and how it rests. */
export interface ControlLawRequest {
  readonly kind: 'control-law';
  readonly design: Design;
  readonly variantId: string;
}

export interface ControlLaw {
  readonly controlId: string | null;
  /** Frequency (Hz) and Q of the pole pair that rings longest, over the control's whole travel. */
  readonly points: readonly { readonly position: number; readonly freqHz: number; readonly q: number }[];
  /** Straight line through the octaves: how many from end to end, and how far the worst point lies off it, cents. */
  readonly octaves: number;
  readonly worstCents: number;
  /** What ten degrees more do where the control stands, cents a degree; null where there are no junctions. */
  readonly driftCents: number | null;
  readonly singing: Singing | null;
  readonly rest: Rest | null;
}

/** Where the loop's gain would just keep it going. */
export interface Singing {
  readonly part: string;
  readonly nowOhm: number;
  /** The resistor at which it starts to sing, and at what frequency. */
  readonly atOhm: number;
  readonly freqHz: number;
  readonly sings: boolean;
  /** Where a pot that holds the part starts it, 0 to 1; null where it is not on one, or never does. */
  readonly knob: number | null;
}

export interface Rest {
  readonly nodes: readonly { readonly node: string; readonly volts: number }[];
  /** From the positive rail, A. */
  readonly supplyAmps: number;
}

const POINTS = 31;

/** Fails as the design does, or with `no-such-variant`. */
export function runControlLaw({ design, variantId }: ControlLawRequest): Result<ControlLaw> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  const control = variant.controls.find((c) => heldBy(variant, c.id)?.kind === 'exponential');
  const points = control ? sweepOf(design, variant, control.id) : [];
  const fit = straightLine(points);
  return success({ controlId: control?.id ?? null, points, ...fit, driftCents: driftOf(built.value), singing: singingOf(built.value, variant), rest: restOf(built.value) });
}

const heldBy = (variant: Variant, controlId: string): PartControl | undefined => variant.ways.flatMap((w) => w.stages.flatMap((s) => Object.values(s.parts))).find((p) => p.control?.control === controlId)?.control;

function sweepOf(design: Design, variant: Variant, controlId: string): ControlLaw['points'] {
  return Array.from({ length: POINTS }, (_, i) => i / (POINTS - 1)).flatMap((position) => {
    const built = compile(design, turned(variant, controlId, { position }), AS_BUILT);
    const found = built.ok ? longest(built.value.circuit, bandOf(built.value)) : null;
    return found ? [{ position, freqHz: found.freqHz, q: found.q }] : [];
  });
}

/** Where to look for the filter's poles: about a frequency, past the rates (1/s) at which cells follow their lamps, which shape no sound. */
interface Band {
  readonly aboutHz: number;
  readonly slow: readonly number[];
}

function bandOf({ ways, netlist }: Compilation): Band {
  const corners = ways[0].stages.flatMap((s) => s.cornersHz);
  const followed = (['riseS', 'fallS'] as const).map((name) => OPTOCOUPLER_VALUES.indexOf(name));
  return {
    aboutHz: corners.length > 0 ? Math.sqrt(Math.min(...corners) * Math.max(...corners)) : 1000,
    slow: netlist.elements.filter((e) => e.definition.kind === 'optocoupler').flatMap((e) => followed.map((i) => 1 / e.values[i])),
  };
}

/** Poles of the audio band and about it: far ones are the op-amps'. */
const WIDEST = 3000;
/** Two rates this near are one. */
const SAME = 1e-3;

/** The pair that rings longest for its frequency, or with none the slowest real pole. */
function longest(circuit: Assembled, { aboutHz, slow }: Band): { freqHz: number; q: number; pole: Complex } | null {
  const about = 2 * Math.PI * aboutHz;
  const poles = naturalFrequencies(circuit, about).filter((p) => Math.hypot(p.re, p.im) < WIDEST * about && Math.hypot(p.re, p.im) > about / WIDEST && !slow.some((rate) => Math.abs(p.re / rate + 1) < SAME && Math.abs(p.im) < SAME * rate));
  const rated = poles.filter((p) => p.im >= 0).map((pole) => {
    const size = Math.hypot(pole.re, pole.im);
    return { pole, freqHz: size / (2 * Math.PI), q: pole.im > 1e-6 * size ? size / (-2 * pole.re) : 0.5 };
  });
  const pairs = rated.filter((r) => r.q !== 0.5);
  if (pairs.length > 0) return pairs.reduce((a, b) => (b.pole.re / b.freqHz > a.pole.re / a.freqHz ? b : a));
  return rated.length > 0 ? rated.reduce((a, b) => (b.freqHz < a.freqHz ? b : a)) : null;
}

function straightLine(points: ControlLaw['points']): { octaves: number; worstCents: number } {
  if (points.length < 3) return { octaves: 0, worstCents: 0 };
  const y = points.map((p) => Math.log2(p.freqHz));
  const [mx, my] = [points.reduce((s, p) => s + p.position, 0) / points.length, y.reduce((s, v) => s + v, 0) / y.length];
  const slope = points.reduce((s, p, i) => s + (p.position - mx) * (y[i] - my), 0) / points.reduce((s, p) => s + (p.position - mx) ** 2, 0);
  return { octaves: slope, worstCents: points.reduce((worst, p, i) => Math.max(worst, 1200 * Math.abs(y[i] - my - slope * (p.position - mx))), 0) };
}

/** Factors of the resistor between which the beginning of song is looked for. */
const REACH = 300;
const HALVINGS = 60;

const WARMER_C = 10;
const BENCH_C = 27;

/** The currents held, the junctions warmer: kT/q alone moves. The converter that makes the currents has a drift of its own. */
function driftOf(built: Compilation): number | null {
  if (!built.live) return null;
  const { circuit } = built.live;
  const [cold, warm] = [BENCH_C, BENCH_C + WARMER_C].map((temperatureC) => {
    const rest = operatingPoint(circuit, { temperatureC });
    return rest.ok ? longest(linearise(circuit, rest.value, { temperatureC }), bandOf(built)) : null;
  });
  return cold && warm ? (1200 * Math.log2(warm.freqHz / cold.freqHz)) / WARMER_C : null;
}

function singingOf(built: Compilation, variant: Variant): Singing | null {
  for (const { stage, topology, form, role } of built.ways[0].stages) {
    if (role !== 'network' || stage.bypassed) continue;
    const part = topology.role === 'network' ? topology.resonance?.(form) : undefined;
    const slot = part === undefined ? undefined : built.circuit.structure.slotOf(`${stage.id}.${part}`);
    if (part === undefined || slot === undefined) continue;
    const nowOhm = built.circuit.values[slot];
    const at = (ohm: number) => {
      const values = built.circuit.values.slice();
      values[slot] = ohm;
      return longest({ ...built.circuit, values }, bandOf(built));
    };
    const grows = (ohm: number): boolean => (at(ohm)?.pole.re ?? -1) > 0;
    const now = grows(nowOhm);
    // Whichever way makes it louder: less of a resistor round the loop, or less of one that damps it.
    let [low, high] = [nowOhm / REACH, nowOhm * REACH];
    if (grows(low) === grows(high)) continue;
    const below = grows(low);
    for (let i = 0; i < HALVINGS; i++) {
      const middle = Math.sqrt(low * high);
      if (grows(middle) === below) low = middle;
      else high = middle;
    }
    const atOhm = Math.sqrt(low * high);
    const held = stage.parts[part]?.control;
    const share = held?.kind === 'rheostat' && held.totalOhm > 0 ? (atOhm - held.endOhm) / held.totalOhm : NaN;
    const reversed = held?.kind === 'rheostat' && variant.controls.some((c) => c.id === held.control);
    return { part, nowOhm, atOhm, freqHz: at(atOhm)?.freqHz ?? NaN, sings: now, knob: reversed && share >= 0 && share <= 1 ? share : null };
  }
  return null;
}

/** Less than this is none, on the bench. */
const NO_VOLTS = 5e-5;

function restOf({ live, ways }: Compilation): Rest | null {
  if (!live) return null;
  const { structure } = live.circuit;
  const { joints, output, stages } = ways[0];
  // By the names of the drawing; which stage where there are several.
  const numberOf = new Map(stages.filter(({ stage }) => !stage.bypassed).map(({ stage }, i) => [stage.id, i + 1]));
  const named = (name: string): string => {
    if (name === output) return 'out';
    const joint = joints.indexOf(name);
    if (joint >= 0) return joint === 0 ? 'in' : joint === joints.length - 1 ? 'load' : `joint ${joint}`;
    const [stage, local] = name.split('.');
    return local === undefined ? name : numberOf.size > 1 && numberOf.has(stage) ? `${numberOf.get(stage)} ${local}` : local;
  };
  const nodes = structure.unknowns.flatMap((name, i) => (/^i\d*\(/.test(name) || /light|\.source$/.test(name) ? [] : [{ node: named(name), volts: Math.abs(live.rest[i]) < NO_VOLTS ? 0 : live.rest[i] }]));
  const rail = structure.branchOf('Vplus');
  return { nodes, supplyAmps: rail === undefined ? 0 : Math.abs(live.rest[rail]) };
}

/** How much of a tone the filter bears before it bends by so much. */
export interface BendRequest {
  readonly kind: 'bend';
  readonly design: Design;
  readonly variantId: string;
  readonly freqHz: number;
  readonly percent: number;
}
export interface Bend {
  /** Peak at the input, V, and the harmonics there (2nd on) as shares of the tone. */
  readonly inputVolts: number;
  readonly outputVolts: number;
  readonly harmonics: readonly number[];
  /** Distortion against level: V peak, per cent. */
  readonly curve: readonly { readonly volts: number; readonly percent: number }[];
}
const FIRST_VOLTS = 0.02;
const LOUDEST_VOLTS = 20;
const LEVEL_STEP = 2;
const CLOSING_STEPS = 7;

const POINTS_A_PERIOD = 512;
const FIRST_PERIODS = 12;
const MOST_PERIODS = 400;
/** A period that repeats the last to this share of its swing is settled. */
const SETTLED = 1e-5;
const HARMONICS = 7;

/** Harmonics of a tone, sample by sample at so many a period, until one period repeats the last. */
function toneThrough(circuit: Assembled, out: number, volts: number, freqHz: number): Result<{ levels: Float64Array; total: number }> {
  const made = compiledRunner(circuit, { sampleRateHz: freqHz * POINTS_A_PERIOD, wanted: [out] });
  if (!made.ok) return made;
  const runner = made.value;
  const inputs = runner.sources.map((name) => (name === 'Vin' ? Float64Array.from({ length: POINTS_A_PERIOD }, (_, i) => volts * Math.sin((2 * Math.PI * (i + 1)) / POINTS_A_PERIOD)) : new Float64Array(POINTS_A_PERIOD).fill(circuit.sources?.get(name)?.dc ?? 0)));
  let before = new Float64Array(POINTS_A_PERIOD);
  let now = new Float64Array(POINTS_A_PERIOD);
  for (let period = 0; period < MOST_PERIODS; period++) {
    [before, now] = [now, before];
    runner.process(inputs, [now], POINTS_A_PERIOD);
    if (period < FIRST_PERIODS) continue;
    const swing = now.reduce((m, v) => Math.max(m, Math.abs(v)), 0);
    if (now.every((v, i) => Math.abs(v - before[i]) <= SETTLED * swing + 1e-12)) break;
  }
  const levels = Float64Array.from({ length: HARMONICS }, (_, h) => {
    let [re, im] = [0, 0];
    now.forEach((v, i) => {
      re += v * Math.cos((2 * Math.PI * (h + 1) * i) / POINTS_A_PERIOD);
      im += v * Math.sin((2 * Math.PI * (h + 1) * i) / POINTS_A_PERIOD);
    });
    return (2 * Math.hypot(re, im)) / POINTS_A_PERIOD;
  });
  return success({ levels, total: Math.sqrt(levels.subarray(1).reduce((sum, v) => sum + v * v, 0)) / levels[0] });
}

/** Fails as the design or time does, `nothing-bends` for a linear circuit, or `cancelled`. */
export async function runBend({ design, variantId, freqHz, percent }: BendRequest, context: JobContext): Promise<Result<Bend>> {
  const variant = design.variants.find((v) => v.id === variantId);
  const built = variant ? compile(design, variant, AS_BUILT) : failure('no-such-variant', { variant: variantId });
  if (!built.ok) return built;
  const { live, ways } = built.value;
  if (!live) return failure('nothing-bends');
  const out = live.circuit.structure.nodeOf(ways[0].output) ?? -1;
  const curve: { volts: number; percent: number }[] = [];
  const at = (volts: number) => toneThrough(live.circuit, out, volts, freqHz);
  let below = 0;
  let above: number | null = null;
  let last: ReturnType<typeof at> | null = null;
  for (let volts = FIRST_VOLTS; volts <= LOUDEST_VOLTS && above === null; volts *= LEVEL_STEP) {
    const found = at(volts);
    if (!found.ok) return found;
    curve.push({ volts, percent: 100 * found.value.total });
    if (100 * found.value.total >= percent) above = volts;
    else below = volts;
    last = found;
    context.progress(Math.min(0.6, curve.length / 12));
    await context.pause();
    if (context.signal.aborted) return failure('cancelled');
  }
  if (above === null) below = LOUDEST_VOLTS;
  for (let i = 0; above !== null && below > 0 && i < CLOSING_STEPS; i++) {
    const middle = Math.sqrt(below * above);
    const found = at(middle);
    if (!found.ok) return found;
    if (100 * found.value.total >= percent) above = middle;
    else below = middle;
    last = found;
    context.progress(0.6 + (0.4 * (i + 1)) / CLOSING_STEPS);
    await context.pause();
    if (context.signal.aborted) return failure('cancelled');
  }
  const inputVolts = above === null ? below : Math.sqrt(Math.max(below, above / LEVEL_STEP) * above);
  const levels = last?.ok ? last.value.levels : new Float64Array(7);
  return success({ inputVolts, outputVolts: levels[0], harmonics: Array.from(levels.subarray(1), (v) => v / levels[0]), curve });
}
