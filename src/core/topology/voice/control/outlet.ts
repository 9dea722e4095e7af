import { npn, pnp } from '../../../circuit/elements/bipolar';
import { otaWithPin } from '../../../circuit/elements/ota';
import type { BuildContext, ControlOutlet, PartSpec } from '../../kit/define-topology';
import type { DesignContext } from '../../kit/design-context';
import { across, down, type Point } from '../../kit/drawing';
import type { PartValues } from '../../kit/part';
import { sketch, type Sketch } from '../../kit/drawing-blocks';
import { IDEAL_TRANSISTOR, SMALL_NPN, SMALL_PNP } from '../stage/small-transistor';
import { DRAWN, type Outlet } from './control-chain';

/** Across each emitter resistor of a mirror in the middle of the control, V: it makes transistors alike. */
const EMITTER_VOLTS = 0.1;
/** Between the converter and each OTA's pin, ohm: it shares the current out evenly. */
const SHARE_OHM = 4700;
/** An OTA's control pin: two junctions over the minus rail. IS (A), emission; typical, our own figures. */
const PIN = [1e-14, 2];

/** What a voice takes a current by, gathered while it is built. */
export interface Taken {
  readonly otas: { readonly name: string; readonly plus: string; readonly minus: string; readonly out: string }[];
  readonly currents: { readonly from: string; readonly to: string }[];
}

/** Places of the mirror that hand the current on: one for OTAs and for a tail, one for each node otherwise. */
const copies = ({ kind, count }: Outlet): number => (kind === 'source' ? count : 1);
const emitterResistor = (k: number): string => `Re${k}`;
const shareResistor = (k: number): string => `Rs${k}`;
const pinNode = (k: number): string => `cv-pin${k}`;
/**
 * A mirror of three: what it copies, and what keeps its output’s swing off the pair (G. R. Wilson, IEEE J. Solid-State
 * Circuits 3, 1968).
 */
const [COPIED, COPY, GUARD] = ['Qp1', 'Qp2', 'Qp3'];
/** Further copies, each with a guard of its own. */
const furtherCopy = (k: number): string => `Qp${2 * k + 2}`;
const furtherGuard = (k: number): string => `Qp${2 * k + 3}`;
const [LOWER_COPIED, LOWER_COPY, LOWER_GUARD] = ['Qn1', 'Qn2', 'Qn3'];
const [LOWER_COPIED_OHM, LOWER_COPY_OHM] = ['Rn1', 'Rn2'];

/** What the voice's current flows through last, and which of the device's flows it is. */
export const deliveredBy = ({ kind }: ControlOutlet): { readonly device: string; readonly flow: number } =>
  kind === 'pins' ? { device: 'U1', flow: 0 } : { device: kind === 'sink' ? LOWER_GUARD : GUARD, flow: 0 };

/** Current (A) that the converter draws for so much at each place where the voice takes it. */
export const drawnAmps = ({ kind, count }: Outlet, each: number): number => (kind === 'pins' ? count * each : each);
export const eachAmps = ({ kind, count }: Outlet, drawn: number): number => (kind === 'pins' ? drawn / count : drawn);

export function outletParts(outlet: Outlet): PartSpec[] {
  const resistor = (name: string, role: string): PartSpec => ({ name, kind: 'resistor', role, leaveOut: 'short' });
  const emitters = Array.from({ length: copies(outlet) + 1 }, (_, k) =>
    resistor(emitterResistor(k), 'makes the mirror’s transistors alike'),
  );
  if (outlet.kind === 'pins')
    return [...emitters, ...outlet.names.map((name, k) => resistor(shareResistor(k + 1), `shares out, for ${name}`))];
  if (outlet.kind === 'sink')
    return [
      ...emitters,
      ...[LOWER_COPIED_OHM, LOWER_COPY_OHM].map((name) => resistor(name, 'makes the lower mirror alike')),
    ];
  return emitters;
}

/** @param drawn A, in the middle of the control. */
export function outletValues(outlet: Outlet, drawn: number, context: DesignContext): PartValues {
  const first = context.resistor(emitterResistor(0), EMITTER_VOLTS / drawn);
  const emitters = Array.from({ length: copies(outlet) + 1 }, (_, k) => [emitterResistor(k), first] as const);
  const shares = outlet.names.map((_, k) => [shareResistor(k + 1), SHARE_OHM] as const);
  return Object.fromEntries([
    ...emitters,
    ...(outlet.kind === 'pins' ? shares : []),
    ...(outlet.kind === 'sink'
      ? [
          [LOWER_COPIED_OHM, first],
          [LOWER_COPY_OHM, first],
        ]
      : []),
  ]);
}

