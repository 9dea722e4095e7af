import { createDesign } from '../design/making/create';
import { designStage, valuesOf } from '../design/stages/stage-design';
import type { Stage } from '../design/document/schema';
import type { SectionTarget } from '../filter/section';
import { TOPOLOGIES } from './index';
import type { SectionTopology, Topology } from './kit/define-topology';
import type { PartValues } from './kit/part';
import { designed, makeId } from './testing/designed-network';
import { builtNets, drawnNets } from './testing/drawn-netlist';

const base = createDesign('drawings', () => [], makeId);

/** Values of a section at its natural gain and, where it can, at half of that: the gain brings a part of its own. */
function sectionValues(topology: SectionTopology, form: SectionTopology['responses'][number]): PartValues[] {
  const bare = { response: form, order: topology.order, freqHz: 1000, q: topology.order === 2 ? 2 : 0.5 };
  const range = topology.gainRange(bare);
  const gains = [range.natural, Math.max(range.min, range.natural / 2), Math.min(range.max, range.natural * 2)];
  return [...new Set(gains)].flatMap((gain) => {
    const target: SectionTarget = { ...bare, gain };
    const stage: Stage = {
      id: 'st',
      topology: topology.id,
      target: { kind: 'own', of: null, response: form, order: topology.order, freqHz: 1000, q: bare.q, gainDb: 0 },
      parts: {},
      device: 'ideal',
      output: 'out',
      mode: 'normal',
      bypassed: false,
    };
    const got = designStage(stage, target, base);
    return got.ok ? [valuesOf(got.value, 'exact')] : [];
  });
}

const valuesIn = (topology: Topology, form: string): PartValues[] =>
  topology.role === 'section'
    ? sectionValues(topology, form as SectionTopology['responses'][number])
    : [
        valuesOf(
          designed(topology, form, Object.fromEntries(topology.parameters.map((p) => [p.name, p.initial]))),
          'exact',
        ),
      ];

const cases = TOPOLOGIES.flatMap((topology) =>
  (topology.role === 'section' ? topology.responses : topology.modes).map((form) => ({
    id: topology.id,
    form,
    topology,
  })),
);

test.each(cases)(
  '$id, $form: its drawing, walked along its wires, is the circuit that is built',
  ({ topology, form }) => {
    const all = valuesIn(topology, form);
    expect(all.length).toBeGreaterThan(0);
    for (const values of all) {
      const drawing = topology.drawing(form as never, values);
      expect(drawnNets(drawing)).toEqual(builtNets(topology, form, values, drawing));
    }
  },
);

test('an op-amp upside down, a wire left out and a wire too many are each another circuit', () => {
  const topology = TOPOLOGIES.find((t) => t.id === 'sallen-key-unity-gain')!;
  const [values] = valuesIn(topology, 'lowpass');
  const drawing = topology.drawing('lowpass' as never, values);
  const built = builtNets(topology, 'lowpass', values, drawing);
  const turned = { ...drawing, opAmps: drawing.opAmps.map((o) => ({ ...o, plusOnTop: !o.plusOnTop })) };
  expect(drawnNets(turned)).not.toEqual(built);
  drawing.wires.forEach((_, left) => {
    const without = { ...drawing, wires: drawing.wires.filter((__, i) => i !== left) };
    expect(drawnNets(without)).not.toEqual(built);
  });
  const crossed = {
    ...drawing,
    wires: [...drawing.wires, [drawing.ports[0].at, drawing.ports[1].at]],
  };
  expect(drawnNets(crossed)).not.toEqual(built);
});
