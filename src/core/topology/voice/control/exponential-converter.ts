import { npn } from '../../../circuit/elements/bipolar';
import { BOLTZMANN } from '../../../analysis/rest/equations';
import { ELECTRON_CHARGE } from '../../../circuit/element';
import { across, down } from '../../kit/drawing';
import { sketch, type Sketch } from '../../kit/drawing-blocks';
import type { BuildContext, PartSpec } from '../../kit/define-topology';
import { SUPPLY, wiperOf, type PartValues } from '../../kit/part';
import { format } from '../../kit/working';
import { THERMAL_VOLTS } from '../control-current';
import { IDEAL_TRANSISTOR, SMALL_NPN } from '../stage/small-transistor';
import { DRAWN, TRACK_OHM, type ControlChain } from './control-chain';
import { BUS_X, drawInputs, INPUT_PARTS, INPUT_ROLES, INTO_Y, placeInputs } from './inputs';

const [COMPENSATED, PLAIN, HEATED] = ['tempco resistor', 'plain resistor', 'heated pair'];
const HEATED_C = 60;
const ZERO_C = 273.15;
const INPUT_OHM = 100e3;
const LEG_OHM = 1000;
/** Of a resistor that rises as kT/q does, at 27 °C: per degree, a part in a million. */
const TEMPCO_PPM = 1e6 / (27 + ZERO_C);
const LOOP_FARAD = 1e-9;
/** Of the supply that the emitters' resistor may take with the knob at its end. */
const EMITTER_SHARE = 0.25;
const LEAST_EMITTER_OHM = 220;
const MOST_EMITTER_OHM = 4700;

/** kT/q of the pair, V. */
const pairVolts = (form: string): number =>
  form === HEATED ? (BOLTZMANN * (HEATED_C + ZERO_C)) / ELECTRON_CHARGE : THERMAL_VOLTS;

/** What the knob brings, V, and what its wiper stands behind, ohm. */
function knobOf(v: PartValues): { volts: number; ohm: number } {
  const share = wiperOf(v, 'Pc1');
  return { volts: (v[SUPPLY] / 2) * (2 * share - 1), ohm: share * (1 - share) * v.Pc1 };
}

/** Of the adder: what comes out, V. */
function summed(v: PartValues): number {
  const knob = knobOf(v);
  const depth = wiperOf(v, 'Pc2');
  const amps =
    (v.Jc1 ?? 0) / v.Rc1 +
    ((v.Jc2 ?? 0) * depth) / (v.Rc2 + depth * (1 - depth) * v.Pc2) +
    knob.volts / (v.Rc3 + knob.ohm);
  return -amps * v.Rc4;
}

/** Volts at the pitch input for an octave. */
const voltsPerOctave = (form: string, v: PartValues): number =>
  (pairVolts(form) * Math.LN2 * (v.Rc5 + v.Rc6) * v.Rc1) / (v.Rc6 * v.Rc4);

function build(context: BuildContext, drawn: string): void {
  const { form, reference, plus, ideal, node, part, opAmp, element } = context;
  const pair = (ideal ? IDEAL_TRANSISTOR : SMALL_NPN).slice();
  // A pair that is kept warm conducts as exp(v/(n Vt)) with the n that makes n Vt its own kT/q.
  const own = form === HEATED ? pairVolts(form) / context.thermalVolts : 1;
  [pair[3], pair[4]] = [own, own];
  const [sum, added, base, held, e, servo] = ['sum', 'added', 'base', 'held', 'e', 'servo'].map((n) => node(`cv-${n}`));
  placeInputs(context, sum, reference, context.minus);
  part('Rc4', added, sum);
  opAmp('Uc1', reference, sum, added);
  part('Rc5', added, base);
  part('Rc6', base, reference);
  element('Qc1', npn, [held, base, e], pair);
  element('Qc2', npn, [drawn, reference, e], pair);
  part('Rc7', plus, held);
  part('Rc8', e, servo);
  part('Cc1', servo, held);
  opAmp('Uc2', reference, held, servo);
}

