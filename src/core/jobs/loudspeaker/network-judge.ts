import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { FED_NODE, type Compilation } from '../../design/compiled/compile';
import { isPassive } from '../../design/making/create';
import type { Design, Listening, Variant } from '../../design/document/schema';
import type { seriesFor } from '../../design/stages/stage-design';
import { type DesignedPart } from '../../design/stages/stage-design';
import { CurveReader } from '../../analysis/curves/curve-reader';
import { naturalFrequencies } from '../../analysis/roots/poles';
import { complex, divide, magnitude, timesResponse, type Complex } from '../../math/complex';
import { AUDIO_BAND, logGrid } from '../../math/grid';
import { exactPriceOf, lossOhm, priceOf } from '../../parts/grades';
import { acousticTarget, sumOf, wayTransfer, type AcousticTarget } from './speaker-system';
import { USUAL_LISTENING } from '../../design/document/usual-listening';

/** A part that may move, and between which values: their logarithms. */
export interface Moved {
  readonly stage: string;
  readonly part: DesignedPart;
  readonly slot: number;
  readonly lossSlot: number | null;
  /** What the series of its kind has. */
  readonly series: ReturnType<typeof seriesFor>;
  readonly low: number;
  readonly high: number;
}

/** How much each way's slope, the sum above and below the axis, and the price count beside the sum: 0 not at all. */
export interface Weights {
  readonly ways: number;
  readonly aside: number;
  readonly cost: number;
}

/** What a set of values comes to. */
export interface Outcome {
  /** Largest distance of the sum from the target over the range that counts, dB. */
  readonly offDb: number;
  /** Least load over the audio band, ohm; null where every way has an amplifier of its own. */
  readonly lowestOhm: number | null;
  readonly price: number;
}
export interface Judged extends Outcome {
  readonly logs: readonly number[];
  /** Sum of the squares of what is off: the sum, the slopes, above and below. The price is not in it. */
  readonly error: number;
  /** Share by which the load is too low, 0 when it is not. */
  readonly shortfall: number;
}

const POINTS = 101;
/** Natural frequencies are looked for about this frequency, Hz. */
const CLAIM_ABOUT_HZ = 700;
/** The load counts over the whole audio band: so many points beside those of the sum, below and above. */
const BESIDE_POINTS = 12;
/** How far below the target a way's slope still counts, dB. */
const SLOPE_DB = 24;
/** A point of the load below what is allowed weighs as so many decibels for each per cent of it. */
const LOAD_WEIGHT = 60;
const LOAD_ROOM = 1.03;
/** Between the points of the search's grid a load may be so much lower. */
const GRID_ROOM = 1.004;
const PRICE_WEIGHT = 10;
/** Even where the price is not to count. */
const LEAST_COST = 0.08;
/** As so many points of the grid. */
const WORST_COUNTS = 25;
/** Where the sum is listened to beside the axis, degrees up. */
const ASIDE_DEG = [-12, 12];

interface Solved {
  readonly sumDb: Float64Array;
  readonly wayDb: readonly Float64Array[];
  readonly asideDb: readonly Float64Array[];
  readonly ohm: Float64Array | null;
}

/** Says how far a set of values (their logarithms) is from what is wanted. */
export class NetworkJudge {
  /** How many residuals there are. */
  readonly count: number;
  /** How many sets were looked at. */
  looked = 0;
  private readonly freqHz: Float64Array;
  private readonly inside: number;
  private readonly target: AcousticTarget;
  private readonly transfers: readonly Float64Array[];
  private readonly aside: readonly (readonly Float64Array[])[];
  private readonly values: Float64Array;
  private readonly nodes: readonly string[];
  private readonly lowestOhm: number;
  private readonly fedOhm: number | null;
  private readonly usualPrice: number;
  /**
   * The search goes by the circuits that are fitted to measured impedances; what is claimed goes by the
   * measurements.
   */
  private readonly fittedStructure: Compilation['circuit']['structure'];
  private readonly listening: Listening;
  private readonly claims = new Map<string, Outcome>();

