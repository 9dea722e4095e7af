import { RAIL_NODES } from '../../design/compiled/writing';
import type { Compilation } from '../../design/compiled/compile';

/**
 * The least supply, V from rail to rail, that a circuit can work on as it rests: op-amps need their headroom at both
 * rails, and a current source cannot drive a node past the rail that feeds it. Volts at rest count from the middle of
 * the supply. 0 where nothing asks for any.
 */
export function leastSupply({ live, netlist, ways }: Compilation): number {
  const opAmps = ways
    .flatMap((w) => w.stages)
    .filter((s) => !s.stage.bypassed && s.opAmps > 0)
    .map((s) => 2 * (s.device?.headroomVolts ?? 0));
  return Math.max(0, ...opAmps, 2 * furthestDriven(live, netlist));
}

/** How far from the middle of the supply the furthest node lies that a current source drives, V. */
function furthestDriven(live: Compilation['live'], { elements }: Compilation['netlist']): number {
  if (!live) return 0;
  const { structure } = live.circuit;
  const volts = (node: string) => {
    const unknown = structure.nodeOf(node) ?? -1;
    return unknown < 0 ? 0 : Math.abs(live.rest[unknown]);
  };
  return elements.reduce(
    (most, { definition, source, nodes }) =>
      definition.kind === 'current-source' && (source?.dc ?? 0) !== 0
        ? Math.max(most, ...nodes.filter((node) => node !== RAIL_NODES.plus && node !== RAIL_NODES.minus).map(volts))
        : most,
    0,
  );
}
