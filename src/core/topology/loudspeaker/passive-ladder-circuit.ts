import { alignmentById, type AlignmentId } from '../../filter/alignments/index';
import { singlyTerminated } from '../../filter/passive-ladder';
import { polynomialProduct, type Rational } from '../../filter/rational';
import { bandEdges } from '../../filter/plan-sections';
import { failure, success, type Result } from '../../result';
import { defineNetwork } from '../kit/define-network';
import type { NetworkTopology, PartSpec } from '../kit/define-topology';
import { buildLadder, drawLadder, inLine, paired, toGround } from '../kit/ladder';
import type { Arm } from '../kit/arm';
import type { PartValues } from '../kit/part';
import { format } from '../kit/working';

/** What a passive ladder is made for: a whole plan at once, into a resistance. */
export interface LadderRequest {
  readonly response: 'lowpass' | 'highpass' | 'bandpass';
  readonly alignment: AlignmentId;
  /** Number of poles; of a band, twice its prototype's. */
  readonly order: number;
  readonly cutoffHz: number;
  readonly bandwidthHz: number;
  readonly rippleDb: number;
  readonly cutoffAt: 'own' | '-3db';
  readonly ohm: number;
}

/** Its circuit is made for its plan, so it has an id and no place in the registry. */
export const PASSIVE_LADDER = 'passive-ladder';

const ORDER_NAMES = ['', '1st', '2nd', '3rd', '4th', '5th', '6th', '7th', '8th'];
const NAMES = { lowpass: 'Low-pass', highpass: 'High-pass', bandpass: 'Band-pass' } as const;

interface Ladder {
  readonly arms: readonly Arm[];
  readonly values: PartValues;
}

/**
 * Coils and capacitors by turns, in line first, numbered by kind from the amplifier on. Low-pass as the prototype has
 * it; high-pass with every part exchanged; band-pass with a partner for each.
 */
function ladderOf({
  response,
  alignment: id,
  order,
  cutoffHz,
  bandwidthHz,
  rippleDb,
  cutoffAt,
  ohm,
}: LadderRequest): Result<Ladder, 'no-passive-ladder'> {
  const alignment = alignmentById(id);
  const poles = response === 'bandpass' ? order / 2 : order;
  if (alignment.hasAttenuation || id === 'custom') return failure('no-passive-ladder', { alignment: alignment.name });
  const prototype = singlyTerminated(alignment.prototype(poles, { rippleDb, cutoffAt }));
  if (!prototype.ok) return failure('no-passive-ladder', { alignment: alignment.name });
  const omega = 2 * Math.PI * cutoffHz;
  const width = 2 * Math.PI * bandwidthHz;
  const arms: Arm[] = [];
  const values: Record<string, number> = {};
  const count = { L: 0, C: 0 };
  const part = (kind: 'L' | 'C', value: number): string => {
    const name = `${kind}${++count[kind]}`;
    values[name] = value;
    return name;
  };
  prototype.value.elements.forEach((g, i) => {
    const series = i % 2 === 0;
    if (response === 'lowpass')
      arms.push(series ? inLine(part('L', (g * ohm) / omega)) : toGround(part('C', g / (omega * ohm))));
    else if (response === 'highpass')
      arms.push(series ? inLine(part('C', 1 / (g * omega * ohm))) : toGround(part('L', ohm / (g * omega))));
    else {
      // s → (s² + ω0²)/(B s): a coil gains a capacitor in series, a capacitor a coil in parallel, both in tune at the
      // centre.
      const coil = series ? (g * ohm) / width : (ohm * width) / (g * omega ** 2);
      const farad = 1 / (omega ** 2 * coil);
      if (series) arms.push(inLine(part('C', farad)), inLine(part('L', coil)));
      else arms.push(paired(part('C', farad), part('L', coil)));
    }
  });
  return success({ arms, values });
}

const known = new Map<string, NetworkTopology>();
const MOST_KNOWN = 200;

/**
 * The ladder for a request as a circuit. What has no ladder (nulls, poles of one's own) fails when it is designed, with
 * `no-passive-ladder`.
 */
export function passiveLadder(request: LadderRequest): NetworkTopology {
  const key = Object.values(request).join(' ');
  const before = known.get(key);
  if (before) return before;
  if (known.size >= MOST_KNOWN) known.clear();
  const made = make(request);
  known.set(key, made);
  return made;
}

