import type { SectionTopology } from './define-topology';

type Usual = 'role' | 'inputs' | 'outputs' | 'modes' | 'source' | 'load';

/** A section with what most have in common filled in: one input and output, driven stiffly, feeding an open circuit. */
export const defineSection = (
  given: Omit<SectionTopology, Usual> & Partial<Pick<SectionTopology, Usual>>,
): SectionTopology => ({
  role: 'section',
  inputs: ['in'],
  outputs: ['out'],
  modes: ['normal'],
  source: { ohm: 0 },
  load: { ohm: null },
  ...given,
});
