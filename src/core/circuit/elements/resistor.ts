import { stampAdmittance, type ElementDefinition } from '../element';

/** A resistor, ohm. Zero is not stamped: a short merges nodes. */
export const resistor: ElementDefinition = {
  kind: 'resistor',
  terminals: 2,
  values: ['resistance'],
  branches: 0,
  stamp: (s) => stampAdmittance(s, 0, 'reciprocal', 0),
};
