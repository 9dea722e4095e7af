import type { JobRequest } from '../src/core/jobs/run-job';
import { CommandError } from './command-error';
import { quantity, text, type VerbCall } from './options';

/** What a filter is asked for, by its plan. */
export const SYNTH_HELP = {
  response: 'lowpass, highpass, bandpass, notch or allpass',
  alignment:
    'butterworth, bessel, chebyshev, inverse-chebyshev, elliptic, linkwitz-riley, legendre, gaussian, ' +
    'equiripple-delay or critically-damped',
  order: 'number of poles, 1 to 10; of bandpass and notch even, 2 to 20',
  cutoff: 'Hz',
  center: 'Hz, of bandpass and notch',
  bandwidth: 'Hz, of bandpass and notch',
  'cutoff-at': '-3db, or own: the alignment’s own mark',
  ripple: 'dB, for chebyshev and elliptic (0.5)',
  attenuation: 'dB, for inverse-chebyshev and elliptic (50)',
  gain: 'pass-band peak gain, dB (0)',
} as const;

export function synthRequest(values: VerbCall['values']): Extract<JobRequest, { kind: 'synth' }> {
  return {
    kind: 'synth',
    response: text(values, 'response') ?? 'lowpass',
    alignment: text(values, 'alignment') ?? 'butterworth',
    order: quantity(values, 'order'),
    ...frequencies(values),
    cutoffAt: cutoffAt(values),
    rippleDb: quantity(values, 'ripple', 0.5),
    attenuationDb: quantity(values, 'attenuation', 50),
    topology: text(values, 'topology'),
    gainDb: quantity(values, 'gain', 0),
    series: text(values, 'series') ?? 'exact',
    opAmp: text(values, 'op-amp') ?? 'ideal',
  };
}

/** A cutoff; of a band, a centre and a bandwidth. */
function frequencies(values: VerbCall['values']): { cutoffHz: number; bandwidthHz?: number } {
  const band = ['bandpass', 'notch'].includes(text(values, 'response') ?? '');
  return band
    ? { cutoffHz: quantity(values, 'center'), bandwidthHz: quantity(values, 'bandwidth') }
    : { cutoffHz: quantity(values, 'cutoff') };
}

export function cutoffAt(values: VerbCall['values']): 'own' | '-3db' | undefined {
  const at = text(values, 'cutoff-at')?.toLowerCase();
  if (at !== undefined && at !== '-3db' && at !== 'own')
    throw new CommandError(2, `--cutoff-at '${at}' is not on offer; choose from: -3db, own`);
  return at;
}
