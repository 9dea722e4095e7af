import type * as z from 'zod';
import { bankBands, bankCentres } from '../../filter/bank';
import { bandEdges } from '../../filter/plan-sections';
import { bandPassClosedForm } from '../../topology/op-amp/multiple-feedback-band-pass';
import type { PartValues } from '../../topology/kit/part';
import { neighbours } from '../../parts/preferred';
import { decibels } from '../../units/quantity';
import { success, type Result } from '../../result';
import { arrangeStages, createPlan, type MakeId } from './create';
import type { bankSchema, Stage, Variant, Way, PartChoice } from '../document/schema';
import { designWay, valuesOf, type Bench, type DesignedSection } from '../stages/stage-design';
import { levelled, peakDb } from '../values/level-bands';
import { snapWay, withUses } from '../values/snap-way';

/**
 * What a bank of band-passes is asked for: bands by rule, or centres one by one (`free`); stages of every band, tuned
 * apart; how much the top of a band may ripple (dB; at 0.01 as flat as it gets); and whether the lowest band is a
 * low-pass and the highest a high-pass.
 */
export type BankSpec = z.infer<typeof bankSchema>;

/** Where a new bank begins: half octaves from 110 Hz. */
export const USUAL_BANK: BankSpec = {
  rule: 'half',
  firstHz: 110,
  count: 12,
  centresHz: [],
  stages: 2,
  flatnessDb: 0.1,
  ends: false,
};

const centresOf = (spec: BankSpec): readonly number[] =>
  spec.rule === 'free' ? spec.centresHz : bankCentres(spec.rule, spec.firstHz, spec.count);
/** Below this ripple a band is as flat as it gets. */
const FLATTEST_DB = 0.02;

const bandName = (hz: number): string =>
  hz >= 1000 ? `${Number((hz / 1000).toPrecision(3))}\u202fkHz` : `${Number(hz.toPrecision(3))}\u202fHz`;

/** A way for every band of a bank, neighbours meeting where both are 3 dB down. Fails as `bankBands` does. */
export function bankWays(spec: BankSpec, makeId: MakeId): Result<Way[]> {
  const bands = bankBands(centresOf(spec));
  if (!bands.ok) return bands;
  const flat = spec.flatnessDb < FLATTEST_DB;
  return success(
    bands.value.map(({ centreHz, lowHz, highHz }, i) => {
      const end = spec.ends && (i === 0 || i === bands.value.length - 1);
      const response = !end ? 'bandpass' : i === 0 ? 'lowpass' : 'highpass';
      const plan = {
        ...createPlan(
          makeId(),
          response,
          flat ? 'butterworth' : 'chebyshev',
          2 * spec.stages,
          response === 'bandpass' ? Math.sqrt(lowHz * highHz) : response === 'lowpass' ? highHz : lowHz,
        ),
        bandwidthHz: highHz - lowHz,
        rippleDb: Math.max(0.01, spec.flatnessDb),
        cutoffAt: '-3db' as const,
      };
      const topologies =
        response === 'bandpass' ? plan.topologies : { ...plan.topologies, second: 'multiple-feedback' };
      const way: Way = {
        id: makeId(),
        name: bandName(centreHz),
        from: { kind: 'source' },
        plans: [{ ...plan, topologies }],
        stages: [],
        outputResistor: null,
        load: { kind: 'brief' },
        polarity: 1,
        levelTrimDb: 0,
      };
      return arrangeStages(way, makeId);
    }),
  );
}

/** One stage of a bank, as its table has it. */
export interface BankRow {
  readonly wayId: string;
  readonly stageId: string;
  readonly band: string;
  readonly stage: number;
  /** Asked for, and what the chosen parts come to; null where they come to none. */
  readonly wantedHz: number;
  readonly centreHz: number | null;
  readonly q: number | null;
  readonly gainDb: number;
  readonly parts: PartValues;
  /**
   * The resistor that tunes it: exact for its centre with the other parts as chosen, and the trimmer that reaches it
   * with any parts of their tolerance. Null where nothing tunes the stage alone.
   */
  readonly trim: {
    readonly part: string;
    readonly ohm: number;
    readonly fixedOhm: number;
    readonly trimmerOhm: number;
    /** Whether the maker has them listed, or they are our proposal. */
    readonly listed: boolean;
    /** What is left for the trimmer to be set to; below nothing or over its track it is out of reach. */
    readonly settingOhm: number;
  } | null;
}

