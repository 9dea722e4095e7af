import { defineSection } from '../kit/define-section';
import { buildRc, rcClosedForm, rcDesign, rcDrawing, rcParts, rcWorking } from './first-order-network';

/** One R and one C and nothing else: right only between a low source and a high load. */
export const firstOrderPassive = defineSection({
  id: 'first-order-passive',
  name: 'First-order RC, passive',
  shortName: 'RC alone',
  words: [
    'RC low-pass',
    'RC high-pass',
    'single pole',
    'one pole',
    '6 dB/oct',
    'tone capacitor',
    'treble bleed',
    'coupling capacitor',
    'hum filter',
    'rumble',
  ],
  family: 'rc',
  responses: ['lowpass', 'highpass'],
  order: 1,
  opAmps: () => 0,
  polarity: 1,
  reason: 'Two parts and no supply; what it drives becomes part of it.',
  cautions: ['The next stage loads it: read the joint.'],
  sources: ['P. Horowitz, W. Hill, The Art of Electronics, 3rd ed., 1.7'],
  gainRange: () => ({ min: 0.01, natural: 1, max: 1 }),
  parts: rcParts,
  design: (target, context) =>
    context.meet(target, rcDesign(target, context), [context.capacitorsFirst ? 'C1' : 'R1'], (values) =>
      rcClosedForm(target.response, values),
    ),
  closedForm: rcClosedForm,
  build: (context) => buildRc(context, context.output),
  working: rcWorking,
  drawing(response, parts) {
    const { placed, wires, dots, grounds } = rcDrawing(response, parts);
    wires.push([
      [16, 8],
      [20, 8],
    ]);
    return {
      width: 22,
      height: 17,
      parts: placed,
      opAmps: [],
      wires,
      dots,
      grounds,
      ports: [
        { label: 'in', at: [0, 8], side: 'left' },
        { label: 'out', at: [20, 8], side: 'right' },
      ],
    };
  },
});
