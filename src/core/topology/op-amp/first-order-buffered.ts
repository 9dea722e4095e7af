import { defineSection } from '../kit/define-section';
import { LEVEL_OHM } from '../kit/design-context';
import { across, down } from '../kit/drawing';
import { buildRc, rcClosedForm, rcDesign, rcDrawing, rcParts, rcWorking } from '../network/first-order-network';
import { amplifierGain, buildAmplifier } from './sallen-key-network';
import { format } from '../kit/working';

/** One R, one C and an op-amp that keeps the next stage off them; the op-amp gives gain 1 + Rb/Ra when asked for. */
export const firstOrderBuffered = defineSection({
  id: 'first-order-buffered',
  name: 'First-order RC, buffered',
  shortName: 'RC and buffer',
  words: ['single pole', 'one pole', '6 dB/oct', 'RC with follower'],
  family: 'op-amp',
  responses: ['lowpass', 'highpass'],
  order: 1,
  opAmps: () => 1,
  polarity: 1,
  reason: 'The plain single pole, buffered so that nothing loads it; takes gain where it is wanted.',
  cautions: ['The op-amp must be stable at unity gain when it has no gain resistors.'],
  sources: ['U. Tietze, C. Schenk, Electronic Circuits, 2nd ed., 13.3'],
  gainRange: () => ({ min: 0.01, natural: 1, max: 30 }),
  parts: (response) => [
    ...rcParts(response),
    { name: 'Ra', kind: 'resistor', role: 'gain, to ground', leaveOut: 'open' },
    { name: 'Rb', kind: 'resistor', role: 'gain, fed back', leaveOut: 'short' },
  ],
  design(target, context) {
    const gain = Math.max(1, target.gain);
    const parts = rcDesign({ ...target, gain: Math.min(1, target.gain) }, context);
    if (gain > 1 + 1e-9) {
      parts.Ra = context.resistor('Ra', LEVEL_OHM);
      parts.Rb = (gain - 1) * parts.Ra;
    }
    return context.meet(target, parts, [context.capacitorsFirst ? 'C1' : 'R1', 'Ra'], (values) =>
      this.closedForm(target.response, values),
    );
  },
  closedForm(response, parts) {
    const rc = rcClosedForm(response, parts);
    return { ...rc, gain: rc.gain * amplifierGain(parts) };
  },
  build(context) {
    const a = context.node('a');
    buildRc(context, a);
    buildAmplifier(context, a);
  },
  working(target, parts) {
    const lines = rcWorking(target, parts);
    return parts.Ra === undefined
      ? lines
      : [
          ...lines,
          { says: 'amplifier', tex: 'K = 1 + \\frac{R_b}{R_a}', value: `× ${format.ratio(amplifierGain(parts))}` },
        ];
  },
  drawing(response, parts) {
    const { placed, wires, dots, grounds } = rcDrawing(response, parts);
    wires.push(
      [
        [16, 8],
        [19, 8],
      ],
      [
        [25, 9.5],
        [32, 9.5],
      ],
    );
    dots.push([29, 9.5]);
    if (parts.Ra === undefined)
      wires.push([
        [19, 11],
        [18, 11],
        [18, 14],
        [29, 14],
        [29, 9.5],
      ]);
    else {
      placed.push(across('Rb', 'resistor', 24, 15), down('Ra', 'resistor', 19, 19, 'right'));
      wires.push(
        [
          [19, 11],
          [18.5, 11],
          [18.5, 15],
          [22, 15],
        ],
        [
          [26, 15],
          [29, 15],
          [29, 9.5],
        ],
        [
          [19, 15],
          [19, 17],
        ],
      );
      dots.push([19, 15]);
      grounds.push([19, 21]);
    }
    return {
      width: 34,
      height: parts.Ra === undefined ? 17 : 24,
      parts: placed,
      opAmps: [{ name: 'U1', at: [22, 9.5], plusOnTop: true }],
      wires,
      dots,
      grounds,
      ports: [
        { label: 'in', at: [0, 8], side: 'left' },
        { label: 'out', at: [32, 9.5], side: 'right' },
      ],
    };
  },
});
