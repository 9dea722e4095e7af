import { GROUND, type ElementInstance, type Netlist } from '../../circuit/netlist';
import { assemble, type Assembled } from '../../circuit/structure';
import { idealAmp, onePoleAmp, R, V } from '../../circuit/build';
import type { VaryingSlot } from '../../analysis/tolerance/spread';
import { limitedOpAmp } from '../../circuit/elements/op-amp';
import { railVolts, swingRoom, type OpAmp } from '../../device/op-amps';
import { USUAL_PHOTOCELL, type Photocell } from '../../device/photocell';
import type { Conditions } from '../../analysis/rest/equations';
import { linearise } from '../../analysis/rest/linearise';
import { operatingPoint, operatingPointNear, type OperatingPoint } from '../../analysis/rest/operating-point';
import { deviceModel } from '../../circuit/behaviour';
import type { ElementDefinition } from '../../circuit/element';
import { success, type Failure, type Result } from '../../result';
import { fromDecibels } from '../../units/quantity';
import { couplingBetween } from '../../circuit/elements/coupling';
import type { Driver } from '../../loudspeaker/driver';
import { measuredPort } from '../../circuit/elements/measured-port';
import { excessAdmittance } from '../../loudspeaker/measured-impedance';
import { voiceCoilElements } from '../../loudspeaker/voice-coil';
import { couplingOf } from '../../parts/coil-coupling';
import { windingOf } from '../../parts/grades';
import type { Coupling, Design, Variant, Way } from '../document/schema';
import { type Bench, type DesignedStage } from '../stages/stage-design';
import { placeStage } from './stage-placer';
import {
  RAIL_NODES,
  RAIL_SOURCES,
  VIRTUAL_GROUND,
  type CompileOptions,
  type Owner,
  type Placed,
  type Writing,
} from './writing';

export interface Live {
  readonly circuit: Assembled;
  readonly rest: OperatingPoint;
}

const known = new WeakMap<ElementDefinition, boolean>();
/** Whether an element's current is not in proportion to its voltages. */
function bends(definition: ElementDefinition): boolean {
  if (!definition.behave) return false;
  const before = known.get(definition);
  if (before !== undefined) return before;
  const found = deviceModel(definition).flows.length > 0;
  known.set(definition, found);
  return found;
}

/** Where an op-amp's voltage noise begins to rise towards low frequencies, Hz: typical of all classes. */
const FLICKER_HZ = 50;
const ELEMENTARY_CHARGE = 1.602176634e-19;
/** Noise of a bias current, A/√Hz (W. Schottky, Ann. Physik 57, 1918). */
const shotNoise = (biasAmps: number): number => Math.sqrt(2 * ELEMENTARY_CHARGE * biasAmps);

/** An op-amp without room for any signal is given so much, V: it does nothing, and the equations still stand. */
const LEAST_ROOM_VOLTS = 1e-3;

/** What an op-amp without a device has for its output, once it is dead. */
const IDEAL_DEAD_OHM = 50;

/** What a coil is taken for that says nothing of its making. */
const AIR_COIL = { wireMm: 1, core: 1 };

/** Collects elements; the only place that knows the names of the environment's nodes. */
export class NetlistWriter implements Writing {
  readonly elements: ElementInstance[] = [];
  readonly merged: (readonly [string, string])[] = [];
  readonly owners: Owner[] = [];
  readonly placed: Placed[] = [];
  readonly reference: string;
  private readonly railVolts: number;
  readonly brief: Bench['brief'];
  readonly photocell: Photocell;
  private readonly railsUsed = new Set<string>();
  readonly batches: ReadonlyMap<string, NonNullable<VaryingSlot['batch']>>;

  constructor(
    design: Bench,
    readonly options: CompileOptions,
    variant?: Variant,
  ) {
    this.batches = new Map(
      (variant?.batches ?? []).flatMap(({ id, matchPct, parts }) =>
        parts.map(({ stage, part }) => [`${stage}.${part}`, { id, matchPct }] as const),
      ),
    );
    const { supply } = design.brief;
    this.brief = design.brief;
    this.photocell = design.preferences.photocell ?? USUAL_PHOTOCELL;
    this.railVolts = railVolts(design.brief) * (options.supplyShare ?? 1);
    this.reference = supply.kind === 'dual' ? GROUND : VIRTUAL_GROUND;
    if (supply.kind === 'single') this.elements.push(R('Rvg', this.reference, GROUND, supply.virtualGroundOhm));
  }

  /** A resistor that may be nothing: zero merges its nodes. */
  resistorOrWire(name: string, a: string, b: string, ohm: number): void {
    if (ohm === 0) this.merged.push([a, b]);
    else this.elements.push(R(name, a, b, ohm));
  }

  /** @param ground what the stage has for ground: of a way that hangs between two live nodes, the lower of them. */
  stage(designed: DesignedStage, wayId: string, input: string, output: string, ground = GROUND): void {
    if (designed.stage.bypassed) this.merged.push([input, output]);
    else placeStage(this, designed, { wayId, input, output, ground });
  }

  /** A supply rail's node, with its source the first time it is asked for. */
  rail(name: 'plus' | 'minus'): string {
    if (!this.railsUsed.has(name)) {
      this.railsUsed.add(name);
      this.elements.push({
        ...V(RAIL_SOURCES[name], RAIL_NODES[name], GROUND, 0),
        source: { dc: name === 'plus' ? this.railVolts : -this.railVolts },
      });
    }
    return RAIL_NODES[name];
  }

  readonly shareOf = (element: string): number => this.options.board?.factors.get(element) ?? 1;

