import { GROUND, type ElementInstance, type Netlist } from '../../circuit/netlist';
import { assemble, type Assembled } from '../../circuit/structure';
import { currentSource } from '../../circuit/elements/current-source';
import { ota } from '../../circuit/elements/ota';
import { C, idealAmp, L, onePoleAmp, R, V } from '../../circuit/build';
import type { VaryingSlot } from '../../analysis/spread';
import { limitedOpAmp, OP_AMP_LEADS } from '../../circuit/elements/op-amp';
import { railVolts, swingRoom, type OpAmp } from '../../device/op-amps';
import { USUAL_PHOTOCELL, type Photocell } from '../../device/photocell';
import { thermalVoltageAt, type Conditions } from '../../analysis/equations';
import { linearise } from '../../analysis/linearise';
import { operatingPoint, type OperatingPoint } from '../../analysis/operating-point';
import { deviceModel } from '../../circuit/behaviour';
import type { ElementDefinition } from '../../circuit/element';
import { success, type Failure, type Result } from '../../result';
import type { BuildContext, PartSpec } from '../../topology/kit/define-topology';
import { CURRENT } from '../../topology/voice/control/controlled';
import { fromDecibels } from '../../units/quantity';
import { couplingBetween } from '../../circuit/elements/coupling';
import type { Driver } from '../../loudspeaker/driver';
import { voiceCoilElements } from '../../loudspeaker/voice-coil';
import { couplingOf } from '../../parts/coil-coupling';
import { windingOf } from '../../parts/grades';
import type { Board } from './board';
import type { Coupling, Design, Variant, Way } from '../document/schema';
import { type Bench, type DesignedStage } from '../stages/stage-design';

export interface CompileOptions {
  readonly values: 'exact' | 'chosen';
  readonly devices: 'ideal' | 'real';
  /** Isolated: each stage is driven stiffly and terminated as its topology declares. */
  readonly joints: 'loaded' | 'isolated';
  /** What is left of the supply that the parts were chosen for, 1 when absent: a battery that sags. */
  readonly supplyShare?: number;
  /** `limited`: op-amps slew, and swing no further than the brief's supply lets them: what runs in time. */
  readonly opAmps?: 'small-signal' | 'limited';
  /** `left`: where devices bend, the circuit is given as it is, and its rest is not looked for. */
  readonly rest?: 'found' | 'left';
  /** `folded`: voices stand on the currents that their chains come to at rest, and the chains are not there. */
  readonly chains?: 'built' | 'folded';
  /** How warm it all is, °C; 27 where nothing is said. Resistors that rise with warmth do. */
  readonly temperatureC?: number;
  /** A board as it was built, with its parts' own values and faults. */
  readonly board?: Board;
}

/** What stands on a board, or is joined to it: a part, an op-amp, a device, a current that comes from elsewhere. */
export interface Placed {
  /** Null for the way's output resistor. */
  readonly stageId: string | null;
  readonly wayId: string;
  /** Its name in its circuit. */
  readonly part: string;
  readonly mount: 'resistor' | 'capacitor' | 'inductor' | 'potentiometer' | 'device' | 'op-amp' | 'ota' | 'off-board';
  /** What is bought for it, where its value does not say. */
  readonly bought: string | null;
  /** Its leads, and the nodes of the netlist that they are soldered to. */
  readonly leads: readonly { readonly name: string; readonly node: string }[];
}

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

/** What a board leaks past a joint that does not conduct. */
export const OPEN_OHM = 1e10;
/** What an op-amp without a device has for its output, once it is dead. */
const IDEAL_DEAD_OHM = 50;

/** How warm a bench is, °C, unless something else is said. */
export const BENCH_C = 27;
/** What a coil is taken for that says nothing of its making. */
const AIR_COIL = { wireMm: 1, core: 1 };

/** Nodes of the supply, and the sources that hold them; the middle of a single supply. */
export const RAIL_NODES = { plus: 'rail.plus', minus: 'rail.minus' } as const;
export const RAIL_SOURCES = { plus: 'Vplus', minus: 'Vminus' } as const;
export const VIRTUAL_GROUND = 'virtual-ground';

