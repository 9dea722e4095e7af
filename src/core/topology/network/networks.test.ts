import { AS_BUILT, compile } from '../../design/compiled/compile';
import { createNetwork } from '../../design/making/create';
import { designStage, valuesOf } from '../../design/stages/stage-design';
import { rationalAt } from '../../filter/rational';
import { magnitude } from '../../math/complex';
import { logGrid } from '../../math/grid';
import { must } from '../../result';
import { parametersOf, type NetworkTopology } from '../kit/define-topology';
import type { Parameters } from '../kit/parameter';
import { NETWORK_TOPOLOGIES } from '../index';
import { withNumbers } from '../kit/working';
import { drawingFaults } from '../testing/drawing-faults';
import { base, designed, makeId, simulated, solver } from '../testing/designed-network';

/** A ladder’s reflection zeros are double roots, which leave it half the digits. */
const digitsOf = ({ id }: NetworkTopology): number => (id === 'leapfrog-ladder' ? 5 : 8);

/**
 * How near, and of what least size: a junction’s leak moves the channel it rules by a millionth, and a phaser’s notches
 * have no size of their own.
 */
const nearOf = ({ id }: NetworkTopology): { share: number; least: number } =>
  id === 'junction-fet-phaser' ? { share: 5e-5, least: 0.1 } : { share: 1e-6, least: 1e-7 };

/** Every parameter at its start, and one at a time well off it. */
function askings(topology: NetworkTopology, form: string): Parameters[] {
  const specs = parametersOf(topology, form);
  const start: Record<string, number> = Object.fromEntries(topology.parameters.map((p) => [p.name, p.initial]));
  const off = specs.flatMap(({ name, min, max, initial, kind }) => {
    const near =
      kind === 'decibel' || kind === 'degree' ? [initial * 0.6, initial * 1.3] : [initial * 0.4, initial * 1.9];
    return near.filter((v) => v >= min && v <= max).map((v) => ({ ...start, [name]: v }));
  });
  return [start, ...off];
}

const cases = NETWORK_TOPOLOGIES.flatMap((topology) =>
  topology.modes.map((form) => ({ id: topology.id, form, topology })),
);

