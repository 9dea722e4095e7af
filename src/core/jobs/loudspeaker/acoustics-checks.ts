import { driverOf } from '../../design/compiled/netlist-writer';
import type { Design, Variant } from '../../design/document/schema';
import { levelsDb } from '../../analysis/response';
import { programmeShares } from '../../loudspeaker/listening';
import type { Acoustics } from './acoustics-types';
import type { Check } from '../desk/desk-types';
import { USUAL_LISTENING, type SpeakerSystem } from './speaker-system';

/** Share of a driver's drive that may lie below its safe band. */
const UNSAFE_SHARE = { warn: 0.05, bad: 0.15 };
const OUT_OF_STEP_DEG = 60;
/** Share of its way that a cone is near the end at. */
const CLOSE_TO_END = 0.8;
/** Share of what fills a core from which it distorts. */
const NEARLY_FULL = 0.6;
const FLAT_DB = { ok: 1, warn: 2.5 };

/**
 * Goes over a crossover as a colleague would: load, heat, level, phase, drivers in danger.
 * @param wide all of it over the audio band.
 */
export function checkSpeakers(
  design: Design,
  variant: Variant,
  wide: SpeakerSystem,
  facts: Omit<Acoustics, 'checks'>,
): Check[] {
  const checks: Check[] = [];
  const put = (
    id: string,
    level: Check['level'],
    code: string,
    stageId: string | null,
    data: Check['data'],
    cure: Check['cure'] = null,
  ) => checks.push({ id, level, code, stageId, data, cure });
  const { lowestOhm } = variant.listening ?? USUAL_LISTENING;
  const { load, flat, aligned } = facts;
  if (load) {
    const low = load.lowestOhm < lowestOhm;
    put('load', low ? 'bad' : load.hottestOhm < lowestOhm / 2 ? 'warn' : 'ok', low ? 'load-low' : 'load-fine', null, {
      ohm: load.lowestOhm,
      atHz: load.lowestHz,
      phaseDeg: load.phaseThereDeg,
      wanted: lowestOhm,
      hotOhm: load.hottestOhm,
      hotHz: load.hottestHz,
    });
  }
  for (const [id, code, strays] of [
    ['flat', 'sum-flat', flat],
    ['aligned', 'sum-aligned', aligned],
  ] as const) {
    const off = Math.max(strays.overDb, -strays.underDb);
    put(id, off <= FLAT_DB.ok ? 'ok' : off <= FLAT_DB.warn ? 'warn' : 'bad', code, null, { ...strays, off });
  }
  for (const crossing of facts.crossings) {
    const upper = variant.ways.find((w) => w.id === crossing.upper);
    // Fed in step the two add; half a turn apart one of them wants its terminals changed over.
    const apart = Math.abs(crossing.phaseDeg);
    const out = apart > 180 - OUT_OF_STEP_DEG;
    put(
      `phase-${crossing.upper}`,
      out ? 'bad' : apart > OUT_OF_STEP_DEG ? 'warn' : 'ok',
      out ? 'ways-oppose' : 'ways-in-step',
      null,
      {
        lower: crossing.lowerName,
        upper: crossing.upperName,
        freqHz: crossing.freqHz,
        phaseDeg: crossing.phaseDeg,
        nullDb: crossing.nullDb,
      },
      out && upper ? { kind: 'turn-over', wayId: upper.id } : null,
    );
  }
  const phases = variant.ways.map((way) => {
    const response = driverOf(design, way)?.response;
    return { name: way.name, measured: response?.kind === 'curve' && response.curve.phaseDeg !== null };
  });
  const [measured, made] = [true, false].map((m) => phases.filter((p) => p.measured === m).map((p) => p.name));
  if (measured.length > 0 && made.length > 0)
    put('phases', 'warn', 'phases-mixed', null, { measured: measured.join(', '), made: made.join(', ') });
  for (const { part, wayId, stageId, core } of facts.power)
    if (core && core.peakAmps > NEARLY_FULL * core.fullAmps)
      put(`core-${stageId ?? wayId}-${part}`, core.peakAmps > core.fullAmps ? 'bad' : 'warn', 'core-full', stageId, {
        part,
        amps: core.peakAmps,
        fullAmps: core.fullAmps,
        volts: design.brief.signalVolts,
      });
  for (const { part, wayId, stageId, watts, ratingWatts } of facts.power) {
    if (ratingWatts === null || watts < ratingWatts / 2) continue;
    put(`watts-${stageId ?? wayId}-${part}`, watts > ratingWatts ? 'bad' : 'warn', 'too-hot', stageId, {
      part,
      watts,
      ratingWatts,
      volts: design.brief.signalVolts,
    });
  }
  for (const { wayId, driver, metres, atHz, ratingM } of facts.excursions)
    if (ratingM !== null && metres > CLOSE_TO_END * ratingM)
      put(`cone-${wayId}`, metres > ratingM ? 'bad' : 'warn', 'cone-far', null, {
        driver,
        mm: 1000 * metres,
        ratingMm: 1000 * ratingM,
        atHz,
        volts: design.brief.signalVolts,
      });
  wide.ways.forEach(({ way, volts }) => {
    const driver = driverOf(design, way);
    if (!driver || driver.kind === 'woofer' || driver.kind === 'full-range') return;
    const shares = programmeShares(wide.freqHz, 'programme');
    const power = levelsDb(volts).map((db, i) => shares[i] * 10 ** (db / 10));
    const whole = power.reduce((sum, p) => sum + p, 0);
    const below = power.reduce((sum, p, i) => sum + (wide.freqHz[i] < driver.safeFromHz ? p : 0), 0) / whole;
    put(
      `safe-${way.id}`,
      below > UNSAFE_SHARE.bad ? 'bad' : below > UNSAFE_SHARE.warn ? 'warn' : 'ok',
      'safe-band',
      null,
      { driver: driver.name, safeHz: driver.safeFromHz, sharePct: 100 * below },
    );
  });
  return checks;
}
