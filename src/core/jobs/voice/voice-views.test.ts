import { AcSolver } from '../../analysis/ac/solver';
import { naturalFrequencies } from '../../analysis/roots/poles';
import { AS_BUILT, compile } from '../../design/compiled/compile';
import { createNetwork } from '../../design/making/create';
import type { Design } from '../../design/document/schema';
import { must } from '../../result';
import type { NetworkTopology } from '../../topology/kit/define-topology';
import { commonEmitter } from '../../topology/voice/stage/common-emitter';
import { diodeBandPass } from '../../topology/voice/diode-band-pass';
import { diodeLegs } from '../../topology/voice/diode-legs';
import { THERMAL_VOLTS } from '../../topology/voice/control-current';
import { otaOnePole } from '../../topology/voice/ota-one-pole';
import { otaCascade } from '../../topology/voice/ota-cascade';
import { optocouplerGate } from '../../topology/voice/optocoupler-gate';
import { base, makeId } from '../../topology/testing/designed-network';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import { wahInductor } from '../../topology/voice/wah-inductor';
import { builtVariant, smallSignalWith } from '../reading/built-variant';
import { runForms } from './forms';
import { RUN_THROUGH } from '../job-context';
import { runLoop } from './loop';
import { runModulation } from './modulation';
import { runSag } from './sag';

const solver = new AcSolver();
const GRID = { fromHz: 20, toHz: 20e3, points: 401 };

/** One stage on a path, its parts exact, from a stiff source into nothing. */
function pathOf(
  topology: NetworkTopology,
  parameters: Record<string, number>,
  given: { form?: string; supply?: Design['brief']['supply']; position?: number } = {},
): Design & { stageId: string } {
  const { stage, controls } = createNetwork(topology, makeId, {
    parameters,
    ...(given.form ? { form: given.form } : {}),
  });
  const design: Design = {
    ...base,
    brief: {
      ...base.brief,
      ...(given.supply ? { supply: given.supply } : {}),
      source: { name: 's', ohm: 0 },
      load: { name: 'l', ohm: null },
    },
    variants: base.variants.map((v) => ({
      ...v,
      controls: controls.map((c) => ({ ...c, position: given.position ?? c.position })),
      ways: v.ways.map((w) => ({ ...w, stages: [{ ...stage, device: 'ideal' }] })),
    })),
  };
  return { ...design, stageId: stage.id };
}
const asked = (design: Design & { stageId: string }) => ({
  design,
  variantId: design.currentVariant,
  stageId: design.stageId,
  grid: GRID,
});

test(
  'a gate in four positions of its switches: each by itself, matched at its highest, and combined ' +
    'against filter and gate one after the other',
  () => {
    const design = pathOf(optocouplerGate, { cellOhm: 12e3, cutoffHz: 900, q: 1, shuntOhm: 10e3 });
    const { forms, combined, current } = must(runForms({ kind: 'forms', ...asked(design) }, solver));
    expect(current).toBe('filter');
    expect(forms.map((f) => f.form)).toEqual(['filter', 'gate', 'combined', 'compensated']);
    const top = (levels: Float64Array) => Math.max(...levels);
    for (const { levelDb, matchDb } of forms) expect(top(levelDb) + matchDb).toBeCloseTo(top(forms[0].levelDb), 9);
    // The gate passes twice its divider, both cells over the shunt; the combined one passes all there is.
    expect(forms[1].levelDb[0]).toBeCloseTo(20 * Math.log10((2 * 10) / (10 + 24)), 0);
    expect(forms[2].levelDb[0]).toBeCloseTo(0, 1);
    // Combined: no bump; both its poles are real, and far apart.
    const two = forms[2].levelDb;
    two.forEach((v, i) => i > 0 && expect(v).toBeLessThan(two[i - 1] + 1e-9));
    const passive = {
      ...design,
      variants: design.variants.map((v) => ({
        ...v,
        ways: v.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, mode: 'combined', device: 'ideal' })) })),
      })),
    };
    const built = must(compile(passive, passive.variants[0], AS_BUILT));
    const value = (name: string) => built.ways[0].stages[0].parts.find((p) => p.spec.name === name)!.chosen;
    // Two resistors R and two capacitors by Elmore's sums: s² R² Cs C2 + s R (Cs + 2 C2) + 1, its roots apart by far.
    const R = 12e3;
    const [a2, a1] = [R * R * value('C3') * value('C2'), R * (value('C3') + 2 * value('C2'))];
    const slow = (2 * 1) / (a1 + Math.sqrt(a1 * a1 - 4 * a2));
    // The cells' own slowness is among them; none turns.
    const found = naturalFrequencies(built.circuit, slow).filter((p) => p.re > -100 * slow);
    expect(found.every((p) => p.im === 0)).toBe(true);
    expect(found.filter((p) => Math.abs(p.re / -slow - 1) < 0.03)).toHaveLength(1);
    // It is not the two in a row: what is told is what the curves say.
    expect([combined!.whole, combined!.of]).toEqual(['combined', ['filter', 'gate']]);
    expect(Math.abs(combined!.worstDb)).toBeGreaterThan(1);
    const at = (f: number) => Math.round(((GRID.points - 1) * Math.log(f / 20)) / Math.log(1000));
    expect(combined!.differenceDb[at(900)]).toBeCloseTo(
      two[at(900)] - top(two) - (combined!.cascadeDb[at(900)] - top(combined!.cascadeDb)),
      9,
    );
    // In a row, each buffered from the other: the row is the filter's curve and the gate's, one on the other.
    expect(combined!.cascadeDb[at(900)]).toBeCloseTo(forms[0].levelDb[at(900)] + forms[1].levelDb[at(900)], 1);
  },
);

