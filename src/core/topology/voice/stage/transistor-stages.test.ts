import fc from 'fast-check';
import { operatingPoint } from '../../../analysis/rest/operating-point';
import { AcSolver } from '../../../analysis/ac/solver';
import { dominantSection, naturalFrequencies } from '../../../analysis/roots/poles';
import { compile, compileAfter, compileStage } from '../../../design/compiled/compile';
import { createNetwork } from '../../../design/making/create';
import type { Design } from '../../../design/document/schema';
import { designStage, valuesOf, type DesignedNetwork } from '../../../design/stages/stage-design';
import { must } from '../../../result';
import { commonEmitter, headroom } from './common-emitter';
import type { NetworkTopology } from '../../kit/define-topology';
import { diodeLegs } from '../diode-legs';
import { emitterFollower } from './emitter-follower';
import { otaLeapfrog } from '../ota-leapfrog';
import { base, makeId } from '../../testing/designed-network';
import { wahInductor } from '../wah-inductor';
import { wahInductorless } from '../wah-inductorless';

/**
 * Everything here is judged from the netlist: its operating point and its small-signal sweep, never from the formulas
 * that chose the parts.
 */
const battery: Design = {
  ...base,
  brief: { ...base.brief, supply: { kind: 'single', volts: 9, virtualGroundOhm: 1e-3 } },
};

function stageOf(
  topology: NetworkTopology,
  form: string,
  parameters: Record<string, number>,
  position?: number,
  design = battery,
): DesignedNetwork {
  const { stage, controls } = createNetwork(topology, makeId, { form, parameters });
  const free = Object.fromEntries(
    Object.entries(stage.parts).map(([name, choice]) => [
      name,
      choice.control?.kind === 'wiper' ? { ...choice, control: { ...choice.control, endOhm: 0 } } : choice,
    ]),
  );
  const result = must(
    designStage(
      { ...stage, parts: free },
      null,
      design,
      controls.map((c) => ({ ...c, position: position ?? c.position })),
    ),
  );
  if (result.role !== 'network') throw new Error('a network was wanted');
  return result;
}

/** Resting volts over the lower rail, by the stage's own node names, of the ideal or real transistors. */
function restVolts(designed: DesignedNetwork, devices: 'ideal' | 'real' = 'ideal') {
  const { stage } = designed;
  const design = {
    ...battery,
    variants: battery.variants.map((v) => ({
      ...v,
      controls: [],
      ways: v.ways.map((w) => ({ ...w, stages: [stage] })),
    })),
  };
  const built = must(compile(design, design.variants[0], { values: 'exact', devices, joints: 'isolated' }));
  const rest = must(operatingPoint(built.live!.circuit));
  return (node: string) => rest[built.live!.circuit.structure.nodeOf(`${stage.id}.${node}`)!] + 4.5;
}

const at = (
  designed: DesignedNetwork,
  freqHz: number,
  node = 'out',
  devices: 'ideal' | 'real' = 'ideal',
): { size: number; deg: number } => {
  const circuit = compileStage(battery, designed, { values: 'exact', devices });
  const [h] = must(new AcSolver().sweep(circuit, Float64Array.of(freqHz), [node]));
  return { size: Math.hypot(h[0], h[1]), deg: (Math.atan2(h[1], h[0]) * 180) / Math.PI };
};

/** What a source finds at the input, ohm: the volts of an ampere sent in. */
function inputOhmOf(designed: DesignedNetwork, freqHz: number): number {
  const circuit = compileAfter(
    { ...battery, brief: { ...battery.brief, load: { name: 'l', ohm: designed.load.ohm } } },
    battery.variants[0].ways[0],
    [{ ...designed, parts: designed.parts.map((p) => ({ ...p, chosen: p.exact })) }],
    0,
  )!;
  const [h] = must(new AcSolver().sweep(circuit, Float64Array.of(freqHz), ['cut']));
  return Math.hypot(h[0], h[1]);
}

const EMITTER = { collectorAmps: 0.6e-3, emitterVolts: 1.1, gain: 5, stiffness: 12, lowestHz: 20, loadOhm: 47e3 };