/** Every stage of every band: what it does, and what trims it. Fails as the design does. */
export function bankTable(variant: Variant, bench: Bench): Result<BankRow[]> {
  const rows: BankRow[] = [];
  for (const way of variant.ways) {
    const designed = designWay(way, bench, variant.controls);
    if (!designed.ok) return designed;
    designed.value.stages.forEach((stage, i) => {
      if (stage.role !== 'section') return;
      const parts = valuesOf(stage, 'chosen');
      const got = stage.topology.closedForm(stage.target.response, parts);
      rows.push({
        wayId: way.id,
        stageId: stage.stage.id,
        band: way.name,
        stage: i + 1,
        wantedHz: stage.target.freqHz,
        centreHz: got.freqHz ?? null,
        q: got.q ?? null,
        gainDb: decibels(got.gain),
        parts,
        trim: trimOf(stage, parts),
      });
    });
  }
  return success(rows);
}

/** What tunes a stage alone, and the trimmer that reaches it. */
function trimOf(stage: DesignedSection, v: PartValues): BankRow['trim'] {
  const { tuning } = stage.topology;
  if (!tuning || v[tuning.part] === undefined) return null;
  const { part } = tuning;
  const needs = (parts: PartValues) => tuning.ohmFor(parts, stage.target.freqHz);
  const needed = needs(v);
  const held = stage.parts.find((p) => p.spec.name === part)?.choice;
  if (held?.trimmerOhm !== undefined && held.use?.values.length === 2) {
    const [fixedOhm] = held.use.values;
    const { trimmerOhm } = held;
    return { part, ohm: needed, fixedOhm, trimmerOhm, listed: true, settingOhm: needed - fixedOhm };
  }
  const proposed = (fixedOhm: number, trimmerOhm: number): BankRow['trim'] => ({
    part,
    ohm: needed,
    fixedOhm,
    trimmerOhm,
    listed: false,
    settingOhm: needed - fixedOhm,
  });
  // Each part at the end of its tolerance that takes the resistor further the same way.
  const off = (name: string, sign: number) =>
    v[name] * (1 + (sign * (stage.parts.find((p) => p.spec.name === name)?.tolerancePct ?? 0)) / 100);
  const others = Object.keys(v).filter((name) => name !== part);
  const raises = new Map(others.map((name) => [name, needs({ ...v, [name]: 1.001 * v[name] }) > needed ? 1 : -1]));
  const ends = [1, -1].map((sign) =>
    needs({ ...v, ...Object.fromEntries(others.map((name) => [name, off(name, sign * raises.get(name)!)])) }),
  );
  const [least, most] = [Math.min(...ends), Math.max(...ends)];
  if (!(least > 0) || !Number.isFinite(most)) return proposed(0, NaN);
  const fixedOhm = neighbours(least, 'E12').below;
  return proposed(fixedOhm, neighbours(most - fixedOhm, 'E6').above);
}

/** Every band's parts chosen together, and then its peak brought to the level of its plan. Fails as the design does. */
export function snapBank(variant: Variant, bench: Bench): Result<Variant> {
  const ways: Way[] = [];
  for (const way of variant.ways) {
    const snapped = snapWay(way, bench, variant.controls, { stageId: null, mostPairs: 0, quick: true });
    if (!snapped.ok) return snapped;
    const choice = snapped.value.choices[0];
    const taken =
      choice === undefined
        ? way
        : {
            ...way,
            stages: way.stages.map((stage) =>
              withUses(stage, choice.stages.find((s) => s.stageId === stage.id)?.snap.uses),
            ),
          };
    const level = levelWay(taken, way.plans[0]?.gainDb ?? 0, bench, variant);
    if (!level.ok) return level;
    ways.push(level.value);
  }
  return success({ ...variant, ways });
}

/** One band's peak brought to a level, by its input resistors. */
function levelWay(way: Way, wantedDb: number, bench: Bench, variant: Variant): Result<Way> {
  const designed = designWay(way, bench, variant.controls);
  return designed.ok
    ? success(levelled(way, designed.value.stages, wantedDb, wayBand(way), bench.preferences))
    : designed;
}

