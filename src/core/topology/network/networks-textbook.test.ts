import { createNetwork } from '../../design/making/create';
import { designStage, valuesOf, type DesignedNetwork } from '../../design/stages/stage-design';
import { straightLineDb } from '../../filter/rational';
import { must } from '../../result';
import { decibels } from '../../units/quantity';
import type { NetworkTopology } from '../kit/define-topology';
import type { Parameters } from '../kit/parameter';
import { topologyById } from '../index';
import { base, designed, levelAndPhase, makeId } from '../testing/designed-network';

/** Points that a response must pass through, each from the circuit's theory and not from its code. */
const HALF = -10 * Math.log10(2);
const THROUGH: [string, string, Parameters, [freqHz: number, db: number | null, deg: number | null][]][] = [
  ['equal-sections-loaded', 'two low-pass', { cutoffHz: 1000 }, [[1000, HALF, null]]],
  ['equal-sections-loaded', 'three low-pass', { cutoffHz: 1000 }, [[1000, HALF, null]]],
  ['equal-sections-loaded', 'four high-pass', { cutoffHz: 70 }, [[70, HALF, null]]],
  [
    'equal-sections-isolated',
    'two low-pass',
    { cutoffHz: 1000 },
    [
      [1000, HALF, null],
      [1000 / Math.sqrt(Math.SQRT2 - 1), 40 * Math.log10(Math.SQRT1_2), -90],
    ],
  ],
  ['equal-sections-isolated', 'three high-pass', { cutoffHz: 200 }, [[200, HALF, null]]],
  [
    'lead-network',
    'normal',
    { centreHz: 1000, leadDeg: 30 },
    [
      [1000, 10 * Math.log10(1 / 3), 30],
      [1e-3, 20 * Math.log10(1 / 3), 0],
      [1e8, 0, 0],
    ],
  ],
  [
    'lag-network',
    'normal',
    { centreHz: 1000, lagDeg: 30 },
    [
      [1000, 10 * Math.log10(1 / 3), -30],
      [1e-3, 0, 0],
      [1e8, 20 * Math.log10(1 / 3), 0],
    ],
  ],
  [
    'lead-lag-network',
    'normal',
    { lagHz: 250, leadHz: 4000, dipDb: 6 },
    [
      [1000, -6, 0],
      [1e-3, 0, 0],
      [1e9, 0, 0],
    ],
  ],
  ['wien-network', 'normal', { centreHz: 1000 }, [[1000, 20 * Math.log10(1 / 3), 0]]],
  [
    'bridged-t',
    'normal',
    { centreHz: 400, dipDb: 15 },
    [
      [400, -15, 0],
      [1e-2, 0, 0],
      [1e8, 0, 0],
    ],
  ],
  ['phase-shift-ladder', 'high-pass', { turnHz: 1000 }, [[1000, -20 * Math.log10(29), 180]]],
  ['phase-shift-ladder', 'low-pass', { turnHz: 1000 }, [[1000, -20 * Math.log10(29), 180]]],
  [
    'series-lcr',
    'band-pass',
    { centreHz: 1000, q: 2, ohm: 1000 },
    [
      [1000, 0, 0],
      [1000 * (Math.sqrt(17 / 16) + 0.25), HALF, -45],
      [1000 * (Math.sqrt(17 / 16) - 0.25), HALF, 45],
    ],
  ],
  ['series-lcr', 'low-pass', { centreHz: 1000, q: 3, ohm: 100 }, [[1000, 20 * Math.log10(3), -90]]],
  ['series-lcr', 'high-pass', { centreHz: 1000, q: 3, ohm: 100 }, [[1000, 20 * Math.log10(3), 90]]],
  ['series-lcr', 'band-stop', { centreHz: 1000, q: 2, ohm: 100 }, [[1000 * (Math.sqrt(17 / 16) - 0.25), HALF, -45]]],
  [
    'parallel-lcr',
    'band-pass',
    { centreHz: 1000, q: 2, ohm: 1000 },
    [
      [1000, 0, 0],
      [1000 * (Math.sqrt(17 / 16) + 0.25), HALF, -45],
    ],
  ],
  ['parallel-lcr', 'band-stop', { centreHz: 1000, q: 2, ohm: 1000 }, [[1000 * (Math.sqrt(17 / 16) - 0.25), HALF, -45]]],
  [
    'loaded-divider',
    'normal',
    { lossDb: 20, inputOhm: 1e5, loadOhm: 1e6, loadFarad: 2.2e-10, compensation: 1 },
    [
      [1, -20, 0],
      [1e4, -20, 0],
      [1e6, -20, 0],
    ],
  ],
  ['l-pad', 'normal', { lossDb: 6, ohm: 8 }, [[1000, -6, 0]]],
  ['t-pad', 'normal', { lossDb: 10, ohm: 600 }, [[1000, -10, 0]]],
  ['pi-pad', 'normal', { lossDb: 10, ohm: 600 }, [[1000, -10, 0]]],
  [
    'leapfrog-ladder',
    'order 5, nulls',
    { cutoffHz: 1000, rippleDb: 0.5, attenuationDb: 50 },
    [
      [1000, -0.5, null],
      [1e-2, 0, 180],
    ],
  ],
  [
    'leapfrog-ladder',
    'order 3, nulls',
    { cutoffHz: 1000, rippleDb: 0.5, attenuationDb: 40 },
    [
      [1000, -0.5, null],
      [1e-2, 0, 0],
    ],
  ],
  [
    'leapfrog-ladder',
    'order 7, nulls',
    { cutoffHz: 200, rippleDb: 0.2, attenuationDb: 60 },
    [
      [200, -0.2, null],
      [1e-2, 0, 0],
    ],
  ],
  // Of even order on the transformed approximation: flat at DC, the ripple down at its edge.
  [
    'leapfrog-ladder',
    'order 4, nulls',
    { cutoffHz: 1000, rippleDb: 0.5, attenuationDb: 50 },
    [
      [1000, -0.5, null],
      [1e-2, 0, null],
    ],
  ],
  [
    'leapfrog-ladder',
    'order 8, nulls',
    { cutoffHz: 300, rippleDb: 0.2, attenuationDb: 80 },
    [
      [300, -0.2, null],
      [1e-2, 0, null],
    ],
  ],
  // A Chebyshev is at its edge the ripple down, and T_n(2) = cosh(n acosh 2) times ε past it at twice the edge.
  [
    'leapfrog-ladder',
    'order 4',
    { cutoffHz: 1000, rippleDb: 1 },
    [
      [1000, -1, null],
      [1e-2, -1, null],
      [2000, -10 * Math.log10(1 + (10 ** 0.1 - 1) * Math.cosh(4 * Math.acosh(2)) ** 2), null],
    ],
  ],
  [
    'leapfrog-ladder',
    'order 8',
    { cutoffHz: 1000, rippleDb: 0.5 },
    [
      [1000, -0.5, null],
      [2000, -10 * Math.log10(1 + (10 ** 0.05 - 1) * Math.cosh(8 * Math.acosh(2)) ** 2), null],
    ],
  ],
  [
    'leapfrog-ladder',
    'order 5',
    { cutoffHz: 1000, rippleDb: 0.5 },
    [
      [1000, -0.5, null],
      [2000, -10 * Math.log10(1 + (10 ** 0.05 - 1) * Math.cosh(5 * Math.acosh(2)) ** 2), null],
    ],
  ],
  ['volume-pot', 'normal', { trackOhm: 10e3 }, [[1000, 20 * Math.log10(0.001 + 0.998 * 0.15), 0]]],
  [
    'shaped-amplifier-non-inverting',
    'both',
    { gainDb: 40, bottomHz: 1, topHz: 1e6 },
    [
      [1000, 40, 0],
      [1e-6, 0, 0],
      [1e12, 0, 0],
    ],
  ],
  [
    'shaped-amplifier-inverting',
    'both',
    { gainDb: 20, bottomHz: 1, topHz: 1e6 },
    [
      [1, 20 + HALF, -135],
      [1e6, 20 + HALF, 135],
    ],
  ],
  ['shaped-amplifier-inverting', 'top', { gainDb: 20, topHz: 1000 }, [[1000, 20 + HALF, 135]]],
];

