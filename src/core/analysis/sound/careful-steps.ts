import { CHUNK } from './sound-module';

/** Into how many a step is cut that does not settle: a circuit that jumps does so within its op-amps' microseconds. */
const CUTS = [8, 64, 512, 4096] as const;

/** What steps a circuit by one fixed step, and can be put back. */
export interface Stepper {
  /** Runs samples from `start` on; histories of the last but one stay in `earlierHistory`. */
  step(input: readonly Float64Array[], output: readonly Float64Array[], start: number, count: number): void;
  /** Steps that did not settle so far. */
  lost: number;
  /** Everything it remembers between steps. */
  state(): Float64Array;
  restore(state: Float64Array): void;
  /** H of the last step, and of the one before it. */
  readonly history: Float64Array;
  readonly earlierHistory: Float64Array;
  /** Sources as they were at the last step. */
  readonly lastInput: Float64Array;
  /** 2/h from now on. */
  useRate(a: number): void;
  /** Begins the next step from where the last ended, and not from where three of them point. */
  hold(): void;
}

/**
 * Runs a stepper; a step that does not settle is taken again in ever more pieces, by the backward rule, which lets what
 * has hit an op-amp's limit rest there. With H = a Q + Q′ and the step before it, a Q = (H + H₋)/2 (J. Vlach and K.
 * Singhal, Computer Methods for Circuit Analysis and Design, 9.4).
 */
export class CarefulSteps {
  jumps = 0;
  private readonly piece: Float64Array[];
  private readonly heard: Float64Array[];
  private readonly begun: { readonly state: Float64Array; readonly earlier: Float64Array };

  constructor(
    private readonly stepper: Stepper,
    private readonly a: number,
    sources: number,
    wanted: number,
  ) {
    this.piece = Array.from({ length: sources }, () => new Float64Array(1));
    this.heard = Array.from({ length: wanted }, () => new Float64Array(1));
    this.begun = { state: stepper.state(), earlier: stepper.earlierHistory.slice() };
  }

  /** Back to where the stepper stood when this was made. */
  restart(): void {
    this.back(this.begun.state, this.begun.earlier, this.stepper.lost);
  }

  process(input: readonly Float64Array[], output: readonly Float64Array[], count: number): void {
    const { stepper } = this;
    for (let start = 0; start < count; start += CHUNK) {
      const length = Math.min(CHUNK, count - start);
      const [state, earlier, lost] = [stepper.state(), stepper.earlierHistory.slice(), stepper.lost];
      stepper.step(input, output, start, length);
      if (stepper.lost === lost) continue;
      this.back(state, earlier, lost);
      for (let i = start; i < start + length; i++) this.one(input, output, i);
    }
  }

  private back(state: Float64Array, earlier: Float64Array, lost: number): void {
    this.stepper.restore(state);
    this.stepper.earlierHistory.set(earlier);
    this.stepper.lost = lost;
  }

  private one(input: readonly Float64Array[], output: readonly Float64Array[], at: number): void {
    const { stepper } = this;
    const [state, earlier, lost] = [stepper.state(), stepper.earlierHistory.slice(), stepper.lost];
    stepper.step(input, output, at, 1);
    if (stepper.lost === lost) return;
    this.jumps++;
    for (const cuts of CUTS) {
      this.back(state, earlier, lost);
      this.inPieces(input, output, at, cuts);
      if (stepper.lost === lost) return;
    }
    // It stands still for a step, and says so: what did not settle is no state to go on from.
    this.back(state, earlier, lost + 1);
    stepper.hold();
    output.forEach((wave) => (wave[at] = at > 0 ? wave[at - 1] : 0));
  }

  private inPieces(input: readonly Float64Array[], output: readonly Float64Array[], at: number, cuts: number): void {
    const { stepper, piece, heard, a } = this;
    const { history, earlierHistory } = stepper;
    const [from, lost] = [stepper.lastInput.slice(), stepper.lost];
    // Of the backward rule with h/cuts: a piece's H is its rate times the charge, with no Q′ to swing about.
    const rate = (a / 2) * cuts;
    let charge = history.map((h, r) => (h + earlierHistory[r]) / (2 * a));
    let before = charge;
    stepper.useRate(rate);
    stepper.hold();
    for (let k = 1; k <= cuts && stepper.lost === lost; k++) {
      piece.forEach((source, s) => (source[0] = from[s] + ((input[s][at] - from[s]) * k) / cuts));
      history.set(charge.map((q) => rate * q));
      stepper.step(piece, heard, 0, 1);
      [before, charge] = [charge, charge.map((q, r) => (history[r] + rate * q) / (2 * rate))];
    }
    stepper.useRate(a);
    charge.forEach((q, r) => {
      const change = rate * (q - before[r]);
      [history[r], earlierHistory[r]] = [a * q + change, a * q - change];
    });
    stepper.hold();
    output.forEach((wave, w) => (wave[at] = heard[w][0]));
  }
}
