import { stampBranch, type ElementDefinition } from '../element';

/** Voltage-controlled voltage source: v(0,1) = gain · v(2,3). */
export const vcvs: ElementDefinition = {
  kind: 'vcvs',
  terminals: 4,
  values: ['gain'],
  branches: 1,
  stamp(s) {
    const branch = stampBranch(s);
    s.add(branch, s.node(2), 0, -1, 'direct', 0);
    s.add(branch, s.node(3), 0, 1, 'direct', 0);
  },
};

/** Voltage-controlled current source: transconductance · v(2,3) flows from node 0 through the source to node 1. */
export const vccs: ElementDefinition = {
  kind: 'vccs',
  terminals: 4,
  values: ['transconductance'],
  branches: 0,
  stamp(s) {
    s.add(s.node(0), s.node(2), 0, 1, 'direct', 0);
    s.add(s.node(0), s.node(3), 0, -1, 'direct', 0);
    s.add(s.node(1), s.node(2), 0, -1, 'direct', 0);
    s.add(s.node(1), s.node(3), 0, 1, 'direct', 0);
  },
};

/** Current-controlled current source, by the current of a named branch. */
export const cccsFrom = (control: string): ElementDefinition => ({
  kind: 'cccs',
  between: [control],
  amid: ([name]) => cccsFrom(name),
  terminals: 2,
  values: ['gain'],
  branches: 0,
  stamp(s) {
    s.add(s.node(0), s.branchOf(control), 0, 1, 'direct', 0);
    s.add(s.node(1), s.branchOf(control), 0, -1, 'direct', 0);
  },
});

/** Current-controlled voltage source, by the current of a named branch. */
export const ccvsFrom = (control: string): ElementDefinition => ({
  kind: 'ccvs',
  between: [control],
  amid: ([name]) => ccvsFrom(name),
  terminals: 2,
  values: ['transresistance'],
  branches: 1,
  stamp(s) {
    const branch = stampBranch(s);
    s.add(branch, s.branchOf(control), 0, -1, 'direct', 0);
  },
});
