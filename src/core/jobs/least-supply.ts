import type { Compilation } from '../design/compile';

/**
 * The least supply, V from rail to rail, that a circuit can work on as it rests: op-amps need their headroom at both rails, and a current source cannot drive a node past the rail that feeds it.
 * Volts at rest count from the middle of the supply. 0 where nothing asks for any.
 */
export function leastSupply({ live, ways }: Compilation): number {
  const opAmps = ways.flatMap((w) => w.stages).filter((s) => !s.stage.bypassed && s.opAmps > 0).map((s) => 2 * (s.device?.headroomVolts ?? 0));
  return Math.max(0, ...opAmps, 2 * furthestDriven(live));
}

/** How far from the middle of the supply the furthest node lies that a current source drives, V. */
function furthestDriven(live: Compilation['live']): number {
  if (!live) return 0;
  const { structure, sources } = live.circuit;
  const driven = structure.devices.filter(({ element, definition }) => definition.kind === 'current-source' && (sources?.get(element)?.dc ?? 0) !== 0);
  return driven.reduce((most, { terminals }) => Math.max(most, ...terminals.map((unknown) => (unknown < 0 ? 0 : Math.abs(live.rest[unknown])))), 0);
}