  constructor(
    private readonly design: Design,
    private readonly variant: Variant,
    private readonly built: Compilation,
    private readonly moved: readonly Moved[],
    private readonly weights: Weights,
    private readonly holdLoad: boolean,
    private readonly solver: AcSolver,
  ) {
    const listening: Listening = variant.listening ?? USUAL_LISTENING;
    this.listening = listening;
    this.fittedStructure = { ...built.circuit.structure, ports: [] };
    const within = logGrid(listening.fromHz, listening.toHz, POINTS);
    const beside = [
      ...logGrid(Math.min(AUDIO_BAND.fromHz, listening.fromHz), listening.fromHz, BESIDE_POINTS + 1).slice(0, -1),
      ...logGrid(listening.toHz, Math.max(AUDIO_BAND.toHz, listening.toHz), BESIDE_POINTS + 1).slice(1),
    ];
    this.inside = within.length;
    const loaded = variant.ways.some(isPassive);
    this.freqHz = loaded ? Float64Array.from([...within, ...beside]) : within;
    this.target = acousticTarget(design, variant, within);
    const transfersAt = (upDeg: number) =>
      variant.ways.map((way) => wayTransfer(design, way, within, { ...listening, upDeg: listening.upDeg + upDeg }));
    this.transfers = transfersAt(0);
    this.aside = weights.aside > 0 ? ASIDE_DEG.map(transfersAt) : [];
    this.values = built.circuit.values.slice();
    // The amplifier's own resistance shows what it works into; a stiff one is asked for its current.
    this.fedOhm = loaded ? design.brief.source.ohm : null;
    this.nodes = [...built.ways.map((w) => w.output), ...(this.fedOhm ? [FED_NODE] : [])];
    this.lowestOhm = listening.lowestOhm;
    this.usualPrice = Math.max(
      1,
      this.price(
        moved.map((m) => Math.log(m.part.chosen)),
        exactPriceOf,
      ),
    );
    this.count = POINTS * (1 + variant.ways.length + this.aside.length) + this.freqHz.length + 1;
  }

  /** What is off at each frequency, weighed, for least squares. @param costWeight how much the price counts. */
  residuals(logs: readonly number[], costWeight = this.weights.cost): Float64Array {
    const out = new Float64Array(this.count);
    const got = this.solve(logs);
    if (!got) return out.fill(1e3);
    let next = this.acoustic(got, (at, off) => (out[at] = off));
    for (let i = 0; i < this.freqHz.length; i++) out[next++] = LOAD_WEIGHT * this.shortfallAt(got, i, LOAD_ROOM);
    out[next] = this.priceTerm(costWeight, this.price(logs, exactPriceOf));
    return out;
  }

  judge(logs: readonly number[]): Judged {
    const price = Math.round(100 * this.price(logs, priceOf)) / 100;
    const got = this.solve(logs);
    if (!got) return { logs, error: Infinity, shortfall: 0, offDb: Infinity, lowestOhm: null, price };
    let error = 0;
    this.acoustic(got, (_, off) => (error += off * off));
    let [offDb, shortfall] = [0, 0];
    for (let i = 0; i < POINTS; i++) offDb = Math.max(offDb, Math.abs(got.sumDb[i] - this.target.sumDb[i]));
    for (let i = 0; i < this.freqHz.length; i++) shortfall = Math.max(shortfall, this.shortfallAt(got, i, GRID_ROOM));
    const lowestOhm = got.ohm ? got.ohm.reduce((least, z) => Math.min(least, z), Infinity) : null;
    return { logs, error, shortfall, offDb, lowestOhm, price };
  }

  /**
   * What a set of values truly comes to: the search looks at a coarse grid, this at the curves themselves, sampled
   * where
   * the circuit's natural frequencies ask for it and refined until they stand still.
   */
  claim(logs: readonly number[]): Outcome {
    const key = logs.map((v) => v.toFixed(5)).join(' ');
    const before = this.claims.get(key);
    if (before) return before;
    const own = this.circuitAt(logs);
    const circuit = { ...own, values: own.values.slice() };
    const natural = naturalFrequencies(circuit, 2 * Math.PI * CLAIM_ABOUT_HZ);
    const { fromHz, toHz } = this.listening;
    const off = new CurveReader((f) => this.offTarget(circuit, f), natural, { fromHz, toHz });
    const price = Math.round(100 * this.price(logs, priceOf)) / 100;
    const offDb = Math.max(Math.abs(off.highest().levelDb), Math.abs(off.lowest().levelDb));
    const told = { offDb, lowestOhm: this.fedOhm === null ? null : this.leastLoad(circuit, natural), price };
    this.claims.set(key, told);
    return told;
  }

  /** Whether a claim keeps the load that was to be held. */
  bears = ({ lowestOhm }: Outcome): boolean =>
    !this.holdLoad || lowestOhm === null || lowestOhm >= this.lowestOhm * (1 - 1e-6);

  /** The sum over the target, re and im by turns. */
  private offTarget(circuit: Compilation['circuit'], freqHz: Float64Array): Float64Array {
    const solved = this.solver.sweep(circuit, freqHz, this.nodes);
    if (!solved.ok) return new Float64Array(2 * freqHz.length).fill(NaN);
    const { variant, design } = this;
    const pressures = variant.ways.map((way, w) =>
      timesResponse(solved.value[w], wayTransfer(design, way, freqHz, this.listening)),
    );
    const sum = sumOf(pressures);
    const { sumDb } = acousticTarget(design, variant, freqHz);
    return sum.map((v, i) => v / 10 ** (sumDb[i >> 1] / 20));
  }