/** Collects elements; the only place that knows the names of the environment's nodes. */
export class NetlistWriter {
  readonly elements: ElementInstance[] = [];
  readonly merged: (readonly [string, string])[] = [];
  readonly owners: {
    element: string;
    stageId: string | null;
    wayId: string;
    part: string;
    tolerancePct: number;
    batch?: VaryingSlot['batch'];
  }[] = [];
  readonly placed: Placed[] = [];
  readonly reference: string;
  private readonly railVolts: number;
  private readonly brief: Bench['brief'];
  private readonly photocell: Photocell;
  private readonly railsUsed = new Set<string>();
  private readonly batches: ReadonlyMap<string, NonNullable<VaryingSlot['batch']>>;

  constructor(
    design: Bench,
    private readonly options: CompileOptions,
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
    const { stage, topology } = designed;
    if (stage.bypassed) {
      this.merged.push([input, output]);
      return;
    }
    const byName = new Map(designed.parts.map((part) => [part.spec.name, part]));
    const placed = (name: string) => {
      const part = byName.get(name);
      if (!part) throw new Error(`${topology.id} builds ${name}, which its design did not give`);
      return part;
    };
    const rail = (name: 'plus' | 'minus') => this.rail(name);
    const put = (name: string, mount: Placed['mount'], leads: Record<string, string>, bought: string | null = null) =>
      this.placed.push({
        stageId: stage.id,
        wayId,
        part: name.split('.')[0],
        mount,
        bought,
        leads: Object.entries(leads).map(([lead, node]) => ({ name: lead, node })),
      });
    const context: Omit<BuildContext, 'form'> = {
      input,
      output,
      ground,
      reference: ground === GROUND ? this.reference : ground,
      node: (local) => `${stage.id}.${local}`,
      has: (name) => byName.has(name),
      part: (name, a, b) => {
        const part = placed(name);
        // What a control sends is in the device it goes to, or in a source of its own.
        if (part.spec.kind === 'current' || part.spec.kind === 'voltage') return;
        if (part.choice.leftOut && this.options.values === 'chosen') {
          if (part.spec.leaveOut === 'short') this.merged.push([a, b]);
          return;
        }
        put(name, part.spec.kind, { a, b });
        const element = `${stage.id}.${name}`;
        const failed = this.options.board?.failed.get(element);
        if (failed === 'short') this.merged.push([a, b]);
        if (failed === 'open') this.elements.push(R(element, a, b, OPEN_OHM));
        if (failed) return;
        const make = part.spec.kind === 'resistor' ? R : part.spec.kind === 'capacitor' ? C : L;
        const value = part[this.options.values] * this.shareOf(element) * this.warmed(part.spec);
        if (value === 0 && part.spec.kind === 'resistor') {
          // A pot turned to its end: no 0 ohm is ever stamped.
          this.merged.push([a, b]);
          return;
        }
        const lossy = part.lossOhm > 0 && this.options.values === 'chosen' && this.options.devices === 'real';
        // What the wire or the foil loses stands in series; the part keeps its name.
        const inner = lossy ? `${element}.inner` : b;
        if (lossy) this.elements.push(R(`${element}.loss`, inner, b, part.lossOhm));
        this.elements.push(make(element, a, inner, value));
        const batch = this.batches.get(element);
        this.owners.push({
          element,
          stageId: stage.id,
          wayId,
          part: name,
          tolerancePct: part.tolerancePct,
          ...(batch ? { batch } : {}),
        });
      },
      pot: (name, low, wiper, high) => {
        const part = placed(name);
        if (part.choice.leftOut && this.options.values === 'chosen') {
          // A pot that is left out is a wire from its high end.
          if (part.spec.leaveOut === 'short') this.merged.push([high, wiper]);
          return;
        }
        put(name, 'potentiometer', { low, wiper, high });
        const share = part.wiper ?? 0.5;
        for (const [half, end, portion] of [
          ['low', low, share],
          ['high', high, 1 - share],
        ] as const) {
          const element = `${stage.id}.${name}.${half}`;
          const track = part[this.options.values] * this.shareOf(`${stage.id}.${name}`);
          this.resistorOrWire(element, end, wiper, track * portion);
          // One track: its halves are off by the same share.
          if (portion > 0)
            this.owners.push({
              element,
              stageId: stage.id,
              wayId,
              part: name,
              tolerancePct: part.tolerancePct,
              batch: { id: `${stage.id}.${name}`, matchPct: 0 },
            });
        }
      },
      value: (name) => placed(name)[this.options.values],
      ota: (name, plus, minus, out) => {
        const { reference } = this;
        const bias = [placed(CURRENT)[this.options.values], 0];
        context.element(name, ota, [plus, minus, out, reference, reference, reference], bias);
      },
      current: (name, from, to, copy) => {
        // What flows to a rail is drawn out of where it comes from.
        put(
          name,
          'off-board',
          to === RAIL_NODES.plus || to === RAIL_NODES.minus
            ? { 'out of': from }
            : { [copy ? 'mirrored into' : 'into']: to },
        );
        context.element(`${name}.${copy ?? 'source'}`, currentSource, [from, to], [0, 0], {
          dc: placed(name)[this.options.values],
        });
      },
      jack: (name, tip, sleeve) => {
        put(name, 'off-board', { tip, sleeve });
        this.jack(`${stage.id}.${name}`, tip, sleeve, placed(name).chosen);
      },
      plus: '',
      common: '',
      cell: this.photocell,
      minus: '',
      ideal: this.options.devices === 'ideal',
      thermalVolts: thermalVoltageAt(this.options),
      wire: (a, b) => this.merged.push([a, b]),
      element: (name, definition, nodes, values, source) => {
        const { leads, bought, housed } = definition;
        if (leads)
          put(
            name,
            // A source that is no part of a board brings its voltage from elsewhere.
            housed ?? (bought ? 'device' : 'off-board'),
            Object.fromEntries(leads.map((lead, i) => [lead, nodes[i]])),
            bought?.(values),
          );
        this.elements.push({ name: `${stage.id}.${name}`, definition, nodes, values, source });
      },
      opAmp: (name, plus, minus, out) => {
        put(name, 'op-amp', Object.fromEntries(OP_AMP_LEADS.map((lead, i) => [lead, [plus, minus, out][i]])));
        this.opAmp(`${stage.id}.${name}`, plus, minus, out, this.options.devices === 'ideal' ? null : designed.device);
      },
    };
    const build: BuildContext = Object.defineProperties(
      { ...context, form: designed.form },
      {
        plus: { get: () => rail('plus') },
        minus: { get: () => rail('minus') },
        common: { get: () => (this.brief.supply.kind === 'single' ? rail('minus') : GROUND) },
      },
    );
    if (designed.role === 'section') designed.topology.build(build as BuildContext<typeof designed.form>);
    else designed.topology.build(build);
  }

