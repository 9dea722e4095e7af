import { AcSolver } from '../../analysis/ac/solver';
import type * as z from 'zod';
import type { OperatingPoint } from '../../analysis/rest/operating-point';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import { BENCH_C } from '../../design/compiled/stage-placer';
import { deliveredAmps, onCurrent } from '../../design/compiled/folded-chains';
import type { Design, PartChoice, Stage, Variant } from '../../design/document/schema';
import { readWay } from '../reading/read-way';
import { mainCutoff, marksOf } from '../reading/way-marks';
import { failure, success, type Result } from '../../result';
import type { ControlChain } from '../../topology/voice/control/control-chain';
import { CURRENT } from '../../topology/voice/control/controlled';
import { findChain } from '../../topology/voice/control/index';
import { straightLine } from '../../math/straight-line';
import { centsBetween } from '../../units/quantity';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { turned } from '../network/turn';
import { bandOf, longest } from './longest-pole';

/** What a voice's own converter makes of volts: frequency against them, warmth, reach, and how it is trimmed. */
const voltsPerOctaveRequest = requestOf('volts-per-octave', { ...ofVariant });
export type VoltsPerOctaveRequest = z.infer<typeof voltsPerOctaveRequest>;

export interface VoltsPoint {
  readonly volts: number;
  /** What the voice gets, A, and its pole pair's frequency with it, Hz. */
  readonly amps: number;
  readonly freqHz: number;
  /** Off the scale that is asked for, from what it has at no volts; 0 for a chain without one. */
  readonly cents: number;
}

export interface Trimming {
  /** Its name in the circuit; ohm now and where it belongs; what the fixed part and the whole trimmer leave it. */
  readonly part: string;
  readonly sets: ControlChain['trimmed'][number]['sets'];
  readonly nowOhm: number;
  readonly ohm: number;
  readonly lowOhm: number;
  readonly highOhm: number;
  readonly fixedOhm: number;
}

export interface VoltsPerOctave {
  readonly stageId: string;
  readonly chain: string;
  readonly law: ControlChain['law'];
  /** Volts an octave: asked for, and measured as a straight line through all points; null for a linear chain. */
  readonly scale: { readonly asked: number; readonly measured: number } | null;
  readonly points: readonly VoltsPoint[];
  readonly worstCents: number;
  /** Volts at the pitch jack at which warmth is asked about; and off what it is at 27 °C, cents, at each of them. */
  readonly driftAtVolts: readonly number[];
  readonly drift: readonly { readonly temperatureC: number; readonly cents: readonly number[] }[];
  /** How far pitch goes over all of that, cents a degree, at each of those volts. */
  readonly centsADegree: readonly number[];
  /** Frequencies at the ends of the knob, with nothing plugged in; of the pitch input; of both together. Hz. */
  readonly reach: Readonly<Record<'knob' | 'pitch' | 'together', readonly [fromHz: number, toHz: number]>>;
  /** What to read with the trimmers where they belong: volts at the pitch jack, and the frequency then. */
  readonly trim: {
    readonly parts: readonly Trimming[];
    /** What an instrument reads at each voltage, as it stands and with the trimmers where they belong, Hz. */
    readonly readings: readonly {
      readonly volts: number;
      readonly reads: Instrument;
      readonly nowHz: number;
      readonly wantedHz: number;
      readonly offCents: number;
    }[];
    readonly worstCents: number;
  } | null;
}

/** What shows on a bench: where a sweep peaks, where it is 3 dB down, or the pitch of the oscillation. */
export type Instrument = 'peak' | 'cutoff' | 'oscillation';
/** A peak this far over the pass band is read rather than the cutoff, dB. */
const READ_PEAK_DB = 3;

const POINTS = 13;
const WARMTHS_C: readonly number[] = [17, 22, 27, 32, 37];
/** A trimmer moves what it should by Newton on the real circuit: so many rounds. */
const TRIM_ROUNDS = 3;
const DRIFT_AT_VOLTS: readonly number[] = [0, 2];
const READ_AT_VOLTS: readonly number[] = [-1, 0, 1];

