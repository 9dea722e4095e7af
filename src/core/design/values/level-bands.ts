import { highestPoint } from '../../analysis/curves/marks';
import { levelsDb } from '../../analysis/curves/response';
import { cascadeResponse } from '../../filter/section';
import { logGrid } from '../../math/grid';
import { neighbours } from '../../parts/preferred';
import type { PartValues } from '../../topology/kit/part';
import type { Preferences, Way } from '../document/schema';
import { reachedTarget } from '../compiled/stage-error';
import { valuesOf, type DesignedStage } from '../stages/stage-design';

const POINTS = 81;
/** Where across a stage's width, f/Q, its top is looked at. */
const ACROSS = [-0.5, -0.25, 0, 0.25, 0.5];
/** Series steps either way that an input resistor is tried at. */
const STEPS = 6;
/** dB that a stage off its frequency by its whole is worth: one per cent of it weighs as four tenths of a decibel. */
const DETUNED_DB = 40;
/** dB: nearer than this a band is level. */
const LEVEL_ENOUGH = 0.05;

/** Highest level (dB) of a way's sections over one another, with given parts, in and around a band. */
export function peakDb(
  stages: readonly DesignedStage[],
  values: readonly PartValues[],
  [low, high]: readonly [number, number],
): number {
  const reached = stages.flatMap((s, i) =>
    s.role === 'section' && !s.stage.bypassed ? [reachedTarget(s, values[i])] : [],
  );
  const grid = Float64Array.from([
    ...logGrid(low / 1.5, high * 1.5, POINTS),
    ...reached.flatMap(({ freqHz, q }) => ACROSS.map((w) => freqHz * (1 + w / q))),
  ]).sort();
  return highestPoint(grid, levelsDb(cascadeResponse(reached, grid))).levelDb;
}

/**
 * Input resistors of a band's stages moved along their series, each with the divider leg that keeps its stage's
 * frequency, until the band's peak lies nearest a level (dB).
 */
export function levelled(
  way: Way,
  stages: readonly DesignedStage[],
  wantedDb: number,
  band: readonly [number, number],
  preferences: Preferences,
): Way {
  const values: PartValues[] = stages.map((s) => valuesOf(s, 'chosen'));
  // Level and tuning together: a band brought to its level on the wrong note is not levelled.
  const off = (v: readonly PartValues[]) =>
    Math.abs(peakDb(stages, v, band) - wantedDb) + DETUNED_DB * Math.max(0, ...stages.map((s, i) => detuned(s, v[i])));
  let best = { values, off: off(values) };
  for (let pass = 0; pass < 2 && best.off > LEVEL_ENOUGH; pass++)
    stages.forEach((stage, i) => {
      for (const v of retuned(stage, best.values[i], preferences)) {
        const next = best.values.map((old, k) => (k === i ? v : old));
        const nextOff = off(next);
        if (nextOff < best.off - 1e-9) best = { values: next, off: nextOff };
      }
    });
  return {
    ...way,
    stages: way.stages.map((stage, i) => ({
      ...stage,
      parts: {
        ...stage.parts,
        ...Object.fromEntries(
          ['R1', 'R1b']
            .filter((name) => best.values[i][name] !== undefined && best.values[i][name] !== values[i][name])
            .map((name) => [
              name,
              { ...stage.parts[name], use: { kind: 'single' as const, values: [best.values[i][name]] } },
            ]),
        ),
      },
    })),
  };
}

/** How far a stage lies off the frequency it is for, as a share. */
function detuned(stage: DesignedStage, v: PartValues): number {
  return stage.role === 'section' && !stage.stage.bypassed
    ? Math.abs(reachedTarget(stage, v).freqHz / stage.target.freqHz - 1)
    : 0;
}

function retuned(stage: DesignedStage, v: PartValues, { resistorSeries }: Preferences): PartValues[] {
  const tuning = stage.role === 'section' ? stage.topology.tuning : undefined;
  if (stage.role !== 'section' || !tuning || v[tuning.part] === undefined) return [];
  const list: PartValues[] = [];
  for (const way of ['below', 'above'] as const) {
    let level = v[tuning.levelsWith];
    for (let i = 0; i < STEPS; i++) {
      level = neighbours(level * (way === 'below' ? 0.999 : 1.001), resistorSeries)[way];
      const moved = { ...v, [tuning.levelsWith]: level };
      const tuned = tuning.ohmFor(moved, stage.target.freqHz);
      if (!(tuned > 0) || !Number.isFinite(tuned)) continue;
      const sides = neighbours(tuned, resistorSeries);
      for (const ohm of new Set([sides.below, sides.above])) list.push({ ...moved, [tuning.part]: ohm });
    }
  }
  return list;
}
