import type { Rational } from '../../filter/rational';
import { fromDecibels } from '../../units/quantity';
import { defineNetwork } from '../kit/define-network';
import type { PartSpec } from '../kit/define-topology';
import { LEVEL_OHM } from '../kit/design-context';
import { BLOCK, finished, invertingBlock, sketch } from '../kit/drawing-blocks';
import { across, type Drawing } from '../kit/drawing';
import type { ParameterSpec } from '../kit/parameter';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

const FORMS = ['bass lift', 'bass cut', 'treble lift', 'treble cut'] as const;
const bass = (form: string): boolean => form.startsWith('bass');
const lift = (form: string): boolean => form.endsWith('lift');

const PARAMETERS: ParameterSpec[] = [
  { name: 'shelfDb', label: 'lift or cut', kind: 'decibel', min: 0.5, max: 30, initial: 6 },
  { name: 'cornerHz', label: 'leaves level at', kind: 'frequency', min: 1e-1, max: 1e6, initial: 400 },
];

/**
 * An inverting amplifier of gain one whose feedback (lift) or input (cut) grows: R2 in series with R3 ∥ C1 at low
 * frequencies for the bass, R2 paralleled by R3 and C1 for the treble from the other side. The corner is where the
 * straight line leaves the level part. With k = R3/R1 (bass) or R1/R3 (treble) the shelf is 1 + k.
 */
function measures(form: string, { R1, R3, C1 }: PartValues) {
  if (bass(form)) {
    const ratio = 1 + R3 / R1;
    return { shelfDb: 20 * Math.log10(ratio), cornerHz: ratio / (2 * Math.PI * R3 * C1) };
  }
  const ratio = 1 + R1 / R3;
  return { shelfDb: 20 * Math.log10(ratio), cornerHz: 1 / (2 * Math.PI * (R1 + R3) * C1) };
}

/** The side that is shaped, over the plain one: Z/R with Z = R1 + R3/(1 + s R3 C1), or R1 ∥ (R3 + 1/s C1). */
function shaped(form: string, { R1, R3, C1 }: PartValues): Rational {
  if (bass(form)) return { numerator: [R1 + R3, R1 * R3 * C1], denominator: [1, R3 * C1] };
  return { numerator: [R1, R1 * R3 * C1], denominator: [1, (R1 + R3) * C1] };
}

/** A bass lift is a growing feedback, a treble lift a shrinking input. */
const shapesFeedback = (form: string): boolean => lift(form) === bass(form);

function transfer(form: string, v: PartValues): Rational {
  const { numerator, denominator } = shaped(form, v);
  return shapesFeedback(form)
    ? { numerator: numerator.map((c) => -c / v.R2), denominator }
    : { numerator: denominator.map((c) => -c * v.R2), denominator: numerator };
}

function drawing(form: string): Drawing {
  const drawn = sketch();
  const y = 15;
  const feedback = shapesFeedback(form);
  const start = feedback ? 2 : bass(form) ? 12 : 8;
  // The shaped side is drawn by hand: bass in line with a pair, treble across a series pair.
  const block = invertingBlock(
    drawn,
    start,
    y,
    'U1',
    feedback ? ['R2', 'resistor'] : ['R1', 'resistor'],
    feedback ? [] : [['R2', 'resistor']],
  );
  if (feedback) {
    const [left, right] = [block.sum[0], block.out[0] + 8];
    const [top, upper] = [y - 6, y - 11];
    drawn.wires.push([block.sum, [left, top]], [block.out, [right, block.out[1]], [right, top]]);
    if (bass(form)) {
      drawn.parts.push(
        across('R1', 'resistor', left + 4, top),
        across('R3', 'resistor', left + 12, top),
        across('C1', 'capacitor', left + 12, upper),
      );
      drawn.wires.push(
        [
          [left, top],
          [left + 2, top],
        ],
        [
          [left + 6, top],
          [left + 10, top],
        ],
        [
          [left + 14, top],
          [right, top],
        ],
        [
          [left + 8, top],
          [left + 8, upper],
          [left + 10, upper],
        ],
        [
          [left + 14, upper],
          [left + 16, upper],
          [left + 16, top],
        ],
      );
      drawn.dots.push([left + 8, top], [left + 16, top]);
    } else {
      drawn.parts.push(
        across('R1', 'resistor', left + 8, top),
        across('R3', 'resistor', left + 4, upper),
        across('C1', 'capacitor', left + 12, upper),
      );
      drawn.wires.push(
        [
          [left, top],
          [left + 6, top],
        ],
        [
          [left + 10, top],
          [right, top],
        ],
        [
          [left, top],
          [left, upper],
          [left + 2, upper],
        ],
        [
          [left + 6, upper],
          [left + 10, upper],
        ],
        [
          [left + 14, upper],
          [right, upper],
          [right, top],
        ],
      );
      drawn.dots.push([left, top], [right, top]);
    }
    drawn.wires.push([
      [0, y],
      [2, y],
    ]);
    return finished(drawn, BLOCK + 15, y + 8, [0, y], [right, block.out[1]]);
  }
  const upper = y - 5.5;
  if (bass(form)) {
    drawn.parts.push(across('R3', 'resistor', 6, y), across('C1', 'capacitor', 6, upper));
    drawn.wires.push(
      [
        [0, y],
        [4, y],
      ],
      [
        [8, y],
        [start, y],
      ],
      [
        [2, y],
        [2, upper],
        [4, upper],
      ],
      [
        [8, upper],
        [10, upper],
        [10, y],
      ],
    );
    drawn.dots.push([2, y], [10, y]);
  } else {
    drawn.parts.push(across('R3', 'resistor', 3.5, upper), across('C1', 'capacitor', 9.5, upper));
    drawn.wires.push(
      [
        [0, y],
        [start, y],
      ],
      [
        [0.5, y],
        [0.5, upper],
        [1.5, upper],
      ],
      [
        [5.5, upper],
        [7.5, upper],
      ],
      [
        [11.5, upper],
        [block.sum[0] - 0.6, upper],
        [block.sum[0] - 0.6, y],
      ],
    );
    drawn.dots.push([0.5, y], [block.sum[0] - 0.6, y]);
  }
  return finished(drawn, start + BLOCK + 5, y + 8, [0, y], block.out);
}