  opAmp(name: string, plus: string, minus: string, out: string, device: OpAmp | null): void {
    if (this.options.board?.dead.has(name)) {
      this.elements.push(R(`${name}.output`, this.reference, out, device?.outputOhm ?? IDEAL_DEAD_OHM));
      return;
    }
    if (!device) {
      this.elements.push(idealAmp(name, plus, minus, out));
      return;
    }
    const behind = `${name}.source`;
    const [gain, omega, noise] = [
      fromDecibels(device.dcGainDb),
      2 * Math.PI * device.gainBandwidthHz,
      [device.noiseVoltsPerRtHz, FLICKER_HZ, shotNoise(device.biasAmps), 0] as const,
    ];
    if (this.options.opAmps === 'limited') {
      const room = Math.max(LEAST_ROOM_VOLTS, swingRoom(this.brief, device));
      this.elements.push({
        name,
        definition: limitedOpAmp,
        nodes: [plus, minus, behind, `${name}.asked`],
        values: [gain, omega, device.slewVoltsPerSec, room, -room, ...noise],
      });
    } else this.elements.push(onePoleAmp(name, plus, minus, behind, gain, omega, noise));
    this.elements.push(R(`${name}.output`, behind, out, device.outputOhm));
  }

  /** What a topology declares it is to be terminated with. */
  terminate(name: string, node: string, ohm: number | null, ground = GROUND): void {
    if (ohm !== null) this.elements.push(R(name, node, ground, ohm));
  }

  /** What a stage declares at all its outputs, when it stands by itself: hanging ones too. */
  terminateStage(designed: DesignedStage, input: string, output: string): void {
    this.terminate('declared', output, designed.load.ohm);
    if (designed.role !== 'network' || designed.load.ohm === null) return;
    const { ohm } = designed.load;
    const inStage = (name: string) =>
      name === 'in' ? input : name === 'out' ? output : `${designed.stage.id}.${name}`;
    for (const [name, { plus, minus }] of Object.entries(designed.topology.hanging?.(designed.form) ?? {}))
      this.elements.push(R(`declared.${name}`, inStage(plus), inStage(minus), ohm));
  }

  /**
   * What a way feeds: what the brief says, a resistance, an amplifier's input, or a driver as the circuit that it is.
   */
  load(name: string, design: Design, way: Way, node: string, ground = GROUND): void {
    const { load } = way;
    if (load.kind === 'brief') return this.terminate(name, node, design.brief.load.ohm, ground);
    if (load.kind === 'resistance') return this.terminate(name, node, load.ohm, ground);
    const driver = driverOf(design, way);
    if (load.amplifier) this.terminate(name, node, load.amplifier.inputOhm, ground);
    else if (driver) {
      this.elements.push(...voiceCoilElements(name, node, ground, driver.impedance));
      const excess = excessAdmittance(driver);
      if (excess)
        this.elements.push({
          name: `${name}.measured`,
          definition: measuredPort,
          nodes: [node, ground],
          values: [0, 0],
          excess,
        });
    }
  }

  /** Lets two coils see one another, as far apart and turned as they stand. */
  couple({ id, first, second, distanceM, turned }: Coupling, stages: readonly DesignedStage[]): void {
    const [a, b] = [first, second].map(({ stage, part }) => {
      const found = stages
        .find((s) => s.stage.id === stage && !s.stage.bypassed)
        ?.parts.find((p) => p.spec.name === part);
      return found?.spec.kind === 'inductor'
        ? {
            name: `${stage}.${part}`,
            henry: found[this.options.values],
            winding: windingOf(found[this.options.values], found.grade?.kind === 'inductor' ? found.grade : AIR_COIL),
          }
        : null;
    });
    if (!a || !b || this.options.devices === 'ideal') return;
    const k = couplingOf(a, b, distanceM, turned);
    if (Math.abs(k) > 1e-6)
      this.elements.push({
        name: `coupling.${id}`,
        definition: couplingBetween(a.name, b.name),
        nodes: [],
        values: [k],
      });
  }

  /**
   * The circuit; where devices bend, what it is to a small signal at rest, and the bent one with its rest beside it.
   */
  finish(): { netlist: Netlist; circuit: Assembled; live: Live | null; unsettled: Failure | null } {
    // A coupling goes with its coils: one that was left out leaves nothing to couple.
    const there = new Set(this.elements.map((e) => e.name));
    const elements = this.elements.filter(({ definition: { between = [] } }) => between.every((e) => there.has(e)));
    const netlist = { elements, merged: this.merged };
    if (this.options.rest === 'left') return { netlist, circuit: assemble(netlist), live: null, unsettled: null };
    const small = smallSignal(netlist, this.options);
    return small.ok
      ? { netlist, ...small.value, unsettled: null }
      : { netlist, circuit: assemble(netlist), live: null, unsettled: small };
  }
}

/**
 * A netlist to a small signal; where devices bend, at their rest, with the bent circuit beside it. Fails as the
 * operating point does.
 */
export function smallSignal(
  netlist: Netlist,
  { near, ...conditions }: Conditions & Pick<CompileOptions, 'near'> = {},
): Result<{ circuit: Assembled; live: Live | null }> {
  const circuit = assemble(netlist);
  if (!netlist.elements.some((e) => bends(e.definition))) return success({ circuit, live: null });
  const rest =
    near?.length === circuit.structure.size
      ? operatingPointNear(circuit, near, conditions)
      : operatingPoint(circuit, conditions);
  return rest.ok
    ? success({ circuit: linearise(circuit, rest.value, conditions), live: { circuit, rest: rest.value } })
    : rest;
}

/** The driver at a way's end, if that is what it feeds. */
export function driverOf(design: Design, { load }: Way): Driver | undefined {
  return load.kind === 'driver' ? design.drivers?.find((d) => d.id === load.driver) : undefined;
}
