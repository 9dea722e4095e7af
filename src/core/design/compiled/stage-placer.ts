import { thermalVoltageAt } from '../../analysis/rest/equations';
import { C, L, R, V } from '../../circuit/build';
import type { ElementDefinition } from '../../circuit/element';
import { currentSource } from '../../circuit/elements/current-source';
import { OP_AMP_LEADS } from '../../circuit/elements/op-amp';
import { ota } from '../../circuit/elements/ota';
import { GROUND, type SourceValue } from '../../circuit/netlist';
import type { BuildContext, PartSpec } from '../../topology/kit/define-topology';
import { CURRENT } from '../../topology/voice/control/controlled';
import type { DesignedPart, DesignedStage } from '../stages/stage-design';
import { RAIL_NODES, type Owner, type Placed, type Writing } from './writing';

/** What a board leaks past a joint that does not conduct. */
export const OPEN_OHM = 1e10;
/** How warm a bench is, °C, unless something else is said. */
export const BENCH_C = 27;
/** Where a pot stands that no control turns. */
const HALF_WAY = 0.5;

/** Between which nodes a stage stands. */
interface Place {
  readonly wayId: string;
  readonly input: string;
  readonly output: string;
  readonly ground: string;
}

/** Writes a stage: its circuit places its parts one by one. */
export function placeStage(writer: Writing, designed: DesignedStage, place: Place): void {
  const placer = new StagePlacer(writer, designed, place);
  if (designed.role === 'section') designed.topology.build(placer as BuildContext<typeof designed.form>);
  else designed.topology.build(placer);
}

/** What a circuit places its parts with: each becomes elements, and is noted with its leads. */
class StagePlacer implements BuildContext {
  readonly form: string;
  readonly input: string;
  readonly output: string;
  readonly ground: string;
  readonly reference: string;
  readonly cell: BuildContext['cell'];
  readonly ideal: boolean;
  readonly thermalVolts: number;
  private readonly stageId: string;
  private readonly parts: ReadonlyMap<string, DesignedPart>;

  constructor(
    private readonly writer: Writing,
    private readonly designed: DesignedStage,
    private readonly place: Place,
  ) {
    const { input, output, ground } = place;
    const { options, photocell, reference } = writer;
    this.form = designed.form;
    [this.input, this.output, this.ground] = [input, output, ground];
    this.reference = ground === GROUND ? reference : ground;
    this.cell = photocell;
    this.ideal = options.devices === 'ideal';
    this.thermalVolts = thermalVoltageAt(options);
    this.stageId = designed.stage.id;
    this.parts = new Map(designed.parts.map((part) => [part.spec.name, part]));
  }

  // Rails have sources once they are asked for.
  get plus(): string {
    return this.writer.rail('plus');
  }
  get minus(): string {
    return this.writer.rail('minus');
  }
  get common(): string {
    return this.writer.brief.supply.kind === 'single' ? this.writer.rail('minus') : GROUND;
  }

  readonly node = (local: string): string => `${this.stageId}.${local}`;
  readonly has = (name: string): boolean => this.parts.has(name);
  readonly value = (name: string): number => this.partOf(name)[this.writer.options.values];
  readonly wire = (a: string, b: string): void => void this.writer.merged.push([a, b]);

  readonly part = (name: string, a: string, b: string): void => {
    const part = this.partOf(name);
    const { kind, leaveOut } = part.spec;
    // What a control sends is in the device it goes to, or in a source of its own.
    if (kind === 'current' || kind === 'voltage') return;
    if (this.isLeftOut(part)) {
      if (leaveOut === 'short') this.wire(a, b);
      return;
    }
    this.put(name, kind, { a, b });
    const element = this.node(name);
    const failed = this.writer.options.board?.failed.get(element);
    if (failed === 'short') this.wire(a, b);
    else if (failed === 'open') this.writer.elements.push(R(element, a, b, OPEN_OHM));
    else this.stamped(part, element, a, b);
  };

  readonly pot = (name: string, low: string, wiper: string, high: string): void => {
    const part = this.partOf(name);
    if (this.isLeftOut(part)) {
      // A pot that is left out is a wire from its high end.
      if (part.spec.leaveOut === 'short') this.wire(high, wiper);
      return;
    }
    this.put(name, 'potentiometer', { low, wiper, high });
    const share = part.wiper ?? HALF_WAY;
    const track = part[this.writer.options.values] * this.writer.shareOf(this.node(name));
    for (const [half, end, portion] of [
      ['low', low, share],
      ['high', high, 1 - share],
    ] as const) {
      const element = this.node(`${name}.${half}`);
      this.writer.resistorOrWire(element, end, wiper, track * portion);
      // One track: its halves are off by the same share.
      if (portion > 0) this.own(part, element, { id: this.node(name), matchPct: 0 });
    }
  };

