import type { z } from 'zod';
import { AS_BUILT, compile } from '../../design/compile';
import { deliveredAmps, onCurrent } from '../../design/folded-chains';
import { findStage, type Placed } from '../../design/placed-stage';
import type { Design, PartChoice, Stage, Variant } from '../../design/schema';
import { failure, success, type Result } from '../../result';
import type { ControlChain } from '../../topology/voice/control/control-chain';
import { CURRENT } from '../../topology/voice/control/controlled';
import { findChain } from '../../topology/voice/control/index';
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
  /** Frequencies at the ends of the knob, with nothing plugged in; of the pitch input; of both together. Hz. */
  readonly reach: Readonly<Record<'knob' | 'pitch' | 'together', readonly [fromHz: number, toHz: number]>>;
  /** What to read with the trimmers where they belong: volts at the pitch jack, and the frequency then. */
  readonly trim: {
    readonly parts: readonly Trimming[];
    readonly readings: readonly { readonly volts: number; readonly nowHz: number; readonly wantedHz: number }[];
  } | null;
}

const POINTS = 13;
const WARMTHS_C: readonly number[] = [17, 22, 27, 32, 37];
/** A trimmer moves what it should by Newton on the real circuit: so many rounds. */
const TRIM_ROUNDS = 3;
const DRIFT_AT_VOLTS: readonly number[] = [0, 2];
const READ_AT_VOLTS: readonly number[] = [-2, -1, 0, 1, 2];

/** Null where no chain makes the current. Fails as the design does, or with `no-such-variant`. */
export function runVoltsPerOctave({ design, variantId }: VoltsPerOctaveRequest): Result<VoltsPerOctave | null> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const placed = findStage(variant, (s) => s.controlledBy !== undefined && !s.bypassed);
  if (!placed?.stage.controlledBy) return success(null);
  const chain = findChain(placed.stage.controlledBy.circuit);
  const jack = placed.stage.parts[PITCH]?.control;
  const knob = placed.stage.parts[KNOB]?.control;
  if (!chain || jack?.kind !== 'voltage' || !knob) return success(null);
  const voice = new Voice(design, variant, placed, jack);
  const rest = voice.at({ volts: 0 });
  if (!rest.ok) return rest;
  const zero = rest.value.freqHz;
  const asked = chain.law === 'octaves' ? placed.stage.controlledBy.parameters.voltsPerOctave : null;
  const points = Array.from({ length: POINTS }, (_, i) => {
    const volts = jack.fromVolts + ((jack.toVolts - jack.fromVolts) * i) / (POINTS - 1);
    const found = voice.at({ volts });
    return found.ok && found.value.freqHz > 0
      ? [{ volts, ...found.value, cents: asked ? 1200 * (Math.log2(found.value.freqHz / zero) - volts / asked) : 0 }]
      : [];
  }).flat();
  const hertz = (at: At): number => {
    const found = voice.at(at);
    return found.ok ? found.value.freqHz : NaN;
  };
  const pair = (low: At, high: At): [number, number] => [hertz(low), hertz(high)];
  return success({
    stageId: placed.stage.id,
    chain: chain.id,
    law: chain.law,
    scale: asked ? { asked, measured: 1 / slopeOf(points) } : null,
    points,
    worstCents: points.reduce((worst, p) => Math.max(worst, Math.abs(p.cents)), 0),
    driftAtVolts: DRIFT_AT_VOLTS,
    drift: driftOf(hertz),
    reach: {
      knob: pair({ volts: 0, knob: 0 }, { volts: 0, knob: 1 }),
      pitch: pair({ volts: jack.fromVolts }, { volts: jack.toVolts }),
      together: pair({ volts: jack.fromVolts, knob: 0 }, { volts: jack.toVolts, knob: 1 }),
    },
    trim: asked ? trimOf(voice, chain, asked) : null,
  });
}

const PITCH = 'Jc1';
const KNOB = 'Pc1';
/** Of a converter: what sets the scale, and what sets where it begins. */
const [SCALE, BEGIN] = ['Rc4', 'Rc7'];

