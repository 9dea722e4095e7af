import type { FilterResponse, SectionTarget } from '../../filter/section';
import type { BuildContext, PartSpec, WorkingLine } from '../kit/define-topology';
import type { ClosedForm, PartKind, PartValues } from '../kit/part';
import { across, down, type Drawing, type Point } from '../kit/drawing';
import { format } from '../kit/working';

/**
 * What the Sallen-Key family has in common. R. P. Sallen and E. L. Key, IRE Trans. Circuit Theory CT-2, 1955.
 * Low-pass: R1, R2 in line, C1 fed back, C2 to ground. High-pass: R and C trade places.
 * Optional: a leg at the first node that takes gain away (R1b, or C1b), and Ra, Rb that give gain K = 1 + Rb/Ra.
 */
export function sallenKeyParts(response: FilterResponse, withGain: boolean): PartSpec[] {
  const series = response === 'lowpass' ? 'resistor' : 'capacitor';
  const shunt = response === 'lowpass' ? 'capacitor' : 'resistor';
  const [s, p] = response === 'lowpass' ? ['R', 'C'] : ['C', 'R'];
  const parts: PartSpec[] = [
    { name: `${s}1`, kind: series, role: 'in line, from the input', leaveOut: 'short' },
    { name: `${s}1b`, kind: series, role: 'divider leg that takes gain away', leaveOut: 'open' },
    { name: `${s}2`, kind: series, role: 'in line, to the op-amp', leaveOut: 'short' },
    { name: `${p}1`, kind: shunt, role: 'fed back from the output', leaveOut: 'open' },
    {
      name: `${p}2`,
      kind: shunt,
      role: response === 'lowpass' ? 'to ground' : 'to ground, and DC path of the input',
      leaveOut: 'open',
    },
  ];
  if (withGain)
    parts.push(
      { name: 'Ra', kind: 'resistor', role: 'gain, to ground', leaveOut: 'open' },
      { name: 'Rb', kind: 'resistor', role: 'gain, fed back', leaveOut: 'short' },
    );
  return parts;
}

/**
 * Splits the first in-line part into a divider of ratio a (below 1) that looks like the same part from behind
 * (Thévenin).
 */
export function splitFirst(response: FilterResponse, parts: Record<string, number>, ratio: number): void {
  if (ratio > 1 - 1e-9) return;
  if (response === 'lowpass') {
    parts.R1b = parts.R1 / (1 - ratio);
    parts.R1 = parts.R1 / ratio;
  } else {
    parts.C1b = parts.C1 * (1 - ratio);
    parts.C1 = parts.C1 * ratio;
  }
}

/** The first in-line part as the rest of the stage sees it, and the divider's ratio. */
export function joinFirst(response: FilterResponse, parts: PartValues): { first: number; ratio: number } {
  if (response === 'lowpass') {
    const leg = parts.R1b;
    return leg === undefined
      ? { first: parts.R1, ratio: 1 }
      : { first: (parts.R1 * leg) / (parts.R1 + leg), ratio: leg / (parts.R1 + leg) };
  }
  const leg = parts.C1b;
  return leg === undefined
    ? { first: parts.C1, ratio: 1 }
    : { first: parts.C1 + leg, ratio: parts.C1 / (parts.C1 + leg) };
}

export const amplifierGain = (parts: PartValues): number => (parts.Ra === undefined ? 1 : 1 + parts.Rb / parts.Ra);

/**
 * Low-pass: ω0² = 1/(R1 R2 C1 C2), ω0/Q = 1/(R1 C1) + 1/(R2 C1) + (1 − K)/(R2 C2).
 * High-pass: the same with each R and 1/C exchanged: ω0/Q = 1/(R2 C1) + 1/(R2 C2) + (1 − K)/(R1 C1).
 * W. K. Chen (ed.), The Circuits and Filters Handbook, Sallen-Key biquads.
 */
export function sallenKeyClosedForm(response: FilterResponse, parts: PartValues): ClosedForm {
  const gain = amplifierGain(parts);
  const { first, ratio } = joinFirst(response, parts);
  const [r1, c1] = response === 'lowpass' ? [first, parts.C1] : [parts.R1, first];
  const { R2: r2, C2: c2 } = parts;
  const omega = 1 / Math.sqrt(r1 * r2 * c1 * c2);
  const damping =
    response === 'lowpass'
      ? 1 / (r1 * c1) + 1 / (r2 * c1) + (1 - gain) / (r2 * c2)
      : 1 / (r2 * c1) + 1 / (r2 * c2) + (1 - gain) / (r1 * c1);
  return { freqHz: omega / (2 * Math.PI), q: omega / damping, gain: gain * ratio };
}

