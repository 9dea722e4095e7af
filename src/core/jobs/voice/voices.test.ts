import { naturalFrequencies } from '../../analysis/poles';
import { AcSolver } from '../../analysis/solver';
import { compiledRunner } from '../../analysis/sound';
import { AS_BUILT, compile, compileStage } from '../../design/compile';
import { createDesign, createNetwork } from '../../design/create';
import { demoDesigns } from '../../design/demo';
import type { Design, Stage } from '../../design/schema';
import { designStage } from '../../design/stage-design';
import { must } from '../../result';
import { THERMAL_VOLTS } from '../../topology/voice/control-current';
import type { NetworkTopology } from '../../topology/kit/define-topology';
import { diodeBandPass } from '../../topology/voice/diode-band-pass';
import { diodeLadder } from '../../topology/voice/diode-ladder';
import { junctionFetPhaser, notchesHz } from '../../topology/voice/junction-fet-phaser';
import { otaCascade } from '../../topology/voice/ota-cascade';
import { optocouplerGate } from '../../topology/voice/optocoupler-gate';
import { otaSallenKey } from '../../topology/voice/ota-sallen-key';
import { otaStateVariable } from '../../topology/voice/ota-state-variable';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import { runBend } from './bend';
import { runControlLaw } from './control-law';
import { RUN_THROUGH } from '../job-context';
import { runListen } from '../sound/listen';
import { RATE_HZ } from '../sound/sound-source';

let made = 0;
const makeId = () => `v${made++}`;
const base = createDesign('voice', () => [], makeId);
const voice = demoDesigns().find((d) => d.title.startsWith('Reed voice'))!;

function designWith(
  topology: NetworkTopology,
  parameters: Record<string, number>,
  patch: Stage['parts'] = {},
  device = 'ideal',
): Design {
  const { stage } = createNetwork(topology, makeId, { parameters });
  const exact = must(designStage(stage, null, base));
  const parts = Object.fromEntries(
    exact.parts
      .filter((p) => !p.spec.given)
      .map((p) => [p.spec.name, { use: { kind: 'single' as const, values: [p.exact] } }]),
  );
  return {
    ...base,
    brief: { ...base.brief, source: { name: 's', ohm: 0 }, load: { name: 'l', ohm: null } },
    variants: base.variants.map((v) => ({
      ...v,
      controls: [{ id: 'cv', name: 'CV', kind: 'cv' as const, position: 0.5, taper: 'linear' as const }],
      ways: v.ways.map((way) => ({
        ...way,
        stages: [
          {
            ...stage,
            device,
            parts: {
              ...parts,
              I1: { control: { kind: 'exponential' as const, control: 'cv', octaves: 8, scaleErrorPct: 0 } },
              ...patch,
            },
          },
        ],
      })),
    })),
  };
}

test(
  'the ladder sings at a feedback of 4 with nothing but its exponentials, and with real transistors ' +
    'within some per cent of it',
  () => {
    // By its poles: exact parts, ideal transistors and op-amp; the four equal poles meet the axis at k = 4.
    const at = (feedback: number) => {
      const { stage } = createNetwork(transistorLadder, makeId, { parameters: { cutoffHz: 900, feedback } });
      const designed = must(designStage(stage, null, base));
      const poles = naturalFrequencies(
        compileStage(base, designed, { values: 'exact', devices: 'ideal' }),
        2 * Math.PI * 900,
      ).filter((p) => Math.hypot(p.re, p.im) < 2 * Math.PI * 9e4 && p.im > 0);
      return poles.reduce((a, b) => (b.re > a.re ? b : a));
    };
    expect(at(3.96).re).toBeLessThan(0);
    expect(at(4.04).re).toBeGreaterThan(0);
    expect(at(4).im / (2 * Math.PI * 900)).toBeCloseTo(1, 1.7);
    const { singing } = must(
      runControlLaw(
        {
          kind: 'control-law',
          design: designWith(transistorLadder, { cutoffHz: 900, feedback: 2 }),
          variantId: base.currentVariant,
        },
        new AcSolver(),
      ),
    );
    const k = (ohm: number) => ((10e3 + 220) / 220) * (220 / (ohm + 220));
    expect(Math.abs(k(singing!.atOhm) / 4 - 1)).toBeLessThan(0.06);
  },
);

