import { AcSolver } from '../analysis/ac/solver';
import { AS_BUILT, compile } from '../design/compiled/compile';
import { countingIds } from '../design/making/create';
import { readDesign, writeDesign } from '../design/document/migrate';
import { runAcoustics } from '../jobs/loudspeaker/acoustics';
import { must } from '../result';
import { TOPOLOGIES } from '../topology/index';
import { CATALOGUE } from './catalogue';
import { searchOf } from './search';

const findInCatalogue = searchOf(CATALOGUE);

test.each(CATALOGUE.map((entry) => [entry.id, entry] as const))(
  '%s begins a design that reads back, is built and has a response',
  (_, entry) => {
    const design = entry.start(countingIds('new'));
    expect(must(readDesign(JSON.parse(writeDesign(design))))).toEqual(JSON.parse(writeDesign(design)));
    const [variant] = design.variants;
    const built = must(compile(design, variant, AS_BUILT));
    const outputs = built.ways.map((w) => w.output);
    const volts = must(new AcSolver().sweep(built.circuit, Float64Array.of(20, 1000, 20e3), outputs));
    expect(volts.flatMap((v) => [...v]).every(Number.isFinite)).toBe(true);
    expect(volts.some((v) => v.some((x) => Math.abs(x) > 1e-9))).toBe(true);
  },
);

test('every circuit of the registry is in it once, with other names to be found by', () => {
  for (const { id, words } of TOPOLOGIES) {
    expect(CATALOGUE.filter((e) => e.id === id)).toHaveLength(1);
    expect(words.length).toBeGreaterThanOrEqual(2);
  }
});

test.each([2, 3, 4])('a crossover of %d ways has no op-amp, keeps its drivers safe and sums within 12 dB', (ways) => {
  const design = CATALOGUE.find((e) => e.id === `crossover-${ways}`)!.start(countingIds('c'));
  const [variant] = design.variants;
  expect(variant.ways).toHaveLength(ways);
  const built = must(compile(design, variant, AS_BUILT));
  expect(built.netlist.elements.filter((e) => e.definition.kind.includes('op-amp'))).toEqual([]);
  const grid = { fromHz: 20, toHz: 20e3, points: 200 };
  const heard = must(
    runAcoustics({ kind: 'acoustics', design, variantId: variant.id, ghostVariantId: null, grid }, new AcSolver()),
  );
  expect(heard.crossings).toHaveLength(ways - 1);
  // From where its lowest driver carries to where its tweeter does, no hole and no tower.
  const inside = [...heard.sumDb].filter((_, i) => heard.freqHz[i] > 120 && heard.freqHz[i] < 15e3);
  expect(Math.max(...inside) - Math.min(...inside)).toBeLessThan(12);
});