export function buildSallenKey(context: BuildContext<FilterResponse>): void {
  const { form: response, input, output, ground } = context;
  const [s, p] = response === 'lowpass' ? ['R', 'C'] : ['C', 'R'];
  const [a, b] = [context.node('a'), context.node('b')];
  context.part(`${s}1`, input, a);
  if (context.has(`${s}1b`)) context.part(`${s}1b`, a, context.reference);
  context.part(`${s}2`, a, b);
  context.part(`${p}1`, a, output);
  context.part(`${p}2`, b, response === 'lowpass' ? ground : context.reference);
  buildAmplifier(context, b);
}

/** The op-amp behind a node: a follower, or with Ra and Rb an amplifier of gain 1 + Rb/Ra. */
export function buildAmplifier(context: BuildContext, plus: string): void {
  const { output } = context;
  if (!context.has('Ra')) return context.opAmp('U1', plus, output, output);
  const m = context.node('m');
  context.part('Ra', m, context.reference);
  context.part('Rb', m, output);
  context.opAmp('U1', plus, m, output);
}

export function sallenKeyDrawing(response: FilterResponse, parts: PartValues): Drawing {
  const [s, p]: [string, string] = response === 'lowpass' ? ['R', 'C'] : ['C', 'R'];
  const [inLine, shunt]: [PartKind, PartKind] =
    response === 'lowpass' ? ['resistor', 'capacitor'] : ['capacitor', 'resistor'];
  const placed = [
    across(`${s}1`, inLine, 4, 8),
    across(`${s}2`, inLine, 12, 8),
    across(`${p}1`, shunt, 18, 3),
    down(`${p}2`, shunt, 16, 12.5),
  ];
  const wires: Point[][] = [
    [
      [0, 8],
      [2, 8],
    ],
    [
      [6, 8],
      [10, 8],
    ],
    [
      [14, 8],
      [19, 8],
    ],
    [
      [8, 8],
      [8, 3],
      [16, 3],
    ],
    [
      [20, 3],
      [29, 3],
      [29, 9.5],
    ],
    [
      [16, 8],
      [16, 10.5],
    ],
    [
      [25, 9.5],
      [32, 9.5],
    ],
  ];
  const dots: Point[] = [
    [8, 8],
    [16, 8],
    [29, 9.5],
  ];
  const grounds: Point[] = [[16, 14.5]];
  if (parts[`${s}1b`] !== undefined) {
    placed.push(down(`${s}1b`, inLine, 8, 12.5));
    wires.push([
      [8, 8],
      [8, 10.5],
    ]);
    grounds.push([8, 14.5]);
  }
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
}

export function sallenKeyWorking(target: SectionTarget, parts: PartValues): WorkingLine[] {
  const got = sallenKeyClosedForm(target.response, parts);
  const lines: WorkingLine[] = [
    {
      says: 'natural frequency',
      tex: 'f_0 = \\frac{1}{2\\pi \\sqrt{R_1 R_2 C_1 C_2}}',
      value: format.hertz(got.freqHz ?? 0),
    },
    {
      says: 'damping',
      tex:
        target.response === 'lowpass'
          ? '\\frac{\\omega_0}{Q} = \\frac{1}{R_1 C_1} + \\frac{1}{R_2 C_1} + \\frac{1-K}{R_2 C_2}'
          : '\\frac{\\omega_0}{Q} = \\frac{1}{R_2 C_1} + \\frac{1}{R_2 C_2} + \\frac{1-K}{R_1 C_1}',
      value: `Q = ${format.ratio(got.q ?? 0)}`,
    },
    {
      says: 'amplifier',
      tex: parts.Ra === undefined ? 'K = 1' : 'K = 1 + \\frac{R_b}{R_a}',
      value: `K = ${format.ratio(amplifierGain(parts))}`,
    },
  ];
  const { ratio } = joinFirst(target.response, parts);
  if (ratio < 1)
    lines.push({
      says: 'input divider',
      tex: target.response === 'lowpass' ? '\\frac{R_{1b}}{R_1 + R_{1b}}' : '\\frac{C_1}{C_1 + C_{1b}}',
      value: `× ${format.ratio(ratio)}`,
    });
  return lines;
}
