import { findOpAmp } from '@/core/device/op-amps';
import type { Check, Cure } from '@/core/jobs/desk/desk-types';
import { findTopology } from '@/core/topology/index';
import { formatSigned } from '@/core/units/quantity';
import { db, degrees, farad, hz, ohm, plain, slew, volts } from './figures';

/** The wording of checks and cures. Everything says what, where, and what to do. */

export interface CheckWords {
  readonly text: string;
  readonly cure: string | null;
}

/** A check as a sentence with its numbers, and what its cure's button says. */
export function checkWords({ code, data, cure, level }: Check): CheckWords {
  return { text: sentence(code, data, level), cure: cure ? cureWords(cure) : adviceFor(code, level) };
}

function sentence(code: string, d: Check['data'], level: Check['level']): string {
  switch (code) {
    case 'brief-met':
      return `Brief met, with ${plain(d.byDb)}\u202fdB to spare at ${hz(d.atHz)}.`;
    case 'brief-missed':
      return `Brief missed by ${plain(Math.abs(Number(d.byDb)))}\u202fdB at ${hz(d.atHz)}.`;
    case 'gain-short':
      return `These circuits fall ${plain(d.db)}\u202fdB short of the gain asked for.`;
    case 'gain-surplus':
      return `These circuits give ${plain(Math.abs(Number(d.db)))}\u202fdB more than asked for.`;
    case 'joint-load':
      return Number(d.seesOhm) < 0
        ? 'Nothing is connected to the output.'
        : `${d.load} ${ohm(d.seesOhm)} ${costs(d)} through ${ohm(d.fromOhm)} at ${hz(d.atHz)}.`;
    case 'joint-source':
      return `The first stage, ${ohm(d.seesOhm)}, ${costs(d)} through the source’s ${ohm(d.fromOhm)} at ${hz(d.atHz)}.`;
    case 'joint':
      return `Joint ${d.index}: the next stage, ${ohm(d.seesOhm)}, ${costs(d)} at ${hz(d.atHz)}.`;
    case 'not-stable':
      return (
        `${d.name}: ${d.device} needs a noise gain of ${plain(d.needs)}; this circuit has ` +
        `${plain(d.noiseGain)} and would oscillate.`
      );
    case 'stable':
      return `${d.name}: stable, noise gain ${plain(d.noiseGain)}.`;
    case 'beyond-reach':
      return `${d.name}: ${hz(d.freqHz)} is beyond this op-amp, which reaches ${hz(d.reachHz)} at this gain.`;
    case 'bandwidth':
      return (
        `${d.name}: ${hz(d.gainBandwidthHz)} op-amp moves the cutoff ` +
        `${formatSigned(Number(d.cutoffPct), 'percent')} and Q ${formatSigned(Number(d.qPct), 'percent')}; ` +
        `${plain(d.margin)} times the bandwidth it must have.`
      );
    case 'sings':
      return (
        `It oscillates at ${hz(d.freqHz)}: a natural frequency grows, so there is no cutoff, no margin ` +
        `and no step. Look at it in time, or take resonance or gain back.`
      );
    case 'latches':
      return (
        'It runs to a rail by itself: a natural frequency grows without turning. A loop feeds back with the ' +
        'wrong sign, or with too much gain.'
      );
    case 'supply-short':
      return (
        `At rest it needs ${volts(d.needsVolts)} from rail to rail, and has ${volts(d.volts)}: the current ` +
        `has nowhere to come from.`
      );
    case 'no-room':
      return (
        `${d.name}: ${d.device} wants ${volts(d.headroomVolts)} to each rail, and the supply does not give ` +
        `that: no signal gets out.`
      );
    case 'swing':
      return (
        `${d.name}: swings ${volts(d.volts)} peak of ${volts(d.roomVolts)} at ` +
        `${hz(d.atHz)}${level === 'bad' ? ', and clips' : ''}.`
      );
    case 'slew':
      return `${d.name}: needs ${slew(d.needs)} of ${slew(d.has)} at ${hz(d.atHz)}.`;
    case 'resistor-low':
      return `${d.name}: ${d.part} ${ohm(d.value)} is under ${ohm(d.limit)}, a load on the op-amp.`;
    case 'resistor-high':
      return `${d.name}: ${d.part} ${ohm(d.value)} is over ${ohm(d.limit)}: noise, hum and bias current.`;
    case 'capacitor-small':
      return `${d.name}: ${d.part} ${farad(d.value)} is under ${farad(d.limit)}, where strays count.`;
    case 'capacitor-large':
      return `${d.name}: ${d.part} ${farad(d.value)} is over ${farad(d.limit)}: bulky, or electrolytic.`;
    case 'range':
      return `${d.name}: all values in the easy range.`;
    case 'load-low':
      return `The amplifier sees ${ohm(d.ohm)} at ${hz(d.atHz)}, under the ${ohm(d.wanted)} it is to bear.`;
    case 'load-fine':
      return (
        `The amplifier sees no less than ${ohm(d.ohm)} (at ${hz(d.atHz)}, ${degrees(d.phaseDeg)}); its ` +
        `transistors heat as on ${ohm(d.hotOhm)} at ${hz(d.hotHz)}.`
      );
    case 'sum-flat':
      return (
        `From ${hz(d.fromHz)} to ${hz(d.toHz)} the sum stays within ${plain(d.off, 2)}\u202fdB of a level line: ` +
        `${db(d.overDb, 1)} at ${hz(d.overHz)}, ${db(d.underDb, 1)} at ${hz(d.underHz)}.`
      );
    case 'sum-aligned':
      return (
        `Against what these alignments make of themselves it stays within ${plain(d.off, 2)}\u202fdB: ` +
        `${db(d.overDb, 1)} at ${hz(d.overHz)}, ${db(d.underDb, 1)} at ${hz(d.underHz)}.`
      );
    case 'ways-oppose':
      return (
        `${d.lower} and ${d.upper} meet at ${hz(d.freqHz)} ${degrees(d.phaseDeg)} apart: they take from one ` +
        `another.`
      );
    case 'ways-in-step':
      return (
        `${d.lower} and ${d.upper} meet at ${hz(d.freqHz)}, ${degrees(d.phaseDeg)} apart; turned over, the ` +
        `sum would dip ${plain(d.nullDb, 2)}\u202fdB there.`
      );
    case 'phases-mixed':
      return (
        `The phase of ${d.measured} is measured, with the way to the microphone in it; that of ${d.made} is made ` +
        `from its level, as minimum phase.`
      );
    case 'too-hot':
      return (
        `${d.part} takes ${plain(d.watts, 2)}\u202fW of its ${plain(d.ratingWatts)}\u202fW with ${volts(d.volts)} of ` +
        `programme.`
      );
    case 'core-full':
      return (
        `Up to ${plain(d.amps, 2)}\u202fA go through ${d.part} with a sine of ${volts(d.volts)}; about ` +
        `${plain(d.fullAmps, 2)}\u202fA fill its core.`
      );
    case 'cone-far':
      return (
        `${d.driver} moves ${plain(d.mm, 2)}\u202fmm at ${hz(d.atHz)} with a sine of ${volts(d.volts)}, of the ` +
        `${plain(d.ratingMm, 2)}\u202fmm that it may.`
      );
    case 'safe-band':
      return (
        `${d.driver} gets ${plain(d.sharePct, 2)}\u202f% of its drive below ${hz(d.safeHz)}, ` +
        'where it is to be spared.'
      );
    default:
      return `${code}: ${JSON.stringify(d)}`;
  }
}

