import { npn } from '../circuit/elements/bipolar';
import { idealAmp, R, V } from '../circuit/build';
import { assemble } from '../circuit/structure';
import { currentSource } from '../circuit/elements/current-source';
import type { ElementInstance } from '../circuit/netlist';
import { operatingPoint } from '../analysis/rest/operating-point';
import { must } from '../result';
import { EXPONENTIAL_NPN } from '../topology/voice/stage/small-transistor';
import { VOICE_CALCULATORS } from './voice-calculators';

const compute = (id: string, given: Record<string, number | null>) =>
  VOICE_CALCULATORS.find((c) => c.id === id)!.compute(given);
const answer = (id: string, given: Record<string, number | null>, label: string) =>
  must(compute(id, given)).find((o) => o.label === label)!.value;

/**
 * The converter as a circuit: an op-amp holds a reference current in one transistor, the other, whose base stands on
 * the divider, gives the output. Its collector current is read at the operating point: nothing of the calculator's
 * formulas is in it.
 */
function collectorAmps(control: number, legOhm: number, temperatureC = 27): number {
  const Q = (name: string, nodes: string[]): ElementInstance => ({
    name,
    definition: npn,
    nodes,
    values: [...EXPONENTIAL_NPN.slice(0, 1), 1e7, ...EXPONENTIAL_NPN.slice(2)],
  });
  const circuit = assemble({
    elements: [
      { ...V('Vcontrol', 'cv', '0', 0), source: { dc: -control } },
      R('Rin', 'cv', 'b1', 100e3),
      R('Rleg', 'b1', '0', legOhm),
      { ...V('Vp', 'p', '0', 0), source: { dc: 12 } },
      { name: 'Iref', definition: currentSource, nodes: ['p', 'c1'], values: [0, 0], source: { dc: 10e-6 } },
      Q('Q1', ['c1', 'b1', 'e']),
      Q('Q2', ['out', '0', 'e']),
      idealAmp('U1', '0', 'c1', 'drive'),
      R('Re', 'drive', 'e', 1e3),
      { ...V('Vout', 'out', '0', 0), source: { dc: 5 } },
    ],
    merged: [],
  });
  const rest = must(operatingPoint(circuit, { temperatureC }));
  return Math.abs(rest[circuit.structure.branchOf('Vout')!]);
}

test('the converter’s divider gives octaves: a pair of transistors solved for its rest doubles with every volt', () => {
  const leg = answer(
    'exponential-converter',
    { perOctave: 1, R: 100e3, Iref: 10e-6, volts: 3, warmer: 0 },
    'foot of the divider',
  );
  const at = [0, 1, 3].map((v) => collectorAmps(v, leg));
  expect(at[0] / 10e-6).toBeCloseTo(1, 3);
  expect(at[1] / at[0]).toBeCloseTo(2, 2);
  expect(at[2] / at[0]).toBeCloseTo(8, 1);
  expect(
    answer('exponential-converter', { perOctave: 1, R: 100e3, Iref: 10e-6, volts: 3, warmer: 0 }, 'current'),
  ).toBeCloseTo(80e-6, 9);
});

test('warmer, its octaves shrink as the solved circuit’s do; a foot that follows makes up for nearly all of it', () => {
  const given = { perOctave: 1, R: 100e3, Iref: 10e-6, volts: 3, warmer: 10 };
  const leg = answer('exponential-converter', given, 'foot of the divider');
  const solved =
    1200 *
    Math.log2(collectorAmps(3, leg, 37) / collectorAmps(0, leg, 37) / (collectorAmps(3, leg) / collectorAmps(0, leg)));
  expect(answer('exponential-converter', given, 'off when warmer, cents') / solved).toBeCloseTo(1, 1);
  // The foot, 3300 ppm a degree more, in the divider that it loads: solved with it.
  const warmLeg = leg * (1 + 3300e-6 * 10);
  const followed =
    1200 *
    Math.log2(
      collectorAmps(3, warmLeg, 37) / collectorAmps(0, warmLeg, 37) / (collectorAmps(3, leg) / collectorAmps(0, leg)),
    );
  expect(answer('exponential-converter', given, 'with a 3300 ppm/K foot, cents')).toBeCloseTo(followed, 0);
  expect(Math.abs(followed)).toBeGreaterThan(1);
});

test('control voltages are added by ratios, and what a source takes is told in cents', () => {
  const given = { Rf: 100e3, gain: 0.5, supply: 12, range: 5, Rs: 1e3 };
  expect(answer('control-summer', given, 'from the CV')).toBe(200e3);
  expect(answer('control-summer', given, 'from the knob')).toBe(240e3);
  expect(answer('control-summer', given, 'the source takes, of each octave, cents')).toBeCloseTo(1200 / 201, 6);
  expect(answer('control-summer', given, 'trimmed to')).toBe(199e3);
});

test('a virtual ground of two resistors: half the supply, half of one of them, moved by what is drawn', () => {
  const given = { volts: 9, R: 10e3, amps: 50e-6, f: 20 };
  expect(answer('virtual-ground', given, 'middle')).toBe(4.5);
  expect(answer('virtual-ground', given, 'it looks like')).toBe(5000);
  expect(answer('virtual-ground', given, 'moves by')).toBeCloseTo(0.25, 12);
  expect(1 / (2 * Math.PI * 20 * answer('virtual-ground', given, 'capacitor across the lower half'))).toBeCloseTo(
    500,
    6,
  );
});

test.each([
  ['exponential-converter', { perOctave: 0.01, R: 1, Iref: 1, volts: 1, warmer: 0 }],
  ['control-summer', { Rf: -1, gain: 1, supply: 1, range: 1, Rs: 0 }],
  ['virtual-ground', { volts: 0, R: 1, amps: 0, f: 1 }],
])('%s says what cannot be', (id, given) => {
  expect(compute(id, given)).toMatchObject({ ok: false, code: 'out-of-range' });
  expect(compute(id, Object.fromEntries(Object.keys(given).map((k) => [k, null])))).toMatchObject({
    ok: false,
    code: 'needs-more',
  });
});
