import type { NetworkTopology } from './define-topology';

type Given = Omit<NetworkTopology, 'role' | 'inputs' | 'outputs' | 'modes' | 'polarity' | 'source' | 'opAmps' | 'noiseGain' | 'load'> & Partial<Pick<NetworkTopology, 'outputs' | 'modes' | 'polarity' | 'opAmps' | 'noiseGain' | 'load'>>;

/** A network with what most have in common filled in: one form, no op-amp, driven stiffly, feeding an open circuit. */
export const defineNetwork = (given: Given): NetworkTopology => ({
  role: 'network', inputs: ['in'], outputs: ['out'], modes: ['normal'], polarity: 1, source: { ohm: 0 }, opAmps: () => 0, noiseGain: () => 1, load: () => ({ ohm: null }), ...given,
});