/** What people of the field say, and one of the things that must answer. */
const TERMS: readonly [term: string, id: string][] = [
  ['low pass', 'plan-lowpass'],
  ['lowpass', 'plan-lowpass'],
  ['high pass', 'plan-highpass'],
  ['highpass', 'plan-highpass'],
  ['bandpass', 'plan-bandpass'],
  ['band-pass', 'plan-bandpass'],
  ['band reject', 'plan-bandstop'],
  ['bandstop', 'plan-bandstop'],
  ['allpass', 'plan-allpass'],
  ['all pass', 'plan-allpass'],
  ['notch', 'twin-t'],
  ['hum', 'twin-t-bootstrapped'],
  ['mains hum', 'twin-t'],
  ['50 Hz', 'twin-t'],
  ['rumble', 'plan-highpass'],
  ['subsonic', 'plan-highpass'],
  ['hiss', 'plan-lowpass'],
  ['anti-aliasing', 'plan-lowpass'],
  ['treble cut', 'plan-lowpass'],
  ['low cut', 'plan-highpass'],
  ['butterworth', 'plan-lowpass'],
  ['bessel', 'plan-lowpass'],
  ['chebyshev', 'plan-highpass'],
  ['elliptic', 'bainter'],
  ['cauer', 'bainter'],
  ['linkwitz riley', 'crossover-2'],
  ['sallen key', 'sallen-key-unity-gain'],
  ['sallen-key', 'sallen-key-equal-parts'],
  ['vcvs', 'sallen-key-chosen-gain'],
  ['mfb', 'multiple-feedback'],
  ['multiple feedback', 'multiple-feedback-band-pass'],
  ['rauch', 'multiple-feedback'],
  ['deliyannis', 'multiple-feedback-band-pass'],
  ['state variable', 'state-variable'],
  ['svf', 'state-variable'],
  ['khn', 'state-variable'],
  ['biquad', 'tow-thomas'],
  ['tow thomas', 'tow-thomas'],
  ['two integrators', 'tow-thomas'],
  ['gic', 'impedance-converter'],
  ['antoniou', 'impedance-converter'],
  ['fliege', 'impedance-converter'],
  ['fdnr', 'impedance-converter'],
  ['gyrator', 'gyrator-equaliser'],
  ['graphic equaliser', 'bank'],
  ['parametric', 'gyrator-equaliser'],
  ['peaking', 'gyrator-equaliser'],
  ['bell', 'gyrator-equaliser'],
  ['presence', 'gyrator-equaliser'],
  ['shelf', 'shelving-equaliser'],
  ['shelving', 'shelving-equaliser'],
  ['tilt', 'shelving-equaliser'],
  ['baxandall', 'tone-control'],
  ['tone control', 'tone-control'],
  ['tone stack', 'tone-control'],
  ['bass and treble', 'tone-control'],
  ['vcf', 'ota-state-variable'],
  ['voltage-controlled filter', 'transistor-ladder'],
  ['synth filter', 'transistor-ladder'],
  ['ladder filter', 'transistor-ladder'],
  ['diode ladder', 'diode-ladder'],
  ['transistor ladder', 'transistor-ladder'],
  ['four poles', 'ota-cascade'],
  ['24 dB/oct', 'ota-cascade'],
  ['12 dB/oct', 'ota-state-variable'],
  ['18 dB/oct', 'sallen-key-third-order'],
  ['6 dB/oct', 'first-order-passive'],
  ['ota', 'ota-one-pole'],
  ['transconductance', 'ota-cascade'],
  ['self-oscillation', 'ota-cascade'],
  ['resonance', 'series-lcr'],
  ['low-pass gate', 'optocoupler-gate'],
  ['lpg', 'optocoupler-gate'],
  ['ldr', 'optocoupler-gate'],
  ['photocell', 'optocoupler-gate'],
  ['optocoupler', 'optocoupler-gate'],
  ['gate', 'optocoupler-gate'],
  ['vca', 'optocoupler-gate'],
  ['volts per octave', 'transistor-ladder'],
  ['v/oct', 'ota-cascade'],
  ['exponential converter', 'ota-state-variable'],
  ['phaser', 'junction-fet-phaser'],
  ['phase shifter', 'junction-fet-phaser'],
  ['jfet', 'junction-fet-phaser'],
  ['wah', 'wah-inductor'],
  ['wah-wah', 'wah-inductorless'],
  ['pedal', 'wah-inductor'],
  ['diode filter', 'diode-legs'],
  ['diode legs', 'diode-legs'],
  ['leapfrog', 'leapfrog-ladder'],
  ['elliptic vcf', 'ota-leapfrog'],
  ['rc', 'first-order-passive'],
  ['rc filter', 'first-order-passive'],
  ['rl', 'first-order-coil'],
  ['lc', 'coil-capacitor'],
  ['rlc', 'series-lcr'],
  ['tank', 'parallel-lcr'],
  ['divider', 'loaded-divider'],
  ['voltage divider', 'loaded-divider'],
  ['attenuator', 'l-pad'],
  ['pad', 't-pad'],
  ['600 ohm', 'pi-pad'],
  ['volume', 'volume-pot'],
  ['potentiometer', 'volume-pot'],
  ['taper', 'volume-pot'],
  ['wien bridge', 'wien-network'],
  ['oscillator', 'phase-shift-ladder'],
  ['lead', 'lead-network'],
  ['lag', 'lag-network'],
  ['bridged t', 'bridged-t'],
  ['mid cut', 'bridged-t'],
  ['integrator', 'integrator-with-leak'],
  ['differentiator', 'differentiator-with-limit'],
  ['buffer', 'buffer'],
  ['follower', 'emitter-follower'],
  ['common emitter', 'common-emitter'],
  ['transistor amplifier', 'common-emitter'],
  ['bjt', 'emitter-follower'],
  ['preamplifier', 'shaped-amplifier-non-inverting'],
  ['crossover', 'crossover-2'],
  ['three-way', 'crossover-3'],
  ['3 way', 'crossover-3'],
  ['subwoofer', 'crossover-subwoofer'],
  ['active crossover', 'crossover-active-3'],
  ['loudspeaker', 'crossover-2'],
  ['tweeter', 'driver-pad'],
  ['zobel', 'impedance-correction'],
  ['baffle step', 'baffle-step'],
  ['hump', 'driver-notch'],
  ['series crossover', 'series-crossover'],
  ['formant', 'plan-bandpass'],
  ['filter bank', 'bank'],
  ['third octave', 'bank'],
  ['vocoder', 'bank'],
];

test('the field’s common terms all find something, and among it what is meant', () => {
  expect(new Set(TERMS.map(([term]) => term)).size).toBeGreaterThanOrEqual(120);
  expect(TERMS.filter(([term, id]) => !findInCatalogue(term).some((e) => e.id === id))).toEqual([]);
});

test('a name that begins with what was typed comes before one that only speaks of it', () => {
  expect(findInCatalogue('low-pass')[0].id).toBe('plan-lowpass');
  expect(
    findInCatalogue('twin-t')
      .slice(0, 2)
      .map((e) => e.id),
  ).toEqual(['twin-t-bootstrapped', 'twin-t']);
  expect(findInCatalogue('notch').map((e) => e.id)[0]).toBe('plan-bandstop');
  expect(findInCatalogue('nothing of the kind')).toEqual([]);
  expect(findInCatalogue('')).toHaveLength(CATALOGUE.length);
});
