import type * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { linearise } from '../../analysis/rest/linearise';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { operatingPointNear } from '../../analysis/rest/operating-point';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import type { Design, PartControl, Variant } from '../../design/document/schema';
import { straightLine } from '../../math/straight-line';
import { success, type Result } from '../../result';
import { centsBetween } from '../../units/quantity';
import { builtVariant, type BuiltVariant } from '../reading/built-variant';
import { bandOf, longest } from './longest-pole';
import { resonanceOf, singingOf, type Resonance, type Singing } from './resonance';
import { turned } from '../network/turn';

/** What a control does to a filter that is moved by a current, and how near it is to singing. */
const controlLawRequest = requestOf('control-law', { ...ofVariant });
export type ControlLawRequest = z.infer<typeof controlLawRequest>;

export interface ControlLaw {
  readonly controlId: string | null;
  /** Frequency (Hz) and Q of the pole pair that rings longest, over the control's whole travel. */
  readonly points: readonly {
    readonly position: number;
    readonly freqHz: number;
    readonly q: number;
    /** At that frequency, dB. */ readonly levelDb: number;
  }[];
  /** Straight line through the octaves: how many from end to end, and how far the worst point lies off it, cents. */
  readonly octaves: number;
  readonly worstCents: number;
  /** What ten degrees more do where the control stands, cents a degree; null where there are no junctions. */
  readonly driftCents: number | null;
  readonly singing: Singing | null;
  readonly resonance: Resonance | null;
}

const POINTS = 31;

/** Fails as the design does, or with `no-such-variant`. */
export function runControlLaw({ design, variantId }: ControlLawRequest, solver: AcSolver): Result<ControlLaw> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const { variant } = built.value;
  // A control current before a pedal, a pedal before a knob that only sets a level or a resonance.
  const control = MOVERS.map((moves) => variant.controls.find((c) => moves(c, heldBy(variant, c.id)))).find(
    (c) => c !== undefined,
  );
  const points = control ? sweepOf(built.value, design, control.id, solver) : [];
  const fit = fitOf(points);
  const singing = singingOf(built.value);
  return success({
    controlId: control?.id ?? null,
    points,
    ...fit,
    driftCents: driftOf(built.value),
    singing,
    resonance: singing ? resonanceOf(built.value, singing, solver) : null,
  });
}

type Mover = (control: Variant['controls'][number], held: PartControl | undefined) => boolean;
const MOVERS: readonly Mover[] = [
  (_c, held) => held?.kind === 'exponential',
  ({ kind }, held) => kind === 'pedal' && held !== undefined,
];

const heldBy = (variant: Variant, controlId: string): PartControl | undefined =>
  variant.ways
    .flatMap((w) => w.stages.flatMap((s) => Object.values(s.parts)))
    .find((p) => p.control?.control === controlId)?.control;

function sweepOf(built: BuiltVariant, design: Design, controlId: string, solver: AcSolver): ControlLaw['points'] {
  const band = bandOf(built);
  let near = built.live?.rest ?? null;
  return Array.from({ length: POINTS }, (_, i) => i / (POINTS - 1)).flatMap((position) => {
    // Each rest is found from the one before.
    const here = compile(design, turned(built.variant, controlId, { position }), { ...AS_BUILT, rest: 'left' });
    if (!here.ok) return [];
    let { circuit } = here.value;
    if (near) {
      const rest = operatingPointNear(circuit, near);
      if (!rest.ok) return [];
      near = rest.value;
      circuit = linearise(circuit, near);
    }
    const found = longest(circuit, band);
    if (!found) return [];
    const level = solver.sweep(circuit, Float64Array.of(found.freqHz), [here.value.ways[0].output]);
    return [{ position, freqHz: found.freqHz, q: found.q, levelDb: level.ok ? levelsDb(level.value[0])[0] : NaN }];
  });
}

function fitOf(points: ControlLaw['points']): { octaves: number; worstCents: number } {
  if (points.length < 3) return { octaves: 0, worstCents: 0 };
  const [x, octaves] = [points.map((p) => p.position), points.map((p) => Math.log2(p.freqHz))];
  const { slope, intercept } = straightLine(x, octaves);
  return {
    octaves: slope,
    worstCents: x.reduce(
      (worst, v, i) => Math.max(worst, Math.abs(centsBetween(2 ** (intercept + slope * v), 2 ** octaves[i]))),
      0,
    ),
  };
}

const WARMER_C = 10;
const BENCH_C = 27;

/**
 * The currents held, the junctions warmer: kT/q alone moves. The converter that makes the currents has a drift of its
 * own.
 */
function driftOf(built: Compilation): number | null {
  if (!built.live) return null;
  const { circuit, rest } = built.live;
  const temperatureC = BENCH_C + WARMER_C;
  const warmRest = operatingPointNear(circuit, rest, { temperatureC });
  const band = bandOf(built);
  const [cold, warm] = [
    longest(built.circuit, band),
    warmRest.ok ? longest(linearise(circuit, warmRest.value, { temperatureC }), band) : null,
  ];
  return cold && warm ? centsBetween(cold.freqHz, warm.freqHz) / WARMER_C : null;
}

export const controlLawJob = defineJob(controlLawRequest, (request, { solver }) => runControlLaw(request, solver));
