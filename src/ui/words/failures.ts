import type { FilterResponse } from '@/core/filter/section';
import type { Failure } from '@/core/result';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { hz, ohm, plain, volts } from './figures';
import { RESPONSE_NAMES } from '@/core/filter/response-names';
import { speakerFailureWords } from './speaker-failures';

const MASK_WORDS: Readonly<Record<string, string>> = {
  keep: 'Say first how far the pass band may fall: a pass limit.',
  lose: 'Say first how far the stop band must fall: a stop limit.',
  'keep-below': 'A stop limit above needs a pass limit below it.',
  'keep-above': 'A stop limit below needs a pass limit above it.',
};

const SWEEP_FAULTS: Readonly<Record<string, string | undefined>> = {
  rate: 'A card takes between 8,000 and 768,000 samples a second.',
  range: 'A sweep goes up by an octave at least, from over nothing.',
  top: 'The sweep’s last tone is too near half the samples a second: 0.495 of them is the most.',
  seconds: 'A sweep takes between a twentieth of a second and two minutes.',
  level: 'A level is at most 0 dB re full scale, and at least −120.',
};

/** A failed design or simulation, for the strip above the curves. */
const heard = (hz: unknown): string => formatQuantity(Number(hz), 'frequency', { digits: 3 });

export function failureWords({ code, data }: Failure): string {
  switch (code) {
    case 'over-pinned':
      return (
        `No values fit around the pinned parts (${(data.pinned as readonly string[]).join(', ')}). Unpin ` +
        `one, or type another value; the last good curves are still shown.`
      );
    case 'capacitor-ratio':
    case 'resistor-ratio':
      return (
        `${data.larger} must be at least ${plain(data.needed)} times ${data.smaller}; it is ` +
        `${plain(data.ratio)} times. Unpin one of them or type other values.`
      );
    case 'q-too-low':
      return (
        `This circuit cannot make a Q of ${plain(data.q)}: its lowest is ${plain(data.lowest)}. Choose ` +
        `another topology for the stage.`
      );
    case 'wrong-order':
      return `${data.topology} does not build a section of order ${data.order}. Choose another topology for the stage.`;
    case 'wrong-response': {
      const response = String(RESPONSE_NAMES[data.response as FilterResponse]).toLowerCase();
      return `${data.topology} does not build ${response} sections. Choose another topology for the stage.`;
    }
    case 'null-apart':
      return (
        `This circuit has its null at its natural frequency; the section wants it ${plain(data.ratio)} times ` +
        `that. Choose a circuit with a free null (Bainter, Tow-Thomas, state variable).`
      );
    case 'no-headroom':
      return (
        `With ${volts(data.supplyVolts)} from rail to rail there is no room: the emitter at ` +
        `${volts(data.emitterVolts)} and what stands over it want ${volts(data.needsVolts)} and some swing. ` +
        `Lower the emitter, or raise the supply.`
      );
    case 'gain-too-high':
      return (
        `A gain of ${plain(data.gain)} is more than this stage can give at its current: ${plain(data.most)} ` +
        `at most. Ask for less, or for a higher load.`
      );
    case 'q-too-high':
      return (
        `A Q of ${plain(data.q)} is more than its losses allow: ${plain(data.most)} at most. Ask for less, ` +
        `or take more gain or a larger resistor in line.`
      );
    case 'heel-over-toe':
      return `The toe’s peak (${hz(data.toeHz)}) is to lie above the heel’s (${hz(data.heelHz)}). Move one of them.`;
    case 'too-large-for-strips':
      return (
        `${data.parts} parts on ${data.nets} nets are too many for one strip board laid by hand. Build it ` +
        `stage by stage: bypass the others, plan, build, and go on.`
      );
    case 'not-for-strips':
      return `${data.part} comes in a package whose pins differ from maker to maker: plan its board by hand.`;
    case 'no-mask':
      return MASK_WORDS[String(data.why)];
    case 'mask-crossed':
      return 'A frequency that is to be kept lies where it is to be lost: move the limits apart.';
    case 'no-ladder':
      return (
        `No ladder of order ${data.order} has ${plain(data.rippleDb)}\u202fdB of ` +
        `ripple${Number(data.attenuationDb) > 0 ? ` and ${plain(data.attenuationDb)}\u202fdB of attenuation` : ''} ` +
        `with positive parts. Ask for more attenuation, less ripple, or another order.`
      );
    case 'bank-columns':
      return (
        `No column is known as ${(data.missing as readonly string[]).join(' or ')}. Choose which of yours it ` +
        `is; R1b, trimmer and wanted_hz may be left out.`
      );
    case 'bank-lines':
      return (
        `These do not read: ${(data.faults as readonly string[]).join('; ')}. Mend them and read the file ` +
        `again; nothing was changed.`
      );
    case 'bank-bands':
      return `A bank has between 2 and ${data.most} bands, their centres rising.`;
    case 'stock-columns':
      return (
        `The first line names no column called ${(data.missing as readonly string[]).join(' or ')}. It wants ` +
        `kind, value, count, and may have name, tolerance, grade and price. Nothing was changed.`
      );
    case 'stock-lines':
      return (
        `These do not read: ${(data.faults as readonly string[]).join('; ')}. Mend them and read the file ` +
        `again; nothing was changed.`
      );
    case 'out-of-range':
      return (
        `Line ${data.line}: ${String(data.value)} cannot be a ${data.what}; it is wanted between ` +
        `${String(data.min)} and ${String(data.max)}. Nothing was changed.`
      );
    case 'nothing-bends':
      return 'This circuit is linear: nothing in it bends. Its op-amps’ limits are in the checks.';
    case 'sings':
      return (
        `The circuit oscillates at ${hz(data.freqHz)}: what is asked here has no answer until it does ` +
        `not. Take resonance or gain back.`
      );
    case 'did-not-settle':
      return (
        `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} the circuit would not settle within ` +
        `a step (${plain(100 * Number(data.share), 2)}\u202f% of its steps): nothing was made of it. Lower the ` +
        `level, take resonance back, or slow what moves it.`
      );
    case 'bends-no-further':
      return (
        `Even at ${formatQuantity(Number(data.volts), 'voltage', { digits: 2 })} peak it bends by only ` +
        `${formatFixed(Number(data.percent), 2)}\u202f%. Ask for less.`
      );
    case 'too-long':
      return (
        `That would be ${String(data.seconds)} seconds; ${String(data.most)} at most are rendered. Shorten ` +
        `the notes.`
      );
    case 'no-sound':
      return `The browser gave no sound: ${String(data.reason)}. Render it instead; the WAV plays anywhere.`;
    case 'nothing-to-move':
      return 'No part is let move. Tick some in “what may move”.';
    case 'no-passive-ladder':
      return (
        `${String(data.alignment)} has no ladder of coils and capacitors by turns. Choose an alignment ` +
        `without nulls.`
      );
    case 'op-amp-columns':
      return (
        `The first line names no column called ${(data.missing as readonly string[]).join(' or ')}. It wants ` +
        `name and gain_bandwidth_hz, and may have the other figures that Write op-amps gives. Nothing was ` +
        `changed.`
      );
    case 'op-amp-lines':
      return (
        `These do not read: ${(data.faults as readonly string[]).join('; ')}. Mend them and read the file ` +
        `again; nothing was changed.`
      );
    case 'no-unique-solution':
      return (
        `The circuit as it stands has no single answer: ${data.unknown} is left undetermined. Put back the ` +
        `part that was left out there.`
      );
    case 'broken-link':
      return data.reason === 'nothing'
        ? 'There is no design in this link. Ask for it again, or for the design as a file.'
        : 'This link was cut or changed on its way, so its design cannot be read. Ask for it again, or for a file.';
    case 'not-json':
      return `This is not a design file: it does not read as JSON (${data.message}). Nothing was changed.`;
    case 'not-a-design':
      return 'This file is JSON, but not a design of this program. Nothing was changed.';
    case 'newer-version':
      return (
        `This design was written by a newer program (version ${data.version}; this one knows ${data.known}). ` +
        `It was left untouched.`
      );
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
      return (
        'No line of this file begins with numbers. It wants two or three columns: frequency in Hz, level in ' +
        'dB, phase in degrees.'
      );
    case 'cancelled':
      return 'Stopped before it was done; nothing was changed.';
    case 'job-failed':
      return (
        `Working this out went wrong (${data.kind}: ${data.reason}). The design is as it was; undo the last ` +
        `change, or go on: everything else works.`
      );
    case 'worker-lost':
      return (
        `The browser ended the work on this twice (${data.kind}); it may want more memory than there is. The ` +
        `design is as it was. Ask for less, or close other tabs.`
      );
    case 'no-convergence':
      return data.timeS === undefined
        ? `No operating point is found: ${data.node} does not settle in ${data.iterations} steps. A device may ` +
            `have no way for its current, or a loop feeds back with the wrong sign.` +
            (data.device ? ` Look at ${data.device}.` : '') +
            (data.volts
              ? ` On a supply of ${formatQuantity(Number(data.volts), 'voltage', { digits: 3 })} it would rest.`
              : '')
        : `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} ${data.node} does not settle. Ask ` +
            `for a gentler signal, or a slower one.`;
    case 'not-settled':
      return (
        `It does not come to rest within ${data.periods} periods of the tone, so there is no figure. Ask for ` +
        `a higher tone, or look at it in time.`
      );
    case 'load-too-heavy':
      return (
        `A load of ${ohm(data.loadOhm)} is too heavy: the divider alone stands at ${ohm(data.needsOhm)}. Ask ` +
        `for less, for a lighter load, or put a buffer between.`
      );
    case 'load-does-not-fit':
      return (
        `This ladder fits ${ohm(data.loadOhm)} at its end and no other load. Set the load to it, or choose ` +
        `an odd order.`
      );
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
    case 'file-too-large':
      return `It is over ${data.most}\u202fMB: no curve of a driver is. Nothing was changed.`;
    case 'too-large':
      return `${data.unknowns} unknowns are too many for this; the most is ${data.most}. Take less of the circuit.`;
    case 'too-many-steps':
      return (
        `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} the circuit asks for steps too ` +
        `small to finish. Ask for a slower signal, or for less of it.`
      );
    case 'not-a-wav':
      return 'This is no WAV file. Export the recording as WAV and give that.';
    case 'wav-format':
      return `A WAV of format ${data.format} with ${data.bits} bits is not read; 16, 24 or 32 bits, or floats, are.`;
    case 'quantity-unreadable':
      return `“${data.text}” does not read as a value: “${data.rest}” is left over. The old one stays.`;
    case 'quantity-empty':
      return 'A value is wanted here; the old one stays.';
    case 'no-such-variant':
    case 'no-such-part':
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
      return (
        `This cannot be worked out as it was asked (${data.kind}, ${data.at}: ${data.reason}). The figures ` +
        `on show are older.`
      );
    case 'broken-zip':
      return `${data.file} is no zip that can be opened (${data.reason}). Nothing was changed.`;
    case 'empty-zip':
      return `${data.file} holds no design, stock, driver or op-amp. Nothing was changed.`;
    case 'broken-table':
      return `${(data.issues as readonly string[]).join('; ')}: left out.`;
    case 'bad-line':
      return (
        `Line ${data.line}, “${data.text}”, does not read as numbers. Mend that line and try again; nothing ` +
        `was changed.`
      );
    case 'column-count':
      return (
        `Line ${data.line} has ${data.columns} column${data.columns === 1 ? '' : 's'} unlike the lines ` +
        `before it; two or three are wanted on every line. Nothing was changed.`
      );
    case 'bad-frequency':
      return `Line ${data.line}: a frequency of ${data.value}\u202fHz cannot be. Nothing was changed.`;
    case 'repeated-frequency':
      return `Line ${data.line}: ${data.value}\u202fHz stands there twice. Nothing was changed.`;
    case 'too-few-points':
      return 'One point is no curve: at least two are wanted. Nothing was changed.';
    case 'too-many-points':
      return `More than ${data.most} points. Thin them out and try again; nothing was changed.`;
    case 'not-in-a-deck':
      return `A deck cannot say what ${data.element} is; it was not written.`;
    case 'sound-put-aside':
      return (
        'The browser has put the sound aside: the tab went to the background, or the sound card went or changed its ' +
        'rate. It goes on by itself when that is over; else silence it and sound it again.'
      );
    case 'no-way':
      return 'Nothing leads from the input of this stage to its output as it stands: a part on the way is left out.';
    case 'no-song':
      return 'Nothing in it brings it to oscillate: it has no part round its loop that can be turned so far.';
    case 'dies-away':
      return `Pushed, it rings at ${heard(data.freqHz)} and dies away.`;
    case 'no-bounds':
      return `Nothing holds it at ${heard(data.freqHz)}: its op-amps are ideal, and have no rails. Choose real ones.`;
    case 'no-cycle':
      return (
        `It oscillates about ${heard(data.freqHz)}, but comes to no wave that repeats: it jumps between an op-amp’s ` +
        'limits, or its bias wanders. There is no level or pitch to give.'
      );
    case 'no-control-current':
      return 'This circuit takes no control current, so there is nothing for a chain to make.';
    case 'no-picture':
      return 'The browser made no picture of what is in front. The curves as SVG say the same.';
    case 'gain-not-reached':
      return `The stages miss the gain asked for by ${plain(data.db)}\u202fdB.`;
    case 'bad-sweep':
      return SWEEP_FAULTS[String(data.what)] ?? 'This is no sweep that a card can play.';
    case 'not-a-sweep':
      return 'This is no exponential sweep: a tone that rises as many seconds an octave all the way.';
    case 'rate-differs':
      return (
        `The ${data.what} has ${data.rateHz} samples a second, and the sweep ${data.wantedHz}. Record at the sweep’s ` +
        'rate, or sweep at the recording’s.'
      );
    case 'silent-recording':
      return `The ${data.what} is silent. Look at the cable, the input that was chosen, and its level.`;
    case 'recording-clipped':
      return `The ${data.what} is clipped. Play it lower, or turn the input down, and sweep again.`;
    case 'recording-too-short':
      return (
        `The ${data.what} ends before the sweep: ${plain(data.seconds)}\u202fs, and the sweep takes ` +
        `${plain(data.neededS)}\u202fs.`
      );
    case 'sweep-not-found':
      return (
        `The sweep is not to be found in the ${data.what}: it is of another sweep or rate, was cut off, or the cable ` +
        'is not in.'
      );
    case 'channels-swapped':
      return 'The reference is uneven and the recording is even: left and right are swapped, it seems.';
    case 'no-such-probe':
      return `There is no place “${data.probe}” on this variant. Measured there before: take it away, or go back.`;
    case 'bends-there':
      return 'Inside a circuit that bends, the simulated card measures at the output only. Choose the output.';
    case 'nothing-measured':
      return 'Fewer than three points were measured; a longer range is wanted.';
    case 'nothing-to-break':
      return 'There is no part on this path that could be wrong.';
    case 'bad-fault':
      return `“${data.fault}” is no fault: R3=open, R3=short, R3=x10, R3~R4 or U1=dead.`;
    case 'no-such-part':
      return `There is no part ${data.part} on this path.`;
    case 'swap-of-kinds':
      return 'Only parts of one kind are taken for one another.';
    case 'measured-columns':
      return `${data.file} names no frequency_hz and magnitude_db in its first line.`;
    case 'measured-row':
      return `${data.file}, line ${data.line}: frequencies rise, and levels are numbers.`;
    case 'card-refused':
      return 'The browser was not allowed to listen. Allow the microphone for this page, and sweep again.';
    case 'card-missing':
      return 'No sound input was found. Plug the card in, and sweep again.';
    case 'card-gone':
      return 'The sound card went away in the middle of the sweep. Plug it in, and sweep again.';
    case 'card-rate':
      return (
        `The card runs at ${data.rateHz} samples a second, not at ${data.wantedHz}. Choose its rate, and sweep ` +
        'again.'
      );
    case 'recording-broken':
      return (
        `The ${data.what} breaks off at ${plain(data.atS)}\u202fs and goes on elsewhere: samples were lost on the ` +
        'way. Sweep again, with less going on beside it.'
      );
    case 'card-mono':
      return 'This input has one channel: the loopback has nowhere to come in. Sweep the cable instead.';
    case 'capture-columns':
      return 'No line has a time and a voltage. Columns of time and one or two voltages are read, with any heading.';
    case 'capture-row':
      return `Line ${data.line} is no row of numbers like those before: “${data.text}”.`;
    case 'capture-uneven':
      return `At line ${data.line} the times are not evenly spaced: save the capture without gaps.`;
    case 'capture-short':
      return `The capture has ${data.rows} rows; ${data.least} are the least that says anything.`;
    case 'capture-long':
      return `The capture has ${data.letters} letters; the most is ${data.most}. Save it with fewer points.`;
    case 'capture-too-coarse':
      return (
        `The capture has ${hz(data.rateHz)} samples a second; tones up to the sweep’s last need ` +
        `${hz(data.neededHz)}. Capture it finer, or set where the sweep ended.`
      );
    case 'wav-long':
      return `The file has ${data.megabytes}\u202fMB; ${data.most} are read. Cut it to the sweep and a second more.`;
    case 'not-acoustic':
      return 'Only ways that sound together in the air have distances to be found.';
    case 'reference-missing':
      return 'Sweep the cable first, or the source without the driver: it is divided out.';
    case 'card-dropped':
      return `${data.samples} samples were lost on the way: the machine was busy. Sweep again.`;
    default:
      return (
        speakerFailureWords(code, data) ??
        `Something could not be computed (${code}). Undo the last change; nothing is lost.`
      );
  }
}