/** A mirror at the plus rail turns what is drawn into what is driven; a second one at the minus rail draws it again. */
export function placeOutlet(context: BuildContext, outlet: Outlet, drawn: string, taken: Taken): void {
  const { plus, minus, reference, ideal, node, part, element } = context;
  const [upper, lower] = ideal ? [IDEAL_TRANSISTOR, IDEAL_TRANSISTOR] : [SMALL_PNP, SMALL_NPN];
  const mirrored = (k: number): string =>
    outlet.kind === 'source' ? taken.currents[k].to : outlet.kind === 'pins' ? node('cv-pins') : node('cv-lower');
  const base = node('cv-mirror');
  part(emitterResistor(0), plus, node('cv-e0'));
  element(COPIED, pnp, [drawn, base, node('cv-e0')], upper);
  part(emitterResistor(1), plus, node('cv-e1'));
  element(COPY, pnp, [base, base, node('cv-e1')], upper);
  element(GUARD, pnp, [mirrored(0), drawn, base], upper);
  for (let k = 1; k < copies(outlet); k++) {
    const between = node(`cv-guarded${k + 1}`);
    part(emitterResistor(k + 1), plus, node(`cv-e${k + 1}`));
    element(furtherCopy(k), pnp, [between, base, node(`cv-e${k + 1}`)], upper);
    element(furtherGuard(k), pnp, [mirrored(k), drawn, between], upper);
  }
  taken.otas.forEach(({ name, plus: p, minus: m, out }, k) => {
    part(shareResistor(k + 1), node('cv-pins'), node(pinNode(k + 1)));
    element(name, otaWithPin, [p, m, out, node(pinNode(k + 1)), minus, reference], PIN);
  });
  if (outlet.kind !== 'sink') return;
  const under = node('cv-under');
  element(LOWER_COPIED, npn, [node('cv-lower'), under, node('cv-f1')], lower);
  part(LOWER_COPIED_OHM, node('cv-f1'), minus);
  element(LOWER_COPY, npn, [under, under, node('cv-f2')], lower);
  part(LOWER_COPY_OHM, node('cv-f2'), minus);
  element(LOWER_GUARD, npn, [taken.currents[0].from, node('cv-lower'), under], lower);
}

const SPACING = 9;
const SHARE_ROW = 5;

/** The second row of the drawing: mirrors, and where the current goes. @param labels of the voice's own ports. */
export function drawOutlet(outlet: Outlet, labels: readonly string[]): { pieces: Sketch; height: number } {
  const pieces = sketch();
  const { parts, devices, wires, dots, ports } = pieces;
  const outs = copies(outlet);
  const inX = 10;
  const outX = (k: number) => 19 + SPACING * k;
  // The rail over all emitters.
  wires.push([
    [6, 3],
    [outX(outs - 1), 3],
  ]);
  ports.push({ label: '+V', at: [6, 3], side: 'left' });
  [inX, ...Array.from({ length: outs }, (_, k) => outX(k))].forEach((x, k) => {
    parts.push(down(emitterResistor(k), 'resistor', x, 6.5, k === 0 ? 'left' : 'right'));
    wires.push(
      [
        [x, 3],
        [x, 4.5],
      ],
      [
        [x, 8.5],
        [x, 10],
      ],
    );
  });
  const bus = inX + 4.5;
  devices.push({ name: COPIED, symbol: 'pnp', at: [inX + 1.5, 12], mirrored: true });
  wires.push(
    [
      [inX, 14],
      [inX, 20],
    ],
    [
      [3, 20],
      [outX(0) - 3.5, 20],
    ],
    [
      [inX + 3.5, 12],
      [outX(0) - 3.5, 12],
    ],
    [
      [bus, 12],
      [bus, 16],
      [outX(0), 16],
    ],
  );
  dots.push([inX, 20], [bus, 12], [outX(0), 16]);
  ports.push({ label: DRAWN, at: [3, 20], side: 'left' });
  for (let k = 0; k < outs; k++) {
    const x = outX(k);
    devices.push(
      { name: k === 0 ? COPY : furtherCopy(k), symbol: 'pnp', at: [x - 1.5, 12] },
      { name: k === 0 ? GUARD : furtherGuard(k), symbol: 'pnp', at: [x - 1.5, 20] },
    );
    wires.push(
      [
        [x, 14],
        [x, 18],
      ],
      [
        [x, 22],
        [x, 24],
        [x + 3, 24],
      ],
    );
    if (k > 0) {
      // Bases of further copies, and of their guards by a line under the outputs.
      wires.push(
        [
          [outX(k - 1), 16],
          [x - 3.5, 16],
          [x - 3.5, 12],
        ],
        [
          [inX + 2, 20],
          [inX + 2, 28],
          [x - 4.5, 28],
          [x - 4.5, 20],
          [x - 3.5, 20],
        ],
      );
      dots.push([inX + 2, 20]);
    }
    if (outlet.kind === 'source') ports.push({ label: labels[k] ?? labels[0], at: [x + 3, 24], side: 'right' });
  }
  const from: Point = [outX(0) + 3, 24];
  if (outlet.kind === 'pins') return { pieces, height: drawShares(outlet, pieces, from) };
  if (outlet.kind === 'sink') return { pieces, height: drawLower(pieces, from, labels[0]) };
  return { pieces, height: outs > 1 ? 31 : 28 };
}

