import type { ElementDefinition } from '../element';

/** Builds the definition that couples two coils, by name, with coefficient k: M = k sqrt(L1 L2). */
export const couplingBetween = (first: string, second: string): ElementDefinition => ({
  kind: 'coupling',
  terminals: 0,
  values: ['coefficient'],
  branches: 0,
  between: [first, second],
  amid: ([a, b]) => couplingBetween(a, b),
  stamp(s) {
    const slots = [s.slotOf('', 0), s.slotOf(first, 0), s.slotOf(second, 0)] as const;
    s.addMutual(s.branchOf(first), s.branchOf(second), -1, slots);
    s.addMutual(s.branchOf(second), s.branchOf(first), -1, slots);
  },
});
