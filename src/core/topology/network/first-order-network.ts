import type { FilterResponse, SectionTarget } from '../../filter/section';
import type { BuildContext, PartSpec, WorkingLine } from '../kit/define-topology';
import type { ClosedForm, PartKind, PartValues } from '../kit/part';
import type { DesignContext } from '../kit/design-context';
import { across, down, type PlacedPart, type Point } from '../kit/drawing';
import { joinFirst, splitFirst } from '../op-amp/sallen-key-network';
import { format } from '../kit/working';

/**
 * The one R and one C of a first-order section; the second is the shunt. Optional divider leg as in the Sallen-Key
 * family.
 */
export function rcParts(response: FilterResponse): PartSpec[] {
  const low = response === 'lowpass';
  const [a, b]: [PartKind, PartKind] = low ? ['resistor', 'capacitor'] : ['capacitor', 'resistor'];
  const [s, p] = low ? ['R', 'C'] : ['C', 'R'];
  return [
    { name: `${s}1`, kind: a, role: 'in line', leaveOut: 'short' },
    { name: `${s}1b`, kind: a, role: 'divider leg that takes gain away', leaveOut: 'open' },
    { name: `${p}1`, kind: b, role: low ? 'to ground' : 'to ground, and DC path of the input', leaveOut: 'open' },
  ];
}

/** f = 1/(2π R C), and the divider's ratio if there is one. */
export function rcClosedForm(response: FilterResponse, parts: PartValues): ClosedForm & { freqHz: number } {
  const { first, ratio } = joinFirst(response, parts);
  const other = response === 'lowpass' ? parts.C1 : parts.R1;
  return { freqHz: 1 / (2 * Math.PI * first * other), gain: ratio };
}

/** One part from what can be had, the other computed; with a divider leg when the gain is below one. */
export function rcDesign({ response, freqHz, gain }: SectionTarget, context: DesignContext): Record<string, number> {
  const omega = 2 * Math.PI * freqHz;
  const parts: Record<string, number> = {};
  if (context.capacitorsFirst) {
    parts.C1 = context.capacitor('C1', context.capacitorLevel(freqHz));
    parts.R1 = 1 / (omega * parts.C1);
  } else {
    parts.R1 = context.resistor('R1', 10e3);
    parts.C1 = 1 / (omega * parts.R1);
  }
  splitFirst(response, parts, gain);
  return parts;
}

export function buildRc(
  { form: response, input, has, part, reference, ground }: BuildContext<FilterResponse>,
  out: string,
): void {
  const low = response === 'lowpass';
  const [s, p] = low ? ['R', 'C'] : ['C', 'R'];
  part(`${s}1`, input, out);
  if (has(`${s}1b`)) part(`${s}1b`, out, reference);
  part(`${p}1`, out, low ? ground : reference);
}

export function rcWorking({ response }: SectionTarget, parts: PartValues): WorkingLine[] {
  const { freqHz, gain } = rcClosedForm(response, parts);
  const lines: WorkingLine[] = [
    {
      says: 'cutoff',
      tex:
        parts.R1b === undefined && parts.C1b === undefined
          ? 'f = \\frac{1}{2\\pi R_1 C_1}'
          : response === 'lowpass'
            ? 'f = \\frac{1}{2\\pi (R_1 \\parallel R_{1b}) C_1}'
            : 'f = \\frac{1}{2\\pi R_1 (C_1 + C_{1b})}',
      value: format.hertz(freqHz),
    },
    { says: 'time constant', tex: '\\tau = \\frac{1}{2\\pi f}', value: format.second(1 / (2 * Math.PI * freqHz)) },
  ];
  if (gain < 1)
    lines.push({
      says: 'input divider',
      tex: response === 'lowpass' ? '\\frac{R_{1b}}{R_1 + R_{1b}}' : '\\frac{C_1}{C_1 + C_{1b}}',
      value: `× ${format.ratio(gain)}`,
    });
  return lines;
}

/** The section drawn from the in port to a node at x = 16 on the line y = 8. */
export function rcDrawing(
  response: FilterResponse,
  parts: PartValues,
): { placed: PlacedPart[]; wires: Point[][]; dots: Point[]; grounds: Point[] } {
  const low = response === 'lowpass';
  const [a, b]: [PartKind, PartKind] = low ? ['resistor', 'capacitor'] : ['capacitor', 'resistor'];
  const [s, p] = low ? ['R', 'C'] : ['C', 'R'];
  const placed = [across(`${s}1`, a, 4, 8), down(`${p}1`, b, 8, 12.5)];
  const wires: Point[][] = [
    [
      [0, 8],
      [2, 8],
    ],
    [
      [6, 8],
      [16, 8],
    ],
    [
      [8, 8],
      [8, 10.5],
    ],
  ];
  const dots: Point[] = [[8, 8]];
  const grounds: Point[] = [[8, 14.5]];
  if (parts[`${s}1b`] !== undefined) {
    placed.push(down(`${s}1b`, a, 15, 12.5));
    wires.push([
      [15, 8],
      [15, 10.5],
    ]);
    dots.push([15, 8]);
    grounds.push([15, 14.5]);
  }
  return { placed, wires, dots, grounds };
}
