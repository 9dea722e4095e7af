import type { NetworkTopology } from './define-topology';

type Given = Omit<
  NetworkTopology,
  'role' | 'inputs' | 'outputs' | 'modes' | 'polarity' | 'source' | 'opAmps' | 'load'
> &
  Partial<Pick<NetworkTopology, 'outputs' | 'modes' | 'polarity' | 'opAmps' | 'load'>>;

/** A network with what most have in common filled in: one form, no op-amp, driven stiffly, feeding an open circuit. */
export const defineNetwork = (given: Given): NetworkTopology => ({
  role: 'network',
  inputs: ['in'],
  outputs: ['out'],
  modes: ['normal'],
  polarity: 1,
  source: { ohm: 0 },
  opAmps: () => 0,
  load: () => ({ ohm: null }),
  ...given,
});