function make(request: LadderRequest): NetworkTopology {
  const { response, order, ohm, cutoffHz, bandwidthHz } = request;
  const alignment = alignmentById(request.alignment);
  const ladder = ladderOf(request);
  const arms = ladder.ok ? ladder.value.arms : [];
  const slope = response === 'bandpass' ? order / 2 : order;
  const [first] = arms.filter((arm) => arm.to === 'line');
  const parts = arms.flatMap((arm): PartSpec[] =>
    arm.to === 'follower'
      ? []
      : arm.parts.map((name) => ({
          name,
          kind: name[0] === 'L' ? ('inductor' as const) : ('capacitor' as const),
          role: arm.to === 'line' ? (arm === first ? 'in line, from the amplifier' : 'in line') : 'across',
          leaveOut: arm.to === 'line' ? ('short' as const) : ('open' as const),
        })),
  );
  return defineNetwork({
    id: PASSIVE_LADDER,
    name: `${NAMES[response]} of ${ORDER_NAMES[slope] ?? slope} order, ${alignment.name}`,
    shortName: NAMES[response],
    words: [],
    family: 'loudspeaker',
    modes: ['normal'],
    parameters: [],
    cornersHz: response === 'bandpass' ? bandEdges(cutoffHz, bandwidthHz) : [cutoffHz],
    load: () => ({ ohm }),
    reason:
      `${slope * 6}\u202fdB per octave with ${parts.length} ${parts.length === 1 ? 'part' : 'parts'} between ` +
      `amplifier and driver.`,
    cautions: [
      'Made for a resistance: on the bare driver its slope is another. Correct the impedance, or fit all ' +
        'parts to what the microphone sees.',
      ...(response === 'highpass' || response === 'bandpass'
        ? ['Without its first capacitor the driver gets the bass: check it before power.']
        : []),
    ],
    sources: [
      'M. E. Van Valkenburg, Introduction to Modern Network Synthesis, 1960, 14.2: ladders from a stiff source',
    ],
    parts: () => parts,
    design: (_parameters, _form, context) =>
      ladder.ok
        ? success(
            Object.fromEntries(
              Object.entries(ladder.value.values).map(([name, value]) => [name, context.pinned(name) ?? value]),
            ),
          )
        : ladder,
    measures: () => ({}),
    transfer: (_form, values) => transferOf(arms, values, ohm),
    arms: () => arms,
    build: (context) => buildLadder(context, arms),
    working: (_form, values) => workingOf(request, values),
    drawing: () => drawLadder(arms),
  });
}

/**
 * From the load's end back: what is across adds current, what is in line adds voltage; denominators are kept apart so
 * that all stays polynomial.
 */
function transferOf(arms: readonly Arm[], values: PartValues, ohm: number): Rational {
  let [volts, amps, whole]: number[][] = [[1], [1 / ohm], [1]];
  const plus = (a: readonly number[], b: readonly number[]) =>
    Array.from({ length: Math.max(a.length, b.length) }, (_, i) => (a[i] ?? 0) + (b[i] ?? 0));
  for (const arm of [...arms].reverse()) {
    if (arm.to === 'follower') continue;
    for (const part of arm.parts) {
      // Impedance in line, admittance across: each a ratio of two.
      const rising = (part[0] === 'L') === (arm.to === 'line');
      const [top, bottom] = rising ? [[0, values[part]], [1]] : [[1], [0, values[part]]];
      if (arm.to === 'line')
        [volts, amps] = [
          plus(polynomialProduct(volts, bottom), polynomialProduct(amps, top)),
          polynomialProduct(amps, bottom),
        ];
      else
        [volts, amps] = [
          polynomialProduct(volts, bottom),
          plus(polynomialProduct(amps, bottom), polynomialProduct(volts, top)),
        ];
      whole = polynomialProduct(whole, bottom);
    }
  }
  return { numerator: whole, denominator: volts };
}

/** Each element from the prototype's, with what it is here. */
function workingOf({ response, alignment: id, order, rippleDb, cutoffAt, ohm }: LadderRequest, values: PartValues) {
  const alignment = alignmentById(id);
  const prototype = singlyTerminated(
    alignment.prototype(response === 'bandpass' ? order / 2 : order, { rippleDb, cutoffAt }),
  );
  if (!prototype.ok) return [];
  const count = { L: 0, C: 0 };
  const next = (kind: 'L' | 'C') => `${kind}_${++count[kind]}`;
  const shown = (symbol: string) =>
    symbol[0] === 'L' ? format.henry(values[symbol.replace('_', '')]) : format.farad(values[symbol.replace('_', '')]);
  return prototype.value.elements.flatMap((g, i) => {
    const series = i % 2 === 0;
    const says = `element ${i + 1}, g = ${format.ratio(g)}, into ${format.ohm(ohm)}`;
    if (response === 'bandpass') {
      const [c, l] = [next('C'), next('L')];
      return [
        { says, tex: series ? `${l} = \\frac{g R}{2\\pi B}` : `${l} = \\frac{R B}{2\\pi g f_0^2}`, value: shown(l) },
        { says: 'in tune with it', tex: `${c} = \\frac{1}{(2\\pi f_0)^2 ${l}}`, value: shown(c) },
      ];
    }
    const coil = (response === 'lowpass') === series;
    const symbol = next(coil ? 'L' : 'C');
    const tex =
      response === 'lowpass'
        ? coil
          ? `${symbol} = \\frac{g R}{2\\pi f}`
          : `${symbol} = \\frac{g}{2\\pi f R}`
        : coil
          ? `${symbol} = \\frac{R}{2\\pi f g}`
          : `${symbol} = \\frac{1}{2\\pi f g R}`;
    return [{ says, tex, value: shown(symbol) }];
  });
}