  readonly opAmp = (name: string, plus: string, minus: string, out: string): void => {
    this.put(name, 'op-amp', Object.fromEntries(OP_AMP_LEADS.map((lead, i) => [lead, [plus, minus, out][i]])));
    this.writer.opAmp(this.node(name), plus, minus, out, this.ideal ? null : this.designed.device);
  };

  readonly ota = (name: string, plus: string, minus: string, out: string): void => {
    const { reference } = this.writer;
    this.element(name, ota, [plus, minus, out, reference, reference, reference], [this.value(CURRENT), 0]);
  };

  readonly current = (name: string, from: string, to: string, copy?: string): void => {
    // What flows to a rail is drawn out of where it comes from.
    const drawn = to === RAIL_NODES.plus || to === RAIL_NODES.minus;
    this.put(name, 'off-board', drawn ? { 'out of': from } : { [copy ? 'mirrored into' : 'into']: to });
    this.element(`${name}.${copy ?? 'source'}`, currentSource, [from, to], [0, 0], { dc: this.value(name) });
  };

  readonly jack = (name: string, tip: string, sleeve: string): void => {
    this.put(name, 'off-board', { tip, sleeve });
    const source = { dc: this.partOf(name).chosen };
    this.writer.elements.push({ ...V(this.node(name), tip, sleeve, 0), source });
  };

  readonly element = (
    name: string,
    definition: ElementDefinition,
    nodes: readonly string[],
    values: readonly number[],
    source?: SourceValue,
  ): void => {
    const { leads, bought, housed } = definition;
    // A source that is no part of a board brings its voltage from elsewhere.
    const mount = housed ?? (bought ? 'device' : 'off-board');
    if (leads)
      this.put(name, mount, Object.fromEntries(leads.map((lead, i) => [lead, nodes[i]])), bought?.(values) ?? null);
    this.writer.elements.push({ name: this.node(name), definition, nodes, values, source });
  };

  private partOf(name: string): DesignedPart {
    const part = this.parts.get(name);
    if (!part) throw new Error(`${this.designed.topology.id} builds ${name}, which its design did not give`);
    return part;
  }

  private isLeftOut({ choice }: DesignedPart): boolean {
    return choice.leftOut === true && this.writer.options.values === 'chosen';
  }

  /** A part that is as it should be, with what its wire or foil loses in series; the part keeps its name. */
  private stamped(part: DesignedPart, element: string, a: string, b: string): void {
    const { elements, options, shareOf, batches } = this.writer;
    const make = part.spec.kind === 'resistor' ? R : part.spec.kind === 'capacitor' ? C : L;
    const value = part[options.values] * shareOf(element) * this.warmed(part.spec);
    // A pot turned to its end: no 0 ohm is ever stamped.
    if (value === 0 && part.spec.kind === 'resistor') return this.wire(a, b);
    const lossy = part.lossOhm > 0 && options.values === 'chosen' && options.devices === 'real';
    const inner = lossy ? `${element}.inner` : b;
    if (lossy) elements.push(R(`${element}.loss`, inner, b, part.lossOhm));
    elements.push(make(element, a, inner, value));
    this.own(part, element, batches.get(element));
  }

  private warmed({ perDegreePpm = 0 }: PartSpec): number {
    const { temperatureC = BENCH_C } = this.writer.options;
    return 1 + 1e-6 * perDegreePpm * (temperatureC - BENCH_C);
  }

  private own(part: DesignedPart, element: string, batch?: Owner['batch']): void {
    this.writer.owners.push({
      element,
      stageId: this.stageId,
      wayId: this.place.wayId,
      part: part.spec.name,
      tolerancePct: part.tolerancePct,
      ...(batch ? { batch } : {}),
    });
  }

  private put(
    name: string,
    mount: Placed['mount'],
    leads: Readonly<Record<string, string>>,
    bought: string | null = null,
  ): void {
    this.writer.placed.push({
      stageId: this.stageId,
      wayId: this.place.wayId,
      part: name.split('.')[0],
      mount,
      bought,
      leads: Object.entries(leads).map(([lead, node]) => ({ name: lead, node })),
    });
  }
}
