import { trackShare } from '../../device/potentiometer';
import type { Control, PartControl } from '../document/schema';

/** What a part on a pot, a switch, a jack or a control current comes to where its control stands. */

/** What a control in a part's place comes to at its position, ohm. */
export function controlledOhm(
  held: Extract<PartControl, { kind: 'rheostat' | 'switch' }>,
  controls: readonly Control[],
): number {
  const control = controls.find((c) => c.id === held.control);
  const position = control?.position ?? 0.5;
  if (held.kind === 'switch') return held.ohms[Math.round(position * (held.ohms.length - 1))];
  return held.endOhm + held.totalOhm * trackShare(control?.taper ?? 'linear', position) * (1 + held.mismatchPct / 100);
}

/**
 * What a control current comes to at its control's position, A: its designed value half way, doubling with every
 * octave.
 */
export function controlledAmps(
  held: Extract<PartControl, { kind: 'exponential' }>,
  designedAmps: number,
  controls: readonly Control[],
): number {
  const control = controls.find((c) => c.id === held.control);
  return (
    designedAmps *
    2 **
      (held.octaves *
        (trackShare(control?.taper ?? 'linear', control?.position ?? 0.5) - 0.5) *
        (1 + held.scaleErrorPct / 100))
  );
}

/** What a plug brings, V: nothing where nothing is plugged in. */
export function jackVolts(held: PartControl | undefined, controls: readonly Control[]): number {
  if (held?.kind !== 'voltage') return 0;
  const control = controls.find((c) => c.id === held.control);
  return held.fromVolts + (held.toVolts - held.fromVolts) * (control?.position ?? 0.5);
}

/** The wiper's share of a track of so many ohms end to end. */
export function wiperShare(held: PartControl | undefined, trackOhm: number, controls: readonly Control[]): number {
  if (held?.kind !== 'wiper') return 0.5;
  const control = controls.find((c) => c.id === held.control);
  const left = Math.min(0.49, held.endOhm / trackOhm);
  const turned = Math.min(
    1,
    Math.max(0, trackShare(control?.taper ?? 'linear', control?.position ?? 0.5) * (1 + held.mismatchPct / 100)),
  );
  return left + (1 - 2 * left) * turned;
}
