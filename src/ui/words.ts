import { findTopology } from '@/core/topology/index';
import { findOpAmp } from '@/core/device/op-amps';
import type { Check, Cure } from '@/core/jobs/desk/desk-types';
import type { PlanResponse } from '@/core/filter/plan-sections';
import type { FilterResponse } from '@/core/filter/section';
import type { Failure } from '@/core/result';
import { formatQuantity, formatSigned, type Doubt, type QuantityKind } from '@/core/units/quantity';

/** The interface's wording of facts and failures. Everything says what, where, and what to do. */

const hz = (v: unknown) => formatQuantity(Number(v), 'frequency');
const ohm = (v: unknown) => formatQuantity(Number(v), 'resistance', { digits: 3 });
const farad = (v: unknown) => formatQuantity(Number(v), 'capacitance', { digits: 3 });
const db = (v: unknown, decimals = 2) => formatSigned(Number(v), 'decibel', decimals);
const volts = (v: unknown) => formatQuantity(Number(v), 'voltage', { digits: 3 });
const degrees = (v: unknown) => `${Math.round(Number(v)).toString().replace('-', '−')}°`;
const plain = (v: unknown, digits = 3) => formatQuantity(Number(v), 'ratio', { digits });
const slew = (v: unknown) => `${plain(Number(v) / 1e6)} V/µs`;

const EXAMPLE: Partial<Record<QuantityKind, string>> = {
  resistance: '4k7 or 4.7 k',
  capacitance: '2n2 or 2.2 nF',
  inductance: '2.2 m',
  frequency: '1.2 k or 1200',
  voltage: '1.5',
  time: '20 m',
  decibel: '-3',
  percent: '5',
  ratio: '0.707',
};

export function quantityWords(failure: Failure, kind: QuantityKind): string {
  const example = EXAMPLE[kind] ?? '1';
  if (failure.code === 'quantity-empty') return `Type a value, such as ${example}. The old one stays.`;
  return `“${failure.data.text}” is not a value: “${failure.data.rest}” is left over. Type it as ${example}; the old value stays.`;
}

