import type { z } from 'zod';
import type { Design, Variant } from '../../design/schema';
import { failure, success, type Failure, type Result } from '../../result';
import { defineJob, ofVariant, requestOf } from '../define-job';
import type { JobContext } from '../job-context';
import { turned } from '../network/turn';
import { builtVariant, IN_TIME, runningCircuit } from '../reading/built-variant';
import { limitCycle, type LimitCycle } from './limit-cycle';
import { singingOf, type Singing } from './resonance';

/** How a voice oscillates: how loud, how purely, and how its pitch follows what moves it. */
const songRequest = requestOf('song', { ...ofVariant });
export type SongRequest = z.infer<typeof songRequest>;

export interface SungPoint extends Omit<LimitCycle, 'wave'> {
  /** The part that makes it resonate, ohm; how far past its beginning that is, 1 where it just keeps going. */
  readonly ohm: number;
  readonly beyond: number;
  readonly knob: number | null;
  /** Off what small signals say it would sing at, cents. */
  readonly offCents: number;
}

export interface Song {
  readonly stageId: string;
  readonly part: string;
  readonly startsHz: number;
  readonly startsOhm: number;
  readonly points: readonly SungPoint[];
  /** As it stands; null where it does not oscillate so. */
  readonly now: SungPoint | null;
  /** Of the wave at `PITCHED_AT`, or as it stands: one period, V about its mean. */
  readonly wave: Float64Array;
  /** How its pitch follows what moves its cutoff; null where nothing does. */
  readonly pitch: {
    readonly controlId: string;
    readonly points: readonly { readonly position: number; readonly volts: number | null; readonly freqHz: number }[];
  } | null;
}

/** How far past the beginning it is asked about; pitch is followed at one of them. */
const BEYOND = [1.03, 1.1, 1.3, 1.7, 2.5] as const;
const PITCHED_AT = 1.3;
const PITCH_POSITIONS = 5;
/** Of a control's travel that pitch is followed over. */
const PITCH_SPAN = [1 / 6, 5 / 6] as const;

/** Fails as the design does, with `no-song` where no part brings it to oscillate, or `cancelled`. */
export async function runSong({ design, variantId }: SongRequest, context: JobContext): Promise<Result<Song>> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const singing = singingOf(built.value);
  if (!singing) return failure('no-song');
  const { atOhm, nowOhm, freqHz } = singing;
  const [held] = built.value.ways[0].stages.filter((s) => s.stage.id === singing.stageId);
  const control = held.stage.parts[singing.part]?.control;
  const louderDown = singing.sings ? nowOhm < atOhm : nowOhm > atOhm;
  const ohmAt = (beyond: number): number => (louderDown ? atOhm / beyond : atOhm * beyond);
  const knobAt = (ohm: number): number | null =>
    control?.kind === 'rheostat' ? (ohm - control.endOhm) / control.totalOhm : null;
  const steps = BEYOND.length + (singing.sings ? 1 : 0) + PITCH_POSITIONS;
  let done = 0;
  const sung = async (variant: Variant, ohm: number, aboutHz: number): Promise<Result<LimitCycle>> => {
    context.progress(done++ / steps);
    const timed = builtVariant({ ...design, variants: [variant] }, variant.id, IN_TIME);
    if (!timed.ok) return timed;
    const circuit = runningCircuit(timed.value);
    const slot = circuit.structure.slotOf(`${singing.stageId}.${singing.part}`);
    if (slot === undefined) return failure('no-song');
    const values = circuit.values.slice();
    values[slot] = ohm;
    const out = circuit.structure.nodeOf(timed.value.ways[0].output) ?? -1;
    return limitCycle({ ...circuit, values }, out, aboutHz, context);
  };
  const point = ({ wave: _wave, ...cycle }: LimitCycle, ohm: number): SungPoint => ({
    ...cycle,
    ohm,
    beyond: louderDown ? atOhm / ohm : ohm / atOhm,
    knob: knobAt(ohm),
    offCents: 1200 * Math.log2(cycle.freqHz / freqHz),
  });
  const { variant } = built.value;
  const points: SungPoint[] = [];
  let failed: Failure | null = null;
  let wave: Float64Array | null = null;
  for (const beyond of BEYOND) {
    const cycle = await sung(variant, ohmAt(beyond), freqHz);
    if (!cycle.ok && cycle.code === 'cancelled') return cycle;
    if (!cycle.ok) {
      failed = cycle;
      continue;
    }
    points.push(point(cycle.value, ohmAt(beyond)));
    if (beyond === PITCHED_AT || wave === null) wave = cycle.value.wave;
  }
  if (points.length === 0 && failed && !singing.sings) return failed;
  let now: SungPoint | null = null;
  if (singing.sings) {
    const cycle = await sung(variant, nowOhm, freqHz);
    if (!cycle.ok && cycle.code === 'cancelled') return cycle;
    if (cycle.ok) [now, wave] = [point(cycle.value, nowOhm), cycle.value.wave];
  }
  const pitch = await pitchOf(design, variant, singing, (v, aboutHz) => sung(v, ohmAt(PITCHED_AT), aboutHz));
  return success({
    stageId: singing.stageId,
    part: singing.part,
    startsHz: freqHz,
    startsOhm: atOhm,
    points,
    now,
    wave: wave ?? new Float64Array(),
    pitch,
  });
}

/** What moves the cutoff: the pitch jack of a chain, a bare control current, a pedal. */
function moverOf(
  variant: Variant,
  stageId: string,
): { controlId: string; volts: readonly [number, number] | null } | null {
  const stage = variant.ways.flatMap((w) => w.stages).find((s) => s.id === stageId);
  const held = Object.values(stage?.parts ?? {}).flatMap(({ control }) => (control ? [control] : []));
  const jack = held.find((c) => c.kind === 'voltage');
  if (jack?.kind === 'voltage') return { controlId: jack.control, volts: [jack.fromVolts, jack.toVolts] };
  const bare = held.find((c) => c.kind === 'exponential');
  return bare ? { controlId: bare.control, volts: null } : null;
}

async function pitchOf(
  design: Design,
  variant: Variant,
  { stageId }: Singing,
  sung: (variant: Variant, aboutHz: number) => Promise<Result<LimitCycle>>,
): Promise<Song['pitch']> {
  const mover = moverOf(variant, stageId);
  if (!mover) return null;
  const [low, high] = PITCH_SPAN;
  const points: { position: number; volts: number | null; freqHz: number }[] = [];
  for (let i = 0; i < PITCH_POSITIONS; i++) {
    const position = low + ((high - low) * i) / (PITCH_POSITIONS - 1);
    const moved = turned(variant, mover.controlId, { position });
    const small = builtVariant({ ...design, variants: [moved] }, moved.id);
    const about = small.ok ? singingOf(small.value)?.freqHz : undefined;
    const cycle = about === undefined ? null : await sung(moved, about);
    if (!cycle?.ok) continue;
    points.push({
      position,
      volts: mover.volts && mover.volts[0] + (mover.volts[1] - mover.volts[0]) * position,
      freqHz: cycle.value.freqHz,
    });
  }
  return { controlId: mover.controlId, points };
}

export const songJob = defineJob(songRequest, (request, { context }) => runSong(request, context));
