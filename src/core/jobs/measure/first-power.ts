import { RAIL_SOURCES } from '../../design/compiled/writing';
import * as z from 'zod';
import type { AcSolver } from '../../analysis/ac/solver';
import { gaussian } from '../../math/gaussian';
import { meterPoints } from '../../design/building/nets';
import { stageOfElement } from '../../design/compiled/compile';
import { groundLift, railVolts } from '../../device/op-amps';
import { EVEN } from '../../measure/posterior';
import { success, type Result } from '../../result';
import { defineJob, ofVariant, requestOf } from '../define-job';
import { opAmpOutputs } from '../desk/op-amp-strain';
import { builtVariant, circuitWith, type BuiltVariant } from '../reading/built-variant';
import { restNodes } from '../voice/rest';
import { restVolts } from './rest-volts';
import { seededBoard } from './hidden-fault';

const firstPowerRequest = requestOf('first-power', { ...ofVariant });

/** What a meter should show at one place before anything is played. */
export interface ExpectedVolts {
  /** The node of the circuit. */
  readonly node: string;
  readonly stageId: string;
  /** A device’s pin that is there, or the parts that meet there. */
  readonly name: string;
  readonly volts: number;
  /** Boards that are sound lie as near as this, 19 of 20. */
  readonly withinVolts: number;
}

export interface FirstPower {
  /** Where the meter's black lead goes: of a single supply its minus. */
  readonly from: 'ground' | 'lower rail';
  readonly expected: readonly ExpectedVolts[];
  /** From the positive rail, A; half of it to twice it is usual. Null where nothing is supplied. */
  readonly supplyAmps: number | null;
}

/** Deviations within which 19 of 20 lie. */
const NINETEEN_OF_TWENTY = 1.96;
/** An end that rests as near signal ground as this is coupled by a capacitor. */
const COUPLED_VOLTS = 5e-3;

/**
 * What to read before the first signal: nodes that rest on devices, outputs of op-amps, and what is drawn from the
 * supply, with how far parts, offsets and the meter move each. Fails as the design does.
 */
function firstPower({ design, variantId }: z.infer<typeof firstPowerRequest>): Result<FirstPower> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const places = placesOf(built.value);
  const { brief } = design;
  const lift = groundLift(brief);
  const nodes = places.map((p) => p.node);
  const rest = restVolts(
    built.value,
    brief,
    { small: built.value.circuit, rest: built.value.live?.rest ?? null },
    nodes,
  );
  const spread = spreadOf(built.value, nodes);
  return success({
    from: lift > 0 ? 'lower rail' : 'ground',
    expected: places.map((place, i) => ({
      ...place,
      volts: rest[i].volts + lift,
      withinVolts: NINETEEN_OF_TWENTY * Math.hypot(rest[i].sigma, spread[i]),
    })),
    supplyAmps: supplyOf(built.value),
  });
}

/** Nodes to put a meter to, each once. */
function placesOf(built: BuiltVariant): Omit<ExpectedVolts, 'volts' | 'withinVolts'>[] {
  const outputs = opAmpOutputs(built).flatMap(({ element, node }) => {
    const stageId = stageOfElement(built.ways, element)?.stage.id;
    return stageId === undefined ? [] : [{ node, stageId }];
  });
  // What a capacitor couples rests where the apparatus beside it does, and says nothing of the board.
  const coupled = ({ name, node }: { name: string; node: string }) =>
    (name === 'in' || name === 'out') && Math.abs(restOf(built, node)) < COUPLED_VOLTS;
  const inside = built.live ? restNodes(built).filter((n) => !coupled(n)) : [];
  const { structure } = built.circuit;
  const all = [...outputs, ...inside].map(({ node, stageId }) => ({ node, stageId }));
  const unknowns = all.map(({ node }) => structure.nodeOf(node));
  const nameOf = meterPoints(built, built.variant);
  return all
    .filter((_, i) => (unknowns[i] ?? -1) >= 0 && unknowns.indexOf(unknowns[i]) === i)
    .map((place) => ({ ...place, name: nameOf(place.node) }));
}

/** From signal ground, V. */
const restOf = ({ live }: BuiltVariant, node: string): number =>
  live?.rest[live.circuit.structure.nodeOf(node) ?? -1] ?? 0;

/** What tolerances of all parts move every node by, V: the root of the sum of squares of what each does by itself. */
function spreadOf(built: BuiltVariant, nodes: readonly string[]): number[] {
  if (!built.live) return nodes.map(() => 0);
  const { live } = built;
  const { structure } = live.circuit;
  const square = nodes.map(() => 0);
  for (const { slot, tolerancePct } of built.parts) {
    const values = built.circuit.values.slice();
    values[slot] *= 1 + (EVEN * tolerancePct) / 100;
    const moved = circuitWith(built, values);
    if (!moved.ok || !moved.value.rest) continue;
    const { rest } = moved.value;
    nodes.forEach((node, i) => {
      const at = structure.nodeOf(node) ?? 0;
      square[i] += (rest[at] - live.rest[at]) ** 2;
    });
  }
  return square.map(Math.sqrt);
}

/** What flows from the positive rail into op-amps, transistors and the like, A; null where nothing does. */
function supplyOf(built: BuiltVariant): number | null {
  const { live, ways } = built;
  const opAmps = opAmpOutputs(built).reduce(
    (sum, { element }) => sum + (stageOfElement(ways, element)?.device?.supplyAmps ?? 0),
    0,
  );
  const rail = live?.circuit.structure.branchOf(RAIL_SOURCES.plus);
  const amps = opAmps + (live && rail !== undefined ? Math.abs(live.rest[rail]) : 0);
  return amps > 0 ? amps : null;
}

export const firstPowerJob = defineJob(firstPowerRequest, (request) => firstPower(request));

const meterRequest = requestOf('meter-board', {
  ...ofVariant,
  board: z.int().min(0).max(2_147_483_647),
  hidden: z.boolean(),
});

/** What a meter reads of one simulated board: V as the expected ones are counted, by node. */
export interface MeterReadings {
  readonly volts: Readonly<Record<string, number>>;
  readonly supplyAmps: number | null;
}

/**
 * The simulated board of a seed under the workshop's meter: its parts as drawn, its op-amps with offsets of their own.
 * Fails as the design and its rest do.
 */
function meterBoard(
  { design, variantId, board: seed, hidden }: z.infer<typeof meterRequest>,
  solver: AcSolver,
): Result<MeterReadings> {
  const asked = firstPower({ kind: 'first-power', design, variantId });
  if (!asked.ok) return asked;
  const board = seededBoard(design, variantId, { seed, hidden, place: 'out' }, solver);
  if (!board.ok) return board;
  const built = builtVariant(design, variantId, { board: board.value });
  if (!built.ok) return built;
  const { circuit, live } = built.value;
  const [dead = null] = board.value.dead;
  const nodes = asked.value.expected.map((e) => e.node);
  const next = gaussian(seed);
  const [rail, lift] = [railVolts(design.brief), groundLift(design.brief)];
  const rest = restVolts(built.value, design.brief, { small: circuit, rest: live?.rest ?? null }, nodes, dead);
  return success({
    // No output goes beyond its rails.
    volts: Object.fromEntries(
      rest.map(({ volts, sigma }, i) => [nodes[i], Math.max(-rail, Math.min(rail, volts + sigma * next())) + lift]),
    ),
    supplyAmps: supplyOf(built.value),
  });
}

export const meterBoardJob = defineJob(meterRequest, (request, { solver }) => meterBoard(request, solver));