/** A value that hardly anyone means: asked about once, taken the second time. */
export function doubtWords(value: number, kind: QuantityKind, { low, high, meant }: Doubt): string {
  const show = (v: number) => formatQuantity(v, kind);
  const hearing = kind === 'frequency' ? ' Hearing goes from 20 Hz to 20 kHz.' : '';
  return `${show(value)}? ${meant === null ? `Usual are ${show(low)} to ${show(high)}.${hearing}` : `If ${show(meant)} is meant, type it with its unit.`} Enter once more takes it as it stands.`;
}

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
      return `Brief met, with ${plain(d.byDb)} dB to spare at ${hz(d.atHz)}.`;
    case 'brief-missed':
      return `Brief missed by ${plain(Math.abs(Number(d.byDb)))} dB at ${hz(d.atHz)}.`;
    case 'gain-short':
      return `These circuits fall ${plain(d.db)} dB short of the gain asked for.`;
    case 'gain-surplus':
      return `These circuits give ${plain(Math.abs(Number(d.db)))} dB more than asked for.`;
    case 'joint-load':
      return Number(d.seesOhm) < 0
        ? 'Nothing is connected to the output.'
        : `${d.load} ${ohm(d.seesOhm)} ${costs(d)} through ${ohm(d.fromOhm)} at ${hz(d.atHz)}.`;
    case 'joint-source':
      return `The first stage, ${ohm(d.seesOhm)}, ${costs(d)} through the source’s ${ohm(d.fromOhm)} at ${hz(d.atHz)}.`;
    case 'joint':
      return `Joint ${d.index}: the next stage, ${ohm(d.seesOhm)}, ${costs(d)} at ${hz(d.atHz)}.`;
    case 'not-stable':
      return `${d.name}: ${d.device} needs a noise gain of ${plain(d.needs)}; this circuit has ${plain(d.noiseGain)} and would oscillate.`;
    case 'stable':
      return `${d.name}: stable, noise gain ${plain(d.noiseGain)}.`;
    case 'beyond-reach':
      return `${d.name}: ${hz(d.freqHz)} is beyond this op-amp, which reaches ${hz(d.reachHz)} at this gain.`;
    case 'bandwidth':
      return `${d.name}: ${hz(d.gainBandwidthHz)} op-amp moves the cutoff ${formatSigned(Number(d.cutoffPct), 'percent')} and Q ${formatSigned(Number(d.qPct), 'percent')}; ${plain(d.margin)} times the bandwidth it must have.`;
    case 'sings':
      return `It sings at ${hz(d.freqHz)} by itself: a natural frequency grows, so there is no cutoff, no margin and no step. Look at it in time, or take resonance or gain back.`;
    case 'latches':
      return 'It runs to a rail by itself: a natural frequency grows without turning. A loop feeds back with the wrong sign, or with too much gain.';
    case 'supply-short':
      return `At rest it needs ${volts(d.needsVolts)} from rail to rail, and has ${volts(d.volts)}: the current has nowhere to come from.`;
    case 'no-room':
      return `${d.name}: ${d.device} wants ${volts(d.headroomVolts)} to each rail, and the supply does not give that: no signal gets out.`;
    case 'swing':
      return `${d.name}: swings ${volts(d.volts)} peak of ${volts(d.roomVolts)} at ${hz(d.atHz)}${level === 'bad' ? ', and clips' : ''}.`;
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
      return `The amplifier sees no less than ${ohm(d.ohm)} (at ${hz(d.atHz)}, ${degrees(d.phaseDeg)}); its transistors heat as on ${ohm(d.hotOhm)} at ${hz(d.hotHz)}.`;
    case 'sum-flat':
      return `From ${hz(d.fromHz)} to ${hz(d.toHz)} the sum stays within ${plain(d.off, 2)} dB of a level line: ${db(d.overDb, 1)} at ${hz(d.overHz)}, ${db(d.underDb, 1)} at ${hz(d.underHz)}.`;
    case 'sum-aligned':
      return `Against what these alignments make of themselves it stays within ${plain(d.off, 2)} dB: ${db(d.overDb, 1)} at ${hz(d.overHz)}, ${db(d.underDb, 1)} at ${hz(d.underHz)}.`;
    case 'ways-oppose':
      return `${d.lower} and ${d.upper} meet at ${hz(d.freqHz)} ${degrees(d.phaseDeg)} apart: they take from one another.`;
    case 'ways-in-step':
      return `${d.lower} and ${d.upper} meet at ${hz(d.freqHz)}, ${degrees(d.phaseDeg)} apart; turned over, the sum would dip ${plain(d.nullDb, 2)} dB there.`;
    case 'too-hot':
      return `${d.part} takes ${plain(d.watts, 2)} W of its ${plain(d.ratingWatts)} W with ${volts(d.volts)} of programme.`;
    case 'safe-band':
      return `${d.driver} gets ${plain(d.sharePct, 2)} % of its drive below ${hz(d.safeHz)}, where it is to be spared.`;
    default:
      return `${code}: ${JSON.stringify(d)}`;
  }
}

const costs = (d: Check['data']): string =>
  Math.abs(Number(d.lossDb)) < 0.005
    ? 'costs nothing'
    : Number(d.lossDb) < 0
      ? `costs ${plain(-Number(d.lossDb))} dB`
      : `lifts ${plain(Number(d.lossDb))} dB`;

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
      return 'Look which part makes it: a notch across the driver, a correction, or a pad without its series resistor. The in-line notch raises it.';
    case 'sum-flat':
      return 'Fit all parts to the sound, tame a hump, or match the levels with a pad.';
    case 'ways-in-step':
      return 'Move the drivers’ centres in line, or another slope: what lies between 60° and 120° adds little.';
    case 'too-hot':
      return 'Take a grade with more watts, or two in series.';
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

const RESPONSE_WORDS: Record<FilterResponse, string> = {
  lowpass: 'low-pass',
  highpass: 'high-pass',
  bandpass: 'band-pass',
  notch: 'notch',
  allpass: 'all-pass',
};
export const PLAN_WORDS: Record<PlanResponse, string> = {
  lowpass: 'Low-pass',
  highpass: 'High-pass',
  bandpass: 'Band-pass',
  bandstop: 'Band-stop',
  allpass: 'All-pass',
};

