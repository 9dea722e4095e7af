import { stampBranchCurrent, type ElementDefinition } from '../element';

/** An independent voltage source: AC magnitude (V) and phase (degrees). */
export const voltageSource: ElementDefinition = {
  kind: 'voltage-source',
  terminals: 2,
  values: ['magnitude', 'phaseDeg'],
  branches: 1,
  stamp(s) {
    const branch = s.branch();
    stampBranchCurrent(s, s.node(0), s.node(1), branch);
    s.add(branch, s.node(0), 0, 1, 'constant');
    s.add(branch, s.node(1), 0, -1, 'constant');
    s.drive(branch, 1, 0, 1);
  },
};
