import { AcSolver } from '../../analysis/ac/solver';
import { readWav, writeFloatWav } from '../../format/wav';
import { analyse, type Analysed } from '../../measure/analyse';
import { channelsOf } from '../../measure/channels';
import { sweepSamples, type Sweep } from '../../measure/sweep';
import { failure, success, type Failure, type Result } from '../../result';
import { RUN_THROUGH } from '../job-context';
import { benchRecording } from '../measure/bench';
import { drawBoard, withFault } from '../measure/draw-board';
import { openDesign } from './opened-design';

/** A sweep as it is played, as a WAV file. Fails with `bad-sweep` (`what`). */
export function sweepVerb(sweep: Sweep): Result<Uint8Array> {
  const samples = sweepSamples(sweep);
  return samples.ok ? success(writeFloatWav(Float32Array.from(samples.value), sweep.rateHz)) : samples;
}

export interface AnalyseFiles {
  readonly recording: Uint8Array;
  readonly sweep: Uint8Array;
  readonly reference?: Uint8Array;
}

/** What a recording says, from files. Fails as reading and analysing do, with `file`: which of them. */
export function analyseVerb(
  files: AnalyseFiles,
  options: { readonly gateS?: number; readonly pointsPerOctave?: number },
): Result<Analysed> {
  const read = (file: keyof AnalyseFiles) => {
    const bytes = files[file];
    if (!bytes) return success(undefined);
    const wav = readWav(bytes);
    return wav.ok ? wav : failure(wav.code, { ...wav.data, file });
  };
  const [recording, sweep, reference] = [read('recording'), read('sweep'), read('reference')];
  if (!recording.ok) return recording;
  if (!sweep.ok) return sweep;
  if (!reference.ok) return reference;
  if (!recording.value || !sweep.value) return failure('empty-file', {});
  const { samples, second, rateHz } = recording.value;
  const { board, loopback } = second ? channelsOf(samples, second, sweep.value) : { board: samples, loopback: null };
  return analyse({ samples: board, rateHz }, sweep.value, {
    ...options,
    reference: reference.value ?? (loopback ? { samples: loopback, rateHz } : undefined),
  });
}

/**
 * `frequency_hz,magnitude_db,phase_deg,noise_db,h2_db,h3_db`: harmonics on the magnitude's scale, empty over the top.
 */
export function analysedCsv({ freqHz, levelDb, phaseDeg, noiseDb, harmonicsDb }: Analysed): string {
  const [second, third] = harmonicsDb;
  const cell = (v: number, digits: number) => (Number.isFinite(v) ? v.toFixed(digits) : '');
  const rows = Array.from(freqHz, (f, i) =>
    [
      f.toPrecision(9),
      cell(levelDb[i], 5),
      cell(phaseDeg[i], 4),
      cell(noiseDb[i], 2),
      cell(second[i], 2),
      cell(third[i], 2),
    ].join(','),
  );
  return `frequency_hz,magnitude_db,phase_deg,noise_db,h2_db,h3_db\n${rows.join('\n')}\n`;
}

export interface BenchAsked {
  readonly variant?: string;
  readonly seed: number;
  readonly rateHz?: number;
  readonly faults: readonly string[];
  readonly snrDb?: number;
  /** The card alone, through a cable. */
  readonly cable: boolean;
}

/** The simulated card's recording of one built board. Fails as reading, the design, its faults and time do. */
export async function benchVerb(
  text: string,
  wav: Uint8Array,
  { variant: name, seed, rateHz, faults, snrDb, cable }: BenchAsked,
): Promise<Result<Uint8Array>> {
  const opened = openDesign(text, name);
  if (!opened.ok) return opened;
  const read = readWav(wav);
  if (!read.ok) return failure(read.code, { ...read.data, file: 'sweep' });
  const { design, variant } = opened.value;
  const { samples } = read.value;
  if (rateHz !== undefined && rateHz !== read.value.rateHz)
    return failure('rate-differs', { what: 'sweep', rateHz: read.value.rateHz, wantedHz: rateHz });
  let board = drawBoard(design, variant, seed);
  for (const fault of faults) if (board.ok) board = withFault(design, variant, board.value, fault);
  if (!board.ok) return board as Failure;
  const recorded = await benchRecording(
    design,
    variant,
    { played: samples, rateHz: read.value.rateHz, board: cable ? null : board.value, seed, snrDb },
    RUN_THROUGH,
    new AcSolver(),
  );
  return recorded.ok ? success(writeFloatWav(Float32Array.from(recorded.value), read.value.rateHz)) : recorded;
}
