import type { Sequence } from '../../design/document/played';

export interface Note {
  readonly atS: number;
  readonly lastsS: number;
  readonly hz: number;
  readonly accent: boolean;
  /** Of the loudest. */
  readonly level: number;
  /** It comes without a beginning of its own, from the pitch of the one before. */
  readonly slid: boolean;
}

const STEPS_A_BEAT = 4;
/** A note without an accent is so loud against one with it. */
const PLAIN = 0.7;
const SEMITONES = 12;

export const stepSeconds = ({ bpm }: Pick<Sequence, 'bpm'>): number => 60 / bpm / STEPS_A_BEAT;

export const noteHz = (baseHz: number, semitones: number): number => baseHz * 2 ** (semitones / SEMITONES);

/** The notes of so many rounds of a sequence. A note that slides is held until the next begins. */
export function sequenceNotes(sequence: Sequence, rounds: number): Note[] {
  const { steps, baseHz, gate } = sequence;
  const each = stepSeconds(sequence);
  const notes: Note[] = [];
  for (let k = 0; k < rounds * steps.length; k++) {
    const step = steps[k % steps.length];
    if (step.semitones === null) continue;
    const before = k > 0 ? steps[(k - 1) % steps.length] : null;
    notes.push({
      atS: k * each,
      lastsS: each * (step.slide ? 1 : gate),
      hz: noteHz(baseHz, step.semitones),
      accent: step.accent,
      level: step.accent ? 1 : PLAIN,
      slid: before !== null && before.slide && before.semitones !== null,
    });
  }
  return notes;
}

/** Notes one after another, each as long. */
export const evenNotes = (hz: readonly number[], noteS: number): Note[] =>
  hz.map((each, n) => ({ atS: n * noteS, lastsS: noteS, hz: each, accent: false, level: 1, slid: false }));
