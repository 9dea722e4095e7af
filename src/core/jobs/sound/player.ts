import { Instrument } from './instrument';
import type { Struck } from './moves';
import type { Sequence } from '../../design/document/played';
import { sequenceNotes, stepSeconds, type Note } from './notes';
import type { SoundSource } from './sound-source';

/** What is played live: one note on and on, what keys strike, or a sequence round and round. */
export type Play =
  { readonly kind: 'steady' } | { readonly kind: 'keys' } | { readonly kind: 'sequence'; readonly of: Sequence };

/** Plays by a clock of samples, so that no step is ever early or late, whatever else goes on. */
export class Player {
  private readonly instrument: Instrument;
  private at = 0;
  /** Of a sequence: its notes of one round, which is to come, and where in samples the round began. */
  private readonly notes: readonly Note[];
  private readonly round: number;
  private next_ = 0;
  private began = 0;
  private until = Infinity;
  private held: { readonly hz: number; readonly level: number } | null = null;
  struck: Struck | null = null;

  constructor(
    source: SoundSource,
    private readonly hz: number,
    private readonly play: Play,
    private readonly rate: number,
  ) {
    this.instrument = new Instrument(source, rate);
    this.notes = play.kind === 'sequence' ? roundOf(play.of) : [];
    this.round = play.kind === 'sequence' ? Math.round(roundSeconds(play.of) * rate) : 0;
  }

  get timeS(): number {
    return this.at / this.rate;
  }

  /** Sounds steadily, for its loudness to be taken. */
  warm(): void {
    this.instrument.strike({
      hz: this.play.kind === 'sequence' ? this.play.of.baseHz : this.hz,
      level: 1,
      slid: false,
    });
  }

  /** From the beginning. */
  begin(): void {
    [this.at, this.next_, this.began, this.struck] = [0, 0, 0, null];
    if (this.play.kind === 'steady') this.strike(this.hz, 1, false, false);
    else this.instrument.release();
  }

  /** As another goes on, so many samples before it is heard. */
  goOnFrom(other: Player, ahead: number): void {
    const ratio = this.rate / other.rate;
    this.at = Math.round(other.at * ratio) - ahead;
    this.began = Math.round(other.began * ratio);
    this.next_ = other.next_;
    this.struck = other.struck;
    if (this.play.kind === 'steady') this.instrument.strike({ hz: this.hz, level: 1, slid: false });
    else if (other.held) this.key(other.held.hz, other.held.level);
  }

  key(hz: number | null, level: number): void {
    this.held = hz === null ? null : { hz, level };
    if (hz === null) this.instrument.release();
    else this.strike(hz, level, level >= 1, false);
  }

  private strike(hz: number, level: number, accent: boolean, slid: boolean): void {
    this.instrument.strike({ hz, level, slid });
    // What slides in is no new beginning.
    if (!slid || !this.struck) this.struck = { atS: this.at / this.rate, accent };
  }

  next(): number {
    if (this.play.kind === 'sequence') this.step();
    this.at++;
    return this.instrument.next();
  }

  private step(): void {
    if (this.at - this.began >= this.round) {
      this.began += this.round;
      this.next_ = 0;
    }
    if (this.at >= this.until) {
      this.instrument.release();
      this.until = Infinity;
    }
    const note = this.notes[this.next_];
    if (!note || this.at - this.began < note.atS * this.rate) return;
    this.next_++;
    this.strike(note.hz, note.level, note.accent, note.slid && this.struck !== null);
    const after = this.notes[this.next_ % this.notes.length];
    this.until = after.slid ? Infinity : this.began + Math.round((note.atS + note.lastsS) * this.rate);
  }
}

/** The notes of a round that another went before. */
function roundOf(sequence: Sequence): Note[] {
  const first = roundSeconds(sequence);
  return sequenceNotes(sequence, 2).flatMap((n) => (n.atS > first - 1e-9 ? [{ ...n, atS: n.atS - first }] : []));
}

const roundSeconds = (sequence: Sequence): number => sequence.steps.length * stepSeconds(sequence);