test('what a hand analysis leaves out is told for each position, with what that costs', () => {
  const design = pathOf(optocouplerGate, { cellOhm: 12e3, cutoffHz: 900, q: 1, shuntOhm: 10e3 });
  const ideal = {
    ...design,
    variants: design.variants.map((v) => ({
      ...v,
      ways: v.ways.map((w) => ({ ...w, stages: w.stages.map((s) => ({ ...s, mode: 'combined', device: 'ideal' })) })),
    })),
  };
  const { forms, freqHz } = must(runForms({ kind: 'forms', ...asked(ideal) }, solver));
  expect(forms.map((f) => f.neglected?.parts)).toEqual(Array(4).fill(['C3', 'R7']));
  // Combined: two cells R, C3 between them, C2 and what bleeds behind: 1/H = (1 + R (s C2 + g)) (2 + s R C3) − 1.
  const { parts, neglected } = forms.find((f) => f.form === 'combined')!;
  const R = 12e3;
  const levelDb = (f: number, C3: number, g: number) => {
    const w = 2 * Math.PI * f;
    const [a, b] = [
      [1 + R * g, R * w * parts.C2],
      [2, R * w * C3],
    ];
    return -20 * Math.log10(Math.hypot(a[0] * b[0] - a[1] * b[1] - 1, a[0] * b[1] + a[1] * b[0]));
  };
  const g = 1 / parts.R7;
  const off = [...freqHz].map((f) => {
    const [without, own] = [levelDb(f, 0, 0), levelDb(f, parts.C3, g)];
    return Math.max(without, own) > -40 ? without - own : 0;
  });
  const worst = off.reduce((at, d, i) => (Math.abs(d) > Math.abs(off[at]) ? i : at), 0);
  expect(Math.abs(off[worst])).toBeGreaterThan(0.05);
  expect(neglected!.worstDb).toBeCloseTo(off[worst], 1);
  expect(Math.abs(Math.log2(neglected!.atHz / freqHz[worst]))).toBeLessThan(0.2);
});

