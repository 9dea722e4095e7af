import type { PlanResponse } from './plan-sections';
import type { FilterResponse } from './section';

/** What a section's response is called. */
export const RESPONSE_NAMES: Readonly<Record<FilterResponse, string>> = {
  lowpass: 'Low-pass',
  highpass: 'High-pass',
  bandpass: 'Band-pass',
  notch: 'Notch',
  allpass: 'All-pass',
};

const { notch: _, ...COMMON } = RESPONSE_NAMES;
/** What a plan's response is called: a plan stops a band, which its sections do by notches. */
export const PLAN_NAMES: Readonly<Record<PlanResponse, string>> = { ...COMMON, bandstop: 'Band-stop' };
