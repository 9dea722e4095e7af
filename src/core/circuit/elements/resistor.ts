import { stampAdmittance, stampBranch, thermalNoise, type Behaviour, type ElementDefinition } from '../element';

const noise = (b: Behaviour) => b.noiseCurrent(0, 1, thermalNoise(b, b.graph.divide(b.graph.one, b.value(0))));

/** A resistor, ohm. Zero is not stamped: a short merges nodes. */
export const resistor: ElementDefinition = {
  kind: 'resistor',
  terminals: 2,
  leads: ['a', 'b'],
  values: ['resistance'],
  branches: 0,
  stamp: (s) => stampAdmittance(s, 0, 'reciprocal', 0),
  behave: noise,
};

/**
 * A resistor with its current as an unknown, v = R i: for resistances so small among their neighbours that their
 * conductance would drown the others' in the sums at its nodes.
 */
export const smallResistor: ElementDefinition = {
  kind: 'small-resistor',
  terminals: 2,
  values: ['resistance'],
  branches: 1,
  stamp(s) {
    const branch = stampBranch(s);
    s.add(branch, branch, 0, -1, 'direct', 0);
  },
  behave: noise,
};
