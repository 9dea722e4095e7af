import { linearise } from '../analysis/linearise';
import { operatingPoint } from '../analysis/operating-point';
import { naturalFrequencies } from '../analysis/poles';
import type { Assembled } from '../circuit/structure';
import { OPTOCOUPLER_VALUES } from '../circuit/elements/optocoupler';
import { AS_BUILT, compile, type Compilation } from '../design/compile';
import type { Design, PartControl, Variant } from '../design/schema';
import type { Complex } from '../math/complex';
import { success, type Result } from '../result';
import { builtVariant, type BuiltVariant } from './built-variant';
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
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const { variant } = built.value;
  const control = variant.controls.find((c) => heldBy(variant, c.id)?.kind === 'exponential');
  const points = control ? sweepOf(design, variant, control.id) : [];
  const fit = straightLine(points);
  return success({ controlId: control?.id ?? null, points, ...fit, driftCents: driftOf(built.value), singing: singingOf(built.value), rest: restOf(built.value) });
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

/** Factors of the resistor between which the beginning of song is looked for. */
const REACH = 300;
const HALVINGS = 60;

function singingOf(built: BuiltVariant): Singing | null {
  for (const { stage, topology, form, role } of built.ways[0].stages) {
    if (role !== 'network' || stage.bypassed) continue;
    const part = topology.role === 'network' ? topology.resonance?.(form) : undefined;
    const slot = part === undefined ? undefined : built.circuit.structure.slotOf(`${stage.id}.${part}`);
    if (part === undefined || slot === undefined) continue;
    const nowOhm = built.circuit.values[slot];
    const band = bandOf(built);
    const at = (ohm: number) => {
      const values = built.circuit.values.slice();
      values[slot] = ohm;
      return longest({ ...built.circuit, values }, band);
    };
    const grows = (ohm: number): boolean => (at(ohm)?.pole.re ?? -1) > 0;
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
    return { part, nowOhm, atOhm, freqHz: at(atOhm)?.freqHz ?? NaN, sings: grows(nowOhm), knob: share >= 0 && share <= 1 ? share : null };
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
