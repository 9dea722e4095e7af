import { failure, success, type Result } from '../result';
import type { Curve } from './driver';

/**
 * A response taken close to the cone, where the room does not count, below a frequency, and one from afar above it: the
 * near one is raised or lowered to meet the far one there, over a third of an octave. Phase is kept only where both
 * have it. Fails with `no-overlap` (`fromHz`, `toHz`: where both are known).
 *
 * @param atHz where they meet, Hz.
 */
export function splice(near: Curve, far: Curve, atHz: number): Result<{ curve: Curve; shiftDb: number }, 'no-overlap'> {
  const [from, to] = [
    Math.max(near.freqHz[0], far.freqHz[0]),
    Math.min(near.freqHz[near.freqHz.length - 1], far.freqHz[far.freqHz.length - 1]),
  ];
  const [low, high] = [atHz / 2 ** (1 / 6), atHz * 2 ** (1 / 6)];
  if (!(from <= low && high <= to)) return failure('no-overlap', { fromHz: from, toHz: to });
  const points = 9;
  const mean = (curve: Curve) =>
    Array.from({ length: points }, (_, i) => levelIn(curve, low * (high / low) ** (i / (points - 1)))).reduce(
      (a, b) => a + b,
      0,
    ) / points;
  const shiftDb = mean(far) - mean(near);
  const both = near.phaseDeg !== null && far.phaseDeg !== null;
  const below = near.freqHz.flatMap((f, i) =>
    f < atHz ? [{ f, v: near.values[i] + shiftDb, p: near.phaseDeg?.[i] ?? 0 }] : [],
  );
  const above = far.freqHz.flatMap((f, i) => (f >= atHz ? [{ f, v: far.values[i], p: far.phaseDeg?.[i] ?? 0 }] : []));
  const all = [...below, ...above];
  return success({
    shiftDb,
    curve: { freqHz: all.map((x) => x.f), values: all.map((x) => x.v), phaseDeg: both ? all.map((x) => x.p) : null },
  });
}

/** Level at a frequency inside a curve, dB, straight over the logarithm. */
function levelIn({ freqHz, values }: Curve, hz: number): number {
  const k = Math.min(freqHz.length - 2, Math.max(0, freqHz.findIndex((f) => f > hz) - 1));
  const t = Math.log(hz / freqHz[k]) / Math.log(freqHz[k + 1] / freqHz[k]);
  return values[k] + t * (values[k + 1] - values[k]);
}