/** Null where no chain makes the current. Fails as the design does, or with `no-such-variant`. */
export function runVoltsPerOctave(
  { design, variantId }: VoltsPerOctaveRequest,
  solver: AcSolver = new AcSolver(),
): Result<VoltsPerOctave | null> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const placed = findStage(variant, (s) => s.controlledBy !== undefined && !s.bypassed);
  if (!placed?.stage.controlledBy) return success(null);
  const chain = findChain(placed.stage.controlledBy.circuit);
  const jack = chain && placed.stage.parts[chain.pitch]?.control;
  const knob = chain && placed.stage.parts[chain.knob]?.control;
  if (jack?.kind !== 'voltage' || !knob) return success(null);
  const voice = new Voice(design, variant, placed, jack, knob.control, solver);
  const rest = voice.at({ volts: 0 });
  if (!rest.ok) return rest;
  const zero = rest.value.freqHz;
  const asked = chain.law === 'octaves' ? placed.stage.controlledBy.parameters.voltsPerOctave : null;
  const points = Array.from({ length: POINTS }, (_, i) => {
    const volts = jack.fromVolts + ((jack.toVolts - jack.fromVolts) * i) / (POINTS - 1);
    const found = voice.at({ volts });
    return found.ok && found.value.freqHz > 0
      ? [{ volts, ...found.value, cents: asked ? centsBetween(zero * 2 ** (volts / asked), found.value.freqHz) : 0 }]
      : [];
  }).flat();
  const hertz = (at: At): number => {
    const found = voice.at(at);
    return found.ok ? found.value.freqHz : NaN;
  };
  const pair = (low: At, high: At): [number, number] => [hertz(low), hertz(high)];
  const drift = driftOf(hertz);
  return success({
    stageId: placed.stage.id,
    chain: chain.id,
    law: chain.law,
    scale: asked
      ? {
          asked,
          measured:
            1 /
            straightLine(
              points.map((p) => p.volts),
              points.map((p) => Math.log2(p.freqHz)),
            ).slope,
        }
      : null,
    points,
    worstCents: points.reduce((worst, p) => Math.max(worst, Math.abs(p.cents)), 0),
    driftAtVolts: DRIFT_AT_VOLTS,
    drift,
    centsADegree: DRIFT_AT_VOLTS.map((_, i) => spanOf(drift.map((row) => row.cents[i])) / spanOf(WARMTHS_C)),
    reach: {
      knob: pair({ volts: 0, knob: 0 }, { volts: 0, knob: 1 }),
      pitch: pair({ volts: jack.fromVolts }, { volts: jack.toVolts }),
      together: pair({ volts: jack.fromVolts, knob: 0 }, { volts: jack.toVolts, knob: 1 }),
    },
    trim: asked ? trimOf(voice, chain, asked) : null,
  });
}

const spanOf = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);

/** A stage and where it stands: indices of its way and of itself in it. */
interface Placed {
  readonly stage: Stage;
  readonly way: number;
  readonly at: number;
}

function findStage({ ways }: Variant, is: (stage: Stage) => boolean): Placed | undefined {
  for (const [way, { stages }] of ways.entries()) {
    const at = stages.findIndex(is);
    if (at >= 0) return { stage: stages[at], way, at };
  }
  return undefined;
}

interface At {
  readonly volts: number;
  readonly knob?: number;
  readonly temperatureC?: number;
  /** Resistors of other values, ohm. */
  readonly ohms?: Readonly<Record<string, number>>;
}

/** The voice with its chain, at any volts; and the voice by itself on the current that it gets there. */
class Voice {
  private readonly asked = new Map<string, Result<{ amps: number; freqHz: number }>>();
  /** Where the chain with its voice, and the voice alone, rested last: the next rest is looked for from there. */
  private readonly rests: { whole?: OperatingPoint; alone?: OperatingPoint } = {};

  constructor(
    private readonly design: Design,
    private readonly variant: Variant,
    readonly placed: Placed,
    private readonly jack: Extract<PartChoice['control'], { kind: 'voltage' }>,
    private readonly knob: string,
    private readonly solver: AcSolver,
  ) {}

  at(at: At): Result<{ amps: number; freqHz: number }> {
    const key = JSON.stringify([at.volts, at.knob, at.temperatureC ?? BENCH_C, at.ohms ?? {}]);
    const found = this.asked.get(key) ?? this.worked(at);
    this.asked.set(key, found);
    return found;
  }

  private worked(at: At): Result<{ amps: number; freqHz: number }> {
    const { temperatureC } = at;
    const built = this.compiled('whole', this.bench(at), temperatureC);
    if (!built.ok) return built;
    const amps = deliveredAmps(built.value, this.placed.stage, temperatureC);
    return this.alone(this.turnedTo(at), amps, temperatureC);
  }

  /** What an instrument at its output reads; null where it shows none of them. */
  reads(at: At): { readonly reads: Instrument; readonly freqHz: number } | null {
    const built = this.compiled('whole', this.bench(at), at.temperatureC);
    if (!built.ok) return null;
    const [way, compiled] = [this.variant.ways[this.placed.way], built.value.ways[this.placed.way]];
    const read = readWay(built.value, way, compiled, this.solver);
    if (!read.ok) return null;
    const { stability, reference } = read.value;
    if (!stability.stable) return stability.singsHz ? { reads: 'oscillation', freqHz: stability.singsHz } : null;
    const marks = marksOf(read.value, way);
    const peak = marks.find((m) => m.kind === 'peak');
    const stands = peak && (reference.of === 'peak' || peak.levelDb - reference.levelDb >= READ_PEAK_DB);
    if (stands) return { reads: 'peak', freqHz: peak.freqHz };
    const cutoff = mainCutoff(marks);
    return cutoff ? { reads: 'cutoff', freqHz: cutoff.freqHz } : null;
  }

  /** The variant with volts at its pitch jack, its knob turned, resistors of other values. */
  private bench({ volts, knob, ohms = {} }: At): Variant {
    return withStage(this.turnedTo({ volts, knob }), this.placed, withOhms(this.placed.stage, ohms));
  }

