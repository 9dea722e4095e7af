import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import type { DesignedNetwork } from '../../design/stages/stage-design';
import type { BuiltVariant } from '../reading/built-variant';
import { bandOf, longest } from './longest-pole';
import { beginsBetween } from '../../math/search';
import { figureOrNull } from '../../units/quantity';

/** What the part that makes it resonate does, from little to singing, and what that costs in level. */
export interface Resonance {
  readonly stageId: string;
  readonly part: string;
  /**
   * Its knob (0 to 1) where a pot holds it, else null; Q of the pair that rings longest, null once it sings; level
   * well under the cutoff, dB, null where it passes nothing.
   */
  readonly points: readonly {
    readonly ohm: number;
    readonly knob: number | null;
    readonly q: number | null;
    readonly levelDb: number | null;
  }[];
  /**
   * Level lost to it as it stands, dB; and what a part at the input would have to be to make that up, where one can.
   */
  readonly lostDb: number;
  readonly makeUp: { readonly part: string; readonly nowOhm: number; readonly ohm: number } | null;
}

/** Where the loop's gain would just keep it going. */
export interface Singing {
  readonly stageId: string;
  readonly part: string;
  readonly nowOhm: number;
  /** The resistor at which it starts to sing, and at what frequency. */
  readonly atOhm: number;
  readonly freqHz: number;
  readonly sings: boolean;
  /** Where a pot that holds the part starts it, 0 to 1; null where it is not on one, or never does. */
  readonly knob: number | null;
}

/** Factors of the resistor between which the beginning of song is looked for. */
const REACH = 300;
const NEAR = 1e-14;

/** The resistor, of the first stage that has one, at which its loop just keeps going; null where there is none. */
export function singingOf(built: BuiltVariant): Singing | null {
  for (const { stage, topology, form, role } of built.ways[0].stages) {
    if (role !== 'network' || stage.bypassed) continue;
    const part = topology.role === 'network' ? topology.resonance?.(form) : undefined;
    const slot = part === undefined ? undefined : built.circuit.structure.slotOf(`${stage.id}.${part}`);
    if (part === undefined || slot === undefined) continue;
    const nowOhm = built.circuit.values[slot];
    const band = bandOf(built);
    const at = (ohm: number) => {
      const values = built.circuit.values.slice();
      values[slot] = ohm;
      return longest({ ...built.circuit, values }, band);
    };
    const grows = (ohm: number): boolean => (at(ohm)?.pole.re ?? -1) > 0;
    // Whichever way makes it louder: less of a resistor round the loop, or less of one that damps it.
    const [low, high] = [nowOhm / REACH, nowOhm * REACH];
    const below = grows(low);
    if (grows(high) === below) continue;
    const atOhm = beginsBetween((ohm) => grows(ohm) !== below, low, high, NEAR);
    const held = stage.parts[part]?.control;
    const share = held?.kind === 'rheostat' && held.totalOhm > 0 ? (atOhm - held.endOhm) / held.totalOhm : NaN;
    return {
      stageId: stage.id,
      part,
      nowOhm,
      atOhm,
      freqHz: at(atOhm)?.freqHz ?? NaN,
      sings: grows(nowOhm),
      knob: share >= 0 && share <= 1 ? share : null,
    };
  }
  return null;
}

const RESONANCE_POINTS = 25;
/** From a twentieth of the way to singing. */
const RESONANCE_REACH = 20;
/** Well under the cutoff. */
const UNDER = 8;

/**
 * The same circuit with the part over its range, its level and its longest pair; what it costs in level now, and what
 * would make that up.
 */
export function resonanceOf(
  built: BuiltVariant,
  { stageId, part, nowOhm, atOhm, freqHz, knob }: Singing,
  solver: AcSolver,
): Resonance | null {
  const designed = built.ways[0].stages.find(({ stage }) => stage.id === stageId);
  const slot = designed && built.circuit.structure.slotOf(`${designed.stage.id}.${part}`);
  if (!designed || slot === undefined || designed.role !== 'network') return null;
  const band = bandOf(built);
  const lowHz = freqHz / UNDER;
  const withValues = (changed: Readonly<Record<number, number>>) => {
    const values = built.circuit.values.slice();
    for (const [at, value] of Object.entries(changed)) values[Number(at)] = value;
    return { ...built.circuit, values };
  };
  const levelOf = (changed: Readonly<Record<number, number>>): number => {
    const swept = solver.sweep(withValues(changed), Float64Array.of(lowHz), [built.ways[0].output]);
    return swept.ok ? levelsDb(swept.value[0])[0] : NaN;
  };
  const q = (ohm: number): number => {
    const found = longest(withValues({ [slot]: ohm }), band);
    return !found ? NaN : found.q < 0 || found.pole.re > 0 ? Infinity : found.q;
  };
  // Whichever way makes it louder.
  const louderUp = q(atOhm * 1.02) === Infinity;
  const farOhm = louderUp ? atOhm / RESONANCE_REACH : atOhm * RESONANCE_REACH;
  const held = designed.stage.parts[part]?.control;
  const ohms =
    held?.kind === 'rheostat' && knob !== null
      ? Array.from({ length: RESONANCE_POINTS }, (_, i) => held.endOhm + (held.totalOhm * i) / (RESONANCE_POINTS - 1))
      : Array.from({ length: RESONANCE_POINTS }, (_, i) => farOhm * (atOhm / farOhm) ** (i / (RESONANCE_POINTS - 1)));
  const points = ohms
    .filter((ohm) => ohm > 0)
    .map((ohm) => ({
      ohm,
      knob: held?.kind === 'rheostat' && knob !== null ? (ohm - held.endOhm) / held.totalOhm : null,
      q: figureOrNull(q(ohm)),
      levelDb: figureOrNull(levelOf({ [slot]: ohm })),
    }));
  const bare = levelOf({ [slot]: louderUp ? nowOhm / 1e6 : nowOhm * 1e6 });
  const lostDb = bare - levelOf({});
  return { stageId, part, points, lostDb, makeUp: makeUpOf(built, designed, lostDb, levelOf) };
}

/** The part in line at the input: less of it, more level until the level is what it would be without resonance. */
function makeUpOf(
  built: BuiltVariant,
  { stage, topology, form }: DesignedNetwork,
  lostDb: number,
  levelOf: (changed: Readonly<Record<number, number>>) => number,
): Resonance['makeUp'] {
  const part = topology.levelPart?.(form);
  const slot = part === undefined ? undefined : built.circuit.structure.slotOf(`${stage.id}.${part}`);
  if (part === undefined || slot === undefined || !(lostDb > 0.05)) return null;
  const nowOhm = built.circuit.values[slot];
  const wanted = levelOf({}) + lostDb;
  const least = nowOhm / 1000;
  if (levelOf({ [slot]: least }) < wanted) return null;
  return { part, nowOhm, ohm: beginsBetween((ohm) => levelOf({ [slot]: ohm }) < wanted, least, nowOhm, NEAR) };
}
