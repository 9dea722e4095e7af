import { logGrid } from '../math/grid';
import type { Driver } from './driver';
import { driverResponse } from './driver-response';
import { impedanceAt, modelFromParameters } from './voice-coil';

/**
 * Made-up drivers of the reed-organ workshop's tone cabinets: what they are in truth, and ripple of the room and the
 * edge as a microphone would find it.
 */
interface Truth {
  readonly driver: Omit<Driver, 'response' | 'measuredImpedance' | 'impedance'>;
  readonly response: Extract<Driver['response'], { kind: 'model' }>;
  readonly coil: Parameters<typeof modelFromParameters>[0];
  readonly ripple: readonly (readonly [amplitudeDb: number, cyclesPerOctave: number, phase: number])[];
}

const TRUTHS: readonly Truth[] = [
  {
    driver: {
      id: 'alder-165',
      name: 'Alder 165 woofer',
      kind: 'woofer',
      nominalOhm: 8,
      radiusM: 0.065,
      safeFromHz: 35,
      maxWatts: 60,
      price: 62,
    },
    response: {
      kind: 'model',
      sensitivityDb: 87.5,
      lowHz: 52,
      lowQ: 0.72,
      topHz: 4600,
      topQ: 0.75,
      bumps: [
        { freqHz: 1150, q: 2, gainDb: 5.2 },
        { freqHz: 4100, q: 4, gainDb: 4.5 },
      ],
    },
    coil: { reOhm: 5.9, leHenry: 0.62e-3, fsHz: 52, qms: 3.8, qes: 0.9 },
    ripple: [
      [0.25, 1.7, 0.4],
      [0.15, 4.1, 2],
    ],
  },
  {
    driver: {
      id: 'finch-25',
      name: 'Finch 25 tweeter',
      kind: 'tweeter',
      nominalOhm: 6,
      radiusM: 0.0125,
      safeFromHz: 1400,
      maxWatts: 12,
      price: 38,
    },
    response: {
      kind: 'model',
      sensitivityDb: 91,
      lowHz: 820,
      lowQ: 0.85,
      topHz: 26e3,
      topQ: 0.8,
      bumps: [{ freqHz: 9200, q: 2.2, gainDb: -1.4 }],
    },
    coil: { reOhm: 4.8, leHenry: 0.045e-3, fsHz: 820, qms: 1.9, qes: 1.3 },
    ripple: [
      [0.2, 2.3, 1.1],
      [0.12, 5.2, 0],
    ],
  },
  {
    driver: {
      id: 'rowan-110',
      name: 'Rowan 110 midrange',
      kind: 'midrange',
      nominalOhm: 8,
      radiusM: 0.042,
      safeFromHz: 180,
      maxWatts: 30,
      price: 45,
    },
    response: {
      kind: 'model',
      sensitivityDb: 88.5,
      lowHz: 110,
      lowQ: 0.8,
      topHz: 7200,
      topQ: 0.8,
      bumps: [
        { freqHz: 2600, q: 1.8, gainDb: 1.8 },
        { freqHz: 6300, q: 5, gainDb: 3 },
      ],
    },
    coil: { reOhm: 6.1, leHenry: 0.3e-3, fsHz: 110, qms: 3.1, qes: 1.1 },
    ripple: [
      [0.2, 1.9, 2.6],
      [0.12, 4.6, 1],
    ],
  },
  {
    driver: {
      id: 'elm-260',
      name: 'Elm 260 bass',
      kind: 'woofer',
      nominalOhm: 8,
      radiusM: 0.105,
      safeFromHz: 24,
      maxWatts: 120,
      price: 96,
    },
    response: {
      kind: 'model',
      sensitivityDb: 89,
      lowHz: 34,
      lowQ: 0.68,
      topHz: 2300,
      topQ: 0.8,
      bumps: [
        { freqHz: 900, q: 1.2, gainDb: 1.5 },
        { freqHz: 2000, q: 4, gainDb: 3.5 },
      ],
    },
    coil: { reOhm: 5.6, leHenry: 1.1e-3, fsHz: 34, qms: 4.4, qes: 0.6 },
    ripple: [
      [0.25, 1.4, 0.9],
      [0.15, 3.8, 2.2],
    ],
  },
  {
    driver: {
      id: 'hazel-100',
      name: 'Hazel 100 full range',
      kind: 'full-range',
      nominalOhm: 8,
      radiusM: 0.04,
      safeFromHz: 70,
      maxWatts: 20,
      price: 38,
    },
    response: {
      kind: 'model',
      sensitivityDb: 87.5,
      lowHz: 88,
      lowQ: 0.75,
      topHz: 15e3,
      topQ: 0.9,
      bumps: [
        { freqHz: 1600, q: 1.1, gainDb: 2.2 },
        { freqHz: 8200, q: 3, gainDb: 4 },
      ],
    },
    coil: { reOhm: 6.6, leHenry: 0.18e-3, fsHz: 88, qms: 3.6, qes: 0.7 },
    ripple: [
      [0.2, 1.6, 1.2],
      [0.14, 4.1, 0.4],
    ],
  },
];

