import type { ElementDefinition } from '../element';

/**
 * An independent current source: flows from its first node through itself to its second. AC magnitude (A), phase
 * (degrees).
 */
export const currentSource: ElementDefinition = {
  kind: 'current-source',
  terminals: 2,
  values: ['magnitude', 'phaseDeg'],
  branches: 0,
  stamp(s) {
    s.drive(s.node(0), -1, 0, 1);
    s.drive(s.node(1), 1, 0, 1);
  },
};
