import { naturalFrequencies } from '../../analysis/roots/poles';
import { AcSolver } from '../../analysis/ac/solver';
import { compiledRunner } from '../../analysis/sound/sound';
import { AS_BUILT, compile, compileStage } from '../../design/compiled/compile';
import { createNetwork } from '../../design/making/create';
import { designStage } from '../../design/stages/stage-design';
import { must } from '../../result';
import type { NetworkTopology } from '../../topology/kit/define-topology';
import { diodeBandPass } from '../../topology/voice/diode-band-pass';
import { diodeLadder } from '../../topology/voice/diode-ladder';
import { junctionFetPhaser, notchesHz } from '../../topology/voice/junction-fet-phaser';
import { otaCascade } from '../../topology/voice/ota-cascade';
import { optocouplerGate } from '../../topology/voice/optocoupler-gate';
import { otaSallenKey } from '../../topology/voice/ota-sallen-key';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import { runControlLaw } from './control-law';
import { makeId, base, designWith } from '../../testing/voice-design';

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