const costs = (d: Check['data']): string =>
  Math.abs(Number(d.lossDb)) < 0.005
    ? 'costs nothing'
    : Number(d.lossDb) < 0
      ? `costs ${plain(-Number(d.lossDb))}\u202fdB`
      : `lifts ${plain(Number(d.lossDb))}\u202fdB`;

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

/** Cures that are a decision, not a click. */
function adviceFor(code: string, level: Check['level']): string | null {
  if (level === 'ok') return null;
  switch (code) {
    case 'swing':
      return 'Lower the level or the gain, raise the supply, or put high-Q stages last.';
    case 'supply-short':
    case 'no-room':
      return 'Raise the supply, or take an op-amp that reaches nearer to its rails.';
    case 'load-low':
      return (
        'Look which part makes it: a notch across the driver, a correction, or a pad without its series ' +
        'resistor. The in-line notch raises it.'
      );
    case 'sum-flat':
      return 'Fit all parts to the sound, tame a hump, or match the levels with a pad.';
    case 'phases-mixed':
      return 'Measure all from one place with phase, or set each driver’s place: then both kinds add as they should.';
    case 'ways-in-step':
      return 'Move the drivers’ centres in line, or another slope: what lies between 60° and 120° adds little.';
    case 'too-hot':
      return 'Take a grade with more watts, or two in series.';
    case 'core-full':
      return 'Take an air coil there, or one with more iron; its distortion rises well before it is full.';
    case 'cone-far':
      return 'Cross higher or steeper, or keep the level down.';
    case 'safe-band':
      return 'Cross higher, or steeper.';
    case 'slew':
      return 'Lower the level, or take a quicker op-amp.';
    case 'resistor-low':
      return 'Take smaller capacitors in this stage: pin one by typing it.';
    case 'resistor-high':
      return 'Take larger capacitors in this stage: pin one by typing it.';
    case 'capacitor-small':
      return 'Take smaller resistors: choose resistors first, or pin one.';
    case 'capacitor-large':
      return 'Take larger resistors: choose resistors first, or pin one.';
    case 'brief-missed':
      return 'Try a higher order, another alignment, or move the cutoff.';
    case 'gain-short':
      return 'Build a stage as multiple feedback, or add a buffer with gain.';
    default:
      return null;
  }
}