/**
 * How a kicked circuit's swing of a late stretch stands to that of an early one, with a resistor at so many ohms: above
 * one it sings.
 */
function growth(topology: NetworkTopology, parameters: Record<string, number>, part: string, ohm: number): number {
  const design = designWith(topology, parameters, { [part]: { use: { kind: 'single', values: [ohm] } } });
  const { live, ways } = must(compile(design, design.variants[0], AS_BUILT));
  const rate = 96_000;
  const circuit = live!.circuit;
  const output = circuit.structure.nodeOf(ways[0].output)!;
  const runner = must(compiledRunner(circuit, { sampleRateHz: rate, wanted: [output] }));
  const count = 19_200;
  const inputs = runner.sources.map((name) =>
    name === 'Vin'
      ? Float64Array.from({ length: count }, (_, i) => (i < 20 ? 1e-3 : 0))
      : new Float64Array(count).fill(circuit.sources?.get(name)?.dc ?? 0),
  );
  const out = [new Float64Array(count)];
  runner.process(inputs, out, count);
  const swing = (from: number, to: number) => {
    const [low, high] = [Math.min(...out[0].subarray(from, to)), Math.max(...out[0].subarray(from, to))];
    return high - low;
  };
  return swing(16_000, 19_200) / swing(6_000, 9_200);
}

test.each([
  ['OTA cascade', otaCascade, { cutoffHz: 900, feedback: 2 }, 'R9', 0.99, 1.01],
  ['transistor ladder', transistorLadder, { cutoffHz: 900, feedback: 2 }, 'R9', 0.99, 1.01],
  ['diode ladder', diodeLadder, { cutoffHz: 900, feedback: 8 }, 'R9', 0.99, 1.01],
  ['OTA Sallen-Key', otaSallenKey, { cutoffHz: 900, q: 4 }, 'R5', 1.01, 0.99],
  [
    'optocoupler gate as a filter',
    optocouplerGate,
    { cellOhm: 12e3, cutoffHz: 900, q: 3, shuntOhm: 10e3 },
    'R5',
    1.01,
    0.99,
  ],
  ['one op-amp with a diode pair', diodeBandPass, { cutoffHz: 900, q: 4, gain: 0.7 }, 'R6', 1.01, 0.99],
] as const)(
  'the %s: the resistor at which its poles say it sings, and its run in time, agree within 1 %',
  (_, topology, parameters, part, singing, dying) => {
    const found = must(
      runControlLaw(
        { kind: 'control-law', design: designWith(topology, parameters), variantId: base.currentVariant },
        new AcSolver(),
      ),
    ).singing!;
    expect(found.part).toBe(part);
    expect(found.sings).toBe(false);
    expect(growth(topology, parameters, part, found.atOhm * dying)).toBeLessThan(1);
    expect(growth(topology, parameters, part, found.atOhm * singing)).toBeGreaterThan(1);
  },
);

