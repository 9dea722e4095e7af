import { USUAL_PHOTOCELL, type Photocell } from '../../device/photocell';
import type { SectionTarget } from '../../filter/section';
import { solvePositive } from '../../math/newton';
import { failure, success, type Failure, type Result } from '../../result';
import type { ParameterSpec, Parameters } from './parameter';
import type { ClosedForm, PartKind, PartValues } from './part';

export type Side = 'nearest' | 'up' | 'down';

export interface DesignChoices {
  /** Which kind is taken from its series before the other is computed. */
  readonly chooseFirst: 'capacitors' | 'resistors';
  /** A value that can be had, of a kind, near a wanted one; `up` and `down` keep to one side. */
  readonly pick: (kind: PartKind, wanted: number, side: Side) => number;
  readonly pinned: PartValues;
  /** From rail to rail, V; absent where nothing rests on it. */
  readonly supplyVolts?: number;
  /** From the jacks' sleeves to the plus rail, V. */
  readonly spanVolts?: number;
  /** Absent: a usual one. */
  readonly photocell?: Photocell;
}

/**
 * Impedance (ohm) the parts of an op-amp stage are set around: high enough not to load, low enough for bias currents
 * and noise.
 */
export const LEVEL_OHM = 10e3;
/** What a circuit rests on where nothing is said: a small block battery, V. */
const USUAL_SUPPLY_VOLTS = 9;
/** Largest capacitor (F) chosen unasked: film parts get scarce and dear above. Smallest: strays take over below. */
const LARGEST_CAPACITOR = 220e-9;
const SMALLEST_CAPACITOR = 100e-12;

/** Picks the parts that are chosen first and honours those the maker has pinned. */
export class DesignContext {
  constructor(private readonly choices: DesignChoices) {}

  /** From rail to rail, V. */
  get supplyVolts(): number {
    return this.choices.supplyVolts ?? USUAL_SUPPLY_VOLTS;
  }

  /** From the jacks' sleeves to the plus rail, V: of one supply the whole, of two the upper. */
  get spanVolts(): number {
    return this.choices.spanVolts ?? this.supplyVolts;
  }

  /** What faces a lamp. */
  get photocell(): Photocell {
    return this.choices.photocell ?? USUAL_PHOTOCELL;
  }

  get capacitorsFirst(): boolean {
    return this.choices.chooseFirst === 'capacitors';
  }

  pinned(name: string): number | undefined {
    return this.choices.pinned[name];
  }

  /** A capacitor (F) that can be had, unless pinned. */
  capacitor(name: string, wanted: number, side: Side = 'nearest'): number {
    return this.pinned(name) ?? this.choices.pick('capacitor', wanted, side);
  }

  /** A resistor (ohm) that can be had, unless pinned. */
  resistor(name: string, wanted: number, side: Side = 'nearest'): number {
    return this.pinned(name) ?? this.choices.pick('resistor', wanted, side);
  }

  /** An inductor (H) that can be had, unless pinned. */
  inductor(name: string, wanted: number): number {
    return this.pinned(name) ?? this.choices.pick('inductor', wanted, 'nearest');
  }

  /** The capacitor size (F) that brings the resistors of a stage near the usual level. */
  capacitorLevel(freqHz: number, levelOhm = LEVEL_OHM): number {
    const size = 1 / (2 * Math.PI * freqHz * levelOhm);
    return Math.min(LARGEST_CAPACITOR, Math.max(SMALLEST_CAPACITOR, size));
  }

  /**
   * Completes a design in which parts that would have been computed are pinned: moves the free computed parts, and if
   * they do not suffice all free ones, until the closed form meets the target. Fails with `over-pinned` (`pinned`:
   * names).
   */
  meet(
    target: SectionTarget,
    computed: PartValues,
    first: readonly string[],
    closedForm: (parts: PartValues) => ClosedForm,
  ): Result<PartValues> {
    return this.meetMisses(computed, first, (values) => {
      const got = closedForm(values);
      const misses = [got.gain / target.gain - 1];
      if (got.freqHz !== undefined) misses.push(got.freqHz / target.freqHz - 1);
      if (got.q !== undefined) misses.push(got.q / target.q - 1);
      if (got.zeroHz !== undefined) misses.push(got.zeroHz / (target.zeroHz ?? target.freqHz) - 1);
      if (got.balance !== undefined) misses.push(got.balance - 1);
      return misses;
    });
  }

  /** The same for a network's parameters. */
  meetParameters(
    specs: readonly ParameterSpec[],
    wanted: Parameters,
    computed: PartValues,
    first: readonly string[],
    measures: (parts: PartValues) => Parameters,
  ): Result<PartValues> {
    const missing = (asked: readonly ParameterSpec[]) => (values: PartValues) => {
      const got = measures(values);
      return asked.map((spec) => missOf(spec, got[spec.name], wanted[spec.name]));
    };
    const met = this.meetMisses(computed, first, missing(specs));
    if (met.ok) return met;
    // What several pinned parts decide among themselves is as they decide it; the others are worked out again for the
    // rest.
    const pins = Object.fromEntries(
      Object.keys(computed).flatMap((name) =>
        this.pinned(name) === undefined ? [] : [[name, this.pinned(name) as number]],
      ),
    );
    const free = Object.keys(computed).filter((name) => !(name in pins));
    const stirred = measures({
      ...computed,
      ...pins,
      ...Object.fromEntries(free.map((name, i) => [name, computed[name] * (1.07 + 0.03 * i)])),
    });
    const still = measures({ ...computed, ...pins });
    const open = specs.filter(({ name }) => Math.abs(stirred[name] / still[name] - 1) > DECIDED);
    return open.length === specs.length || Object.keys(pins).length < 2
      ? met
      : this.meetMisses(computed, first, missing(open));
  }

  private meetMisses(
    computed: PartValues,
    first: readonly string[],
    misses: (parts: PartValues) => readonly number[],
  ): Result<PartValues> {
    const pins = Object.keys(computed).filter((name) => this.pinned(name) !== undefined);
    const parts = { ...computed };
    for (const name of pins) parts[name] = this.pinned(name) as number;
    if (Math.hypot(...misses(parts)) < 1e-10) return success(parts);
    const free = Object.keys(parts).filter((name) => !pins.includes(name));
    for (const names of [free.filter((name) => !first.includes(name)), free]) {
      if (names.length === 0) continue;
      const solved = solvePositive(
        (x) => misses({ ...parts, ...Object.fromEntries(names.map((n, i) => [n, x[i]])) }),
        names.map((n) => parts[n]),
      );
      if (solved.ok) return success({ ...parts, ...Object.fromEntries(names.map((n, i) => [n, solved.value[i]])) });
    }
    return overPinned(pins);
  }
}

/** A parameter that moves by less, as a share, while all free parts are stirred is decided by those that are held. */
const DECIDED = 1e-6;

/**
 * How far a parameter is from what was wanted: a share for factors, a twentieth of the difference for decibels and
 * degrees.
 */
export const missOf = ({ kind }: ParameterSpec, got: number, wanted: number): number =>
  kind === 'decibel' || kind === 'degree' || wanted === 0 ? (got - wanted) / 20 : got / wanted - 1;

const overPinned = (pins: readonly string[]): Failure<'over-pinned'> => failure('over-pinned', { pinned: [...pins] });
