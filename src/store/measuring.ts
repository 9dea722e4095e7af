import { create } from 'zustand';
import type { Design, Measurement, Reading } from '@/core/design/document/schema';
import type { Capture } from '@/core/format/scope-csv';
import type { Analysed, RecordingNote } from '@/core/measure/analyse';
import { playedSamples } from '@/core/measure/stepped';
import type { Sweep } from '@/core/measure/sweep';
import type { Failure, Result } from '@/core/result';
import { formatFixed, formatQuantity, formatSigned } from '@/core/units/quantity';
import { documentStore, edit } from './document';
import { currentVariantOf } from './edits/edits';
import { LongJob } from './questions/long-job';
import { addLogEntry, addMeasurement, setReading } from './edits/record-edits';
import { settingOf } from '@/core/design/document/setting';
import { groundLift } from '@/core/device/op-amps';

import { recordSweep, unlessBroken, type CardRecording } from './sound-card';

/** A board is swept, its recording read, and what may be wrong with it ranked. */

export const SWEEP_BOARD = new LongJob('sweep-board');
export const ANALYSE = new LongJob('analyse-recording');
export const CAPTURE = new LongJob('analyse-capture');
export const RANK = new LongJob('rank-faults');
export const METER = new LongJob('meter-board');
export const REVEAL = new LongJob('reveal-fault');

export const INSTRUMENTS = {
  workshop: 'Workshop’s sound card, simulated',
  computer: 'This computer’s sound card',
} as const;
export type Instrument = keyof typeof INSTRUMENTS;

interface Reference {
  readonly samples: Float64Array;
  readonly sweep: Sweep;
  readonly tones: number | null;
  readonly at: string;
}

/** Where a board is measured. */
export interface Place {
  readonly id: string;
  readonly name: string;
}

interface Measuring {
  readonly instrument: Instrument;
  /** Where it is measured: a place by its id. */
  readonly place: string;
  readonly board: number;
  /** Whether the simulated board has something wrong with it. */
  readonly hidden: boolean;
  /** Whether the next board is to be swept as soon as it is known how. */
  readonly nextAsked: boolean;
  /** Of the computer's card, by the browser's id; absent: its first. */
  readonly inputId?: string;
  /** Whether its second input hears its own output: divided out of the same sweep. */
  readonly loopback: boolean;
  /** So many tones one after the other in place of a sweep; null: a sweep. */
  readonly tones: number | null;
  /** What the maker wants otherwise than proposed. */
  readonly change: Partial<Sweep>;
  /** The computer's card by itself, at its last sweep through a cable. */
  readonly reference: Reference | null;
  /** How far the computer's card is; null: it is at rest. */
  readonly recorded: number | null;
  readonly failed: Failure | null;
  /** What is to be known of the last recording. */
  readonly notes: readonly RecordingNote[];
}

const AT_REST: Measuring = {
  instrument: 'workshop',
  place: 'out',
  board: 1,
  hidden: false,
  nextAsked: false,
  loopback: false,
  tones: null,
  change: {},
  reference: null,
  recorded: null,
  failed: null,
  notes: [],
};
export const measuringStore = create<Measuring>()(() => AT_REST);
export const setMeasuring = (patch: Partial<Measuring>): void => measuringStore.setState(patch);
export const resetMeasuring = (): void => measuringStore.setState(AT_REST);

/** Sweeps the simulated board, and keeps what it gave. */
export async function sweepWorkshop(sweep: Sweep, place: Place): Promise<void> {
  const { board, hidden, tones } = measuringStore.getState();
  setMeasuring({ failed: null, notes: [] });
  const answer = await SWEEP_BOARD.run({ sweep, tones, place: place.id, board, hidden, turned: null });
  if (answer?.ok)
    keep(answer.value, { sweep, place, board: boardName(board), instrument: 'workshop', calibrated: true });
}

/** The board that comes next: after the highest that was measured on the variant on the desk, or the one in hand. */
export function nextBoard({ measurements, currentVariant }: Design, inHand: number): number {
  const numbers = measurements
    .filter((m) => (m.variant ?? currentVariant) === currentVariant)
    .flatMap((m) => /^Board (\d+)$/.exec(m.board ?? '')?.[1] ?? []);
  return numbers.length === 0 ? inHand : Math.max(...numbers.map(Number)) + 1;
}

/** Turns to the next board, sweeps it, and finds what is wrong with it. */
export async function judgeNextBoard(sweep: Sweep, place: Place): Promise<void> {
  const { design } = documentStore.getState();
  if (!design) return;
  const { instrument, board: inHand } = measuringStore.getState();
  const board = nextBoard(design, inHand);
  setMeasuring({ board });
  await (instrument === 'workshop' ? sweepWorkshop(sweep, place) : sweepComputer(sweep, place, false));
  const after = documentStore.getState().design;
  const swept = after && measurementsOf(after.measurements, after.currentVariant, boardName(board)).length > 0;
  if (after?.id === design.id && swept) await rankBoard(boardName(board));
}

