import type * as z from 'zod';
import type { AcSolver } from '../../analysis/ac/solver';
import { designatorsOf } from '../../design/stages/designators';
import { success, type Result } from '../../result';
import { volumePot } from '../../topology/network/volume-pot';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { runLevelTrims } from '../loudspeaker/level-trims';
import { builtVariant, type BuiltVariant } from '../reading/built-variant';
import { readWay } from '../reading/read-way';
import { mainCutoff, marksOf } from '../reading/way-marks';
import { runVoltsPerOctave } from '../voice/volts-per-octave';

const trimRequest = requestOf('trim', { ...ofVariant });

/** One step of a trim procedure: what is connected and set, what an instrument is to read, which trimmer does it. */
export interface TrimStep {
  readonly connect: string;
  readonly set: string;
  readonly instrument: 'sweep' | 'frequency counter' | 'voltmeter';
  readonly reads: 'peak-frequency' | 'cutoff' | 'level' | 'oscillation';
  readonly targetHz?: number;
  readonly targetV?: number;
  readonly toleranceCents?: number;
  readonly tolerancePct?: number;
  /** Designator; null where the level is set elsewhere, at an amplifier. */
  readonly trimmer: string | null;
  /** What more resistance, or turning up, does to the reading. */
  readonly direction: 'raises' | 'lowers';
}

const CENTS = 3;
const LEVEL_PCT = 1;
const TUNING_PCT = 0.5;
const READS = { peak: 'peak-frequency', cutoff: 'cutoff', oscillation: 'oscillation' } as const;
const instrumentOf = (reads: TrimStep['reads']): TrimStep['instrument'] =>
  reads === 'oscillation' ? 'frequency counter' : 'sweep';

/**
 * How a variant is trimmed: its volts per octave, its bands and sections on trimmers, the levels of active ways. Every
 * target is what an instrument reads of the circuit as it is built. Fails as the design and the solver do.
 */
function runTrim(request: z.infer<typeof trimRequest>, solver: AcSolver): Result<readonly TrimStep[]> {
  const asked = { design: request.design, variantId: request.variantId };
  const built = builtVariant(asked.design, asked.variantId);
  if (!built.ok) return built;
  const names = designatorsOf(built.value.ways);
  const octaves = runVoltsPerOctave({ kind: 'volts-per-octave', ...asked }, solver);
  if (!octaves.ok) return octaves;
  const levels = runLevelTrims({ kind: 'level-trims', ...asked }, solver);
  if (!levels.ok) return levels;
  return success([
    ...octaveSteps(octaves.value, names),
    ...tuningSteps(built.value, names, solver),
    ...levels.value.map((trim) => levelStep(trim, built.value, names)),
  ]);
}

type Octaves = Extract<ReturnType<typeof runVoltsPerOctave>, { ok: true }>['value'];

function octaveSteps(law: Octaves, names: ReadonlyMap<string, string>): TrimStep[] {
  if (!law?.trim) return [];
  const { parts, readings } = law.trim;
  return parts.flatMap(({ part, sets }): TrimStep[] => {
    // The scale shows an octave's volts away from the beginning, the beginning at none.
    const reading = readings.find((r) => r.volts === (sets === 'scale' ? 1 : 0));
    if (!reading) return [];
    const reads = READS[reading.reads];
    return [
      {
        connect: `a sine at the input; ${reading.volts} V at the pitch jack`,
        set: 'the knob half way, nothing at the other jacks',
        instrument: instrumentOf(reads),
        reads,
        targetHz: reading.wantedHz,
        toleranceCents: CENTS,
        trimmer: names.get(`${law.stageId}.${part}`) ?? part,
        direction: sets === 'scale' ? 'raises' : 'lowers',
      },
    ];
  });
}

/** Sections that are tuned by a trimmer of their own, read at the end of their way. */
function tuningSteps(built: BuiltVariant, names: ReadonlyMap<string, string>, solver: AcSolver): TrimStep[] {
  return built.ways.flatMap((compiled, w): TrimStep[] => {
    const trimmed = compiled.stages.flatMap(({ stage, role, parts }) =>
      role === 'section' && !stage.bypassed
        ? parts.filter((p) => p.choice.trimmerOhm !== undefined).map((p) => ({ stage, name: p.spec.name }))
        : [],
    );
    if (trimmed.length === 0) return [];
    const way = built.variant.ways[w];
    const read = readWay(built, way, compiled, solver);
    if (!read.ok) return [];
    const marks = marksOf(read.value, way);
    const peak = marks.find((m) => m.kind === 'peak');
    const shown = peak ?? mainCutoff(marks);
    if (!shown) return [];
    return trimmed.map(({ stage, name }) => ({
      connect: `a sine at the input, the instrument at the output of ${way.name}`,
      set: 'the other trimmers where they stand',
      instrument: 'sweep',
      reads: peak ? 'peak-frequency' : 'cutoff',
      targetHz: shown.freqHz,
      tolerancePct: TUNING_PCT,
      trimmer: names.get(`${stage.id}.${name}`) ?? name,
      direction: 'lowers',
    }));
  });
}

type Level = Extract<ReturnType<typeof runLevelTrims>, { ok: true }>['value'][number];

function levelStep(
  { wayId, name, toneHz, inVolts, outVolts }: Level,
  built: BuiltVariant,
  names: ReadonlyMap<string, string>,
): TrimStep {
  const way = built.variant.ways.find((w) => w.id === wayId);
  const pot = way?.stages.find((s) => s.topology === volumePot.id && !s.bypassed);
  return {
    connect: `a sine of ${Number(toneHz.toPrecision(3))} Hz and ${inVolts} V at the input; the amplifiers off`,
    set: `the meter at the output of ${name}`,
    instrument: 'voltmeter',
    reads: 'level',
    targetV: outVolts,
    tolerancePct: LEVEL_PCT,
    trimmer: pot ? (names.get(`${pot.id}.P1`) ?? 'P1') : null,
    direction: 'raises',
  };
}

export const trimJob = defineJob(trimRequest, (request, { solver }) => runTrim(request, solver));
