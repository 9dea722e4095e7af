import { createDesign, createNetwork } from '../../../design/making/create';
import { withControlChain } from '../../../design/making/control-chain';
import { AS_BUILT, compile } from '../../../design/compiled/compile';
import type { Design } from '../../../design/document/schema';
import { designStage, valuesOf } from '../../../design/stages/stage-design';
import { stageTopology } from '../../../design/stages/stage-topology';
import { must } from '../../../result';
import { NETWORK_TOPOLOGIES } from '../../index';
import { drawingFaults } from '../../testing/drawing-faults';
import { builtNets, drawnNets } from '../../testing/drawn-netlist';
import { SMALL_NPN } from '../stage/small-transistor';
import { CONTROL_CHAINS } from './index';

let made = 0;
const makeId = () => `c${made++}`;
const base = createDesign('controlled', () => [], makeId);
const supplies: Record<string, Design['brief']['supply']> = {
  'two supplies': { kind: 'dual', volts: 12 },
  'one battery': { kind: 'single', volts: 9, virtualGroundOhm: 10 },
};

const cases = NETWORK_TOPOLOGIES.filter((t) => t.outlet).flatMap((topology) =>
  [topology.modes[0], topology.modes[topology.modes.length - 1]].flatMap((form) =>
    CONTROL_CHAINS.flatMap((chain) =>
      chain.forms.map((chainForm) => ({ id: topology.id, topology, form, chain, chainForm })),
    ),
  ),
);

test('every voice that a current moves says where it takes it', () => {
  const moved = NETWORK_TOPOLOGIES.filter((t) => t.modes.some((m) => t.parts(m).some((p) => p.kind === 'current')));
  expect(moved.length).toBeGreaterThan(9);
  expect(moved.filter((t) => !t.outlet).map((t) => t.id)).toEqual([]);
});

describe.each(cases)('$id, $form, on $chain.id ($chainForm)', ({ topology, form, chain, chainForm }) => {
  const { stage: bare } = createNetwork(topology, makeId, { form });
  const { stage, controls } = must(withControlChain(bare, chain, base, makeId, { form: chainForm }));
  const whole = stageTopology(stage, { plans: [] });
  const designed = must(designStage(stage, null, base, controls));
  const values = valuesOf(designed, 'exact');

  test('its drawing, walked along its wires, is the circuit that is built, nothing written over anything', () => {
    const drawing = whole.drawing(form as never, values);
    expect(drawnNets(drawing)).toEqual(builtNets(whole, form, values, drawing));
    const own = topology.drawing(form, values);
    const before = drawingFaults(own, [], values).filter((fault) => !fault.startsWith('drawn'));
    const faults = drawingFaults(drawing, designed.parts, values);
    expect(faults.filter((fault) => !before.includes(fault))).toEqual([]);
  });

  test.each(Object.entries(supplies))(
    'on %s it rests, and the voice gets what it was designed for with its knob half way',
    (_, supply) => {
      const brief = { ...base.brief, supply };
      const bench = { ...base, brief };
      const { stage: here, controls: own } = must(withControlChain(bare, chain, bench, makeId, { form: chainForm }));
      const [variant] = base.variants.map((v) => ({
        ...v,
        controls: own,
        ways: v.ways.map((way) => ({ ...way, stages: [here] })),
      }));
      const design = { ...base, brief, variants: [variant] };
      const built = must(compile(design, variant, AS_BUILT));
      const [found] = built.ways[0].stages;
      const voice = must(designStage(bare, null, bench));
      const wanted = voice.parts.find((p) => p.spec.name === 'I1')!.exact;
      // A wiper leaves ten ohms at the end it is turned to.
      expect(found.besides.chosen.I1 / wanted).toBeCloseTo(1, 2);
      // What the transistors' base currents take of it is the bench's to trim.
      const { circuit, rest } = built.live!;
      const at = (node: string) => {
        const unknown = circuit.structure.nodeOf(node);
        return unknown === undefined || unknown < 0 ? 0 : rest[unknown];
      };
      const emitter = circuit.structure.slotOf(`${here.id}.Re1`)!;
      const amps = (at('rail.plus') - at(`${here.id}.cv-e1`)) / circuit.values[emitter];
      const { kind, count } = topology.outlet!(form);
      const ratio = amps / (kind === 'pins' ? count : 1) / wanted;
      // A converter's two transistors have other collector voltages: what that is by its Early voltage.
      const early = chain.law === 'octaves' ? 1 + at(`${here.id}.cv-drawn`) / (1 / SMALL_NPN[5]) : 1;
      expect(ratio / early).toBeGreaterThan(0.97);
      expect(ratio / early).toBeLessThan(1.03);
    },
  );

  test('every part is in the list of parts once, and has a designator of its own', () => {
    const specs = whole.role === 'network' ? whole.parts(form).map((p) => p.name) : [];
    expect(new Set(specs).size).toBe(specs.length);
    expect(designed.parts.map((p) => p.spec.name).sort()).toEqual([...specs].sort());
  });
});