  private turnedTo({ volts, knob }: Pick<At, 'volts' | 'knob'>): Variant {
    const position = (volts - this.jack.fromVolts) / (this.jack.toVolts - this.jack.fromVolts);
    const variant = turned(this.variant, this.jack.control, { position });
    return knob === undefined ? variant : turned(variant, this.knob, { position: knob });
  }

  private compiled(which: 'whole' | 'alone', variant: Variant, temperatureC?: number): Result<Compilation> {
    const built = compile(this.design, variant, { ...AS_BUILT, temperatureC, near: this.rests[which] });
    if (built.ok && built.value.live) this.rests[which] = built.value.live.rest;
    return built;
  }

  /** The voice without its chain, on a current; what the converter does by itself is not among its poles then. */
  alone(variant: Variant, amps: number, temperatureC?: number): Result<{ amps: number; freqHz: number }> {
    const bare = onCurrent(this.placed.stage, amps);
    const built = this.compiled('alone', withStage(variant, this.placed, bare), temperatureC);
    if (!built.ok) return built;
    const found = longest(built.value.circuit, bandOf(built.value));
    return success({ amps, freqHz: found?.freqHz ?? NaN });
  }

  /** What it is designed for, Hz: its own parts on the current they were worked out with. */
  designedHz(): Result<number> {
    const built = compile(this.design, this.variant, AS_BUILT);
    if (!built.ok) return built;
    const wanted = built.value.ways[this.placed.way].stages[this.placed.at].besides.exact[CURRENT];
    const found = this.alone(this.variant, wanted);
    return found.ok ? success(found.value.freqHz) : found;
  }
}

const withStage = (variant: Variant, { way, at }: Placed, stage: Stage): Variant => ({
  ...variant,
  ways: variant.ways.map((w, i) => (i === way ? { ...w, stages: w.stages.map((s, k) => (k === at ? stage : s)) } : w)),
});

const withOhms = (stage: Stage, ohms: Readonly<Record<string, number>>): Stage => ({
  ...stage,
  parts: {
    ...stage.parts,
    ...Object.fromEntries(
      Object.entries(ohms).map(([name, ohm]) => [name, { use: { kind: 'single' as const, values: [ohm] } }]),
    ),
  },
});

function driftOf(hertz: (at: At) => number): VoltsPerOctave['drift'] {
  const bench = DRIFT_AT_VOLTS.map((volts) => hertz({ volts }));
  return WARMTHS_C.map((temperatureC) => ({
    temperatureC,
    cents: DRIFT_AT_VOLTS.map((volts, i) => centsBetween(bench[i], hertz({ volts, temperatureC }))),
  }));
}

/**
 * Where the two trimmers belong on the circuit as it is built: scale by what two octaves about the middle measure,
 * beginning by the frequency it was designed for. Each in turn, since a scale moves what base currents take.
 */
function trimOf(voice: Voice, chain: ControlChain, asked: number): VoltsPerOctave['trim'] {
  const wanted = voice.designedHz();
  if (!wanted.ok) return null;
  const { stage } = voice.placed;
  const trimmable = chain.trimmed.flatMap(({ part, sets }) => {
    const choice = stage.parts[part];
    return choice?.use?.kind === 'series' && choice.trimmerOhm !== undefined && choice.use.values.length === 2
      ? [
          {
            part,
            sets,
            fixedOhm: choice.use.values[0],
            nowOhm: choice.use.values[0] + choice.use.values[1],
            trimmerOhm: choice.trimmerOhm,
          },
        ]
      : [];
  });
  const ohms: Record<string, number> = Object.fromEntries(trimmable.map((t) => [t.part, t.nowOhm]));
  const hertz = (volts: number, with_: Readonly<Record<string, number>>): number => {
    const found = voice.at({ volts, ohms: with_ });
    return found.ok ? found.value.freqHz : NaN;
  };
  for (let round = 0; round < TRIM_ROUNDS; round++) {
    for (const { part, sets } of trimmable)
      ohms[part] *=
        sets === 'scale' ? 2 / asked / Math.log2(hertz(1, ohms) / hertz(-1, ohms)) : hertz(0, ohms) / wanted.value;
  }
  if (!Object.values(ohms).every(Number.isFinite)) return null;
  const readings = READ_AT_VOLTS.flatMap((volts) => {
    const [now, trimmed] = [voice.reads({ volts }), voice.reads({ volts, ohms })];
    if (!now || !trimmed || now.reads !== trimmed.reads) return [];
    const { reads, freqHz: wantedHz } = trimmed;
    return [{ volts, reads, nowHz: now.freqHz, wantedHz, offCents: centsBetween(wantedHz, now.freqHz) }];
  });
  if (readings.length === 0) return null;
  return {
    parts: trimmable.map(({ trimmerOhm, ...trim }) => ({
      ...trim,
      ohm: ohms[trim.part],
      lowOhm: trim.fixedOhm,
      highOhm: trim.fixedOhm + trimmerOhm,
    })),
    readings,
    worstCents: Math.max(...readings.map((r) => Math.abs(r.offCents))),
  };
}

export const voltsPerOctaveJob = defineJob(voltsPerOctaveRequest, (request, { solver }) =>
  runVoltsPerOctave(request, solver),
);