test.each(THROUGH)('%s, %s, asked for %j, passes through its points', (id, form, parameters, points) => {
  const network = designed(topologyById(id) as NetworkTopology, form, parameters);
  for (const [freqHz, db, deg] of points) {
    const got = levelAndPhase(network, freqHz);
    // A thousandth of the voltage is 0.0087 dB.
    if (db !== null) expect(Math.abs(got.db - db)).toBeLessThan(0.002);
    if (deg !== null) expect(Math.abs(((got.deg - deg + 540) % 360) - 180)).toBeLessThan(0.05);
  }
});

test('two loaded equal sections are 3 dB down at 0.3742 of one section’s corner, two isolated ones at 0.6436', () => {
  // x² + 7x... from |1 + 3jx − x²|² = 2: x⁴ + 7x² − 1 = 0; and (1 + x²)² = 2.
  const loaded = Math.sqrt((Math.sqrt(53) - 7) / 2);
  expect(loaded).toBeCloseTo(0.3742, 4);
  const isolated = Math.sqrt(Math.SQRT2 - 1);
  expect(isolated).toBeCloseTo(0.6436, 4);
  for (const [id, factor] of [
    ['equal-sections-loaded', loaded],
    ['equal-sections-isolated', isolated],
  ] as const) {
    const network = designed(topologyById(id) as NetworkTopology, 'two low-pass', {
      cutoffHz: 1000,
    });
    const { R1, C1, R2, C2 } = valuesOf(network, 'exact');
    expect(1000 * 2 * Math.PI * R1 * C1).toBeCloseTo(factor, 6);
    expect([R2, C2]).toEqual([R1, C1]);
    expect(levelAndPhase(network, factor / (2 * Math.PI * R1 * C1)).db).toBeCloseTo(HALF, 5);
  }
});

