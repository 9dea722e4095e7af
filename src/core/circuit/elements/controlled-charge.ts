import type { ElementDefinition } from '../element';

/**
 * Voltage-controlled charge: capacitance · v(2,3) is held between nodes 0 and 1; its change flows from node 0 through
 * the element to node 1.
 */
export const controlledCharge: ElementDefinition = {
  kind: 'controlled-charge',
  terminals: 4,
  values: ['capacitance'],
  branches: 0,
  stamp(s) {
    s.add(s.node(0), s.node(2), 1, 1, 'direct', 0);
    s.add(s.node(0), s.node(3), 1, -1, 'direct', 0);
    s.add(s.node(1), s.node(2), 1, -1, 'direct', 0);
    s.add(s.node(1), s.node(3), 1, 1, 'direct', 0);
  },
};
