import { findOpAmp } from '@/core/device/op-amps';
import type { Check, Cure } from '@/core/jobs/desk/desk-types';
import { findTopology } from '@/core/topology/index';
import { PATH_CHECKS } from './checks/path-checks';
import { SPEAKER_CHECKS } from './checks/speaker-checks';
import { ohm } from './figures';

/** The wording of checks and cures. Everything says what, where, and what to do. */

export interface CheckWords {
  readonly text: string;
  readonly cure: string | null;
}

const SAYINGS = { ...PATH_CHECKS, ...SPEAKER_CHECKS };

/** A check as a sentence with its numbers, and what its cure's button says, or what is a decision and no click. */
export function checkWords({ code, data, cure, level }: Check): CheckWords {
  const { says, advice } = SAYINGS[code];
  return { text: says(data, level), cure: cure ? cureWords(cure) : level === 'ok' ? null : (advice ?? null) };
}

/** What a cure's button says. */
export function cureWords(cure: Cure): string {
  switch (cure.kind) {
    case 'set-output-resistor':
      return `Lower it to ${ohm(cure.ohm)}`;
    case 'insert-buffer':
      return 'Put a buffer here';
    case 'insert-follower':
      return 'Put an emitter follower here';
    case 'use-form':
      return cure.form === 'bootstrapped' ? 'Bootstrap the next stage’s bias' : `Take it as ${cure.form}`;
    case 'use-topology':
      return `Change to ${findTopology(cure.topology)?.name ?? cure.topology}`;
    case 'predistort':
      return 'Make up for it in the values';
    case 'turn-over':
      return 'Change its terminals over';
    case 'use-device':
      return `Take ${findOpAmp(cure.device)?.name ?? cure.device}`;
  }
}
