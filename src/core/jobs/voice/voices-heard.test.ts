import { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, compileStage } from '../../design/compiled/compile';
import { createNetwork } from '../../design/making/create';
import { demoDesigns } from '../../design/demo/demo';
import type { Design } from '../../design/document/schema';
import { designStage } from '../../design/stages/stage-design';
import { must } from '../../result';
import { THERMAL_VOLTS } from '../../topology/voice/control-current';
import type { NetworkTopology } from '../../topology/kit/define-topology';
import { diodeBandPass } from '../../topology/voice/diode-band-pass';
import { junctionFetPhaser } from '../../topology/voice/junction-fet-phaser';
import { otaCascade } from '../../topology/voice/ota-cascade';
import { otaStateVariable } from '../../topology/voice/ota-state-variable';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import { runBend } from './bend';
import { runControlLaw } from './control-law';
import { RUN_THROUGH } from '../job-context';
import { runListen } from '../sound/listen';
import { RATE_HZ } from '../sound/rate';
import { makeId, base, voice, designWith } from '../../testing/voice-design';

test('the OTA state variable has the frequency and Q of its formula', () => {
  const law = must(
    runControlLaw(
      {
        kind: 'control-law',
        design: designWith(otaStateVariable, { cutoffHz: 700, q: 6 }),
        variantId: base.currentVariant,
      },
      new AcSolver(),
    ),
  );
  const middle = law.points[15];
  expect(middle.freqHz / 700).toBeCloseTo(1, 2);
  expect(middle.q / 6).toBeCloseTo(1, 1);
  // Its low-pass at its own frequency: as much as Q, 15.6 dB, all along the travel.
  for (const { levelDb } of law.points.slice(3, 24)) expect(levelDb).toBeCloseTo(20 * Math.log10(6), 0);
});

test('operating points: the ladder’s tail halves between its sides, the lamp’s cells rest at their law', () => {
  const { live } = must(compile(voice, voice.variants[0], AS_BUILT));
  const { structure } = live!.circuit;
  const volts = (node: string) => live!.rest[structure.nodeOf(`${voice.variants[0].ways[0].stages[0].id}.${node}`)!];
  const tail = live!.circuit.sources!.get(`${voice.variants[0].ways[0].stages[0].id}.I1.source`)!.dc!;
  // vbe = Vt ln(I/2/IS), a closed form for each side of the pair.
  expect(volts('b1') - volts('tail')).toBeCloseTo(THERMAL_VOLTS * Math.log(tail / 2 / 1e-14), 2);
  const pluck = demoDesigns().find((d) => d.title.startsWith('Plucked'))!;
  const built = must(compile(pluck, pluck.variants[0], AS_BUILT));
  const id = pluck.variants[0].ways[0].stages[0].id;
  const light = built.live!.rest[built.live!.circuit.structure.nodeOf(`${id}.light1`)!];
  expect(light / (1000 * built.live!.circuit.sources!.get(`${id}.I1.source`)!.dc!)).toBeCloseTo(1, 4);
});

test('what the ladder bears: one per cent lies where the pair’s tanh says', async () => {
  const design = designWith(transistorLadder, { cutoffHz: 20e3, feedback: 0.05 });
  const bend = must(
    await runBend({ kind: 'bend', design, variantId: base.currentVariant, percent: 1 }, new AcSolver(), RUN_THROUGH),
  );
  // Third harmonic of tanh(v/2Vt) is (v/2Vt)²/12 of the tone: 1 % at v = 2 Vt √0.12, divided up by the input’s divider.
  // The pairs above straighten some of it out, so it bears more.
  const pair = 2 * THERMAL_VOLTS * Math.sqrt(0.12) * ((10e3 + 220) / 220);
  expect(bend.inputVolts).toBeGreaterThan(0.7 * pair);
  expect(bend.inputVolts).toBeLessThan(4 * pair);
  expect(bend.harmonics[1]).toBeGreaterThan(bend.harmonics[0]);
  expect(bend.curve.every((p, i) => i === 0 || p.percent > bend.curve[i - 1].percent * 0.9)).toBe(true);
});

test('a linear circuit does not bend, and says so', async () => {
  const linear = demoDesigns()[0];
  expect(
    await runBend(
      { kind: 'bend', design: linear, variantId: linear.currentVariant, percent: 1 },
      new AcSolver(),
      RUN_THROUGH,
    ),
  ).toMatchObject({ ok: false, code: 'nothing-bends' });
});

