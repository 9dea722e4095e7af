import { CircuitEquations } from '../../analysis/rest/equations';
import { success, type Result } from '../../result';
import { topologyById } from '../../topology/index';
import { CURRENT } from '../../topology/voice/control/controlled';
import { deliveredBy } from '../../topology/voice/control/outlet';
import { BENCH_C } from './stage-placer';
import { type Live } from './netlist-writer';
import type { Stage, Variant } from '../document/schema';

/** What a voice gets of its chain at rest, A: into an OTA's pin, out of its tail, into its first node. */
export function deliveredAmps({ live }: { readonly live: Live | null }, stage: Stage, temperatureC = BENCH_C): number {
  const topology = topologyById(stage.topology);
  const outlet = topology.role === 'network' ? topology.outlet?.(stage.mode) : undefined;
  if (!live || !outlet) return NaN;
  const { device, flow } = deliveredBy(outlet);
  const equations = new CircuitEquations(live.circuit, { temperatureC });
  equations.evaluate(live.rest, false);
  const found = equations.devices.find(({ stamp }) => stamp.element === `${stage.id}.${device}`);
  return found ? Math.abs(found.result[flow]) : NaN;
}

/** A voice without its chain, on a current. */
export function onCurrent(stage: Stage, amps: number): Stage {
  const { controlledBy: _chain, ...bare } = stage;
  return { ...bare, parts: { ...stage.parts, [CURRENT]: { use: { kind: 'single', values: [amps] } } } };
}

export const hasChain = ({ ways }: Pick<Variant, 'ways'>): boolean =>
  ways.some(({ stages }) => stages.some((s) => s.controlledBy !== undefined && !s.bypassed));

/**
 * A variant whose chains are the currents that they come to at rest: they settle within microseconds, and what is heard
 * goes nowhere through them. @param compiled the variant with its chains.
 */
export function foldedChains(
  variant: Variant,
  compiled: Result<{ readonly live: Live | null }>,
  temperatureC?: number,
): Result<Variant> {
  if (!compiled.ok) return compiled;
  return success({
    ...variant,
    ways: variant.ways.map((way) => ({
      ...way,
      stages: way.stages.map((stage) =>
        stage.controlledBy && !stage.bypassed
          ? onCurrent(stage, deliveredAmps(compiled.value, stage, temperatureC))
          : stage,
      ),
    })),
  });
}