const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'open' });

export const exponentialConverter: ControlChain = {
  id: 'exponential-converter',
  name: 'Volts per octave: adder and exponential converter',
  reason:
    'Every volt doubles the current: one transistor of a pair is held to a current of its own, and what ' +
    'stands between the bases multiplies the other’s.',
  cautions: [
    'The pair is one package, glued to the resistor that makes up for warmth, or kept warm itself.',
    'Above some hundred microamperes the pair’s own ohms flatten the scale.',
    'On one supply the jacks’ sleeves are the middle of it: keep them off a panel that is the battery’s minus.',
  ],
  sources: [
    'P. R. Gray, R. G. Meyer, Analysis and Design of Analog Integrated Circuits, 1.4: Vbe = Vt ln(I/IS)',
    'own node equations of the pair with its servo',
  ],
  forms: [COMPENSATED, PLAIN, HEATED],
  parameters: [
    { name: 'voltsPerOctave', label: 'volts per octave', kind: 'voltage', min: 0.1, max: 5, initial: 1 },
    { name: 'knobOctaves', label: 'knob, end to end, octaves', kind: 'ratio', min: 1, max: 14, initial: 9 },
  ],
  opAmps: 2,
  ...INPUT_ROLES,
  usualFor: ['pins', 'sink'],
  trimmed: [
    { part: 'Rc4', sets: 'scale' },
    { part: 'Rc7', sets: 'beginning' },
  ],
  law: 'octaves',
  jacks: { Jc1: { fromVolts: -3, toVolts: 3 }, Jc2: { fromVolts: -5, toVolts: 5 } },
  heldAtC: (form) => (form === HEATED ? HEATED_C : null),
  parts: (form) => [
    ...INPUT_PARTS,
    resistor('Rc4', 'around the adder: scale'),
    resistor('Rc5', 'divides down to millivolts'),
    {
      ...resistor('Rc6', form === COMPENSATED ? 'tempco, on the pair' : 'divides down to millivolts'),
      ...(form === COMPENSATED ? { perDegreePpm: TEMPCO_PPM } : {}),
    },
    resistor('Rc7', 'reference current'),
    resistor('Rc8', 'bounds both currents'),
    { name: 'Cc1', kind: 'capacitor', role: 'steadies the servo', leaveOut: 'open' },
  ],
  design({ voltsPerOctave: scale, knobOctaves }, form, amps, context) {
    const half = context.supplyVolts / 2;
    const Rc1 = context.resistor('Rc1', INPUT_OHM);
    const Rc6 = context.resistor('Rc6', LEG_OHM);
    const perOctave = pairVolts(form) * Math.LN2;
    // The adder about as large as its inputs; what rounding the divider takes, it gives back.
    const Rc5 = context.resistor('Rc5', Rc6 * (scale / perOctave - 1));
    const Rc4 = context.pinned('Rc4') ?? (perOctave * (1 + Rc5 / Rc6) * Rc1) / scale;
    const most = amps * 2 ** (knobOctaves / 2);
    return {
      Jc1: 0,
      Jc2: 0,
      Pc1: context.pinned('Pc1') ?? TRACK_OHM,
      Pc2: context.pinned('Pc2') ?? TRACK_OHM,
      Rc1,
      Rc2: context.resistor('Rc2', Rc1),
      Rc3: context.resistor('Rc3', (2 * half * Rc1) / (knobOctaves * scale)),
      Rc4,
      Rc5,
      Rc6,
      Rc7: context.pinned('Rc7') ?? half / amps,
      Rc8: context.resistor(
        'Rc8',
        Math.min(MOST_EMITTER_OHM, Math.max(LEAST_EMITTER_OHM, (EMITTER_SHARE * half) / most)),
      ),
      Cc1: context.capacitor('Cc1', LOOP_FARAD),
    };
  },
  amps: (form, v) => (v[SUPPLY] / 2 / v.Rc7) * Math.exp((-summed(v) * v.Rc6) / (v.Rc5 + v.Rc6) / pairVolts(form)),
  build,
  working: (form, v) => [
    {
      says: 'reference',
      tex: 'I_{ref} = \\frac{V_+}{R_{c7}}',
      value: format.amps(v[SUPPLY] / 2 / v.Rc7),
    },
    {
      says: 'pair',
      tex: '\\frac{I}{I_{ref}} = e^{-V_b/V_T}',
      value: `${format.ratio(1000 * pairVolts(form) * Math.LN2)} mV an octave`,
    },
    {
      says: 'scale',
      tex: 'V_T \\ln 2\\,\\frac{R_{c5} + R_{c6}}{R_{c6}}\\,\\frac{R_{c1}}{R_{c4}}',
      value: `${format.ratio(voltsPerOctave(form, v))} V an octave`,
    },
  ],
  draw() {
    const into = sketch();
    drawInputs(into, null, 'minus');
    drawPair(into);
    return { pieces: into, height: 40 };
  },
};

