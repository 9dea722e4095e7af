import * as z from 'zod';
import { SPEED_OF_SOUND } from '../../loudspeaker/air';
import { driverSchema, type Driver } from '../../loudspeaker/driver';
import { driverResponse } from '../../loudspeaker/driver-response';
import { impedanceAt, mainResonance } from '../../loudspeaker/voice-coil';
import { add, complex, divide, multiply, scale, timesResponse, type Complex } from '../../math/complex';
import { gaussian } from '../../math/gaussian';
import { binsHz, filteredBy } from '../../math/fourier';
import { analyse } from '../../measure/analyse';
import { recordedBy, WORKSHOP_CARD } from '../../measure/card';
import { impedanceBeyond } from '../../measure/impedance';
import {
  firstReflectionS,
  lowestHz,
  nearDistanceM,
  nearFieldHz,
  nearOverFar,
  pressureLevelDb,
} from '../../measure/sound-field';
import { sweepSamples } from '../../measure/sweep';
import { success, type Result } from '../../result';
import { defineJob, float64, requestOf } from '../define-job';
import { sweepSchema } from '../measure/sweep-schema';

/**
 * What stands between the card and the pressure: V/Pa with its preamplifier, and volts at the driver for one played.
 */
const chain = {
  voltsPerPascal: z.number().positive().max(100),
  amplifierGain: z.number().positive().max(1000),
};
/** How a driver is measured: its impedance behind a resistor, its sound from afar or close before its cone. */
const setUpSchema = z.discriminatedUnion('what', [
  z.object({ what: z.literal('impedance'), seriesOhm: z.number().positive().max(1e6) }),
  z.object({
    what: z.literal('far'),
    ...chain,
    distanceM: z.number().min(0.001).max(20),
    heightM: z.number().min(0.01).max(20).describe('over the floor, or under the ceiling where that is nearer, m'),
    gateS: z.number().positive().max(2).nullable().describe('null: as long as the first reflection is late'),
  }),
  z.object({ what: z.literal('near'), ...chain, radiusM: z.number().positive().max(1).describe('of the cone, m') }),
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
  const gateS = setUp.what === 'far' ? (setUp.gateS ?? firstReflectionS(setUp.distanceM, setUp.heightM)) : null;
  const found = analyse(
    { samples, rateHz },
    { samples: played, rateHz },
    {
      reference: { samples: reference, rateHz },
      ...(gateS === null ? {} : { gateS }),
      keepDelay: setUp.what === 'impedance',
    },
  );
  if (!found.ok) return found;
  const { freqHz, levelDb, phaseDeg, delayS } = found.value;
  if (setUp.what === 'impedance') {
    const beyond = impedanceBeyond(found.value, setUp.seriesOhm);
    return success({ freqHz, values: beyond.ohm, phaseDeg: beyond.phaseDeg, gateS, heardFromM: null });
  }
  // From afar as low as the gate tells; close before the cone as high as its size allows.
  const [fromHz, toHz] = setUp.what === 'far' ? [lowestHz(gateS as number), Infinity] : [0, nearFieldHz(setUp.radiusM)];
  const distanceM = setUp.what === 'far' ? setUp.distanceM : nearDistanceM(setUp.radiusM);
  const told = [...freqHz.keys()].filter((i) => freqHz[i] >= fromHz && freqHz[i] <= toHz);
  return success({
    freqHz: Float64Array.from(told, (i) => freqHz[i]),
    values: Float64Array.from(told, (i) => pressureLevelDb(levelDb[i], { ...setUp, distanceM })),
    phaseDeg: Float64Array.from(told, (i) => phaseDeg[i]),
    gateS,
    heardFromM: setUp.what === 'far' ? delayS * SPEED_OF_SOUND : null,
  });
}

/** Volts that the card records for one that it plays: re and im at a frequency. */
type Through = (freqHz: Float64Array) => Float64Array;

/** A response from what it is at each frequency. */
const pointwise =
  (at: (freqHz: number) => Complex): Through =>
  (freqHz) =>
    Float64Array.from(
      [...freqHz].flatMap((f) => {
        const { re, im } = at(f);
        return [re, im];
      }),
    );

const shareOf = ({ impedance }: Driver, seriesOhm: number): Through =>
  pointwise((f) => {
    const z = impedanceAt(impedance, f);
    return divide(z, add(z, complex(seriesOhm)));
  });

/** As near as this before its cone it is heard, m; the room is not. */
const NEAR_M = 0.005;
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
  const main = mainResonance(impedance);
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

/** A turn by so many seconds. */
const later = (freqHz: number, seconds: number): Complex => {
  const turn = -2 * Math.PI * freqHz * seconds;
  return complex(Math.cos(turn), Math.sin(turn));
};

function soundOf(driver: Driver, setUp: Exclude<DriverSetUp, { what: 'impedance' }>): Through {
  const volts = (20e-6 * setUp.voltsPerPascal * setUp.amplifierGain) / 2.83;
  const way = pointwise((f) => {
    if (setUp.what === 'near') return scale(later(f, NEAR_M / SPEED_OF_SOUND), volts * nearOverFar(setUp.radiusM, f));
    const { distanceM, heightM } = setUp;
    const floor = firstReflectionS(distanceM, heightM);
    const room = ROOM.reduce((sum, [share, after]) => add(sum, scale(later(f, floor + after), share)), complex(1));
    return scale(multiply(room, later(f, distanceM / SPEED_OF_SOUND)), volts / distanceM);
  });
  return (freqHz) => timesResponse(wholeResponse(driver, freqHz), way(freqHz));
}

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
