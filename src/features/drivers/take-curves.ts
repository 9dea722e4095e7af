import type { Curve, Driver } from '@/core/loudspeaker/driver';
import { splice } from '@/core/loudspeaker/splice';
import { success, type Result } from '@/core/result';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { startJob } from '@/workers/job-client';

export type ChangeDriver = (patch: Partial<Driver>) => void;

/** A driver whose curves are taken: what is changed of it, and how far off an impedance's circuit is, per cent. */
export interface DriverEdits {
  readonly driver: Driver;
  readonly change: ChangeDriver;
  readonly onFitted: (offPct: number) => void;
}

/** An impedance as it was measured, with the circuit that is fitted to it. Fails as fitting does. */
export async function takeImpedance(
  curve: Curve,
  change: ChangeDriver,
  onFitted: (offPct: number) => void,
): Promise<Result<unknown>> {
  const fit = await startJob<'fit-impedance'>({ kind: 'fit-impedance', curve }).answer;
  if (!fit.ok) return fit;
  onFitted(fit.value.offPct);
  change({ measuredImpedance: curve, impedance: fit.value.model });
  return fit;
}

/** A response from close before the cone, joined to the one from afar. Fails with `no-overlap`. */
export function joinNear(near: Curve, far: Curve, meetHz: number, change: ChangeDriver): Result<string> {
  const joined = splice(near, far, meetHz);
  if (!joined.ok) return joined;
  change({ response: { kind: 'curve', curve: joined.value.curve } });
  const words =
    `Joined at ${formatQuantity(meetHz, 'frequency')}, the near one shifted by ` +
    `${formatFixed(joined.value.shiftDb, 1)}\u202fdB.`;
  return success(words);
}