interface At {
  readonly volts: number;
  readonly knob?: number;
  readonly temperatureC?: number;
  /** Resistors of other values, ohm. */
  readonly ohms?: Readonly<Record<string, number>>;
}

/** The voice with its chain, at any volts; and the voice by itself on the current that it gets there. */
class Voice {
  constructor(
    private readonly design: Design,
    private readonly variant: Variant,
    readonly placed: Placed,
    private readonly jack: Extract<PartChoice['control'], { kind: 'voltage' }>,
  ) {}

  at({ volts, knob, temperatureC, ohms = {} }: At): Result<{ amps: number; freqHz: number }> {
    const { stage } = this.placed;
    const position = (volts - this.jack.fromVolts) / (this.jack.toVolts - this.jack.fromVolts);
    let variant = turned(this.variant, this.jack.control, { position });
    const held = stage.parts[KNOB]?.control;
    if (knob !== undefined && held) variant = turned(variant, held.control, { position: knob });
    const options = { ...AS_BUILT, ...(temperatureC === undefined ? {} : { temperatureC }) };
    const built = compile(this.design, withStage(variant, this.placed, withOhms(stage, ohms)), options);
    if (!built.ok) return built;
    const amps = deliveredAmps(built.value, stage, temperatureC);
    return this.alone(variant, amps, temperatureC);
  }

  /** The voice without its chain, on a current; what the converter does by itself is not among its poles then. */
  alone(variant: Variant, amps: number, temperatureC?: number): Result<{ amps: number; freqHz: number }> {
    const bare = onCurrent(this.placed.stage, amps);
    const options = { ...AS_BUILT, ...(temperatureC === undefined ? {} : { temperatureC }) };
    const built = compile(this.design, withStage(variant, this.placed, bare), options);
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
    cents: DRIFT_AT_VOLTS.map((volts, i) => 1200 * Math.log2(hertz({ volts, temperatureC }) / bench[i])),
  }));
}

/** Octaves a volt: a straight line through all points. */
function slopeOf(points: readonly VoltsPoint[]): number {
  const mean = (values: readonly number[]) => values.reduce((s, v) => s + v, 0) / values.length;
  const x = points.map((p) => p.volts);
  const y = points.map((p) => Math.log2(p.freqHz));
  const [mx, my] = [mean(x), mean(y)];
  return x.reduce((s, v, i) => s + (v - mx) * (y[i] - my), 0) / x.reduce((s, v) => s + (v - mx) ** 2, 0);
}

/**
 * Where the two trimmers belong on the circuit as it is built: scale by what two octaves about the middle measure,
 * beginning by the frequency it was designed for. Each in turn, since a scale moves what base currents take.
 */
function trimOf(voice: Voice, chain: ControlChain, asked: number): VoltsPerOctave['trim'] {
  const wanted = voice.designedHz();
  if (!wanted.ok) return null;
  const { stage } = voice.placed;
  const trimmable = chain.trimmed.flatMap((part) => {
    const choice = stage.parts[part];
    return choice?.use?.kind === 'series' && choice.trimmerOhm !== undefined && choice.use.values.length === 2
      ? [
          {
            part,
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
    if (ohms[SCALE] !== undefined) ohms[SCALE] *= 2 / asked / Math.log2(hertz(1, ohms) / hertz(-1, ohms));
    if (ohms[BEGIN] !== undefined) ohms[BEGIN] *= hertz(0, ohms) / wanted.value;
  }
  if (!Object.values(ohms).every(Number.isFinite)) return null;
  return {
    parts: trimmable.map(({ part, fixedOhm, nowOhm, trimmerOhm }) => ({
      part,
      nowOhm,
      fixedOhm,
      ohm: ohms[part],
      lowOhm: fixedOhm,
      highOhm: fixedOhm + trimmerOhm,
    })),
    readings: READ_AT_VOLTS.map((volts) => ({
      volts,
      nowHz: hertz(volts, {}),
      wantedHz: wanted.value * 2 ** (volts / asked),
    })),
  };
}

export const voltsPerOctaveJob = defineJob(voltsPerOctaveRequest, (request) => runVoltsPerOctave(request));