describe.each(cases)('$id, $form', ({ topology, form }) => {
  test('says what it is, why, what to watch and where it comes from', () => {
    expect(topology.reason.length).toBeGreaterThan(30);
    expect(topology.cautions.length * topology.sources.length).toBeGreaterThan(0);
    expect(topology.outputs).toContain('out');
  });

  test.each(['capacitors', 'resistors'] as const)(
    '%s first: designed for, measured from the exact parts, every parameter is what was asked',
    (chooseFirst) => {
      for (const wanted of askings(topology, form)) {
        const network = designed(topology, form, wanted, chooseFirst);
        const got = topology.measures(form, valuesOf(network, 'exact'), wanted);
        for (const { name } of parametersOf(topology, form))
          expect(got[name] / wanted[name]).toBeCloseTo(1, digitsOf(topology));
        for (const { exact } of network.parts) expect(exact).toBeGreaterThan(0);
      }
    },
  );

  test('the textbook’s transfer function is what the netlist does', () => {
    if (!topology.transfer)
      return expect([
        'tone-control',
        'leapfrog-ladder',
        'transistor-ladder',
        'diode-ladder',
        'diode-band-pass',
        'common-emitter',
        'emitter-follower',
        'wah-inductor',
        'wah-inductorless',
      ]).toContain(topology.id);
    for (const wanted of askings(topology, form)) {
      const network = designed(topology, form, wanted);
      const parts = valuesOf(network, 'exact');
      const centre = network.cornersHz[0] ?? 1000;
      const grid = logGrid(centre / 300, centre * 300, 31);
      const got = simulated(network, grid);
      const rational = topology.transfer(form, parts, wanted);
      grid.forEach((f, i) => {
        const { re, im } = rationalAt(rational, f);
        const size = Math.max(magnitude({ re, im }), nearOf(topology).least);
        expect(Math.hypot(got[2 * i] - re, got[2 * i + 1] - im) / size).toBeLessThan(nearOf(topology).share);
      });
    }
  });

  test('impedance scaling leaves the response alone', () => {
    if (topology.load(askings(topology, form)[0]).ohm !== null) return;
    // A junction's exponential has a size of its own.
    if (
      [
        'transistor-ladder',
        'diode-ladder',
        'diode-band-pass',
        'optocoupler-gate',
        'junction-fet-phaser',
        'diode-legs',
        'common-emitter',
        'emitter-follower',
        'wah-inductor',
        'wah-inductorless',
      ].includes(topology.id)
    )
      return;
    const network = designed(topology, form, askings(topology, form)[0]);
    const factor = { resistor: 7, potentiometer: 7, inductor: 7, capacitor: 1 / 7, current: 1 / 7, voltage: 1 };
    const scaled = {
      ...network,
      parts: network.parts.map((p) => ({ ...p, exact: p.exact * factor[p.spec.kind] })),
    };
    const grid = logGrid(20, 20e3, 13);
    const [a, b] = [simulated(network, grid), simulated(scaled, grid)];
    a.forEach((v, i) => expect(v).toBeCloseTo(b[i], 9));
  });

  test('a pinned part is kept and the rest meets what was asked around it, or the failure names it', () => {
    const wanted = askings(topology, form)[0];
    for (const part of designed(topology, form, wanted).parts) {
      const value = part.exact * 1.07;
      const { stage, controls } = createNetwork(topology, makeId, { form, parameters: wanted });
      const pinned = {
        ...stage,
        parts: {
          [part.spec.name]: { use: { kind: 'single' as const, values: [value] }, pinned: true },
        },
      };
      const result = designStage(pinned, null, base, controls);
      if (!result.ok) {
        expect(['over-pinned', 'load-too-heavy', 'no-ladder']).toContain(result.code);
        continue;
      }
      const parts = valuesOf(result.value, 'exact');
      expect(parts[part.spec.name]).toBeCloseTo(value, 14);
      const got = topology.measures(form, parts, wanted);
      for (const { name } of parametersOf(topology, form))
        expect(got[name] / wanted[name]).toBeCloseTo(1, digitsOf(topology));
    }
  });

  test('snapped parts stay in range, the drawing is clean, the working puts every number in', () => {
    for (const wanted of askings(topology, form)) {
      const network = designed(topology, form, wanted);
      for (const { spec, chosen, exact } of network.parts)
        expect(Math.abs(Math.log(chosen / exact))).toBeLessThan(spec.kind === 'resistor' ? 0.072 : 0.21);
      const values = valuesOf(network, 'chosen');
      expect(drawingFaults(topology.drawing(form, values), network.parts, values)).toEqual([]);
      const lines = topology.working(form, valuesOf(network, 'exact'), wanted);
      expect(lines.length).toBeGreaterThan(0);
      for (const { tex, value } of lines) {
        expect(value).not.toMatch(/NaN|undefined|–$/);
        expect(withNumbers(tex, values)).not.toMatch(/[RCLP]_(\{?[0-9fib]\}?)(?![a-z])/);
      }
    }
  });

  test('on a path it compiles, loaded and from a real source, and its names are the netlist’s', () => {
    const { stage, controls } = createNetwork(topology, makeId, { form });
    const variant = { ...base.variants[0], controls };
    const way = { ...variant.ways[0], stages: [stage] };
    const built = must(compile(base, { ...variant, ways: [way] }, AS_BUILT));
    const grid = logGrid(20, 20e3, 9);
    const [got] = must(solver.sweep(built.circuit, grid, [built.ways[0].output]));
    expect(got.every(Number.isFinite)).toBe(true);
    const names = new Set(topology.parts(form).map((p) => p.name));
    built.parts.forEach((p) => expect(names.has(p.part)).toBe(true));
  });
});
