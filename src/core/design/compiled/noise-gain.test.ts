import { AcSolver } from '../../analysis/ac/solver';
import { must } from '../../result';
import { TOPOLOGIES } from '../../topology/index';
import { countingIds } from '../making/create';
import { noiseGainOf } from './noise-gain';
import { singlePath } from '../making/single-path';
import { designWay, valuesOf } from '../stages/stage-design';

const solver = new AcSolver();
function gainOf(topology: string, form?: string, wanted?: Record<string, number>) {
  const design = must(
    singlePath({ topology, ...(form ? { form } : {}), ...(wanted ? { wanted } : {}) }, countingIds('n')),
  );
  const [stage] = must(designWay(design.variants[0].ways[0], design, design.variants[0].controls)).stages;
  return { gain: noiseGainOf(design, stage, solver), parts: valuesOf(stage, 'chosen'), opAmps: stage.opAmps };
}

// W. Jung (ed.), Op Amp Applications Handbook, ch. 5 and 1: capacitors are shorts at high frequency.
test('multiple feedback: one for a low-pass, one and the capacitors’ ratio for a high-pass', () => {
  expect(gainOf('multiple-feedback', 'lowpass').gain).toBeCloseTo(1, 3);
  const { gain, parts } = gainOf('multiple-feedback', 'highpass', { gainDb: 6 });
  expect(gain).toBeCloseTo(1 + parts.C1 / parts.C2, 3);
});

test('an amplifier: one and the resistors’ ratio, or one where a capacitor goes across the upper', () => {
  for (const id of ['shaped-amplifier-non-inverting', 'shaped-amplifier-inverting']) {
    const plain = gainOf(id, 'plain');
    expect(plain.gain).toBeCloseTo(1 + plain.parts.Rf / plain.parts.Ri, 3);
    expect(gainOf(id, 'top').gain).toBeCloseTo(1, 3);
  }
});

test('an equal-part Sallen-Key divides by its gain, an integrator by one though a resistor feeds it', () => {
  const { gain, parts } = gainOf('sallen-key-equal-parts', 'lowpass');
  expect(gain).toBeCloseTo(1 + parts.Rb / parts.Ra, 3);
  expect(gainOf('integrator-with-leak').gain).toBeCloseTo(1, 3);
});

test('every circuit with op-amps has one, of one at least; those without have none', () => {
  for (const { id } of TOPOLOGIES.filter((t) => t.family !== 'loudspeaker')) {
    const { gain, opAmps } = gainOf(id);
    expect([id, gain !== null]).toEqual([id, opAmps > 0]);
    if (gain) expect([id, gain >= 1 - 1e-6]).toEqual([id, true]);
  }
});
