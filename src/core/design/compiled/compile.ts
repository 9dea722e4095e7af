import { GROUND, type Netlist } from '../../circuit/netlist';
import { type Assembled } from '../../circuit/structure';
import { E, R, V } from '../../circuit/build';
import { currentSource } from '../../circuit/elements/current-source';
import type { VaryingSlot } from '../../analysis/tolerance/spread';
import { success, type Result } from '../../result';
import { findTopology } from '../../topology/index';
import type { Design, Variant, Way } from '../document/schema';
import { foldedChains, hasChain } from './folded-chains';
import { NetlistWriter, type Live } from './netlist-writer';
import { type CompileOptions, type Placed } from './writing';
import { designWay, type Bench, type DesignedStage } from '../stages/stage-design';

/** A part of the circuit and where its number stands in the value array. */
export interface CompiledPart {
  /** Null for the way's output resistor. */
  readonly stageId: string | null;
  readonly wayId: string;
  readonly part: string;
  readonly slot: number;
  readonly tolerancePct: number;
  /** Parts that are off together. */
  readonly batch?: VaryingSlot['batch'];
}

export interface CompiledWay {
  readonly wayId: string;
  /** Nodes before each stage and after the last: one more than there are stages. */
  readonly joints: readonly string[];
  /** Node at the load, behind the output resistor. */
  readonly output: string;
  /** What its voltages count from: ground, or the lower of the nodes it hangs between. */
  readonly ground: string;
  readonly stages: readonly DesignedStage[];
  readonly shortfall: number;
}

/** A circuit with its numbers apart, and the way back from both to the document. */
export interface Compilation {
  readonly circuit: Assembled;
  readonly netlist: Netlist;
  readonly parts: readonly CompiledPart[];
  /** What stands on the board, in the order of the path; bypassed stages are not built. */
  readonly placed: readonly Placed[];
  readonly ways: readonly CompiledWay[];
  /**
   * Where transistors and the like are in it: the circuit with them, and its rest. `circuit` is then what it is to a
   * small signal.
   */
  readonly live: Live | null;
}

/** The source's open-circuit voltage is 1 V at this node; behind its resistance is what all ways from it are fed by. */
export const SOURCE_NODE = 'source';
export const FED_NODE = 'fed';
export const AS_BUILT: CompileOptions = { values: 'chosen', devices: 'real', joints: 'loaded' };
export const IDEAL: CompileOptions = { values: 'exact', devices: 'ideal', joints: 'isolated' };

/** The stage that an element of the netlist is of; undefined for what stands between stages. */
export const stageOfElement = (
  ways: readonly Pick<CompiledWay, 'stages'>[],
  element: string,
): DesignedStage | undefined =>
  ways.flatMap((way) => way.stages).find(({ stage }) => element.startsWith(`${stage.id}.`));

/** The circuit of a variant: all its ways, from one source of 1 V. Fails as the stages' designs do. */
export function compile(design: Design, variant: Variant, options: CompileOptions): Result<Compilation> {
  if (options.chains === 'folded' && hasChain(variant)) {
    const whole = compile(design, variant, { ...options, chains: 'built', rest: 'found', opAmps: 'small-signal' });
    const folded = foldedChains(variant, whole, options.temperatureC);
    return folded.ok ? compile(design, folded.value, { ...options, chains: 'built' }) : folded;
  }
  const designed: CompiledWay[] = [];
  for (const way of variant.ways) {
    const stages = designWay(way, design, variant.controls);
    if (!stages.ok) return stages;
    designed.push({
      wayId: way.id,
      ground: groundOf(variant, way),
      joints: way.stages.map((_, k) => `${way.id}:${k}`).concat(`${way.id}:${way.stages.length}`),
      output: `${way.id}:out`,
      ...stages.value,
    });
  }
  const writer = new NetlistWriter(design, options, variant);
  writer.elements.push(V('Vin', SOURCE_NODE, GROUND, 1));
  if (options.joints === 'isolated') writer.merged.push([SOURCE_NODE, FED_NODE]);
  else writer.resistorOrWire('Rs', SOURCE_NODE, FED_NODE, design.brief.source.ohm);
  variant.ways.forEach((way, w) => writeWay(writer, design, variant, way, designed[w], designed, options));
  variant.couplings?.forEach((coupling) =>
    writer.couple(
      coupling,
      designed.flatMap((w) => w.stages),
    ),
  );
  const { netlist, circuit, live, unsettled } = writer.finish();
  if (unsettled) return unsettled;
  const parts = writer.owners.map(({ element, ...owner }): CompiledPart => ({
    ...owner,
    slot: circuit.structure.slotOf(element) as number,
  }));
  return success({ circuit, netlist, parts, placed: writer.placed, ways: designed, live });
}