/** Where every band's peak lies, dB, by its sections' textbooks. Fails as the design does. */
export function bandPeaks(variant: Variant, bench: Bench): Result<number[]> {
  const peaks: number[] = [];
  for (const way of variant.ways) {
    const designed = designWay(way, bench, variant.controls);
    if (!designed.ok) return designed;
    const { stages } = designed.value;
    peaks.push(
      peakDb(
        stages,
        stages.map((s) => valuesOf(s, 'chosen')),
        wayBand(way),
      ),
    );
  }
  return success(peaks);
}

/**
 * All bands brought to the level of their middle one, by their input resistors and nothing else. Fails as the design
 * does.
 */
export function levelBank(variant: Variant, bench: Bench): Result<Variant> {
  const peaks = bandPeaks(variant, bench);
  if (!peaks.ok) return peaks;
  const middle = [...peaks.value].sort((a, b) => a - b)[peaks.value.length >> 1];
  const ways: Way[] = [];
  for (const way of variant.ways) {
    const level = levelWay(way, middle, bench, variant);
    if (!level.ok) return level;
    ways.push(level.value);
  }
  return success({ ...variant, ways });
}

/**
 * A bank from a table of part values: stages that are what their parts make them, or that are asked for what the table
 * says they should be.
 */
export interface GivenStage {
  readonly band: string;
  readonly parts: PartValues;
  readonly wantedHz: number | null;
  /** End to end, of a trimmer in series with the resistor to ground; set to its middle to begin with. */
  readonly trimmerOhm?: number | null;
}

/** Whether a trimmer's track reaches what is left for it. */
export const reaches = ({ settingOhm, trimmerOhm }: NonNullable<BankRow['trim']>): boolean =>
  settingOhm >= 0 && settingOhm <= trimmerOhm;

/** A resistor and a trimmer set to so much, as one part; at its end the trimmer is nearly nothing. */
export const trimmedPart = (fixedOhm: number, trimmerOhm: number, settingOhm: number): PartChoice => ({
  use: { kind: 'series', values: [fixedOhm, Math.min(trimmerOhm, Math.max(1e-3 * trimmerOhm, settingOhm))] },
  trimmerOhm,
});

export function bankOfParts(given: readonly GivenStage[], makeId: MakeId): Way[] {
  const names = [...new Set(given.map((g) => g.band))];
  return names.map((name) => ({
    id: makeId(),
    name,
    from: { kind: 'source' },
    plans: [],
    outputResistor: null,
    load: { kind: 'brief' },
    polarity: 1,
    levelTrimDb: 0,
    stages: given
      .filter((g) => g.band === name)
      .map(({ parts: listed, wantedHz, trimmerOhm }): Stage => {
        const trimmed =
          trimmerOhm && listed.R1b !== undefined ? trimmedPart(listed.R1b, trimmerOhm, trimmerOhm / 2) : null;
        const parts = trimmed ? { ...listed, R1b: listed.R1b + trimmerOhm! / 2 } : listed;
        const got = bandPassClosedForm(parts);
        return {
          id: makeId(),
          topology: 'multiple-feedback-band-pass',
          device: 'jfet-audio-3mhz',
          output: 'out',
          mode: 'normal',
          bypassed: false,
          target: {
            kind: 'own',
            of: null,
            response: 'bandpass',
            order: 2,
            freqHz: wantedHz ?? got.freqHz ?? 1000,
            q: got.q ?? 1,
            gainDb: decibels(got.gain),
          },
          parts: Object.fromEntries(
            Object.entries(parts).map(([part, value]): [string, PartChoice] => [
              part,
              part === 'R1b' && trimmed ? trimmed : { use: { kind: 'single', values: [value] } },
            ]),
          ),
        };
      }),
  }));
}

/** Edges of a plan's band, or of a single low- or high-pass from or to the end of hearing. */
function wayBand(way: Way): readonly [number, number] {
  const [plan] = way.plans;
  if (!plan) {
    const freqs = way.stages.flatMap(({ target }) => (target.kind === 'own' ? [target.freqHz] : []));
    return [Math.min(...freqs, 1e9), Math.max(...freqs, 0)];
  }
  if (plan.response === 'bandpass') return bandEdges(plan.cutoffHz, plan.bandwidthHz);
  return plan.response === 'lowpass' ? [plan.cutoffHz / 10, plan.cutoffHz] : [plan.cutoffHz, plan.cutoffHz * 10];
}
