import type { FilterResponse } from '@/core/filter/section';
import { RESPONSE_NAMES } from '@/core/filter/response-names';
import { formatQuantity } from '@/core/units/quantity';
import { ohm, plain, volts } from '../figures';
import type { FailureWords } from './failure-words';

const MASK_WORDS: Readonly<Record<string, string>> = {
  keep: 'Say first how far the pass band may fall: a pass limit.',
  lose: 'Say first how far the stop band must fall: a stop limit.',
  'keep-below': 'A stop limit above needs a pass limit below it.',
  'keep-above': 'A stop limit below needs a pass limit above it.',
};

/** Why a circuit or a figure of it is not to be had. */
export const CIRCUIT_FAILURES: FailureWords = {
  'over-pinned': (data) =>
    `No values fit around the pinned parts (${(data.pinned as readonly string[]).join(', ')}). Unpin ` +
    `one, or type another value; the last good curves are still shown.`,
  'capacitor-ratio': (data) =>
    `${data.larger} must be at least ${plain(data.needed)} times ${data.smaller}; it is ` +
    `${plain(data.ratio)} times. Unpin one of them or type other values.`,
  'resistor-ratio': (data) =>
    `${data.larger} must be at least ${plain(data.needed)} times ${data.smaller}; it is ` +
    `${plain(data.ratio)} times. Unpin one of them or type other values.`,
  'q-too-low': (data) =>
    `This circuit cannot make a Q of ${plain(data.q)}: its lowest is ${plain(data.lowest)}. Choose ` +
    `another topology for the stage.`,
  'wrong-order': (data) =>
    `${data.topology} does not build a section of order ${data.order}. Choose another topology for the stage.`,
  'wrong-response': (data) => {
    const response = String(RESPONSE_NAMES[data.response as FilterResponse]).toLowerCase();
    return `${data.topology} does not build ${response} sections. Choose another topology for the stage.`;
  },
  'null-apart': (data) =>
    `This circuit has its null at its natural frequency; the section wants it ${plain(data.ratio)} times ` +
    `that. Choose a circuit with a free null (Bainter, Tow-Thomas, state variable).`,
  'no-headroom': (data) =>
    `With ${volts(data.supplyVolts)} from rail to rail there is no room: the emitter at ` +
    `${volts(data.emitterVolts)} and what stands over it want ${volts(data.needsVolts)} and some swing. ` +
    `Lower the emitter, or raise the supply.`,
  'gain-too-high': (data) =>
    `A gain of ${plain(data.gain)} is more than this stage can give at its current: ${plain(data.most)} ` +
    `at most. Ask for less, or for a higher load.`,
  'q-too-high': (data) =>
    `A Q of ${plain(data.q)} is more than its losses allow: ${plain(data.most)} at most. Ask for less, ` +
    `or take more gain or a larger resistor in line.`,
  'too-large-for-strips': (data) =>
    `${data.parts} parts on ${data.nets} nets are too many for one strip board laid by hand. Build it ` +
    `stage by stage: bypass the others, plan, build, and go on.`,
  'not-for-strips': (data) =>
    `${data.part} comes in a package whose pins differ from maker to maker: plan its board by hand.`,
  'no-mask': (data) => MASK_WORDS[String(data.why)] ?? 'Say first what is to be kept, and what is to be lost.',
  'mask-crossed': () => 'A frequency that is to be kept lies where it is to be lost: move the limits apart.',
  'no-ladder': (data) =>
    `No ladder of order ${data.order} has ${plain(data.rippleDb)}\u202fdB of ` +
    `ripple${Number(data.attenuationDb) > 0 ? ` and ${plain(data.attenuationDb)}\u202fdB of attenuation` : ''} ` +
    `with positive parts. Ask for more attenuation, less ripple, or another order.`,
  'no-passive-ladder': (data) =>
    `${String(data.alignment)} has no ladder of coils and capacitors by turns. Choose an alignment ` + `without nulls.`,
  'no-unique-solution': (data) =>
    `The circuit as it stands has no single answer: ${data.unknown} is left undetermined. Put back the ` +
    `part that was left out there.`,
  'never-settles': () =>
    'This circuit rings for longer than a step response can be followed: it is undamped, or nearly so. Lower its Q, ' +
    'or put back the resistance that damps it.',
  'no-such-probe': (data) =>
    `The deck has no node called “${data.probe}”. Name its output node “out”. Nothing was changed.`,
  'no-convergence': (data) =>
    data.timeS === undefined
      ? `No operating point is found: ${data.node} does not settle in ${data.iterations} steps. A device may ` +
        `have no way for its current, or a loop feeds back with the wrong sign.` +
        (data.device ? ` Look at ${data.device}.` : '') +
        (data.volts
          ? ` On a supply of ${formatQuantity(Number(data.volts), 'voltage', { digits: 3 })} it would rest.`
          : '')
      : `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} ${data.node} does not settle. Ask ` +
        `for a gentler signal, or a slower one.`,
  'not-settled': (data) =>
    `It does not come to rest within ${data.periods} periods of the tone, so there is no figure. Ask for ` +
    `a higher tone, or look at it in time.`,
  'load-too-heavy': (data) =>
    `A load of ${ohm(data.loadOhm)} is too heavy: the divider alone stands at ${ohm(data.needsOhm)}. Ask ` +
    `for less, for a lighter load, or put a buffer between.`,
  'load-does-not-fit': (data) =>
    `This ladder fits ${ohm(data.loadOhm)} at its end and no other load. Set the load to it, or choose ` +
    `an odd order.`,
  'not-a-ladder': () =>
    'No ladder with values that can be built has this response. Take another alignment, ripple or order.',
  'no-solution': () => 'No values meet all of this at once. Ask for less, or unpin a part.',
  'no-cutoff': () => 'Nothing falls to half of its power within hearing, so there is no cutoff to move.',
  'no-loop': () => 'This circuit has no loop to walk, or the part that closes it is left out.',
  'not-shaped': () => 'This stage is not an amplifier shaped by capacitors; choose one on the path.',
  'needs-more': (data) => `It wants ${data.wanted} values to find the rest.`,
  'too-many-steps': (data) =>
    `At ${formatQuantity(Number(data.timeS), 'time', { digits: 3 })} the circuit asks for steps too ` +
    `small to finish. Ask for a slower signal, or for less of it.`,
  'gain-not-reached': (data) => `The stages miss the gain asked for by ${plain(data.db)}\u202fdB.`,
};