function drawPair({ parts, opAmps, devices, wires, dots, grounds, ports }: Sketch): void {
  parts.push(
    across('Rc4', 'resistor', 31, 10),
    across('Rc5', 'resistor', 41, 16.5),
    down('Rc6', 'resistor', 45, 20.5, 'left'),
    down('Rc7', 'resistor', 51.5, 8, 'left'),
    down('Rc8', 'resistor', 55, 25, 'right'),
    across('Cc1', 'capacitor', 48, 36),
  );
  opAmps.push({ name: 'Uc1', at: [31, 16.5], plusOnTop: false }, { name: 'Uc2', at: [48, 30.5], plusOnTop: true });
  devices.push(
    { name: 'Qc1', symbol: 'npn', at: [50, 16.5] },
    { name: 'Qc2', symbol: 'npn', at: [60, 16.5], mirrored: true },
  );
  wires.push(
    [
      [BUS_X, INTO_Y],
      [28, INTO_Y],
    ],
    [
      [28, 18],
      [27, 18],
      [27, 19.5],
    ],
    [
      [26, INTO_Y],
      [26, 10],
      [29, 10],
    ],
    [
      [33, 10],
      [36, 10],
      [36, 16.5],
    ],
    [
      [34, 16.5],
      [39, 16.5],
    ],
    [
      [43, 16.5],
      [48, 16.5],
    ],
    [
      [45, 16.5],
      [45, 18.5],
    ],
    [
      [62, 16.5],
      [63, 16.5],
      [63, 18.5],
    ],
    // Emitters, and what holds them.
    [
      [51.5, 18.5],
      [51.5, 21],
      [58.5, 21],
      [58.5, 18.5],
    ],
    [
      [55, 21],
      [55, 23],
    ],
    [
      [51, 30.5],
      [55, 30.5],
      [55, 27],
    ],
    // The reference, and the servo that holds it.
    [
      [47.5, 5],
      [51.5, 5],
      [51.5, 6],
    ],
    [
      [51.5, 10],
      [51.5, 14.5],
    ],
    [
      [51.5, 12.5],
      [38, 12.5],
      [38, 32],
      [45, 32],
    ],
    [
      [45, 29],
      [43, 29],
    ],
    [
      [42, 32],
      [42, 36],
      [46, 36],
    ],
    [
      [50, 36],
      [53, 36],
      [53, 30.5],
    ],
    [
      [58.5, 14.5],
      [58.5, 8],
      [61, 8],
    ],
  );
  dots.push([26, INTO_Y], [36, 16.5], [45, 16.5], [55, 21], [51.5, 12.5], [42, 32], [53, 30.5]);
  grounds.push([27, 19.5], [45, 22.5], [63, 18.5], [43, 29]);
  ports.push({ label: '+V', at: [47.5, 5], side: 'left' }, { label: DRAWN, at: [61, 8], side: 'right' });
}