export const shelvingEqualiser = defineNetwork({
  id: 'shelving-equaliser',
  name: 'Shelving equaliser',
  shortName: 'Shelf',
  words: ['shelf', 'bass', 'treble', 'tilt', 'tone', 'shelving', 'high shelf', 'low shelf'],
  family: 'op-amp',
  modes: FORMS,
  parameters: PARAMETERS,
  polarity: -1,
  opAmps: () => 1,
  reason: 'Lifts or cuts all that lies past a corner by so much, and no more; the rest stays at gain one.',
  cautions: [
    'A lift takes headroom where it lifts: watch the swing at the lowest or highest note.',
    'It turns the signal over.',
  ],
  sources: ['U. Zölzer, Digital Audio Signal Processing, 2nd ed., 5.2 (analogue shelves); −Zf/Zi'],
  parts: (form): PartSpec[] => [
    {
      name: 'R2',
      kind: 'resistor',
      role: shapesFeedback(form) ? 'in line: the level' : 'fed back: the level',
      leaveOut: 'open',
    },
    { name: 'R1', kind: 'resistor', role: 'equal to R2: gain one in the level part', leaveOut: 'open' },
    { name: 'R3', kind: 'resistor', role: 'how far the shelf goes', leaveOut: bass(form) ? 'short' : 'open' },
    { name: 'C1', kind: 'capacitor', role: 'where it begins', leaveOut: 'open' },
  ],
  design(wanted, form, context) {
    const k = fromDecibels(wanted.shelfDb) - 1;
    // R3 in units of R1, and R1·C1 for the corner.
    const [share, product] = bass(form)
      ? [k, (1 + k) / (2 * Math.PI * wanted.cornerHz * k)]
      : [1 / k, 1 / (2 * Math.PI * wanted.cornerHz * (1 + 1 / k))];
    const C1 = context.capacitorsFirst
      ? context.capacitor('C1', product / LEVEL_OHM)
      : product / context.resistor('R1', LEVEL_OHM);
    const R1 = product / C1;
    const parts = { R2: R1, R1, R3: share * R1, C1 };
    const pinned = context.pinned('R2');
    // R1 equals R2 whichever is held.
    const held = pinned !== undefined && context.pinned('R1') === undefined;
    const start = held ? { R2: pinned, R1: pinned, R3: share * pinned, C1: product / pinned } : parts;
    return context.meetParameters(
      [...PARAMETERS, LEVEL],
      { ...wanted, levelRatio: 1 },
      start,
      [held || context.capacitorsFirst ? 'C1' : 'R1'],
      (v) => ({ ...measures(form, v), levelRatio: v.R1 / v.R2 }),
    );
  },
  measures,
  figures: [
    {
      label: 'gain in the level part',
      kind: 'decibel',
      of: (form, { R1, R2 }) => (shapesFeedback(form) ? 1 : -1) * 20 * Math.log10(R1 / R2),
    },
  ],
  transfer,
  build({ form, input, output, reference, node, part, opAmp }) {
    const [n, i] = [node('n'), node('i')];
    const [a, b] = shapesFeedback(form) ? [n, output] : [input, n];
    part('R2', shapesFeedback(form) ? input : n, shapesFeedback(form) ? n : output);
    if (bass(form)) {
      part('R1', i, shapesFeedback(form) ? a : b);
      part('R3', shapesFeedback(form) ? b : a, i);
      part('C1', shapesFeedback(form) ? b : a, i);
    } else {
      part('R1', a, b);
      part('R3', a, i);
      part('C1', i, b);
    }
    opAmp('U1', reference, n, output);
  },
  working: (form, parts) => [
    {
      says: 'shelf',
      tex: bass(form) ? '1 + \\frac{R_3}{R_1}' : '1 + \\frac{R_1}{R_3}',
      value: format.decibel(measures(form, parts).shelfDb),
    },
    {
      says: 'leaves level at',
      tex: bass(form) ? 'f = \\frac{1 + R_3/R_1}{2\\pi R_3 C_1}' : 'f = \\frac{1}{2\\pi (R_1 + R_3) C_1}',
      value: format.hertz(measures(form, parts).cornerHz),
    },
  ],
  drawing,
});

const LEVEL: ParameterSpec = { name: 'levelRatio', label: 'level', kind: 'ratio', min: 0.1, max: 10, initial: 1 };
