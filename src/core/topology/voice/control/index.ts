import type { NetworkTopology } from '../../kit/define-topology';
import type { ControlChain } from './control-chain';
import { exponentialConverter } from './exponential-converter';
import { linearConverter } from './linear-converter';

/** What can make a voice's control current. A new one is one file and one line here. */
export const CONTROL_CHAINS: readonly ControlChain[] = [exponentialConverter, linearConverter];

export const findChain = (id: string): ControlChain | undefined => CONTROL_CHAINS.find((chain) => chain.id === id);

/** The chain that a voice is usually moved by; null where it takes no current. */
export const usualChain = (topology: NetworkTopology, form: string): ControlChain | null => {
  const outlet = topology.outlet?.(form);
  return (outlet && CONTROL_CHAINS.find(({ usualFor }) => usualFor.includes(outlet.kind))) ?? null;
};
