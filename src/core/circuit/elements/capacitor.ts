import { stampAdmittance, type ElementDefinition } from '../element';

/** A capacitor, farad. */
export const capacitor: ElementDefinition = {
  kind: 'capacitor',
  terminals: 2,
  leads: ['a', 'b'],
  values: ['capacitance'],
  branches: 0,
  stamp: (s) => stampAdmittance(s, 1, 'direct', 0),
};
