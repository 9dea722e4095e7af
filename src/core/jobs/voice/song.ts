import type * as z from 'zod';
import type { Design, Variant } from '../../design/document/schema';
import { failure, success, type Failure, type Result } from '../../result';
import { centsBetween } from '../../units/quantity';
import { defineJob, ofVariant, requestOf } from '../define-job';
import type { JobContext } from '../job-context';
import { turned } from '../network/turn';
import { builtVariant, IN_TIME, runningCircuit, type BuiltVariant } from '../reading/built-variant';
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

interface PitchPoint {
  readonly position: number;
  readonly volts: number | null;
  readonly freqHz: number;
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
    readonly points: readonly PitchPoint[];
    /** Off a straight scale between the first and the last of them, cents; null with nothing between. */
    readonly worstCents: number | null;
  } | null;
}

/** How far past the beginning it is asked about; pitch is followed at one of them. */
const BEYOND = [1.03, 1.1, 1.3, 1.7, 2.5] as const;
const PITCHED_AT = 1.3;
const PITCH_POSITIONS = 5;
/** Of a control's travel that pitch is followed over. */
const PITCH_SPAN = [1 / 6, 5 / 6] as const;

/** A circuit that can be brought to oscillate, run one way and another. */
class Oscillation {
  private done = 0;
  private readonly control;
  private readonly louderDown: boolean;

  constructor(
    private readonly design: Design,
    readonly built: BuiltVariant,
    readonly singing: Singing,
    private readonly context: JobContext,
  ) {
    const { atOhm, nowOhm, sings, stageId, part } = singing;
    const stage = built.variant.ways[0].stages.find((s) => s.id === stageId);
    this.control = stage?.parts[part]?.control;
    this.louderDown = sings ? nowOhm < atOhm : nowOhm > atOhm;
  }

  /** What the part would have to be so far past the beginning, ohm. */
  ohmAt(beyond: number): number {
    const { atOhm } = this.singing;
    return this.louderDown ? atOhm / beyond : atOhm * beyond;
  }

  async run(variant: Variant, ohm: number, aboutHz: number): Promise<Result<LimitCycle>> {
    const { design, singing, context } = this;
    context.progress(this.done++ / (BEYOND.length + (singing.sings ? 1 : 0) + PITCH_POSITIONS));
    const timed = builtVariant({ ...design, variants: [variant] }, variant.id, IN_TIME);
    if (!timed.ok) return timed;
    const circuit = runningCircuit(timed.value);
    const slot = circuit.structure.slotOf(`${singing.stageId}.${singing.part}`);
    if (slot === undefined) return failure('no-song');
    const values = circuit.values.slice();
    values[slot] = ohm;
    const out = circuit.structure.nodeOf(timed.value.ways[0].output) ?? -1;
    return limitCycle({ ...circuit, values }, out, aboutHz, context);
  }

  point({ wave: _wave, ...cycle }: LimitCycle, ohm: number): SungPoint {
    const { control, louderDown } = this;
    const { atOhm, freqHz } = this.singing;
    return {
      ...cycle,
      ohm,
      beyond: louderDown ? atOhm / ohm : ohm / atOhm,
      knob: control?.kind === 'rheostat' ? (ohm - control.endOhm) / control.totalOhm : null,
      offCents: centsBetween(freqHz, cycle.freqHz),
    };
  }
}

/**
 * Fails as the design does, with `no-song` where no part brings it to oscillate, as `limitCycle` does where it comes to
 * no wave anywhere, or `cancelled`.
 */
export async function runSong({ design, variantId }: SongRequest, context: JobContext): Promise<Result<Song>> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const singing = singingOf(built.value);
  if (!singing) return failure('no-song');
  const { stageId, part, freqHz, atOhm, nowOhm, sings } = singing;
  const oscillation = new Oscillation(design, built.value, singing, context);
  const points: SungPoint[] = [];
  let now: SungPoint | null = null;
  let failed: Failure = failure('no-song');
  let wave: Float64Array | null = null;
  for (const beyond of [...BEYOND, ...(sings ? ['now' as const] : [])]) {
    const ohm = beyond === 'now' ? nowOhm : oscillation.ohmAt(beyond);
    const cycle = await oscillation.run(built.value.variant, ohm, freqHz);
    if (!cycle.ok) {
      if (cycle.code === 'cancelled') return cycle;
      failed = cycle;
      continue;
    }
    const point = oscillation.point(cycle.value, ohm);
    if (beyond === 'now') now = point;
    else points.push(point);
    if (wave === null || beyond === PITCHED_AT || beyond === 'now') wave = cycle.value.wave;
  }
  if (wave === null) return failed;
  const pitch = await pitchOf(design, oscillation);
  return pitch.ok
    ? success({ stageId, part, startsHz: freqHz, startsOhm: atOhm, points, now, wave, pitch: pitch.value })
    : pitch;
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

/** Fails with `cancelled`; where it comes to no wave there is no point. */
async function pitchOf(design: Design, oscillation: Oscillation): Promise<Result<Song['pitch']>> {
  const { variant } = oscillation.built;
  const mover = moverOf(variant, oscillation.singing.stageId);
  if (!mover) return success(null);
  const { controlId, volts } = mover;
  const [low, high] = PITCH_SPAN;
  const points: PitchPoint[] = [];
  for (let i = 0; i < PITCH_POSITIONS; i++) {
    const position = low + ((high - low) * i) / (PITCH_POSITIONS - 1);
    const moved = turned(variant, controlId, { position });
    const small = builtVariant({ ...design, variants: [moved] }, moved.id);
    const about = small.ok ? singingOf(small.value)?.freqHz : undefined;
    if (about === undefined) continue;
    const cycle = await oscillation.run(moved, oscillation.ohmAt(PITCHED_AT), about);
    if (cycle.ok)
      points.push({
        position,
        volts: volts && volts[0] + (volts[1] - volts[0]) * position,
        freqHz: cycle.value.freqHz,
      });
    else if (cycle.code === 'cancelled') return cycle;
  }
  return success({ controlId, points, worstCents: offScale(points) });
}

/** Off a straight scale between the first and the last point, cents: the worst of those between. */
export function offScale(points: readonly PitchPoint[]): number | null {
  if (points.length < 3) return null;
  const [first, last] = [points[0], points[points.length - 1]];
  const octaves = Math.log2(last.freqHz / first.freqHz) / (last.position - first.position);
  return points.reduce((worst, { position, freqHz }) => {
    const scaled = first.freqHz * 2 ** (octaves * (position - first.position));
    return Math.max(worst, Math.abs(centsBetween(scaled, freqHz)));
  }, 0);
}

export const songJob = defineJob(songRequest, (request, { context }) => runSong(request, context));