/** Asks for the next board, by its key or by name: it is swept as soon as the bench knows how. */
export const askNextBoard = (): void => setMeasuring({ nextAsked: true });

let running: AbortController | null = null;
export const stopCard = (): void => running?.abort();

/** The sweep through the computer's card; null where it was stopped, overtaken or failed, which is said. */
export async function recordOnCard(
  sweep: Sweep,
  tones: number | null,
  progress: (share: number) => void,
): Promise<CardRecording | null> {
  const played = playedSamples(sweep, tones);
  if (!played.ok) {
    setMeasuring({ failed: played, recorded: null });
    return null;
  }
  running?.abort();
  const mine = (running = new AbortController());
  const recorded = await recordSweep({
    samples: played.value,
    rateHz: sweep.rateHz,
    inputId: measuringStore.getState().inputId,
    loopback: measuringStore.getState().loopback,
    progress: (share) => running === mine && progress(share),
    signal: mine.signal,
  });
  if (running !== mine) return null;
  setMeasuring({ recorded: null });
  if (recorded.ok) return recorded.value;
  if (recorded.code !== 'cancelled') setMeasuring({ failed: recorded });
  return null;
}

/** Plays the sweep on the computer's card and records it; `cable`: the card alone, kept to be divided out. */
export async function sweepComputer(sweep: Sweep, place: Place, cable: boolean): Promise<void> {
  const { board } = measuringStore.getState();
  const made = { place, board: boardName(board), instrument: 'computer' } as const;
  await unlessBroken(async () => {
    setMeasuring({ recorded: 0, failed: null, notes: [] });
    const { tones } = measuringStore.getState();
    const recorded = await recordOnCard(sweep, tones, (share) => setMeasuring({ recorded: share }));
    if (!recorded) return null;
    return cable
      ? keepReference(recorded.samples, sweep)
      : readRecording({ ...recorded, rateHz: sweep.rateHz }, sweep, made);
  });
}

/** A reference is only kept if the sweep is found in it. */
async function keepReference(samples: Float64Array, sweep: Sweep): Promise<Result<Analysed> | null> {
  const { tones } = measuringStore.getState();
  const answer = await ANALYSE.run({ samples, rateHz: sweep.rateHz, sweep, tones, reference: null });
  if (answer?.ok) setMeasuring({ reference: { samples, sweep, tones, at: new Date().toISOString() } });
  return answer;
}

interface Made {
  /** Whether the card was divided out. */
  readonly calibrated: boolean;
  readonly place: Place;
  readonly board: string;
  readonly instrument: Instrument | 'file' | 'capture';
}

/** Whether a reference is of the same sweep, or the same tones. */
export const isOf = (reference: Reference | null, sweep: Sweep, tones: number | null): reference is Reference =>
  reference !== null && reference.tones === tones && JSON.stringify(reference.sweep) === JSON.stringify(sweep);

/**
 * Reads a recording of the sweep and keeps what it says. Divided out is the card's own output on its second channel, or
 * the card by itself, where there is one of the same sweep.
 */
export async function readRecording(
  { samples, second, rateHz }: CardRecording & { readonly rateHz: number },
  sweep: Sweep,
  made: Omit<Made, 'calibrated'>,
): Promise<Result<Analysed> | null> {
  const { reference, tones, loopback } = measuringStore.getState();
  const beside = loopback && second ? second : isOf(reference, sweep, tones) ? reference.samples : null;
  // A second channel that is not said to be the card's own output may be it, or hold the board.
  const other = loopback ? null : (second ?? null);
  const answer = await ANALYSE.run({ samples, rateHz, sweep, tones, reference: beside, second: other });
  if (answer?.ok) keep(answer.value, { ...made, sweep, calibrated: beside !== null });
  return answer;
}

/** Reads a scope's capture: of two channels the first is what was played, the second what came of it. */
export async function readCapture(
  { rateHz, channels }: Capture,
  sweep: Sweep,
  made: Omit<Made, 'calibrated' | 'instrument'>,
): Promise<void> {
  const [first, second = null] = channels;
  const asked = second ? { samples: second, source: first } : { samples: first, source: null };
  const answer = await CAPTURE.run({ ...asked, rateHz, sweep });
  if (answer?.ok) keep(answer.value, { ...made, sweep, instrument: 'capture', calibrated: second !== null });
}

const hz = (v: number) => formatQuantity(v, 'frequency', { digits: 3 });
const rounded = (values: ArrayLike<number>, digits: number): number[] =>
  Array.from(values, (v) => Number(v.toPrecision(digits)));

/** What is said of a recording that was of use. */
export const NOTE_WORDS: Readonly<Record<RecordingNote, string>> = {
  silent: 'Nothing came through: what was measured is noise. Diagnose the board, or check the cable.',
  quiet: 'The recording is quiet (under −50 dB of full scale): turn the input up for a cleaner curve.',
  offset: 'A direct voltage in the recording was taken off.',
  latency: 'Recording and reference began at different times: the delay was taken off the phase.',
  clock: 'Player and recorder kept time by clocks of their own: the recording was brought to the player’s.',
};

