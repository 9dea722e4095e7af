import type { SpeakerCheckCode } from '@/core/jobs/desk/desk-types';
import { db, degrees, hz, ohm, plain, volts } from '../figures';
import type { Saying } from './saying';

/** What is checked of a crossover. */
export const SPEAKER_CHECKS: Readonly<Record<SpeakerCheckCode, Saying>> = {
  'load-low': {
    says: (d) => `The amplifier sees ${ohm(d.ohm)} at ${hz(d.atHz)}, under the ${ohm(d.wanted)} it is to bear.`,
    advice:
      'Look which part makes it: a notch across the driver, a correction, or a pad without its series ' +
      'resistor. The in-line notch raises it.',
  },
  'load-fine': {
    says: (d) =>
      `The amplifier sees no less than ${ohm(d.ohm)} (at ${hz(d.atHz)}, ${degrees(d.phaseDeg)}); its ` +
      `transistors heat as on ${ohm(d.hotOhm)} at ${hz(d.hotHz)}.`,
  },
  'sum-flat': {
    says: (d) =>
      `From ${hz(d.fromHz)} to ${hz(d.toHz)} the sum stays within ${plain(d.off, 2)}\u202fdB of a level line: ` +
      `${db(d.overDb, 1)} at ${hz(d.overHz)}, ${db(d.underDb, 1)} at ${hz(d.underHz)}.`,
    advice: 'Fit all parts to the sound, tame a hump, or match the levels with a pad.',
  },
  'sum-aligned': {
    says: (d) =>
      `Against what these alignments make of themselves it stays within ${plain(d.off, 2)}\u202fdB: ` +
      `${db(d.overDb, 1)} at ${hz(d.overHz)}, ${db(d.underDb, 1)} at ${hz(d.underHz)}.`,
  },
  'ways-oppose': {
    says: (d) =>
      `${d.lower} and ${d.upper} meet at ${hz(d.freqHz)} ${degrees(d.phaseDeg)} apart: they take from one ` +
      `another.`,
  },
  'ways-in-step': {
    says: (d) =>
      `${d.lower} and ${d.upper} meet at ${hz(d.freqHz)}, ${degrees(d.phaseDeg)} apart; turned over, the ` +
      `sum would dip ${plain(d.nullDb, 2)}\u202fdB there.`,
    advice: 'Move the drivers’ centres in line, or another slope: what lies between 60° and 120° adds little.',
  },
  'phases-mixed': {
    says: (d) =>
      `The phase of ${d.measured} is measured, with the way to the microphone in it; that of ${d.made} is made ` +
      `from its level, as minimum phase.`,
    advice: 'Measure all from one place with phase, or set each driver’s place: then both kinds add as they should.',
  },
  'too-hot': {
    says: (d) =>
      `${d.part} takes ${plain(d.watts, 2)}\u202fW of its ${plain(d.ratingWatts)}\u202fW with ${volts(d.volts)} of ` +
      `programme.`,
    advice: 'Take a grade with more watts, or two in series.',
  },
  'core-full': {
    says: (d) =>
      `Up to ${plain(d.amps, 2)}\u202fA go through ${d.part} with a sine of ${volts(d.volts)}; about ` +
      `${plain(d.fullAmps, 2)}\u202fA fill its core.`,
    advice: 'Take an air coil there, or one with more iron; its distortion rises well before it is full.',
  },
  'cone-far': {
    says: (d) =>
      `${d.driver} moves ${plain(d.mm, 2)}\u202fmm at ${hz(d.atHz)} with a sine of ${volts(d.volts)}, of the ` +
      `${plain(d.ratingMm, 2)}\u202fmm that it may.`,
    advice: 'Cross higher or steeper, or keep the level down.',
  },
  'safe-band': {
    says: (d) =>
      `${d.driver} gets ${plain(d.sharePct, 2)}\u202f% of its drive below ${hz(d.safeHz)}, ` +
      'where it is to be spared.',
    advice: 'Cross higher, or steeper.',
  },
};