  /** Least size of the load over the audio band, ohm. */
  private leastLoad(circuit: Compilation['circuit'], natural: readonly Complex[]): number | null {
    const loadAt = (freqHz: Float64Array): Float64Array => {
      const solved = this.fedOhm ? this.solver.sweep(circuit, freqHz, [FED_NODE]) : null;
      const ohm = this.loadOhm(circuit, solved?.ok ? solved.value[0] : undefined, freqHz);
      return Float64Array.from({ length: 2 * freqHz.length }, (_, i) => (i % 2 === 0 ? (ohm?.[i >> 1] ?? NaN) : 0));
    };
    const { levelDb } = new CurveReader(loadAt, natural, AUDIO_BAND).lowest();
    return Number.isFinite(levelDb) ? 10 ** (levelDb / 20) : null;
  }

  /**
   * What a candidate is worth, less is better: its worst place counts as several others, of two that sound alike the
   * cheaper is better, and a load that the amplifier does not bear is worse than any sound.
   */
  score({ error, offDb, shortfall, price }: Judged, costWeight = this.weights.cost): number {
    return (
      error +
      WORST_COUNTS * offDb ** 2 +
      this.priceTerm(Math.max(LEAST_COST, costWeight), price) ** 2 +
      (shortfall > 0 ? TOO_LOW * (1 + shortfall) : 0)
    );
  }

  private priceTerm(weight: number, price: number): number {
    return (weight * PRICE_WEIGHT * price) / this.usualPrice;
  }

  private shortfallAt({ ohm }: Solved, i: number, room: number): number {
    return ohm && this.holdLoad ? Math.max(0, 1 - ohm[i] / (this.lowestOhm * room)) : 0;
  }

  /** Tells what is off of the sum, of each way's slope and beside the axis; returns how many it told. */
  private acoustic({ sumDb, wayDb, asideDb }: Solved, tell: (at: number, off: number) => void): number {
    const { target, weights } = this;
    let next = 0;
    for (let i = 0; i < POINTS; i++) tell(next++, sumDb[i] - target.sumDb[i]);
    wayDb.forEach((levels, w) => {
      for (let i = 0; i < POINTS; i++) {
        const wanted = target.ways[w][i];
        // Below where it is heard, a way that falls faster than asked is no fault.
        const counts = Math.max(0, Math.min(1, (wanted - target.levelDb + SLOPE_DB) / 12));
        tell(next++, weights.ways * counts * (levels[i] - wanted));
      }
    });
    for (const levels of asideDb)
      for (let i = 0; i < POINTS; i++) tell(next++, weights.aside * (levels[i] - target.sumDb[i]));
    return next;
  }

  private solve(logs: readonly number[]): Solved | null {
    this.looked++;
    const circuit = { ...this.circuitAt(logs), structure: this.fittedStructure };
    const solved = this.solver.sweep(circuit, this.freqHz, this.nodes);
    if (!solved.ok) return null;
    const volts = solved.value.slice(0, this.transfers.length).map((v) => v.subarray(0, 2 * this.inside));
    const heard = (transfers: readonly Float64Array[]) => volts.map((v, w) => timesResponse(v, transfers[w]));
    const pressures = heard(this.transfers);
    const ohm = this.fedOhm === null ? null : this.loadOhm(circuit, solved.value[this.transfers.length]);
    return {
      sumDb: levelsDb(sumOf(pressures)),
      wayDb: pressures.map((p) => levelsDb(p)),
      asideDb: this.aside.map((transfers) => levelsDb(sumOf(heard(transfers)))),
      ohm,
    };
  }

  /** Z = R V/(1 − V) from the volts behind the source's own resistance, or from the current of a stiff one. */
  private loadOhm(
    circuit: Compilation['circuit'],
    fed: Float64Array | undefined,
    freqHz = this.freqHz,
  ): Float64Array | null {
    if (this.fedOhm && fed) {
      const source = complex(this.fedOhm);
      return freqHz.map((_, i) => {
        const volts = complex(fed[2 * i], fed[2 * i + 1]);
        return magnitude(divide(complex(volts.re * source.re, volts.im * source.re), complex(1 - volts.re, -volts.im)));
      });
    }
    const currents = this.solver.branchCurrents(circuit, freqHz, ['Vin']);
    if (!currents.ok) return null;
    const [amps] = currents.value;
    return freqHz.map((_, i) => 1 / Math.hypot(amps[2 * i], amps[2 * i + 1]));
  }

  private circuitAt(logs: readonly number[]) {
    this.moved.forEach(({ part, slot, lossSlot }, i) => {
      const value = Math.exp(logs[i]);
      this.values[slot] = value;
      if (lossSlot !== null) this.values[lossSlot] = lossOhm(part.spec.kind, value, part.grade);
    });
    return { ...this.built.circuit, values: this.values };
  }

  private price(logs: readonly number[], of: typeof priceOf): number {
    return this.moved.reduce((sum, { part }, i) => sum + (part.grade ? of(Math.exp(logs[i]), part.grade) : 0), 0);
  }
}

/** More than any response is off. */
const TOO_LOW = 1e7;