test(
  'once round the ladder and the OTA cascade: in step at their frequency, and as far from singing as ' +
    'their feedback says',
  () => {
    for (const [topology, near] of [
      [otaCascade, 1],
      [transistorLadder, 0.9],
    ] as const) {
      const loop = must(runLoop({ kind: 'loop', ...asked(pathOf(topology, { cutoffHz: 900, feedback: 2 })) }, solver));
      // k/(1 + jω/ω0)⁴ comes back in step at ω0 with k/4.
      expect(loop.inStep!.freqHz / 900).toBeGreaterThan(near - 0.08);
      expect(loop.inStep!.freqHz / 900).toBeLessThan(1.08);
      expect(loop.inStep!.gainDb).toBeCloseTo(20 * Math.log10(2 / 4), 0);
      expect(loop.comesBack).toBe('helping');
      // Its steps make up the whole.
      const whole = loop.steps.reduce((sum, s) => sum + s.gainDb, 0);
      expect(whole).toBeCloseTo(loop.inStep!.gainDb, 1);
      expect((((loop.steps.reduce((sum, s) => sum + s.phaseDeg, 0) % 360) + 540) % 360) - 180).toBeCloseTo(0, 0);
    }
  },
);

test(
  'once round a wah: the amplifier turns over, and under the coil’s own frequency so does the ' +
    'capacitor with the coil; what comes back is in step, or nearly',
  () => {
    const design = pathOf(
      wahInductor,
      { heelHz: 420, toeHz: 2100, q: 7 },
      { supply: { kind: 'single', volts: 9, virtualGroundOhm: 1 }, position: 0 },
    );
    const loop = must(runLoop({ kind: 'loop', ...asked(design) }, solver));
    expect(loop.part).toBe('C4');
    // Q1 turns over, Q2 does not.
    const [collector, follower] = loop.steps.slice(-2);
    expect(Math.abs(Math.abs(collector.phaseDeg) - 180)).toBeLessThan(5);
    expect(Math.abs(follower.phaseDeg)).toBeLessThan(5);
    expect(collector.gainDb).toBeGreaterThan(20);
    const coil = loop.steps[1];
    expect(Math.abs(coil.phaseDeg)).toBeGreaterThan(150);
    expect(loop.comesBack).toBe('helping');
  },
);

test('a loop is asked only of a circuit that has one', () => {
  expect(
    runLoop(
      { kind: 'loop', ...asked(pathOf(diodeLegs, { padDb: -20, cutoffHz: 600, shelfDb: -32, turnHz: 600 })) },
      solver,
    ),
  ).toMatchObject({ ok: false, code: 'no-loop' });
});

test('the loop’s poles: at 0 dB in step, the closed circuit has a pair on the axis', () => {
  const at = (feedback: number) => {
    const design = pathOf(otaCascade, { cutoffHz: 900, feedback });
    const { circuit } = must(compile(design, design.variants[0], AS_BUILT));
    return {
      loop: must(runLoop({ kind: 'loop', ...asked(design) }, solver)).inStep!.gainDb,
      pole: Math.max(
        ...naturalFrequencies(circuit, 2 * Math.PI * 900)
          .filter((p) => Math.hypot(p.re, p.im) < 6e4)
          .map((p) => p.re),
      ),
    };
  };
  for (const feedback of [3, 3.8, 4.3, 5]) {
    const { loop, pole } = at(feedback);
    expect(Math.sign(loop)).toBe(Math.sign(pole));
  }
});

test(
  'the sound moves a diode filter’s cutoff from some level on, and the more the louder; before, it ' + 'does not',
  async () => {
    const design = pathOf(diodeBandPass, { cutoffHz: 800, q: 3, gain: 0.7 });
    const moved = must(
      await runModulation(
        { kind: 'modulation', design, variantId: design.currentVariant, cents: 25 },
        solver,
        RUN_THROUGH,
      ),
    );
    expect(Math.abs(moved.curve[0].cents)).toBeLessThan(5);
    expect(moved.volts).toBeGreaterThan(0.01);
    const sizes = moved.curve.map((p) => Math.abs(p.cents));
    expect(sizes[sizes.length - 1]).toBeGreaterThan(25);
    expect(moved.cutoffHz).toBeGreaterThan(800);
  },
);

