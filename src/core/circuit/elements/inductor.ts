import { stampBranchCurrent, type ElementDefinition } from '../element';

/** A coil, henry, with its current as an unknown: v = L di/dt. */
export const inductor: ElementDefinition = {
  kind: 'inductor',
  terminals: 2,
  values: ['inductance'],
  branches: 1,
  stamp(s) {
    const branch = s.branch();
    stampBranchCurrent(s, s.node(0), s.node(1), branch);
    s.add(branch, s.node(0), 0, 1, 'constant');
    s.add(branch, s.node(1), 0, -1, 'constant');
    s.add(branch, branch, 1, -1, 'direct', 0);
  },
};
