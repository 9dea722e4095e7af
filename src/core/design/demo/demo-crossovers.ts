import { demoDrivers } from '../../loudspeaker/demo-drivers';
import type { Driver } from '../../loudspeaker/driver';
import { driverNotch } from '../../topology/loudspeaker/driver-notch';
import { driverPad } from '../../topology/loudspeaker/driver-pad';
import { impedanceCorrection } from '../../topology/loudspeaker/impedance-correction';
import { createCrossover, createDriverWay, createNetwork, createPlan, createWay, type MakeId } from '../making/create';
import type { Design, Plan, Way } from '../document/schema';

const driverCalled = (id: string): Driver => {
  const found = demoDrivers().find((d) => d.id === id);
  if (!found) throw new Error(`no demo driver is called ${id}`);
  return found;
};

const planOf = (makeId: MakeId, response: 'lowpass' | 'highpass', order: number, cutoffHz: number): Plan =>
  createPlan(makeId(), response, order % 2 === 0 ? 'linkwitz-riley' : 'butterworth', order, cutoffHz);
/** Chosen values by part name. */
type Uses = Readonly<Record<string, number>>;
const using = (stage: Way['stages'][number], uses: Uses): Way['stages'][number] => ({
  ...stage,
  parts: {
    ...stage.parts,
    ...Object.fromEntries(
      Object.entries(uses).map(([part, value]) => [part, { use: { kind: 'single' as const, values: [value] } }]),
    ),
  },
});

/** Where the workshop's two-way crosses, and the least that its amplifier bears. */
const CROSS_HZ = 2300;

/**
 * Two ways on real drivers: A as the formulas have it into nominal ohms, B with the hump tamed and all parts fitted to
 * the sound.
 */
export function twoWay(makeId: MakeId): Design {
  const [alder, finch] = [driverCalled('alder-165'), driverCalled('finch-25')];
  const base = createCrossover(
    'Tone cabinet, two-way',
    (id) => [
      createDriverWay(id, 'Woofer', alder, [planOf(id, 'lowpass', 2, CROSS_HZ)], {
        aim: planOf(id, 'lowpass', 4, CROSS_HZ),
        position: { acrossM: 0, upM: -0.09, backM: 0.015 },
      }),
      withPad(
        id,
        createDriverWay(id, 'Tweeter', finch, [planOf(id, 'highpass', 3, CROSS_HZ)], {
          aim: planOf(id, 'highpass', 4, CROSS_HZ),
          position: { acrossM: 0, upM: 0.07, backM: 0 },
        }),
        finch,
        3.5,
      ),
    ],
    [alder, finch],
    makeId,
  );
  const [formulas] = base.variants;
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'A two-way for the tone cabinet: even from 200 Hz to 15 kHz on the swell box’s axis, never under 3.5 ' +
        'ohm for the old amplifier. The woofer’s hump at 1.1 kHz makes every reed sound like a nose.',
      signalVolts: 14,
    },
    variants: [{ ...formulas, label: 'by formula' }, fitted(alder, finch)],
    currentVariant: formulas.id,
    log: [
      {
        id: 'twoway-l1',
        at: '2026-05-11T19:20:00.000Z',
        text:
          'By formula the sum stands 5 dB proud above the crossover and honks at 1.1 kHz. B takes the hump ' +
          'down across the woofer and fits the rest to the microphone.',
        snapshot: null,
      },
    ],
  };
}