test(
  'thresholds where a closed form says: the OTA cascade at k = 4, the diode ladder at k = 18.39 and ' +
    '√(10/7) of its rate, the OTA Sallen-Key at K = 2',
  () => {
    const of = (topology: NetworkTopology, parameters: Record<string, number>) =>
      must(
        runControlLaw(
          { kind: 'control-law', design: designWith(topology, parameters), variantId: base.currentVariant },
          new AcSolver(),
        ),
      ).singing!;
    expect(22e3 / of(otaCascade, { cutoffHz: 900, feedback: 2 }).atOhm / 4).toBeCloseTo(1, 1.3);
    expect(1 + of(otaSallenKey, { cutoffHz: 900, q: 4 }).atOhm / 10e3).toBeCloseTo(2, 2);
    // Four rungs of conductance g with C across each, driven at the foot, joined to nothing at the top: solved node by
    // node for the threshold, not by its polynomial.
    const ladder = (w: number): { re: number; im: number } => {
      let [above, here] = [
        { re: 0, im: 0 },
        { re: 1, im: 0 },
      ];
      for (let k = 0; k < 3; k++) {
        // g(v_k+1 − v_k) balance: v below = (2 + jw) v − v above.
        const below = { re: 2 * here.re - w * here.im - above.re, im: 2 * here.im + w * here.re - above.im };
        [above, here] = [here, below];
      }
      return { re: here.re - w * here.im - above.re, im: here.im + w * here.re - above.im };
    };
    let [low, high] = [0.5, 2];
    for (let i = 0; i < 60; i++) {
      const middle = (low + high) / 2;
      if (ladder(middle).im > 0) low = middle;
      else high = middle;
    }
    const exact = (feedback: number) => {
      const { stage } = createNetwork(diodeLadder, makeId, { parameters: { cutoffHz: 900, feedback } });
      const poles = naturalFrequencies(
        compileStage(base, must(designStage(stage, null, base)), { values: 'exact', devices: 'ideal' }),
        2 * Math.PI * 900,
      ).filter((p) => Math.hypot(p.re, p.im) < 2 * Math.PI * 9e4 && p.im > 0);
      return poles.reduce((a, b) => (b.re > a.re ? b : a));
    };
    const threshold = -ladder(low).re;
    expect(threshold).toBeCloseTo(18.39, 2);
    expect(exact(threshold * 0.99).re).toBeLessThan(0);
    expect(exact(threshold * 1.01).re).toBeGreaterThan(0);
    // The cutoff that is asked for is the one it sings at.
    expect(exact(threshold).im / (2 * Math.PI * 900)).toBeCloseTo(1, 2);
  },
);

test('a phaser’s notches lie where the all-passes turn it over, and all move with the gate', () => {
  const { stage } = createNetwork(junctionFetPhaser, makeId, { form: '4 stages', parameters: { cutoffHz: 700 } });
  const designed = must(designStage(stage, null, base));
  const parts = Object.fromEntries(designed.parts.map((p) => [p.spec.name, p.exact]));
  // tan 22.5° and tan 67.5°: √2 − 1 and √2 + 1.
  expect(notchesHz('4 stages', parts).map((f) => f / 700)).toEqual([
    expect.closeTo(Math.SQRT2 - 1, 9),
    expect.closeTo(Math.SQRT2 + 1, 9),
  ]);
  const circuit = compileStage(base, designed, { values: 'exact', devices: 'real' });
  const level = (f: number) => {
    const [re, im] = must(new AcSolver().sweep(circuit, Float64Array.of(f), ['out']))[0];
    return 20 * Math.log10(Math.hypot(re, im));
  };
  for (const f of notchesHz('4 stages', parts)) expect(level(f)).toBeLessThan(-40);
  expect(level(700)).toBeGreaterThan(-0.1);
});

test.each([
  ['ladder', transistorLadder],
  ['OTA cascade', otaCascade],
])(
  'the %s follows octaves within 3 cents over 8 of them with ideal control; an error of scale shows',
  (_, topology) => {
    const law = must(
      runControlLaw(
        {
          kind: 'control-law',
          design: designWith(topology, { cutoffHz: 900, feedback: 2 }),
          variantId: base.currentVariant,
        },
        new AcSolver(),
      ),
    );
    expect(law.points).toHaveLength(31);
    expect(law.octaves).toBeCloseTo(8, 1);
    expect(law.worstCents).toBeLessThan(3);
    const off = designWith(
      topology,
      { cutoffHz: 900, feedback: 2 },
      { I1: { control: { kind: 'exponential', control: 'cv', octaves: 8, scaleErrorPct: 5 } } },
    );
    expect(
      must(runControlLaw({ kind: 'control-law', design: off, variantId: base.currentVariant }, new AcSolver())).octaves,
    ).toBeCloseTo(8.4, 1);
  },
);

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