const FROM_HZ = 20;
const TO_HZ = 22e3;
const POINTS = 200;
const hundredths = (value: number): number => Math.round(value * 100) / 100;

/** A demo driver with its curves as they were “measured”: response with no phase, impedance with it. */
function measured({ driver, response, coil, ripple }: Truth): Driver {
  const freqHz = logGrid(FROM_HZ, TO_HZ, POINTS).map((f) => Number(f.toPrecision(5)));
  const pressure = driverResponse({ response }, freqHz);
  const levels = Array.from(freqHz, (f, i) => {
    const octave = Math.log2(f / 1000);
    const level = 20 * Math.log10(Math.hypot(pressure[2 * i], pressure[2 * i + 1]));
    return hundredths(
      level +
        ripple.reduce(
          (sum, [size, cycles, phase]) => sum + size * Math.sin(2 * Math.PI * cycles * octave * 0.5 + phase),
          0,
        ),
    );
  });
  const impedance = modelFromParameters(coil);
  const load = Array.from(freqHz, (f) => impedanceAt(impedance, f));
  return {
    ...driver,
    impedance,
    response: { kind: 'curve', curve: { freqHz: [...freqHz], values: levels, phaseDeg: null } },
    measuredImpedance: {
      freqHz: [...freqHz],
      values: load.map(({ re, im }) => hundredths(Math.hypot(re, im))),
      phaseDeg: load.map(({ re, im }) => hundredths((Math.atan2(im, re) * 180) / Math.PI)),
    },
  };
}

let made: readonly Driver[] | undefined;
/** The workshop's drivers. */
export const demoDrivers = (): readonly Driver[] => (made ??= TRUTHS.map(measured));

/** The files they ship as: name and text. */
export function demoDriverFiles(): { name: string; text: string }[] {
  return demoDrivers().flatMap((driver) => {
    const { name, response, measuredImpedance } = driver;
    if (response.kind !== 'curve' || !measuredImpedance) return [];
    const file = driver.id;
    const row = (...values: number[]) => values.map((v) => String(v)).join('\t');
    return [
      {
        name: `${file}-response.txt`,
        text: [
          `* ${name}, on axis, 1 m, 2.83 V`,
          '* Hz\tdB',
          ...response.curve.freqHz.map((f, i) => row(f, response.curve.values[i])),
          '',
        ].join('\n'),
      },
      {
        name: `${file}-impedance.txt`,
        text: [
          `* ${name}, impedance in its box`,
          '* Hz\tohm\tdeg',
          ...measuredImpedance.freqHz.map((f, i) =>
            row(f, measuredImpedance.values[i], measuredImpedance.phaseDeg![i]),
          ),
          '',
        ].join('\n'),
      },
    ];
  });
}
