import { stampBranch, type ElementDefinition } from '../element';

/** An independent voltage source: AC magnitude (V) and phase (degrees). */
export const voltageSource: ElementDefinition = {
  kind: 'voltage-source',
  terminals: 2,
  leads: ['tip', 'sleeve'],
  values: ['magnitude', 'phaseDeg'],
  branches: 1,
  stamp(s) {
    const branch = stampBranch(s);
    s.drive(branch, 1, 0, 1);
  },
};