test('an OTA pole’s cutoff falls under a loud tone as the mean slope of its tanh says', async () => {
  const design = pathOf(otaOnePole, { cutoffHz: 900 });
  const moved = must(
    await runModulation(
      { kind: 'modulation', design, variantId: design.currentVariant, cents: 25 },
      solver,
      RUN_THROUGH,
    ),
  );
  expect(moved.cutoffHz / 900).toBeCloseTo(1, 1);
  // Two octaves under the cutoff the pair sees jx/(1 + jx) of the tone, x = 1/4, divided by its divider; a faint tone
  // beside it finds the mean of sech² over the loud one.
  const { parts } = must(compile(design, design.variants[0], AS_BUILT)).ways[0].stages[0];
  const ohm = (name: string) => parts.find((p) => p.spec.name === name)!.chosen;
  const share = (ohm('R2') / (ohm('R1') + ohm('R2'))) * (0.25 / Math.hypot(1, 0.25));
  const meanSlope = (peak: number) =>
    Array.from(
      { length: 400 },
      (_, i) => 1 / Math.cosh((peak * Math.sin((Math.PI * (i + 0.5)) / 200)) / (2 * THERMAL_VOLTS)) ** 2,
    ).reduce((a, v) => a + v, 0) / 400;
  const judged = moved.curve.filter((p) => Math.abs(p.cents) > 5 && Math.abs(p.cents) < 120);
  expect(judged.length).toBeGreaterThan(1);
  for (const { volts, cents } of judged)
    expect(cents / (1200 * Math.log2(meanSlope(volts * share)))).toBeCloseTo(1, 0.5);
  for (const { cents } of moved.curve) expect(cents).toBeLessThan(1);
});

test(
  'a sagging battery: a common emitter loses current and, with its divider, gain by little; its output ' +
    'moves down with the supply',
  () => {
    const design = pathOf(
      commonEmitter,
      { collectorAmps: 0.6e-3, emitterVolts: 1.1, gain: 5, stiffness: 12, lowestHz: 20, loadOhm: 47e3 },
      { supply: { kind: 'single', volts: 9, virtualGroundOhm: 1 } },
    );
    const { points } = must(runSag({ kind: 'sag', design, variantId: design.currentVariant }, solver));
    expect(points.map((p) => p.supplyVolts)).toEqual([9, 8.1, 7.2, 6.3, expect.closeTo(5.4, 9)]);
    points.forEach((p, i) => i > 0 && expect(p.restAmps).toBeLessThan(points[i - 1].restAmps));
    // Held by a divider in proportion, the base falls by a tenth of its volts, the emitter by more than a tenth of its
    // own: 1.1 V less a tenth of 1.74.
    const amps = (p: { restAmps: number }) => p.restAmps;
    expect(amps(points[1]) / amps(points[0])).toBeGreaterThan(0.8);
    expect(amps(points[1]) / amps(points[0])).toBeLessThan(0.89);
    expect(Math.abs(points[4].topDb! - points[0].topDb!)).toBeLessThan(1);
  },
);

test(
  'a draw of other values rests where they put it: the small signal of a moved resistor is that of the ' +
    'circuit built with it',
  () => {
    const design = pathOf(
      commonEmitter,
      { collectorAmps: 0.6e-3, emitterVolts: 1.1, gain: 5, stiffness: 12, lowestHz: 20, loadOhm: 47e3 },
      { supply: { kind: 'single', volts: 9, virtualGroundOhm: 1 } },
    );
    const built = must(builtVariant(design, design.currentVariant));
    const slot = built.parts.find((p) => p.part === 'R4')!.slot;
    const values = built.circuit.values.slice();
    values[slot] *= 1.3;
    const variant = design.variants[0];
    const typed = {
      ...variant,
      ways: variant.ways.map((w) => ({
        ...w,
        stages: w.stages.map((s) => ({
          ...s,
          parts: { ...s.parts, R4: { use: { kind: 'single' as const, values: [values[slot]] } } },
        })),
      })),
    };
    const anew = must(compile(design, typed, AS_BUILT));
    const level = (circuit: Parameters<typeof solver.sweep>[0]) => {
      const [h] = must(solver.sweep(circuit, Float64Array.of(2000), [built.ways[0].output]));
      return Math.hypot(h[0], h[1]);
    };
    expect(level(must(smallSignalWith(built, values))) / level(anew.circuit)).toBeCloseTo(1, 8);
    // At the old rest it would be another: the emitter's own resistance has changed with its current.
    expect(Math.abs(level({ structure: built.circuit.structure, values }) / level(anew.circuit) - 1)).toBeGreaterThan(
      0.003,
    );
  },
);