describe.each(['divider', 'bootstrapped'])('common emitter, %s', (form) => {
  test.each([2.5, 5, 20])(
    'gain %d: rests where it was asked to, turns over, has its gain and its lowest within 0.1 %%',
    (gain) => {
      const designed = stageOf(commonEmitter, form, { ...EMITTER, gain });
      const parts = valuesOf(designed, 'exact');
      const volts = restVolts(designed);
      expect(volts('e') / 1.1).toBeCloseTo(1, 3);
      expect((9 - volts('c')) / parts.R3 / 0.6e-3).toBeCloseTo(1, 3);
      const middle = at(designed, 3000);
      expect(middle.size / gain).toBeCloseTo(1, 3);
      expect(Math.abs(Math.abs(middle.deg) - 180)).toBeLessThan(1);
      // Far coupling takes a little of the corner with it.
      expect((at(designed, 20).size / middle.size) * Math.SQRT2).toBeCloseTo(1, 1);
      // Half way in its swing where the leg takes the gain; higher where the resistors alone give enough.
      if (parts.R5 !== undefined) expect((volts('c') - volts('e') - 0.3) / (9 - volts('c'))).toBeCloseTo(1, 2);
      expect(
        designed.topology.figures!.find((f) => f.label === 'input')!.of(form, parts, EMITTER) /
          inputOhmOf(designed, 3000),
      ).toBeCloseTo(1, 1);
    },
  );
});

test(
  'the bootstrap lifts the input at the same bias, and no other split of the same resistance lifts it ' + 'higher',
  () => {
    const [plain, lifted] = ['divider', 'bootstrapped'].map((form) =>
      stageOf(commonEmitter, form, { ...EMITTER, gain: 2.5 }),
    );
    expect(inputOhmOf(lifted, 3000)).toBeGreaterThan(3 * inputOhmOf(plain, 3000));
    const parts = valuesOf(lifted, 'exact');
    const dividerOhm = 1 / (1 / parts.R1 + 1 / parts.R2);
    const whole = dividerOhm + parts.R6;
    const split = (share: number) => {
      const factor = (share * whole) / dividerOhm;
      const moved = { R1: parts.R1 * factor, R2: parts.R2 * factor, R6: (1 - share) * whole };
      return inputOhmOf(
        { ...lifted, parts: lifted.parts.map((p) => ({ ...p, exact: moved[p.spec.name as 'R1'] ?? p.exact })) },
        3000,
      );
    };
    const here = dividerOhm / whole;
    for (const other of [here * 0.7, here * 0.9, here + 0.1 * (1 - here), here + 0.4 * (1 - here)])
      expect(split(other)).toBeLessThanOrEqual(split(here) * 1.0001);
  },
);

test(
  'a transistor of a third or twice the gain moves a stiffly held current by little, a soft one’s by ' +
    'more: as figured and as solved',
  () => {
    const spreadOf = (stiffness: number) => {
      const designed = stageOf(commonEmitter, 'divider', { ...EMITTER, stiffness });
      const parts = valuesOf(designed, 'exact');
      const amps = (label: string) =>
        designed.topology.figures!.find((f) => f.label === label)!.of('divider', parts, EMITTER);
      return (amps('current, gain of 600') - amps('current, gain of 110')) / EMITTER.collectorAmps;
    };
    expect(spreadOf(20)).toBeGreaterThan(0);
    expect(spreadOf(3)).toBeGreaterThan(3 * spreadOf(20));
  },
);

test('headroom: down to the emitter, up until the transistor lets go', () => {
  const designed = stageOf(commonEmitter, 'divider', EMITTER);
  const parts = valuesOf(designed, 'exact');
  const { up, down } = headroom(parts, EMITTER.loadOhm);
  const volts = restVolts(designed);
  expect(down).toBeCloseTo(volts('c') - volts('e') - 0.3, 2);
  expect(up).toBeCloseTo((9 - volts('c')) / parts.R3 / (1 / parts.R3 + 1 / EMITTER.loadOhm), 2);
});

