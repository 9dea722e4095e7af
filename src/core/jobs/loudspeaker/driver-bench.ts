import { z } from 'zod';
import { driverSchema, SPEED_OF_SOUND, type Driver } from '../../loudspeaker/driver';
import { driverResponse } from '../../loudspeaker/driver-response';
import { impedanceAt } from '../../loudspeaker/voice-coil';
import { gaussian } from '../../math/gaussian';
import { binsHz, filteredBy } from '../../math/fourier';
import { analyse } from '../../measure/analyse';
import { recordedBy, WORKSHOP_CARD } from '../../measure/card';
import { impedanceBeyond } from '../../measure/impedance';
import { firstReflectionS, lowestHz, nearOverFar, pressureLevelDb } from '../../measure/sound-field';
import { sweepSamples } from '../../measure/sweep';
import { success, type Result } from '../../result';
import { defineJob, float64, requestOf } from '../define-job';
import { sweepSchema } from '../measure/sweep-schema';

/** How a driver is measured: its impedance behind a resistor, its sound from afar or close before its cone. */
const setUpSchema = z.discriminatedUnion('what', [
  z.object({ what: z.literal('impedance'), seriesOhm: z.number().positive().max(1e6) }),
  z.object({
    what: z.enum(['far', 'near']),
    distanceM: z.number().min(0.001).max(20),
    heightM: z.number().min(0.01).max(20).describe('over the floor, or under the ceiling where that is nearer, m'),
    gateS: z.number().positive().max(2).nullable().describe('null: as long as the first reflection is late'),
    voltsPerPascal: z.number().positive().max(100),
    amplifierGain: z.number().positive().max(1000),
  }),
]);
export type DriverSetUp = z.infer<typeof setUpSchema>;

export interface DriverMeasurement {
  readonly freqHz: Float64Array;
  /** Ohm, or dB SPL at 1 m for 2.83 V. */
  readonly values: Float64Array;
  readonly phaseDeg: Float64Array;
  /** How long was listened; null where nothing was cut off. */
  readonly gateS: number | null;
  /** Where it was heard from, by its delay, m; null for an impedance. */
  readonly heardFromM: number | null;
}

const driverBenchRequest = requestOf('driver-bench', {
  driver: driverSchema,
  sweep: sweepSchema,
  setUp: setUpSchema,
  seed: z.int().min(0).max(2_147_483_647),
});

/**
 * A driver of the kind of this one, drawn by its seed, on the workshop's simulated card: with the room's reflections
 * where sound is measured. Fails as the sweep and analysing do.
 */
function driverBench({ driver, sweep, setUp, seed }: z.infer<typeof driverBenchRequest>): Result<DriverMeasurement> {
  const played = sweepSamples(sweep);
  if (!played.ok) return played;
  const { rateHz } = sweep;
  const real = drawn(driver, seed);
  const through = setUp.what === 'impedance' ? shareOf(real, setUp.seriesOhm) : soundOf(real, setUp);
  const cable = played.value.map((v) => v * WORKSHOP_CARD.fullScaleVolts);
  const volts = filteredBy(cable, through(binsHz(cable.length, rateHz)));
  const samples = recordedBy(WORKSHOP_CARD, volts, rateHz, seed + 1);
  const reference = recordedBy(WORKSHOP_CARD, cable, rateHz, -1 - seed);
  return read({ samples, reference, played: played.value, rateHz }, setUp);
}

const recordingRequest = requestOf('analyse-driver', {
  samples: float64,
  rateHz: z.number().positive(),
  sweep: sweepSchema,
  reference: float64,
  setUp: setUpSchema,
});

/** The same of a recording. */
function analyseDriver({
  samples,
  rateHz,
  sweep,
  reference,
  setUp,
}: z.infer<typeof recordingRequest>): Result<DriverMeasurement> {
  const played = sweepSamples(sweep);
  return played.ok ? read({ samples, reference, played: played.value, rateHz }, setUp) : played;
}

interface Recorded {
  readonly samples: Float64Array;
  readonly reference: Float64Array;
  readonly played: Float64Array;
  readonly rateHz: number;
}

function read({ samples, reference, played, rateHz }: Recorded, setUp: DriverSetUp): Result<DriverMeasurement> {
  const sounds = setUp.what !== 'impedance';
  // Close before the cone what the room sends back is little, and may be listened to.
  const gateS = setUp.what === 'far' ? (setUp.gateS ?? firstReflectionS(setUp.distanceM, setUp.heightM)) : null;
  const found = analyse(
    { samples, rateHz },
    { samples: played, rateHz },
    { reference: { samples: reference, rateHz }, ...(gateS === null ? {} : { gateS }), keepDelay: !sounds },
  );
  if (!found.ok) return found;
  const { freqHz, levelDb, phaseDeg, delayS } = found.value;
  if (!sounds) {
    const { ohm, ...impedance } = impedanceBeyond(found.value, setUp.seriesOhm);
    return success({ freqHz, values: ohm, phaseDeg: impedance.phaseDeg, gateS: null, heardFromM: null });
  }
  const from = gateS === null ? 0 : lowestHz(gateS);
  const first = freqHz.findIndex((f) => f >= from);
  return success({
    freqHz: freqHz.slice(first),
    values: levelDb.slice(first).map((db) => pressureLevelDb(db, setUp)),
    phaseDeg: phaseDeg.slice(first),
    gateS,
    heardFromM: delayS * SPEED_OF_SOUND,
  });
}

