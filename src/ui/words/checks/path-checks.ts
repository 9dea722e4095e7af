import type { Check, PathCheckCode } from '@/core/jobs/desk/desk-types';
import { formatQuantity, formatSigned, type QuantityKind } from '@/core/units/quantity';
import { farad, hz, ohm, plain, slew, volts } from '../figures';
import type { Saying } from './saying';

const costs = (d: Check['data']): string =>
  Math.abs(Number(d.lossDb)) < 0.005
    ? 'costs nothing'
    : Number(d.lossDb) < 0
      ? `costs ${plain(-Number(d.lossDb))}\u202fdB`
      : `lifts ${plain(Number(d.lossDb))}\u202fdB`;

const inUnits = (value: unknown, kind: unknown): string =>
  formatQuantity(Number(value), kind as QuantityKind, { digits: 3 });

/** What is checked of a path and its stages. */
export const PATH_CHECKS: Readonly<Record<PathCheckCode, Saying>> = {
  'brief-met': {
    says: (d) => `Brief met, with ${plain(d.byDb)}\u202fdB to spare at ${hz(d.atHz)}.`,
  },
  'brief-missed': {
    says: (d) => `Brief missed by ${plain(Math.abs(Number(d.byDb)))}\u202fdB at ${hz(d.atHz)}.`,
    advice: 'Try a higher order, another alignment, or move the cutoff.',
  },
  'gain-short': {
    says: (d) => `These circuits fall ${plain(d.db)}\u202fdB short of the gain asked for.`,
    advice: 'Build a stage as multiple feedback, or add a buffer with gain.',
  },
  'gain-surplus': {
    says: (d) => `These circuits give ${plain(Math.abs(Number(d.db)))}\u202fdB more than asked for.`,
  },
  'joint-load': {
    says: (d) =>
      Number(d.seesOhm) < 0
        ? 'Nothing is connected to the output.'
        : `${d.load} ${ohm(d.seesOhm)} ${costs(d)} through ${ohm(d.fromOhm)} at ${hz(d.atHz)}.`,
  },
  'joint-source': {
    says: (d) =>
      `The first stage, ${ohm(d.seesOhm)}, ${costs(d)} through the source’s ${ohm(d.fromOhm)} at ${hz(d.atHz)}.`,
  },
  joint: {
    says: (d) => `Joint ${d.index}: the next stage, ${ohm(d.seesOhm)}, ${costs(d)} at ${hz(d.atHz)}.`,
  },
  'not-stable': {
    says: (d) =>
      `${d.name}: ${d.device} needs a noise gain of ${plain(d.needs)}; this circuit has ` +
      `${plain(d.noiseGain)} and would oscillate.`,
  },
  stable: {
    says: (d) => `${d.name}: stable, noise gain ${plain(d.noiseGain)}.`,
  },
  'beyond-reach': {
    says: (d) => `${d.name}: ${hz(d.freqHz)} is beyond this op-amp, which reaches ${hz(d.reachHz)} at this gain.`,
  },
  bandwidth: {
    says: (d) =>
      `${d.name}: ${hz(d.gainBandwidthHz)} op-amp moves the cutoff ` +
      `${formatSigned(Number(d.cutoffPct), 'percent')} and Q ${formatSigned(Number(d.qPct), 'percent')}; ` +
      `${plain(d.margin)} times the bandwidth it must have.`,
  },
  sings: {
    says: (d) =>
      `It oscillates at ${hz(d.freqHz)}: a natural frequency grows, so there is no cutoff, no margin ` +
      `and no step. Look at it in time, or take resonance or gain back.`,
  },
  undamped: {
    says: (d) =>
      `Undamped at ${hz(d.freqHz)}: nothing in this circuit has resistance, so its resonance never decays and has no ` +
      'level, Q or noise. Give it a source, a load or lossy parts.',
  },
  latches: {
    says: () =>
      'It runs to a rail by itself: a natural frequency grows without turning. A loop feeds back with the ' +
      'wrong sign, or with too much gain.',
  },
  'supply-short': {
    says: (d) =>
      `At rest it needs ${volts(d.needsVolts)} from rail to rail, and has ${volts(d.volts)}: the current ` +
      `has nowhere to come from.`,
    advice: 'Raise the supply, or take an op-amp that reaches nearer to its rails.',
  },
  'rests-at-rail': {
    says: (d) =>
      `${d.name}: the output of ${d.opAmp} rests ${volts(d.fromRailVolts)} from a rail, and ${d.device} reaches no ` +
      `nearer than ${volts(d.headroomVolts)}: on the bench it rests elsewhere.`,
    advice: 'Take an op-amp that reaches nearer to its rails, or raise the supply.',
  },
  'no-room': {
    says: (d) =>
      `${d.name}: ${d.device} wants ${volts(d.headroomVolts)} to each rail, and the supply does not give ` +
      `that: no signal gets out.`,
    advice: 'Raise the supply, or take an op-amp that reaches nearer to its rails.',
  },
  swing: {
    says: (d, level) =>
      `${d.name}: swings ${volts(d.volts)} peak of ${volts(d.roomVolts)} at ` +
      `${hz(d.atHz)}${level === 'bad' ? ', and clips' : ''}.`,
    advice: 'Lower the level or the gain, raise the supply, or put high-Q stages last.',
  },
  slew: {
    says: (d) => `${d.name}: needs ${slew(d.needs)} of ${slew(d.has)} at ${hz(d.atHz)}.`,
    advice: 'Lower the level, or take a quicker op-amp.',
  },
  'off-target': {
    says: (d) =>
      `${d.name}: ${d.what} comes out at ${inUnits(d.got, d.kind)} for ${inUnits(d.wanted, d.kind)}, ` +
      `further off than the parts’ tolerance (± ${plain(d.tolerancePct)}\u202f%).`,
    advice: 'Choose the values together, take a finer series, or make the value of two parts.',
  },
  'resistor-low': {
    says: (d) => `${d.name}: ${d.part} ${ohm(d.value)} is under ${ohm(d.limit)}, a load on what drives it.`,
    advice: 'Take smaller capacitors in this stage: pin one by typing it.',
  },
  'resistor-high': {
    says: (d) => `${d.name}: ${d.part} ${ohm(d.value)} is over ${ohm(d.limit)}: noise, hum and bias current.`,
    advice: 'Take larger capacitors in this stage: pin one by typing it.',
  },
  'capacitor-small': {
    says: (d) => `${d.name}: ${d.part} ${farad(d.value)} is under ${farad(d.limit)}, where strays count.`,
    advice: 'Take smaller resistors: choose resistors first, or pin one.',
  },
  'capacitor-large': {
    says: (d) => `${d.name}: ${d.part} ${farad(d.value)} is over ${farad(d.limit)}: bulky, or electrolytic.`,
    advice: 'Take larger resistors: choose resistors first, or pin one.',
  },
  range: {
    says: (d) => `${d.name}: all values in the easy range.`,
  },
};