test.each([
  [{ ...EMITTER, emitterVolts: 8.9 }, 'no-headroom'],
  [{ ...EMITTER, gain: 190 }, 'gain-too-high'],
])('what the supply does not allow is said', (parameters, code) => {
  const { stage } = createNetwork(commonEmitter, makeId, { parameters });
  expect(designStage(stage, null, battery)).toMatchObject({ ok: false, code });
});

describe.each(['divider', 'bootstrapped'])('emitter follower, %s', (form) => {
  test('rests where it was asked to, passes what its figure says, hardly loads', () => {
    const wanted = { collectorAmps: 1e-3, emitterVolts: 4, stiffness: 10, lowestHz: 20, loadOhm: 10e3 };
    const designed = stageOf(emitterFollower, form, wanted);
    const parts = valuesOf(designed, 'exact');
    expect(restVolts(designed)('e') / 4).toBeCloseTo(1, 3);
    const figure = (label: string) =>
      designed.topology.figures!.find((f) => f.label === label)!.of(form, parts, wanted);
    expect(20 * Math.log10(at(designed, 5000).size)).toBeCloseTo(figure('passes'), 2);
    expect(figure('input') / inputOhmOf(designed, 5000)).toBeCloseTo(1, 1);
    if (form === 'bootstrapped') expect(inputOhmOf(designed, 5000)).toBeGreaterThan(300e3);
  });
});

describe.each([
  ['with a coil', wahInductor, { heelHz: 420, toeHz: 2100, q: 7 }, (7 * 2100) / 420],
  ['without a coil', wahInductorless, { heelHz: 420, toeHz: 1800, q: 1.6, gain: 2 }, null],
] as const)('wah %s', (_, topology, parameters, toeQ) => {
  test.each([0, 1] as const)('pedal at %d: the peak lies where it was asked for, as its poles have it', (position) => {
    const designed = stageOf(topology, 'normal', parameters, position);
    const circuit = compileStage(battery, designed, { values: 'exact', devices: 'ideal' });
    const wanted = position === 0 ? parameters.heelHz : parameters.toeHz;
    const pair = dominantSection(circuit, 2, wanted)!;
    // Bypass and coupling, large as they are, take a few thousandths.
    expect(pair.freqHz / wanted).toBeGreaterThan(0.994);
    expect(pair.freqHz / wanted).toBeLessThan(1.006);
    if (position === 0) expect(pair.q! / parameters.q).toBeCloseTo(1, 1);
    // With a coil Q follows the size the capacitor seems: as the frequency, twice over under the root.
    if (position === 1 && toeQ !== null)
      expect(pair.q! / ((parameters.q * parameters.heelHz) / parameters.toeHz)).toBeCloseTo(1, 1);
  });

  test('half way it lies between, and real transistors on the battery leave it within three per cent', () => {
    // The one pair that rings.
    const peakHz = (devices: 'ideal' | 'real') => {
      const [pole] = naturalFrequencies(
        compileStage(battery, stageOf(topology, 'normal', parameters, 0.5), { values: 'exact', devices }),
        6000,
      ).filter((p) => p.im > 0);
      return Math.hypot(pole.re, pole.im) / (2 * Math.PI);
    };
    expect(peakHz('ideal')).toBeGreaterThan(parameters.heelHz * 1.1);
    expect(peakHz('ideal')).toBeLessThan(parameters.toeHz / 1.5);
    expect(Math.abs(peakHz('real') / peakHz('ideal') - 1)).toBeLessThan(0.03);
  });

  test('both transistors rest as their figures say, with the output in the middle of its room', () => {
    const designed = stageOf(topology, 'normal', parameters);
    const volts = restVolts(designed);
    const parts = valuesOf(designed, 'exact');
    const figure = (label: string) =>
      designed.topology.figures!.find((f) => f.label === label)!.of('normal', parts, parameters);
    expect(volts('o') / figure('output rests at')).toBeCloseTo(1, 2);
    expect(figure('first transistor') / 0.5e-3).toBeCloseTo(1, 2);
    expect((9 - volts('c')) / parts.R6 / 0.5e-3).toBeCloseTo(1, 1.7);
  });
});

