import { stampBranch, type ElementDefinition } from '../element';

/** A coil, henry, with its current as an unknown: v = L di/dt. */
export const inductor: ElementDefinition = {
  kind: 'inductor',
  terminals: 2,
  leads: ['a', 'b'],
  values: ['inductance'],
  branches: 1,
  stamp(s) {
    const branch = stampBranch(s);
    s.add(branch, branch, 1, -1, 'direct', 0);
  },
};
