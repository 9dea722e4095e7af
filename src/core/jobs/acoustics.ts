import { levelsDb, phasesDeg } from '../analysis/response';
import type { AcSolver } from '../analysis/solver';
import { driverOf } from '../design/compile';
import type { Design, Variant } from '../design/schema';
import { driverResponse } from '../loudspeaker/driver-response';
import { equivalentDissipationOhm } from '../loudspeaker/listening';
import { logGrid } from '../math/grid';
import { failure, success, type Result } from '../result';
import { checkSpeakers } from './acoustics-checks';
import type { Acoustics, AcousticsRequest, Crossing, Flatness, LoadCurve } from './acoustics-types';
import { deskStage } from './desk';
import { powerInParts } from './speaker-power';
import { acousticTarget, speakerSystem, sumOf, USUAL_LISTENING, type AcousticTarget, type SpeakerSystem } from './speaker-system';

/** Everything that is heard and driven of a crossover at one moment. Fails as the design does, or with `no-such-variant`. */
export function runAcoustics({ design, variantId, ghostVariantId, grid }: AcousticsRequest, solver: AcSolver): Result<Acoustics> {
  const variant = design.variants.find((v) => v.id === variantId);
  if (!variant) return failure('no-such-variant', { variant: variantId });
  const freqHz = logGrid(grid.fromHz, grid.toHz, grid.points);
  const solved = speakerSystem(design, variant, freqHz, solver);
  if (!solved.ok) return solved;
  const system = solved.value;
  const target = acousticTarget(design, variant, freqHz);
  const pressures = system.ways.map((w) => w.pressure);
  const sum = sumOf(pressures);
  const sumDb = levelsDb(sum);
  // Every second way against its neighbours: where drivers meet in step, this is a deep dip.
  const reversedDb = levelsDb(sumOf(pressures.map((p, w) => (w % 2 === 1 ? p.map((v) => -v) : p))));
  const crossings = crossingsOf(system, target, sumDb, reversedDb);
  const load = loadOf(design, variant, system, solver);
  const ghost = ghostOf(design, ghostVariantId, freqHz, solver);
  const partial = {
    variantId, freqHz,
    ways: system.ways.map(({ way, volts, pressure }, w) => {
      const driver = driverOf(design, way);
      return {
        wayId: way.id, name: way.name, driver: driver?.name ?? null, levelDb: levelsDb(pressure), phaseDeg: phasesDeg(pressure), voltsDb: levelsDb(volts), targetDb: target.ways[w],
        bareDb: driver ? levelsDb(driverResponse(driver, freqHz)) : null, turned: target.turned[w],
        stages: system.built.ways[w].stages.map((designed) => deskStage(design, way, designed, solver)),
      };
    }),
    sumDb, sumPhaseDeg: phasesDeg(sum), reversedDb, targetDb: target.sumDb, targetLevelDb: target.levelDb, ghost, crossings, load,
    flat: flatness(variant, freqHz, sumDb, target),
    power: powerInParts(design, variant, system, solver),
  };
  return success({ ...partial, checks: checkSpeakers(design, variant, system, partial) });
}

function ghostOf(design: Design, id: string | null, freqHz: Float64Array, solver: AcSolver): Acoustics['ghost'] {
  const variant = id === null ? undefined : design.variants.find((v) => v.id === id);
  const solved = variant ? speakerSystem(design, variant, freqHz, solver) : null;
  if (!variant || !solved?.ok) return null;
  return { sumDb: levelsDb(sumOf(solved.value.ways.map((w) => w.pressure))), ways: solved.value.ways.map((w) => levelsDb(w.pressure)), ohm: loadOf(design, variant, solved.value, solver)?.ohm ?? null };
}

/** How far the sum strays from the target over the range that counts, dB. */
function flatness(variant: Variant, freqHz: Float64Array, sumDb: Float64Array, target: AcousticTarget): Flatness {
  const { fromHz, toHz } = variant.listening ?? USUAL_LISTENING;
  let worst = { overDb: -Infinity, overHz: fromHz, underDb: Infinity, underHz: fromHz };
  freqHz.forEach((f, i) => {
    if (f < fromHz || f > toHz) return;
    const off = sumDb[i] - target.sumDb[i];
    if (off > worst.overDb) worst = { ...worst, overDb: off, overHz: f };
    if (off < worst.underDb) worst = { ...worst, underDb: off, underHz: f };
  });
  return { fromHz, toHz, ...worst };
}

