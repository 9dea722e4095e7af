import { RAIL_SOURCES } from '../../design/compiled/writing';
import type * as z from 'zod';
import { defineJob, requestOf, ofVariant } from '../define-job';
import { CircuitEquations } from '../../analysis/rest/equations';
import type { Compilation, CompiledWay } from '../../design/compiled/compile';
import type { Live } from '../../design/compiled/netlist-writer';
import { groundLift } from '../../device/op-amps';
import { success, type Result } from '../../result';
import { builtVariant } from '../reading/built-variant';

/** How a variant rests: volts of its nodes, amperes through its devices. */
const restRequest = requestOf('rest', { ...ofVariant });
export type RestRequest = z.infer<typeof restRequest>;

export interface Rest {
  /** Of a single supply counted from its lower rail, as a meter on a battery’s minus has them; else from ground. */
  readonly from: 'ground' | 'lower rail';
  readonly stages: readonly StageRest[];
  /** From the positive rail, A; without op-amps. */
  readonly supplyAmps: number;
}

export interface StageRest {
  readonly stageId: string;
  /** By the names of the drawing: its own nodes, `in`, `out`. */
  readonly volts: Readonly<Record<string, number>>;
  /**
   * Into a collector, an anode, a lamp, by the devices’ names; none through a channel that rests without a voltage
   * along it.
   */
  readonly amps: Readonly<Record<string, number>>;
}

/** Less than this is none, on the bench. */
const NO_VOLTS = 5e-5;
const NO_AMPS = 1e-10;

/** Null where nothing rests on anything: no transistor, diode or lamp. Fails as the design does. */
export function runRest({ design, variantId }: RestRequest): Result<Rest | null> {
  const built = builtVariant(design, variantId);
  if (!built.ok) return built;
  const { live, ways } = built.value;
  if (!live) return success(null);
  const lift = groundLift(design.brief);
  const { structure } = live.circuit;
  const voltsAt = (node: string): number => {
    const unknown = structure.nodeOf(node);
    const volts = (unknown === undefined || unknown < 0 ? 0 : live.rest[unknown]) + lift;
    return Math.abs(volts) < NO_VOLTS ? 0 : volts;
  };
  const amps = deviceAmps(live);
  const nodes = restNodes(built.value);
  const stageRest = (stageId: string): StageRest => {
    const own = `${stageId}.`;
    const volts = Object.fromEntries(
      nodes.filter((n) => n.stageId === stageId).map(({ name, node }) => [name, voltsAt(node)]),
    );
    return {
      stageId,
      volts,
      amps: Object.fromEntries(
        amps
          .filter(([name, value]) => name.startsWith(own) && Math.abs(value) > NO_AMPS)
          .map(([name, value]) => [name.slice(own.length), value]),
      ),
    };
  };
  const rail = structure.branchOf(RAIL_SOURCES.plus);
  return success({
    from: lift > 0 ? 'lower rail' : 'ground',
    stages: ways.flatMap((way) => way.stages.flatMap(({ stage }) => (stage.bypassed ? [] : [stageRest(stage.id)]))),
    supplyAmps: rail === undefined ? 0 : Math.abs(live.rest[rail]),
  });
}

/**
 * Nodes of the stages as their drawings name them: their own, `in`, `out`. A cell's light is no voltage, and what
 * stands inside an op-amp cannot be measured.
 */
export function restNodes({ ways, netlist }: Pick<Compilation, 'ways' | 'netlist'>): {
  readonly stageId: string;
  readonly name: string;
  readonly node: string;
}[] {
  const stageNodes = ({ joints }: CompiledWay, stageId: string, at: number) => {
    const own = `${stageId}.`;
    const named = (node: string): string | null => {
      if (node === joints[at]) return 'in';
      if (node === joints[at + 1]) return 'out';
      return node.startsWith(own) ? node.slice(own.length) : null;
    };
    const found = new Map(
      netlist.elements
        .filter((e) => e.name.startsWith(own))
        .flatMap((e) => e.nodes)
        .map((node) => [named(node), node] as const),
    );
    return [...found].flatMap(([name, node]) =>
      name === null || /^light|\.source$|\.inner$/.test(name) ? [] : [{ stageId, name, node }],
    );
  };
  return ways.flatMap((way) =>
    way.stages.flatMap(({ stage }, at) => (stage.bypassed ? [] : stageNodes(way, stage.id, at))),
  );
}

/** What flows into each device’s first terminal at rest. */
function deviceAmps({ circuit, rest }: Live): [string, number][] {
  const equations = new CircuitEquations(circuit);
  equations.evaluate(rest, false);
  return equations.devices.map(({ stamp, model, result }) => [
    stamp.element,
    model.flows.reduce(
      (sum, { kind, pair: [from, to] }, f) =>
        kind !== 'current' ? sum : sum + (from === 0 ? result[f] : 0) - (to === 0 ? result[f] : 0),
      0,
    ),
  ]);
}

export const restJob = defineJob(restRequest, (request) => runRest(request));