const MASK_WORDS: Readonly<Record<string, string>> = {
  keep: 'Say first what may be lost at most: “keep”.',
  lose: 'Say first what must go: “lose”.',
  'keep-below': 'What is lost above needs a limit that keeps what lies below it.',
  'keep-above': 'What is lost below needs a limit that keeps what lies above it.',
};

/** A failed design or simulation, for the strip above the curves. */
export function failureWords({ code, data }: Failure): string {
  switch (code) {
    case 'over-pinned':
      return `No values fit around the pinned parts (${(data.pinned as readonly string[]).join(', ')}). Unpin one, or type another value; the last good curves are still shown.`;
    case 'capacitor-ratio':
    case 'resistor-ratio':
      return `${data.larger} must be at least ${plain(data.needed)} times ${data.smaller}; it is ${plain(data.ratio)} times. Unpin one of them or type other values.`;
    case 'q-too-low':
      return `This circuit cannot make a Q of ${plain(data.q)}: its lowest is ${plain(data.lowest)}. Choose another topology for the stage.`;
    case 'wrong-order':
      return `${data.topology} does not build a section of order ${data.order}. Choose another topology for the stage.`;
    case 'wrong-response':
      return `${data.topology} does not build ${RESPONSE_WORDS[data.response as FilterResponse]} sections. Choose another topology for the stage.`;
    case 'null-apart':
      return `This circuit has its null at its natural frequency; the section wants it ${plain(data.ratio)} times that. Choose a circuit with a free null (Bainter, Tow-Thomas, state variable).`;
    case 'no-headroom':
      return `With ${volts(data.supplyVolts)} from rail to rail there is no room: the emitter at ${volts(data.emitterVolts)} and what stands over it want ${volts(data.needsVolts)} and some swing. Lower the emitter, or raise the supply.`;
    case 'gain-too-high':
      return `A gain of ${plain(data.gain)} is more than this stage can give at its current: ${plain(data.most)} at most. Ask for less, or for a higher load.`;
    case 'q-too-high':
      return `A Q of ${plain(data.q)} is more than its losses allow: ${plain(data.most)} at most. Ask for less, or take more gain or a larger resistor in line.`;
    case 'heel-over-toe':
      return `The toe’s peak (${hz(data.toeHz)}) is to lie above the heel’s (${hz(data.heelHz)}). Move one of them.`;
    case 'too-large-for-strips':
      return `${data.parts} parts on ${data.nets} nets are too many for one strip board laid by hand. Build it stage by stage: bypass the others, plan, build, and go on.`;
    case 'not-for-strips':
      return `${data.part} comes in a package whose pins differ from maker to maker: plan its board by hand.`;
    case 'no-mask':
      return MASK_WORDS[String(data.why)];
    case 'mask-crossed':
      return 'A frequency that is to be kept lies where it is to be lost: move the limits apart.';
    case 'no-ladder':
      return `No ladder of order ${data.order} has ${plain(data.rippleDb)} dB of ripple${Number(data.attenuationDb) > 0 ? ` and ${plain(data.attenuationDb)} dB of attenuation` : ''} with positive parts. Ask for more attenuation, less ripple, or another order.`;
    case 'bank-columns':
      return `No column is known as ${(data.missing as readonly string[]).join(' or ')}. Choose which of yours it is; R1b, trimmer and wanted_hz may be left out.`;
    case 'bank-lines':
      return `These do not read: ${(data.faults as readonly string[]).join('; ')}. Mend them and read the file again; nothing was changed.`;
    case 'bank-bands':
      return `A bank has between 2 and ${data.most} bands, their centres rising.`;
    case 'stock-columns':
      return `The first line names no column called ${(data.missing as readonly string[]).join(' or ')}. It wants kind, value, count, and may have name, tolerance, grade and price. Nothing was changed.`;
    case 'stock-lines':
      return `These do not read: ${(data.faults as readonly string[]).join('; ')}. Mend them and read the file again; nothing was changed.`;
    case 'out-of-range':
      return `Line ${data.line}: ${String(data.value)} cannot be a ${data.what}; it is wanted between ${String(data.min)} and ${String(data.max)}. Nothing was changed.`;
    case 'no-impedance':
      return `This cannot be a driver’s impedance: it is ${data.reason}. Nothing was changed.`;
    case 'no-overlap':
      return `The two do not overlap there: both are known from ${hz(data.fromHz)} to ${hz(data.toHz)}. Choose a frequency well inside. Nothing was changed.`;
    case 'no-hump':
      return `${String(data.way)} has no hump above its target in the range that counts. Point the cursor at what you mean and take “at the cursor”.`;
    case 'nothing-bends':
      return 'This circuit is linear: nothing in it bends. Its op-amps’ limits are in the checks.';
    case 'sings':
      return `The circuit sings at ${hz(data.freqHz)} by itself: what is asked here has no answer until it does not. Take resonance or gain back.`;
    case 'did-not-settle':
      return `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} the circuit would not settle within a step (${plain(100 * Number(data.share), 2)} % of its steps): nothing was made of it. Lower the level, take resonance back, or slow what moves it.`;
    case 'bends-no-further':
      return `Even at ${formatQuantity(Number(data.volts), 'voltage', { digits: 2 })} peak it bends by only ${Number(data.percent).toFixed(2)} %. Ask for less.`;
    case 'too-long':
      return `That would be ${String(data.seconds)} seconds; ${String(data.most)} at most are rendered. Shorten the notes.`;
    case 'no-sound':
      return `The browser gave no sound: ${String(data.reason)}. Render it instead; the WAV plays anywhere.`;
    case 'nothing-to-move':
      return 'No part is let move. Tick some in “what may move”.';
    case 'no-passive-ladder':
      return `${String(data.alignment)} has no ladder of coils and capacitors by turns. Choose an alignment without nulls.`;
    case 'op-amp-columns':
      return `The first line names no column called ${(data.missing as readonly string[]).join(' or ')}. It wants name and gain_bandwidth_hz, and may have the other figures that Write op-amps gives. Nothing was changed.`;
    case 'op-amp-lines':
      return `These do not read: ${(data.faults as readonly string[]).join('; ')}. Mend them and read the file again; nothing was changed.`;
    case 'no-unique-solution':
      return `The circuit as it stands has no single answer: ${data.unknown} is left undetermined. Put back the part that was left out there.`;
    case 'not-json':
      return `This is not a design file: it does not read as JSON (${data.message}). Nothing was changed.`;
    case 'not-a-design':
      return 'This file is JSON, but not a design of this program. Nothing was changed.';
    case 'newer-version':
      return `This design was written by a newer program (version ${data.version}; this one knows ${data.known}). It was left untouched.`;
    case 'broken-design':
      return `This design file is damaged: ${(data.issues as readonly string[]).join('; ')}. Nothing was changed.`;
    case 'deck':
      return `${Number(data.line) > 0 ? `Line ${data.line}: ` : ''}${data.message}. Nothing was changed.`;
    case 'no-such-probe':
      return `The deck has no node called “${data.probe}”. Name its output node “out”. Nothing was changed.`;
    case 'empty-file':
      return 'The file is empty. Nothing was changed.';
    case 'binary-file':
      return 'This is not a text file. Nothing was changed.';
    case 'no-numbers':
      return 'No line of this file begins with numbers. It wants two or three columns: frequency in Hz, level in dB, phase in degrees.';
    case 'cancelled':
      return 'Stopped before it was done; nothing was changed.';
    case 'job-failed':
      return `Working this out went wrong (${data.kind}: ${data.reason}). The design is as it was; undo the last change, or go on: everything else works.`;
    case 'worker-lost':
      return `The browser ended the work on this twice (${data.kind}); it may want more memory than there is. The design is as it was. Ask for less, or close other tabs.`;
    case 'no-convergence':
      return data.timeS === undefined
        ? `No operating point is found: ${data.node} does not settle in ${data.iterations} steps. A device may have no way for its current, or a loop feeds back with the wrong sign.`
        : `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} ${data.node} does not settle. Ask for a gentler signal, or a slower one.`;
    case 'not-settled':
      return `It does not come to rest within ${data.periods} periods of the tone, so there is no figure. Ask for a higher tone, or look at it in time.`;
    case 'load-too-heavy':
      return `A load of ${ohm(data.loadOhm)} is too heavy: the divider alone stands at ${ohm(data.needsOhm)}. Ask for less, for a lighter load, or put a buffer between.`;
    case 'load-does-not-fit':
      return `This ladder fits ${ohm(data.loadOhm)} at its end and no other load. Set the load to it, or choose an odd order.`;
    case 'not-a-ladder':
      return 'No ladder with values that can be built has this response. Take another alignment, ripple or order.';
    case 'no-solution':
      return 'No values meet all of this at once. Ask for less, or unpin a part.';
    case 'no-cutoff':
      return 'Nothing falls to half of its power within hearing, so there is no cutoff to move.';
    case 'no-loop':
      return 'This circuit has no loop to walk, or the part that closes it is left out.';
    case 'not-shaped':
      return 'This stage is not an amplifier shaped by capacitors; choose one on the path.';
    case 'needs-more':
      return `It wants ${data.wanted} values to find the rest.`;
    case 'too-large':
      return `${data.unknowns} unknowns are too many for this; the most is ${data.most}. Take less of the circuit.`;
    case 'too-many-steps':
      return `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} the circuit asks for steps too small to finish. Ask for a slower signal, or for less of it.`;
    case 'not-a-wav':
      return 'This is no WAV file. Export the recording as WAV and give that.';
    case 'wav-format':
      return `A WAV of format ${data.format} with ${data.bits} bits is not read; 16, 24 or 32 bits, or floats, are.`;
    case 'quantity-unreadable':
      return `“${data.text}” does not read as a value: “${data.rest}” is left over. The old one stays.`;
    case 'quantity-empty':
      return 'A value is wanted here; the old one stays.';
    case 'no-such-variant':
    case 'no-such-stage':
    case 'no-such-control':
    case 'no-such-topology':
    case 'no-such-form':
    case 'no-such-parameter':
    case 'no-such-node':
    case 'no-such-source':
    case 'other-circuit':
      return 'What this was asked of is no longer there; the figures follow in a moment.';
    case 'bad-option':
    case 'bad-grid':
      return 'This is asked in a way that cannot be answered; choose another value.';
    case 'bad-request':
      return `This cannot be worked out as it was asked (${data.kind}, ${data.at}: ${data.reason}). The figures on show are older.`;
    case 'broken-zip':
      return `${data.file} is no zip that can be opened (${data.reason}). Nothing was changed.`;
    case 'empty-zip':
      return `${data.file} holds no design, stock, driver or op-amp. Nothing was changed.`;
    case 'broken-table':
      return `${(data.issues as readonly string[]).join('; ')}: left out.`;
    case 'bad-line':
      return `Line ${data.line}, “${data.text}”, does not read as numbers. Mend that line and try again; nothing was changed.`;
    case 'column-count':
      return `Line ${data.line} has ${data.columns} column${data.columns === 1 ? '' : 's'} unlike the lines before it; two or three are wanted on every line. Nothing was changed.`;
    case 'bad-frequency':
      return `Line ${data.line}: a frequency of ${data.value} Hz cannot be. Nothing was changed.`;
    case 'repeated-frequency':
      return `Line ${data.line}: ${data.value} Hz stands there twice. Nothing was changed.`;
    case 'too-few-points':
      return 'One point is no curve: at least two are wanted. Nothing was changed.';
    case 'too-many-points':
      return `More than ${data.most} points. Thin them out and try again; nothing was changed.`;
    case 'not-in-a-deck':
      return `A deck cannot say what ${data.element} is; it was not written.`;
    case 'gain-not-reached':
      return `The stages miss the gain asked for by ${plain(data.db)} dB.`;
    default:
      return `Something could not be computed (${code}). Undo the last change; nothing is lost.`;
  }
}

export const says = { hz, ohm, farad, db, volts, plain };
