import { readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import { dominantSection, naturalFrequencies } from '../analysis/roots/poles';
import { levelsDb } from '../analysis/curves/response';
import { AcSolver } from '../analysis/ac/solver';
import { AS_BUILT, compile, compileBefore, compileStage, IDEAL } from '../design/compiled/compile';
import { createDesign, createPlan } from '../design/making/create';
import type { Design, Stage } from '../design/document/schema';
import { designStage, valuesOf } from '../design/stages/stage-design';
import { idealTargets, wayTargets } from '../design/stages/targets';
import { canServe, withTopology } from '../design/making/with-topology';
import { ALIGNMENTS, type AlignmentId } from '../filter/alignments/index';
import { ordersIn, PLAN_RESPONSES } from '../filter/plan-sections';
import { cascadeResponse, type FilterResponse, type SectionTarget } from '../filter/section';
import { logGrid } from '../math/grid';
import { judgeJoints } from '../jobs/desk/desk-joints';
import { must } from '../result';
import { drawingFaults } from './testing/drawing-faults';
import { findTopology, SECTION_TOPOLOGIES, TOPOLOGIES, topologyById } from './index';
import { polarityOf, type SectionTopology, type Topology } from './kit/define-topology';

const solver = new AcSolver();
let made = 0;
const makeId = () => `id${made++}`;

function designWith(chooseFirst: 'capacitors' | 'resistors'): Design {
  const design = createDesign('test', (id) => [createPlan(id(), 'lowpass', 'butterworth', 2, 1000)], makeId);
  return {
    ...design,
    preferences: { ...design.preferences, chooseFirst },
    brief: { ...design.brief, source: { name: 's', ohm: 0 } },
  };
}
const stageOf = (topology: SectionTopology, parts: Stage['parts'] = {}): Stage => ({
  id: 'st',
  topology: topology.id,
  target: {
    kind: 'own',
    of: null,
    response: 'lowpass',
    order: topology.order,
    freqHz: 1,
    q: 1,
    gainDb: 0,
  },
  parts,
  device: 'jfet-audio-3mhz',
  output: 'out',
  mode: 'normal',
  bypassed: false,
});

const ROOMS = ['network', 'op-amp', 'voice', 'loudspeaker'];

/** What a module exports that is a topology, rather than something topologies are made with. */
const topologiesIn = (module: object): Topology[] =>
  Object.values(module).filter(
    (v): v is Topology => typeof v === 'object' && v !== null && 'role' in v && 'build' in v,
  );

test('the registry holds every topology of every room once, each in a file of its own name', async () => {
  const found = [];
  for (const room of ROOMS)
    for (const entry of readdirSync(join(__dirname, room), { recursive: true, encoding: 'utf8' })) {
      if (!entry.endsWith('.ts') || entry.endsWith('.test.ts')) continue;
      const made = topologiesIn(await import(join(__dirname, room, entry)));
      for (const topology of made) expect(topology.id).toBe(basename(entry, '.ts'));
      found.push(...made.map((t) => t.id));
    }
  expect(TOPOLOGIES.map((t) => t.id).sort()).toEqual(found.sort());
  expect(findTopology('nothing-such')).toBeUndefined();
  expect(() => topologyById('nothing-such')).toThrow('nothing-such');
});

/** Targets a stage of a given order may meet: Qs from two equal real poles to sharp, gains its circuit has. */
function targetsFor(topology: SectionTopology): SectionTarget[] {
  const qs = topology.order === 2 ? [0.5, 0.5098, Math.SQRT1_2, 2.5629, 8] : [0.5];
  return topology.responses.flatMap((response) =>
    qs.flatMap((q) =>
      [47, 1234, 9000].flatMap((freqHz) =>
        nullsFor(topology, response, freqHz).flatMap((zero) => {
          const bare = { response, order: topology.order, freqHz, q, ...zero };
          const range = topology.gainRange(bare);
          // Other gains at one frequency of the three: a gain does not know the frequency.
          const others =
            freqHz === 1234 ? [Math.max(range.min, range.natural / 2), Math.min(range.max, range.natural * 2)] : [];
          const gains = new Set([range.natural, ...others]);
          return [...gains].map((gain): SectionTarget => ({ ...bare, gain }));
        }),
      ),
    ),
  );
}

/** Nulls of a notch: at the natural frequency, and, where the circuit can, far above, just above and below it. */
function nullsFor(topology: SectionTopology, response: FilterResponse, freqHz: number): { zeroHz?: number }[] {
  if (response !== 'notch') return [{}];
  const bare = { response, order: topology.order, freqHz, q: 1, gain: 1 };
  const able = designStage(stageOf(topology), { ...bare, zeroHz: 2 * freqHz }, designWith('capacitors')).ok;
  return able ? [{}, { zeroHz: 3 * freqHz }, { zeroHz: 1.1 * freqHz }, { zeroHz: 0.6 * freqHz }] : [{}];
}

describe.each(SECTION_TOPOLOGIES)('$id', (topology) => {
  test('declares what the desk needs to know', () => {
    expect(topology.responses.length).toBeGreaterThan(0);
    expect(topology.outputs).toContain('out');
    expect(topology.modes.length).toBeGreaterThan(0);
    expect(topology.sources.length * topology.cautions.length * topology.reason.length).toBeGreaterThan(0);
  });

  test.each(['capacitors', 'resistors'] as const)(
    '%s first: design, simulate with an ideal op-amp, measure: cutoff, Q and gain within 0.1 %% of the ' +
      'target; closed form agrees',
    (chooseFirst) => {
      const design = designWith(chooseFirst);
      for (const target of targetsFor(topology)) {
        const designed = must(designStage(stageOf(topology), target, design));
        const circuit = compileStage(design, designed, { values: 'exact', devices: 'ideal' });
        const form = topology.closedForm(target.response, valuesOf(designed, 'exact'));
        if (topology.order > 0) {
          const section = dominantSection(circuit, topology.order, target.freqHz);
          expect(section?.freqHz).toBeCloseTo(target.freqHz, -Math.log10(target.freqHz * 2e-6));
          expect((form.freqHz as number) / target.freqHz).toBeCloseTo(1, 8);
          if (topology.order === 2) expect((section?.q as number) / target.q).toBeCloseTo(1, 5);
        }
        const ideal = cascadeResponse([target], logGrid(target.freqHz / 10, target.freqHz * 10, 9));
        const [got] = must(solver.sweep(circuit, logGrid(target.freqHz / 10, target.freqHz * 10, 9), ['out']));
        got.forEach((v, i) => expect(v * polarityOf(topology, target.response)).toBeCloseTo(ideal[i], 7));
        expect(form.gain).toBeCloseTo(target.gain, 9);
      }
    },
  );

  test('impedance scaling leaves the response alone', () => {
    const design = designWith('capacitors');
    const target = { ...targetsFor(topology)[0], freqHz: 1000 };
    const designed = must(designStage(stageOf(topology), target, design));
    if (topology.load.ohm !== null) return;
    const scaled = {
      ...designed,
      parts: designed.parts.map((p) => ({
        ...p,
        exact: p.spec.kind === 'capacitor' ? p.exact / 7 : p.exact * 7,
      })),
    };
    const grid = logGrid(50, 20e3, 13);
    const [a, b] = [designed, scaled].map(
      (d) => must(solver.sweep(compileStage(design, d, { values: 'exact', devices: 'ideal' }), grid, ['out']))[0],
    );
    a.forEach((v, i) => expect(v).toBeCloseTo(b[i], 10));
  });

  test('a pinned part is kept and the rest is solved around it, or the failure names it', () => {
    const design = designWith('capacitors');
    const target = {
      ...targetsFor(topology)[0],
      q: topology.order === 2 ? 0.8 : 0.5,
      freqHz: 1000,
    };
    target.gain = topology.gainRange(target).natural;
    const free = must(designStage(stageOf(topology), target, design));
    for (const part of free.parts) {
      const value = part.exact * 1.07;
      const result = designStage(
        stageOf(topology, {
          [part.spec.name]: { use: { kind: 'single', values: [value] }, pinned: true },
        }),
        target,
        design,
      );
      if (!result.ok) {
        expect(['over-pinned', 'capacitor-ratio', 'resistor-ratio', 'q-too-low']).toContain(result.code);
        continue;
      }
      const pinned = valuesOf(result.value, 'exact');
      expect(pinned[part.spec.name]).toBeCloseTo(value, 14);
      const form = topology.closedForm(target.response, pinned);
      if (topology.order > 0) expect((form.freqHz as number) / 1000).toBeCloseTo(1, 8);
      if (topology.order === 2) expect(form.q).toBeCloseTo(0.8, 8);
    }
  });

  test(
    'snapped parts stay within half a step of the series, and the drawing covers every part with no ' +
      'label on ink or label',
    () => {
      const design = designWith('capacitors');
      for (const target of targetsFor(topology)) {
        const designed = must(designStage(stageOf(topology), target, design));
        for (const part of designed.parts) {
          expect(Math.abs(Math.log(part.chosen / part.exact))).toBeLessThan(
            part.spec.kind === 'resistor' ? 0.072 : 0.203,
          );
        }
        const values = valuesOf(designed, 'chosen');
        expect(drawingFaults(topology.drawing(target.response, values), designed.parts, values)).toEqual([]);
      }
    },
  );

  test('with a real op-amp nothing of it grows by itself', () => {
    if (topology.opAmps(topology.responses[0]) === 0) return;
    const design = designWith('capacitors');
    for (const response of topology.responses)
      for (const q of topology.order === 2 ? [Math.SQRT1_2, 5] : [0.5]) {
        const bare = { response, order: topology.order, freqHz: 1000, q };
        const { natural } = topology.gainRange(bare);
        const designed = must(designStage(stageOf(topology), { ...bare, gain: natural }, design));
        const circuit = compileStage(design, designed, { values: 'chosen', devices: 'real' });
        for (const pole of naturalFrequencies(circuit, 6000)) expect(pole.re).toBeLessThan(0);
      }
  });

  test(
    'joint loss is measured against the termination it declares: none into that load, a loss into a ' + 'heavier one',
    () => {
      const base = designWith('capacitors');
      const [response] = topology.responses;
      const target: SectionTarget = {
        response,
        order: topology.order,
        freqHz: 1000,
        q: topology.order === 2 ? Math.SQRT1_2 : 0.5,
        gain: 1,
      };
      const joint = (loadOhm: number | null) => {
        const design: Design = {
          ...base,
          brief: { ...base.brief, load: { name: 'l', ohm: loadOhm } },
        };
        const way = {
          ...design.variants[0].ways[0],
          plans: [],
          stages: [
            {
              ...stageOf(topology),
              target: {
                kind: 'own' as const,
                of: null,
                response,
                order: topology.order,
                freqHz: 1000,
                q: target.q,
                gainDb: 0,
              },
            },
          ],
        };
        const variant = { ...design.variants[0], ways: [way] };
        const built = must(compile(design, variant, AS_BUILT));
        const grid = logGrid(10, 1e5, 101);
        return judgeJoints(design, way, built, solver, levelsDb(cascadeResponse([target], grid)), grid)[1];
      };
      expect(joint(topology.load.ohm).lossDb).toBeCloseTo(0, 9);
      const passive = topology.opAmps(response) === 0;
      const heavier = joint(topology.load.ohm === null ? 10e3 : topology.load.ohm / 2);
      if (passive) {
        expect(Math.abs(heavier.lossDb)).toBeGreaterThan(0.3);
        expect(heavier.seesOhm).toBeCloseTo(topology.load.ohm === null ? 10e3 : topology.load.ohm / 2, 4);
      } else expect(heavier.lossDb).toBeCloseTo(0, 2);
      expect(compileBefore(base, { ...base.variants[0].ways[0] }, [], 0).structure.nodeOf('cut')).toBeDefined();
    },
  );
});

const BAND = { cutoffHz: 1000, bandwidthHz: 400 };

describe.each(ALIGNMENTS)('cascades: $name', (alignment) => {
  test.each(PLAN_RESPONSES)(
    '%s, every order, in every circuit that can build it: the whole path meets the plan within 0.1 %%',
    (response) => {
      for (const order of ordersIn(response, alignment))
        for (const cutoffAt of alignment.ownCutoff && response === 'lowpass'
          ? (['own', '-3db'] as const)
          : (['own'] as const)) {
          const plan = {
            ...createPlan('p', response, alignment.id as AlignmentId, order, 1000),
            ...BAND,
            cutoffAt,
          };
          const base = createDesign('cascade', () => [plan], makeId);
          const { targets } = wayTargets(base.variants[0].ways[0]);
          const able = SECTION_TOPOLOGIES.filter(
            (t) => t.family === 'op-amp' && targets.some((target) => canServe(t, target)),
          );
          for (const topology of able) {
            const variant = withTopology(base.variants[0], topology.id);
            const compiled = compile(base, variant, IDEAL);
            if (!compiled.ok) {
              // Only what a circuit says of itself that it cannot do.
              expect(['q-too-low', 'null-apart']).toContain(compiled.code);
              continue;
            }
            const [way] = compiled.value.ways;
            const grid = logGrid(100, 10e3, 21);
            const [got] = must(solver.sweep(compiled.value.circuit, grid, [way.output]));
            const levels = levelsDb(got);
            levelsDb(cascadeResponse(idealTargets(variant.ways[0]), grid)).forEach((level, i) => {
              // A thousandth is 0.0087 dB; on a null's floor decibels mean little.
              if (level > -120) expect(Math.abs(levels[i] + 20 * Math.log10(way.shortfall) - level)).toBeLessThan(1e-3);
            });
            // Stages one by one where no band's many sections ask for it: each circuit's own tests have its targets.
            for (const designed of response === 'lowpass' ? way.stages : []) {
              if (designed.role !== 'section') throw new Error('a plan has only sections');
              const section = dominantSection(
                compileStage(base, designed, { values: 'exact', devices: 'ideal' }),
                designed.target.order,
                designed.target.freqHz,
              );
              expect((section?.freqHz as number) / designed.target.freqHz).toBeCloseTo(1, 5);
              if (section?.q !== undefined) expect(section.q / designed.target.q).toBeCloseTo(1, 4);
            }
          }
        }
    },
    120_000,
  );
});