/** Volts that the card records for one that it plays: re and im at a frequency. */
type Through = (freqHz: Float64Array) => Float64Array;

const shareOf =
  ({ impedance }: Driver, seriesOhm: number): Through =>
  (freqHz) => {
    const out = new Float64Array(2 * freqHz.length);
    freqHz.forEach((f, i) => {
      const { re, im } = impedanceAt(impedance, f);
      const size = (seriesOhm + re) ** 2 + im ** 2;
      out[2 * i] = (re * (seriesOhm + re) + im * im) / size;
      out[2 * i + 1] = (im * (seriesOhm + re) - re * im) / size;
    });
    return out;
  };

/** Floor and walls, as what they send back of the sound and how much later than the floor's. */
const ROOM: readonly (readonly [number, number])[] = [
  [0.6, 0],
  [-0.35, 0.0031],
  [0.3, 0.0057],
];

/**
 * A driver's sound down to where a file of it does not reach: there it falls as its resonance has it, a high-pass of
 * second order at fs with Qts (R. H. Small, J. Audio Eng. Soc. 20, 1972, Direct-radiator loudspeaker system analysis).
 */
function wholeResponse(driver: Driver, freqHz: Float64Array): Float64Array {
  const { response, impedance } = driver;
  const out = driverResponse(driver, freqHz);
  const [main] = [...impedance.resonances].sort((a, b) => b.ohm - a.ohm);
  if (response.kind !== 'curve' || !main || response.curve.freqHz[0] <= main.freqHz) return out;
  const [endHz] = response.curve.freqHz;
  const q = (main.q * impedance.reOhm) / (impedance.reOhm + main.ohm);
  const highPass = (f: number) => (f / main.freqHz) ** 2 / Math.hypot(1 - (f / main.freqHz) ** 2, f / main.freqHz / q);
  const end = driverResponse(driver, Float64Array.of(endHz));
  freqHz.forEach((f, i) => {
    if (f >= endHz) return;
    const share = highPass(f) / highPass(endHz);
    [out[2 * i], out[2 * i + 1]] = [share * end[0], share * end[1]];
  });
  return out;
}

const soundOf =
  (driver: Driver, setUp: Extract<DriverSetUp, { what: 'far' | 'near' }>): Through =>
  (freqHz) => {
    const { distanceM, heightM, voltsPerPascal, amplifierGain } = setUp;
    const near = setUp.what === 'near';
    const out = wholeResponse(driver, freqHz);
    const scale = (20e-6 * voltsPerPascal * amplifierGain) / 2.83;
    const direct = distanceM / SPEED_OF_SOUND;
    const floor = firstReflectionS(distanceM, heightM);
    freqHz.forEach((f, i) => {
      // Sound that came by the room has come a long way: next to what is heard close before the cone it is little.
      const [size, room] = near ? [nearOverFar(driver.radiusM, f), 0.02] : [1 / distanceM, 1];
      let [re, im] = [1, 0];
      for (const [share, later] of ROOM) {
        const turn = -2 * Math.PI * f * (floor + later);
        re += room * share * Math.cos(turn);
        im += room * share * Math.sin(turn);
      }
      const late = -2 * Math.PI * f * direct;
      const [c, s] = [scale * size * Math.cos(late), scale * size * Math.sin(late)];
      const [a, b] = [re * c - im * s, re * s + im * c];
      const [p, q] = [out[2 * i], out[2 * i + 1]];
      out[2 * i] = p * a - q * b;
      out[2 * i + 1] = p * b + q * a;
    });
    return out;
  };

/** How far one driver is from another of its kind, standard deviation: as a share, and dB. */
const SHARE = 0.03;
const LEVEL_DB = 0.4;

function drawn(driver: Driver, seed: number): Driver {
  const next = gaussian(seed);
  const about = (value: number) => value * Math.exp(SHARE * next());
  const { impedance, response } = driver;
  const level = LEVEL_DB * next();
  return {
    ...driver,
    impedance: {
      reOhm: about(impedance.reOhm),
      leHenry: about(impedance.leHenry),
      lossy: impedance.lossy.map(({ henry, ohm }) => ({ henry: about(henry), ohm: about(ohm) })),
      resonances: impedance.resonances.map((r) => ({ freqHz: about(r.freqHz), q: about(r.q), ohm: about(r.ohm) })),
    },
    response:
      response.kind === 'curve'
        ? { ...response, curve: { ...response.curve, values: response.curve.values.map((v) => v + level) } }
        : { ...response, sensitivityDb: response.sensitivityDb + level },
  };
}

export const driverBenchJob = defineJob(driverBenchRequest, (request) => driverBench(request));
export const analyseDriverJob = defineJob(recordingRequest, (request) => analyseDriver(request));