test('wah: without its damping resistor the coil rings far longer at the heel', () => {
  const designed = stageOf(wahInductor, 'normal', { heelHz: 420, toeHz: 2100, q: 7 }, 0);
  const q = (parts: DesignedNetwork['parts']) =>
    dominantSection(compileStage(battery, { ...designed, parts }, { values: 'exact', devices: 'ideal' }), 2, 420)!.q!;
  expect(q(designed.parts.map((p) => (p.spec.name === 'R5' ? { ...p, exact: 1e9 } : p)))).toBeGreaterThan(
    2 * q(designed.parts),
  );
});

test.each(['third order', 'fifth order'])(
  'OTA leapfrog, %s: Butterworth at half the level, moved by the current as it is',
  (form) => {
    const order = form === 'third order' ? 3 : 5;
    const designed = stageOf(otaLeapfrog, form, { cutoffHz: 700 });
    for (const f of [200, 700, 1400])
      expect(2 * at(designed, f).size * Math.sqrt(1 + (f / 700) ** (2 * order))).toBeCloseTo(1, 3);
    const octave = {
      ...designed,
      parts: designed.parts.map((p) => (p.spec.name === 'I1' ? { ...p, exact: 2 * p.exact } : p)),
    };
    expect(at(octave, 1400).size / at(designed, 700).size).toBeCloseTo(1, 4);
  },
);

test('diode legs: closed by the control, they keep of the top what they were asked to', () => {
  const designed = stageOf(diodeLegs, 'low-pass', { padDb: -20, cutoffHz: 600, shelfDb: -32, turnHz: 600 });
  const low = 20 * Math.log10(at(designed, 1).size);
  const top = 20 * Math.log10(at(designed, 200e3).size);
  expect(low).toBeCloseTo(-20, 1);
  expect(top - low).toBeCloseTo(-32, 1);
  const opened = {
    ...designed,
    parts: designed.parts.map((p) => (p.spec.name === 'I1' ? { ...p, exact: p.exact / 300 } : p)),
  };
  expect(20 * Math.log10(at(opened, 200e3).size) - low).toBeGreaterThan(-6);
});

test('whatever is asked of a common emitter on a battery, it rests and amplifies so, or says by name why not', () => {
  let judged = 0;
  fc.assert(
    fc.property(
      fc.constantFrom('divider', 'bootstrapped'),
      fc.record({
        collectorAmps: fc.double({ min: 5e-5, max: 3e-3, noNaN: true }),
        emitterVolts: fc.double({ min: 0.3, max: 8, noNaN: true }),
        gain: fc.double({ min: 0.6, max: 120, noNaN: true }),
        stiffness: fc.double({ min: 3, max: 40, noNaN: true }),
        lowestHz: fc.constant(30),
        loadOhm: fc.double({ min: 3e3, max: 1e6, noNaN: true }),
      }),
      (form, parameters) => {
        const { stage } = createNetwork(commonEmitter, makeId, { form, parameters });
        const designed = designStage(stage, null, battery);
        if (!designed.ok) return expect(['no-headroom', 'gain-too-high']).toContain(designed.code);
        if (designed.value.role !== 'network') throw new Error('a network was wanted');
        const parts = valuesOf(designed.value, 'exact');
        for (const { exact } of designed.value.parts) expect(exact).toBeGreaterThan(0);
        const volts = restVolts(designed.value);
        // Nearer saturation than this the equations' transistor is no longer the circuit's.
        if (volts('c') - volts('e') < 0.35) return;
        judged++;
        expect(volts('e') / parameters.emitterVolts).toBeCloseTo(1, 2);
        expect((9 - volts('c')) / parts.R3 / parameters.collectorAmps).toBeCloseTo(1, 2);
        expect(at(designed.value, 4000).size / parameters.gain).toBeCloseTo(1, 1.7);
      },
    ),
    { numRuns: 60, seed: 11 },
  );
  expect(judged).toBeGreaterThan(15);
});