/** Where neighbours meet: as loud as one another, how far apart in phase, and how deep the sum dips with one turned over. */
function crossingsOf({ ways, freqHz }: SpeakerSystem, target: AcousticTarget, sumDb: Float64Array, reversedDb: Float64Array): Crossing[] {
  const order = ways.map((_, w) => w).sort((a, b) => middleOf(target.ways[a], freqHz) - middleOf(target.ways[b], freqHz));
  return order.slice(1).flatMap((upper, k): Crossing[] => {
    const lower = order[k];
    const meets = meetingOf(target.ways[lower], target.ways[upper], freqHz, null);
    if (meets === null) return [];
    const levels = [lower, upper].map((w) => levelsDb(ways[w].pressure));
    const at = meetingOf(levels[0], levels[1], freqHz, freqHz[meets]) ?? meets;
    const phase = (w: number) => Math.atan2(ways[w].pressure[2 * at + 1], ways[w].pressure[2 * at]);
    const near = Array.from(freqHz.keys()).filter((i) => Math.abs(Math.log2(freqHz[i] / freqHz[at])) <= 0.25).map((i) => sumDb[i] - reversedDb[i]);
    return [{
      lower: ways[lower].way.id, upper: ways[upper].way.id, lowerName: ways[lower].way.name, upperName: ways[upper].way.name,
      plannedHz: freqHz[meets], freqHz: between(levels[0], levels[1], freqHz, at), levelDb: levels[0][at], belowSumDb: sumDb[at] - levels[0][at],
      phaseDeg: wrapped(((phase(upper) - phase(lower)) * 180) / Math.PI), theoryTurned: target.turned[upper] !== target.turned[lower],
      nullDb: near.reduce((most, v) => (Math.abs(v) > Math.abs(most) ? v : most), 0),
    }];
  });
}

/** The middle of where a way is within 6 dB of its best, as a place of the logarithm. */
function middleOf(levelDb: Float64Array, freqHz: Float64Array): number {
  const best = levelDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const inside = Array.from(freqHz.keys()).filter((i) => levelDb[i] > best - 6);
  return inside.reduce((sum, i) => sum + Math.log(freqHz[i]), 0) / Math.max(1, inside.length);
}

/** The point where a falling level meets a rising one, nearest to a frequency when there are several; null when they do not. */
function meetingOf(lower: Float64Array, upper: Float64Array, freqHz: Float64Array, nearHz: number | null): number | null {
  const found: number[] = [];
  for (let i = 1; i < freqHz.length; i++) if (lower[i - 1] > upper[i - 1] && lower[i] <= upper[i]) found.push(i);
  if (found.length === 0) return null;
  // Far down both, curves cross by chance: the loudest meeting is the one that is heard.
  return found.sort((a, b) => (nearHz === null ? upper[b] - upper[a] : Math.abs(Math.log(freqHz[a] / nearHz)) - Math.abs(Math.log(freqHz[b] / nearHz))))[0];
}

function between(lower: Float64Array, upper: Float64Array, freqHz: Float64Array, at: number): number {
  if (at === 0) return freqHz[0];
  const [before, after] = [lower[at - 1] - upper[at - 1], lower[at] - upper[at]];
  const share = before === after ? 0 : before / (before - after);
  return freqHz[at - 1] * (freqHz[at] / freqHz[at - 1]) ** Math.min(1, Math.max(0, share));
}

const wrapped = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;

/** What the amplifier works into; null where every way has an amplifier of its own. */
function loadOf(design: Design, variant: Variant, { built, freqHz }: SpeakerSystem, solver: AcSolver): LoadCurve | null {
  if (variant.ways.every((way) => way.load.kind !== 'driver' || way.load.amplifier)) return null;
  const currents = solver.branchCurrents(built.circuit, freqHz, ['Vin']);
  if (!currents.ok) return null;
  const [amps] = currents.value;
  const ohm = new Float64Array(freqHz.length);
  const phaseDeg = new Float64Array(freqHz.length);
  freqHz.forEach((_, i) => {
    // 1 V over the current out of the source, less what the source itself has.
    const [re, im] = [-amps[2 * i], -amps[2 * i + 1]];
    const square = re * re + im * im;
    const [zr, zi] = [re / square - design.brief.source.ohm, -im / square];
    [ohm[i], phaseDeg[i]] = [Math.hypot(zr, zi), (Math.atan2(zi, zr) * 180) / Math.PI];
  });
  const dissipation = ohm.map((z, i) => equivalentDissipationOhm(z, phaseDeg[i]));
  const least = (values: Float64Array) => values.reduce((best, v, i) => (v < values[best] ? i : best), 0);
  const [low, hot] = [least(ohm), least(dissipation)];
  return { ohm, phaseDeg, dissipationOhm: dissipation, lowestOhm: ohm[low], lowestHz: freqHz[low], phaseThereDeg: phaseDeg[low], hottestOhm: dissipation[hot], hottestHz: freqHz[hot] };
}