test('a twin-T is a null with exact parts; one per cent off in R3 leaves what theory says', () => {
  const twin = topologyById('twin-t') as NetworkTopology;
  const network = designed(twin, 'normal', { notchHz: 50 });
  expect(levelAndPhase(network, 50).db).toBeLessThan(-140);
  const parts = valuesOf(network, 'exact');
  // Near the null, H ≈ −δ/8 … for a small error δ of the leg alone; checked by the netlist itself.
  const off = {
    ...network,
    parts: network.parts.map((p) => (p.spec.name === 'R3' ? { ...p, exact: p.exact * 1.01 } : p)),
  };
  const { R3, ...rest } = parts;
  const shown = twin.figures?.[0].of('normal', { ...rest, R3: R3 * 1.01 }, { notchHz: 50 }) as number;
  const at = twin.measures('normal', { ...rest, R3: R3 * 1.01 }, { notchHz: 50 }).notchHz;
  expect(levelAndPhase(off, at).db).toBeCloseTo(shown, 3);
  expect(shown).toBeGreaterThan(-62);
  expect(shown).toBeLessThan(-50);
});

test('pads show their own resistance to the source, T and pi to the load too', () => {
  for (const [id, parts] of [
    ['t-pad', { R1: 311.688, R2: 421.651, R3: 311.688 }],
    ['pi-pad', { R1: 1154.99, R2: 853.809, R3: 1154.99 }],
  ] as const) {
    const got = valuesOf(designed(topologyById(id) as NetworkTopology, 'normal', { lossDb: 10, ohm: 600 }), 'exact');
    for (const [name, ohm] of Object.entries(parts)) expect(got[name]).toBeCloseTo(ohm, 1);
  }
  // 6 dB for a tweeter of 8 Ω: Z (1 − 1/K) and Z/(K − 1).
  const pad = valuesOf(designed(topologyById('l-pad') as NetworkTopology, 'normal', { lossDb: 6, ohm: 8 }), 'exact');
  expect(pad.R1).toBeCloseTo(3.9905, 3);
  expect(pad.R2).toBeCloseTo(8.0381, 3);
});

test('the shaped amplifier’s exact second corners, against the rule of thumb', () => {
  const amp = topologyById('shaped-amplifier-non-inverting') as NetworkTopology;
  const network = designed(amp, 'top', { gainDb: 20 * Math.log10(11), topHz: 1000 });
  const { Rf, Ri } = valuesOf(network, 'exact');
  expect(Rf / Ri).toBeCloseTo(10, 8);
  // 3 dB above its floor at the zero: (Rf ∥ Ri) Cf, that is 11 times the pole, where the rule (Ri alone) says 10 times.
  const rational = amp.transfer!('top', valuesOf(network, 'exact'), { gainDb: 0 });
  const line = straightLineDb(rational, Float64Array.of(10, 1000, 11000, 1e6));
  expect(line[0]).toBeCloseTo(decibels(11), 6);
  expect(line[1]).toBeCloseTo(decibels(11), 6);
  expect(line[2]).toBeCloseTo(0, 6);
  expect(line[3]).toBeCloseTo(0, 6);
});

test('the tone control stands still in the middle and lifts and cuts by its range at the ends', () => {
  const tone = topologyById('tone-control') as NetworkTopology;
  const at = (bass: number, treble: number) => {
    const { stage, controls } = createNetwork(tone, makeId);
    const turned = controls.map((c, i) => ({ ...c, position: i === 0 ? bass : treble }));
    const result = must(designStage(stage, null, base, turned)) as DesignedNetwork;
    return (f: number) => levelAndPhase(result, f).db;
  };
  // A log track stands at 15 %; the middle, R2/(R1 + R2), is 18 dB down.
  const flat = at(0.5, 0.5);
  expect(Math.abs(flat(950) + 18)).toBeLessThan(1);
  expect(Math.abs(flat(20) - flat(950))).toBeLessThan(4);
  // Turned up, R2 and the track over all: 20 log10((R2 + P)/(R1 + R2 + P)).
  expect(at(1, 0.5)(0.1)).toBeCloseTo(20 * Math.log10(101.44e3 / 111.44e3), 0);
  expect(at(0, 0.5)(0.1)).toBeLessThan(-35);
  expect(at(0.5, 1)(1e6)).toBeGreaterThan(-1);
  expect(at(0.5, 0)(1e5)).toBeLessThan(-30);
  expect(at(1, 0.5)(950) - at(0, 0.5)(950)).toBeLessThan(7);
});

test('the divider into too heavy a load is refused, with the load it would take', () => {
  const divider = topologyById('loaded-divider') as NetworkTopology;
  const { stage } = createNetwork(divider, makeId, { parameters: { loadOhm: 5000 } });
  expect(designStage(stage, null, base)).toMatchObject({
    code: 'load-too-heavy',
    data: { needsOhm: 10e3 },
  });
});