function writeWay(
  writer: NetlistWriter,
  design: Design,
  variant: Variant,
  way: Way,
  own: CompiledWay,
  all: readonly CompiledWay[],
  options: CompileOptions,
): void {
  const isolated = options.joints === 'isolated';
  const [first] = own.joints;
  const { from } = way;
  const { ground } = own;
  if (from.kind === 'source') writer.merged.push([FED_NODE, first]);
  else {
    const parent = variant.ways.findIndex((w) => w.id === from.way);
    const at = variant.ways[parent].stages.findIndex((s) => s.id === from.stage);
    const port = hangingPort(all[parent].stages[at], from.output);
    const inStage = (name: string) =>
      name === 'in' ? all[parent].joints[at] : name === 'out' ? all[parent].joints[at + 1] : `${from.stage}.${name}`;
    writer.merged.push([first, port ? inStage(port.plus) : all[parent].joints[at + 1]]);
    if (port) writer.merged.push([ground, inStage(port.minus)]);
  }
  own.stages.forEach((designed, k) => {
    let input = own.joints[k];
    if (isolated && k > 0) {
      // A unity buffer keeps this stage off the one before, which sees its declared load instead.
      input = `${input}.driven`;
      writer.elements.push(E(`buffer.${designed.stage.id}`, input, GROUND, own.joints[k], GROUND, 1));
    }
    writer.stage(designed, way.id, input, own.joints[k + 1], ground);
    if (isolated) writer.terminate(`declared.${designed.stage.id}`, own.joints[k + 1], designed.load.ohm, ground);
  });
  const last = own.joints[own.joints.length - 1];
  // A way that hangs between two live nodes is read as their difference, by a meter that loads nothing.
  const end = ground === GROUND ? own.output : `${own.output}.live`;
  if (ground !== GROUND) writer.elements.push(E(`meter.${way.id}`, own.output, GROUND, end, ground, 1));
  if (isolated) {
    writer.merged.push([last, end]);
    return;
  }
  if (way.outputResistor) {
    writer.elements.push(R(`Rout.${way.id}`, last, end, way.outputResistor.ohm));
    writer.placed.push({
      stageId: null,
      wayId: way.id,
      part: 'Rout',
      mount: 'resistor',
      bought: null,
      leads: [
        { name: 'a', node: last },
        { name: 'b', node: end },
      ],
    });
    writer.owners.push({
      element: `Rout.${way.id}`,
      stageId: null,
      wayId: way.id,
      part: 'Rout',
      tolerancePct: way.outputResistor.tolerancePct ?? design.preferences.resistorTolerancePct,
    });
  } else writer.merged.push([last, end]);
  writer.load(`load.${way.id}`, design, way, end, ground);
}

/** A way that starts at a stage's hanging output has the lower of its two nodes for ground. */
function groundOf(variant: Variant, { id, from }: Way): string {
  if (from.kind === 'source' || from.output === 'out') return GROUND;
  const stage = variant.ways.find((w) => w.id === from.way)?.stages.find((s) => s.id === from.stage);
  const topology = stage && findTopology(stage.topology);
  return topology?.role === 'network' && topology.hanging?.(stage?.mode ?? '')[from.output] ? `${id}:ground` : GROUND;
}

const hangingPort = (designed: DesignedStage | undefined, output: string) =>
  designed?.role === 'network' ? designed.topology.hanging?.(designed.form)[output] : undefined;

/** One stage by itself, driven by a stiff source and terminated as its topology declares: node `in` to node `out`. */
export const compileStage = (
  design: Bench,
  designed: DesignedStage,
  options: Omit<CompileOptions, 'joints'>,
): Assembled => stageWriter(design, designed, options).finish().circuit;

/** The same before it is put together. @param drive volts at its input, to a small signal. */
export function stageWriter(
  design: Bench,
  designed: DesignedStage,
  options: Omit<CompileOptions, 'joints'>,
  drive = 1,
): NetlistWriter {
  const writer = new NetlistWriter(design, { ...options, joints: 'isolated' });
  writer.elements.push(V('Vin', 'in', GROUND, drive));
  writer.stage({ ...designed, stage: { ...designed.stage, bypassed: false } }, 'way', 'in', 'out');
  writer.terminateStage(designed, 'in', 'out');
  return writer;
}

/**
 * A way cut at a joint: what lies before it, terminated as the stage there declares. Node `cut` has the open voltage.
 */
export function compileBefore(design: Design, way: Way, stages: readonly DesignedStage[], joint: number): Assembled {
  const writer = new NetlistWriter(design, AS_BUILT);
  writer.elements.push(V('Vin', SOURCE_NODE, GROUND, 1));
  const node = (k: number) => (k === joint ? 'cut' : `j${k}`);
  writer.resistorOrWire('Rs', SOURCE_NODE, node(0), design.brief.source.ohm);
  for (let k = 0; k < joint; k++) writer.stage(stages[k], way.id, node(k), node(k + 1));
  const standing = stages.slice(0, joint).filter((s) => !s.stage.bypassed);
  writer.terminate('declared', 'cut', standing.at(-1)?.load.ohm ?? null);
  return writer.finish().circuit;
}

/**
 * What a joint drives, fed with 1 A: the voltage at node `cut` is its impedance. Null when nothing is connected there.
 */
export function compileAfter(
  design: Design,
  way: Way,
  stages: readonly DesignedStage[],
  joint: number,
): Assembled | null {
  const writer = new NetlistWriter(design, AS_BUILT);
  const rest = stages.slice(joint);
  if (rest.every((s) => s.stage.bypassed) && way.load.kind === 'brief' && design.brief.load.ohm === null) return null;
  const node = (k: number) => (k === joint ? 'cut' : `j${k}`);
  writer.elements.push({ name: 'Iin', definition: currentSource, nodes: [GROUND, 'cut'], values: [1, 0] });
  rest.forEach((designed, i) => writer.stage(designed, way.id, node(joint + i), node(joint + i + 1)));
  writer.resistorOrWire('Rout', node(stages.length), 'end', way.outputResistor?.ohm ?? 0);
  writer.load('load', design, way, 'end');
  return writer.finish().circuit;
}