  /** A supply rail's node, with its source the first time it is asked for. */
  private rail(name: 'plus' | 'minus'): string {
    if (!this.railsUsed.has(name)) {
      this.railsUsed.add(name);
      this.elements.push({
        ...V(RAIL_SOURCES[name], RAIL_NODES[name], GROUND, 0),
        source: { dc: name === 'plus' ? this.railVolts : -this.railVolts },
      });
    }
    return RAIL_NODES[name];
  }

  /** A jack whose plug brings so many volts. */
  private jack(name: string, tip: string, sleeve: string, volts: number): void {
    this.elements.push({ ...V(name, tip, sleeve, 0), source: { dc: volts } });
  }

  private warmed({ perDegreePpm = 0 }: PartSpec): number {
    const { temperatureC = BENCH_C } = this.options;
    return 1 + 1e-6 * perDegreePpm * (temperatureC - BENCH_C);
  }

  private readonly shareOf = (element: string): number => this.options.board?.factors.get(element) ?? 1;

  private opAmp(name: string, plus: string, minus: string, out: string, device: OpAmp | null): void {
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
    else if (driver) this.elements.push(...voiceCoilElements(name, node, ground, driver.impedance));
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
  conditions: Conditions = {},
): Result<{ circuit: Assembled; live: Live | null }> {
  const circuit = assemble(netlist);
  if (!netlist.elements.some((e) => bends(e.definition))) return success({ circuit, live: null });
  const rest = operatingPoint(circuit, conditions);
  return rest.ok
    ? success({ circuit: linearise(circuit, rest.value, conditions), live: { circuit, rest: rest.value } })
    : rest;
}

/** The driver at a way's end, if that is what it feeds. */
export function driverOf(design: Design, { load }: Way): Driver | undefined {
  return load.kind === 'driver' ? design.drivers?.find((d) => d.id === load.driver) : undefined;
}
