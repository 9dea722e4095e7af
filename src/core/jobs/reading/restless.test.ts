import { AS_BUILT, compile } from '../../design/compiled/compile';
import { designatorsOf } from '../../design/stages/designators';
import { failure, must } from '../../result';
import { designWith } from '../../testing/voice-design';
import { transistorLadder } from '../../topology/voice/transistor-ladder';
import { restless } from './restless';

const design = designWith(transistorLadder, { cutoffHz: 700, feedback: 3 });
const [variant] = design.variants;
const { netlist, ways, live } = must(compile(design, variant, AS_BUILT));

test('a node that does not settle is told by the device at it, and by the supply on which it would rest', () => {
  const transistors = netlist.elements.filter((e) => e.definition.kind === 'npn');
  const { unknowns } = live!.circuit.structure;
  // A node by the name that the solver knows it by.
  const at = transistors.find((q) => q.nodes.some((n) => unknowns.includes(n)))!;
  const node = at.nodes.find((n) => unknowns.includes(n))!;
  const told = restless(design, variant, failure('no-convergence', { node, iterations: 200 }));
  const first = transistors.find((q) => q.nodes.includes(node))!;
  expect(told.data).toEqual({
    node,
    iterations: 200,
    device: designatorsOf(ways).get(first.name),
    volts: 1.5 * design.brief.supply.volts,
  });
  expect(told.data.device).toMatch(/^Q\d+$/);
});

test('at no device none is named; what failed otherwise is given back', () => {
  const elsewhere = restless(design, variant, failure('no-convergence', { node: 'nowhere', iterations: 200 }));
  expect(elsewhere.data).not.toHaveProperty('device');
  const other = failure('no-headroom', { stage: 's' });
  expect(restless(design, variant, other)).toBe(other);
});