/** The same with a notch across the woofer and a correction, values as the fit left them. */
function fitted(alder: Driver, finch: Driver): Design['variants'][number] {
  let n = 0;
  const id: MakeId = () => `twoway-b-${++n}`;
  const woofer = createDriverWay(id, 'Woofer', alder, [planOf(id, 'lowpass', 2, CROSS_HZ)], {
    aim: planOf(id, 'lowpass', 4, CROSS_HZ),
    position: { acrossM: 0, upM: -0.09, backM: 0.015 },
  });
  const notch = createNetwork(driverNotch, id, {
    form: 'across the driver',
    parameters: { centreHz: 1150, widthOct: 0.9, depthDb: 5, ohm: 5.5 },
  }).stage;
  const correction = createNetwork(impedanceCorrection, id, {
    form: 'voice coil',
    parameters: { ohm: 5.9, henry: 0.5e-3 },
  }).stage;
  const tweeter = withPad(
    id,
    createDriverWay(id, 'Tweeter', finch, [planOf(id, 'highpass', 3, CROSS_HZ)], {
      aim: planOf(id, 'highpass', 4, CROSS_HZ),
      position: { acrossM: 0, upM: 0.07, backM: 0 },
    }),
    finch,
    3.5,
  );
  const [ladder] = woofer.stages;
  const [high, pad] = tweeter.stages;
  return {
    id: 'twoway-b',
    name: 'B',
    label: 'fitted to the sound',
    join: 'acoustic',
    controls: [],
    ways: [
      {
        ...woofer,
        stages: [using(ladder, FITTED.woofer), using(notch, FITTED.notch), using(correction, FITTED.correction)],
      },
      { ...tweeter, stages: [using(high, FITTED.tweeter), using(pad, FITTED.pad)] },
    ],
  };
}

const FITTED: Readonly<Record<'woofer' | 'notch' | 'correction' | 'tweeter' | 'pad', Uses>> = {
  woofer: { L1: 1.2e-3, C1: 1.8e-6 },
  notch: { L1: 3.3e-3, C1: 6.8e-6, R1: 8.2 },
  correction: { R1: 1, C1: 15e-6 },
  tweeter: { C1: 10e-6, L1: 0.18e-3, C2: 27e-6 },
  pad: { R1: 1.2, R2: 4.7 },
};

function withPad(makeId: MakeId, way: Way, driver: Driver, lossDb: number): Way {
  const pad = createNetwork(driverPad, makeId, {
    form: 'two resistors',
    parameters: { lossDb, ohm: driver.nominalOhm, liftHz: 9000 },
  }).stage;
  return { ...way, stages: [...way.stages, pad] };
}

/** Gain that a line into a power amplifier has, dB, and what its input looks like, ohm. */
const AMPLIFIER = { inputOhm: 22e3, gainDb: 26 };

/** Three ways, an amplifier each: filters before the amplifiers, levels trimmed to the quietest driver. */
export function threeWayActive(makeId: MakeId): Design {
  const drivers = ['elm-260', 'rowan-110', 'finch-25'].map(driverCalled);
  const [elm, rowan, finch] = drivers;
  const [low, high] = [320, 2800];
  const active = (name: string, driver: Driver, plans: Plan[], given: Partial<Way>): Way => ({
    ...createWay(makeId(), plans, makeId),
    name,
    load: { kind: 'driver', driver: driver.id, amplifier: AMPLIFIER },
    outputResistor: { ohm: 100 },
    ...given,
  });
  const base = createCrossover(
    'Chapel cabinet, three-way active',
    () => [
      active('Bass', elm, [planOf(makeId, 'lowpass', 4, low)], {
        levelTrimDb: -0.5,
        position: { acrossM: 0, upM: -0.45, backM: 0 },
      }),
      active('Middle', rowan, [planOf(makeId, 'highpass', 4, low), planOf(makeId, 'lowpass', 4, high)], {
        levelTrimDb: -0.9,
        position: { acrossM: 0, upM: -0.1, backM: 0 },
      }),
      active('Top', finch, [planOf(makeId, 'highpass', 4, high)], {
        levelTrimDb: -2.5,
        position: { acrossM: 0, upM: 0.06, backM: 0 },
      }),
    ],
    drivers,
    makeId,
  );
  return {
    ...base,
    brief: {
      ...base.brief,
      note:
        'Three boards alike, one for each driver, between the swell mixer and three amplifiers. Fourth order ' +
        'keeps each driver out of the other’s way.',
      signalVolts: 0.5,
      source: { name: 'Swell mixer', ohm: 100 },
      load: { name: 'Amplifier', ohm: 22e3 },
      supply: { kind: 'dual', volts: 15 },
    },
    preferences: { ...base.preferences, resistorSeries: 'E24', capacitorSeries: 'E6', resistorTolerancePct: 1 },
    variants: base.variants.map((v) => ({ ...v, label: 'Linkwitz-Riley 4' })),
  };
}