function drawShares({ names }: Outlet, { parts, wires, dots, ports }: Sketch, [x, y]: Point): number {
  const rowY = (k: number) => y + SHARE_ROW * k;
  names.forEach((name, k) => {
    parts.push(across(shareResistor(k + 1), 'resistor', x + 6, rowY(k)));
    wires.push(
      [
        [x, rowY(k)],
        [x + 4, rowY(k)],
      ],
      [
        [x + 8, rowY(k)],
        [x + 12, rowY(k)],
      ],
    );
    if (k > 0 && k < names.length - 1) dots.push([x, rowY(k)]);
    ports.push({ label: `control of ${name}`, at: [x + 19, rowY(k) - 1], side: 'right', net: pinNode(k + 1) });
    wires.push([
      [x + 12, rowY(k)],
      [x + 12, rowY(k) - 1],
      [x + 19, rowY(k) - 1],
    ]);
  });
  if (names.length > 1)
    wires.push([
      [x, y],
      [x, rowY(names.length - 1)],
    ]);
  return rowY(names.length - 1) + 5;
}

function drawLower({ parts, devices, wires, dots, ports }: Sketch, [x, y]: Point, label: string): number {
  const [top, low, foot] = [y + 6, y + 14, y + 25];
  devices.push(
    { name: LOWER_GUARD, symbol: 'npn', at: [x + 10.5, top] },
    { name: LOWER_COPIED, symbol: 'npn', at: [x + 1.5, low], mirrored: true },
    { name: LOWER_COPY, symbol: 'npn', at: [x + 10.5, low] },
  );
  parts.push(
    down(LOWER_COPIED_OHM, 'resistor', x, low + 6, 'left'),
    down(LOWER_COPY_OHM, 'resistor', x + 12, low + 6, 'right'),
  );
  wires.push(
    [
      [x, y],
      [x, low - 2],
    ],
    [
      [x, top],
      [x + 8.5, top],
    ],
    [
      [x + 12, top - 2],
      [x + 12, top - 4],
      [x + 16, top - 4],
    ],
    [
      [x + 12, top + 2],
      [x + 12, low - 2],
    ],
    [
      [x + 12, low - 4],
      [x + 6, low - 4],
      [x + 6, low],
    ],
    [
      [x + 3.5, low],
      [x + 8.5, low],
    ],
    ...[x, x + 12].flatMap((at): Point[][] => [
      [
        [at, low + 2],
        [at, low + 4],
      ],
      [
        [at, low + 8],
        [at, foot],
      ],
    ]),
    [
      [x, foot],
      [x + 16, foot],
    ],
  );
  dots.push([x, top], [x + 12, low - 4], [x + 6, low], [x + 12, foot]);
  ports.push({ label, at: [x + 16, top - 4], side: 'right' }, { label: '−V', at: [x + 16, foot], side: 'right' });
  return foot + 4;
}