test(
  'heard: a saw through the closed filter is darker than through the open one, at a gentle level, and ' +
    'the envelope moves it',
  async () => {
    const variant = voice.variants[0];
    const at = (position: number): Design => ({
      ...voice,
      variants: [{ ...variant, controls: variant.controls.map((c) => ({ ...c, position })) }],
    });
    const hear = async (position: number, depth = 0) =>
      must(
        await runListen(
          {
            kind: 'listen',
            design: at(position),
            variantId: variant.id,
            source: 'saw',
            notesHz: [110, 165],
            noteS: 0.15,
            volts: 1,
            envelope: depth === 0 ? null : { controlId: variant.controls[0].id, depth, attackS: 0.01, decayS: 0.05 },
          },
          RUN_THROUGH,
          () => 0,
        ),
      );
    const bright = ({ samples }: { samples: Float32Array }) => {
      let [slope, size] = [0, 0];
      for (let i = 1; i < samples.length; i++)
        [slope, size] = [slope + (samples[i] - samples[i - 1]) ** 2, size + samples[i] ** 2];
      return slope / size;
    };
    const [closed, open, moved] = [await hear(0.2), await hear(0.9), await hear(0.2, 0.6)];
    for (const heard of [closed, open, moved]) {
      expect(heard.samples).toHaveLength(Math.floor(0.3 * RATE_HZ));
      expect(heard.samples.every((v) => Math.abs(v) <= 1)).toBe(true);
    }
    expect(bright(closed)).toBeLessThan(bright(open) / 10);
    expect(bright(moved)).toBeGreaterThan(1.5 * bright(closed));
  },
);

test.each(['diode pair', 'LED pair'])(
  'one op-amp with a %s: where it was asked for, and an octave for four times the current',
  (form) => {
    const wanted = { cutoffHz: 800, q: 3, gain: 0.7 };
    const { stage } = createNetwork(diodeBandPass, makeId, { form, parameters: wanted });
    const designed = must(designStage(stage, null, base));
    const peak = (factor: number): { freqHz: number; level: number; width: number } => {
      const parts = designed.parts.map((p) => (p.spec.name === 'I1' ? { ...p, exact: p.exact * factor } : p));
      const circuit = compileStage(base, { ...designed, parts }, { values: 'exact', devices: 'ideal' });
      const grid = Float64Array.from({ length: 4001 }, (_, i) => 200 * 2 ** (i / 1000));
      const [h] = must(new AcSolver().sweep(circuit, grid, ['out']));
      const level = Array.from(grid, (_, i) => Math.hypot(h[2 * i], h[2 * i + 1]));
      const top = level.indexOf(Math.max(...level));
      const inside = level.flatMap((l, i) => (l > level[top] / Math.SQRT2 ? [grid[i]] : []));
      return { freqHz: grid[top], level: level[top], width: inside[inside.length - 1] - inside[0] };
    };
    const [at, four] = [peak(1), peak(4)];
    expect(at.freqHz / 800).toBeCloseTo(1, 2);
    expect(at.level / 0.7).toBeCloseTo(1, 2);
    expect(at.freqHz / at.width / 3).toBeCloseTo(1, 1.7);
    // R1 takes a little part in the leg: just short of an octave.
    expect(four.freqHz / at.freqHz).toBeGreaterThan(1.9);
    expect(four.freqHz / at.freqHz).toBeLessThan(2);
  },
);

test(
  'a degree warmer: as kT/q where a junction is the resistance, as its root where it stands under one, ' +
    'not at all where a channel does it',
  () => {
    // A frequency of I/(kT/q): −1200 log2(310.15/300.15)/10 cents.
    const wholly = (-1200 * Math.log2((37 + 273.15) / (27 + 273.15))) / 10;
    const drift = (topology: NetworkTopology, parameters: Record<string, number>) =>
      must(
        runControlLaw(
          { kind: 'control-law', design: designWith(topology, parameters), variantId: base.currentVariant },
          new AcSolver(),
        ),
      ).driftCents!;
    expect(drift(otaCascade, { cutoffHz: 900, feedback: 2 }) / wholly).toBeCloseTo(1, 1);
    expect(drift(transistorLadder, { cutoffHz: 900, feedback: 2 }) / wholly).toBeCloseTo(1, 1);
    const root = drift(diodeBandPass, { cutoffHz: 900, q: 3, gain: 0.2 }) / wholly;
    expect(root).toBeGreaterThan(0.45);
    expect(root).toBeLessThan(0.51);
    expect(Math.abs(drift(junctionFetPhaser, { cutoffHz: 900 }))).toBeLessThan(0.05);
  },
);

test('the gate’s law is its filter’s, not the cells’ slowness: it only rises', () => {
  const pluck = demoDesigns().find((d) => d.title.startsWith('Plucked'))!;
  const { points } = must(
    runControlLaw({ kind: 'control-law', design: pluck, variantId: pluck.currentVariant }, new AcSolver()),
  );
  expect(points).toHaveLength(31);
  points.forEach(({ freqHz }, i) => i > 0 && expect(freqHz).toBeGreaterThan(points[i - 1].freqHz));
  // Conductance goes as the current's power of 0.9, half of the eight octaves of current above the middle: somewhat
  // less in frequency, since the shunt has its part.
  expect(Math.log2(points[30].freqHz / points[15].freqHz)).toBeGreaterThan(2.5);
  expect(Math.log2(points[30].freqHz / points[15].freqHz)).toBeLessThan(3.7);
});