/** Into the design: the measurement, and by itself a line in the log. */
function keep(
  found: Analysed,
  { sweep, place, board, instrument, calibrated }: Made & { readonly sweep: Sweep },
): void {
  const { design } = documentStore.getState();
  if (!design) return;
  const tones = instrument === 'capture' ? null : measuringStore.getState().tones;
  const at = new Date().toISOString();
  const says = { ...INSTRUMENTS, file: 'a recording from a file', capture: 'a scope’s capture' }[instrument];
  const measurement: Omit<Measurement, 'id'> = {
    name: place.id === 'out' ? board : `${board}, ${place.name}`.slice(0, 60),
    at,
    freqHz: rounded(found.freqHz, 8),
    levelDb: rounded(found.levelDb, 7),
    phaseDeg: rounded(found.phaseDeg, 7),
    noiseDb: rounded(found.noiseDb, 4),
    // Against a card that was divided out levels are what they are; sound has no level of its own.
    aligned: !calibrated || place.id === 'sum',
    place: place.id,
    variant: design.currentVariant,
    board,
    instrument: says,
    setting: settingOf(currentVariantOf(design)),
    harmonicsDb: found.harmonicsDb.map((all) =>
      Array.from(all, (v) => (Number.isFinite(v) ? Number(v.toPrecision(4)) : null)),
    ),
  };
  const text =
    `${measurement.name} measured at ${place.name}: ${says}, ${hz(sweep.fromHz)} to ${hz(sweep.toHz)} ` +
    `${tones === null ? `in ${formatQuantity(sweep.seconds, 'time')}` : `by ${tones} tones`}, ` +
    `${formatSigned(sweep.levelDbfs, 'decibel', 0)} re full scale; ` +
    `variant ${currentVariantOf(design).name}.${found.notes.map((note) => ` ${NOTE_WORDS[note]}`).join('')}` +
    (found.clock === 0 ? '' : ` They were ${formatFixed(1e6 * found.clock, 1)} ppm apart.`);
  setMeasuring({ notes: found.notes });
  edit((draft) => {
    addMeasurement(measurement)(draft);
    addLogEntry({ at, text, snapshot: null })(draft);
  });
}

/** Ranks what may be wrong with a board, from all that was measured and read of it, and writes the verdict down. */
export async function rankBoard(board: string): Promise<void> {
  const { design } = documentStore.getState();
  if (!design) return;
  const measured = measurementsOf(design.measurements, design.currentVariant, board).map((m) => ({
    probe: m.place ?? 'out',
    freqHz: m.freqHz,
    levelDb: m.levelDb,
    phaseDeg: m.phaseDeg,
    noiseDb: m.noiseDb ?? null,
    uncalibrated: m.aligned,
    setting: m.setting,
  }));
  const lift = groundLift(design.brief);
  const readings = readingsOf(design.readings, design.currentVariant, board)
    .filter((r) => r.place !== SUPPLY)
    .map(({ place, value, setting }) => ({ node: place, volts: value - lift, setting }));
  const answer = await RANK.run({ measured, readings });
  if (!answer?.ok) return;
  const { healthy, ranked } = answer.value;
  const verdict = healthy >= SOUND ? 'as good as its parts.' : (ranked[0]?.sentence ?? 'nothing fits it.');
  edit(addLogEntry({ at: new Date().toISOString(), text: `${board}: ${verdict}`, snapshot: null }));
}

/** From this chance on a board is called sound. */
export const SOUND = 0.5;
/** Where a reading is of the supply's current, A. */
export const SUPPLY = 'supply';

export const boardName = (board: number): string => `Board ${board}`;

/** Puts the workshop's meter to all places of the simulated board, and keeps what it reads. */
export async function readBoard(board: number, hidden: boolean): Promise<void> {
  const answer = await METER.run({ board, hidden });
  if (!answer?.ok) return;
  const at = new Date().toISOString();
  const { volts, supplyAmps } = answer.value;
  const places = supplyAmps === null ? volts : { ...volts, [SUPPLY]: supplyAmps };
  edit((draft) => {
    const variant = currentVariantOf(draft);
    const setting = settingOf(variant);
    for (const [place, value] of Object.entries(places)) {
      const shown = Number(value.toPrecision(4));
      setReading({ place, value: shown, at, board: boardName(board), variant: variant.id, setting })(draft);
    }
  });
}

/** Meter readings of a board of a variant. */
export const readingsOf = (all: readonly Reading[] | undefined, variantId: string, board: string): Reading[] =>
  (all ?? []).filter((r) => r.variant === variantId && r.board === board);

/** What a measurement that was read from a file, and names no board, is taken for. */
export const UNNAMED_BOARD = 'the board';

/** Of a board, measured on the variant on the desk. */
export const measurementsOf = (all: readonly Measurement[], variantId: string, board: string): Measurement[] =>
  all.filter((m) => (m.variant ?? variantId) === variantId && (m.board ?? UNNAMED_BOARD) === board);
