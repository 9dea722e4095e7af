import { samplingGrid } from '../../analysis/curves/curve-sampling';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Compilation } from '../../design/compiled/compile';
import { driverOf } from '../../design/compiled/netlist-writer';
import type { Design, Variant } from '../../design/document/schema';
import { fullAmps } from '../../parts/grades';
import type { DesignedPart } from '../../design/stages/stage-design';
import { programmeShares } from '../../loudspeaker/listening';
import type { PartPower } from './acoustics-types';
import { AUDIO_BAND } from '../../math/grid';
import { naturalOf } from '../reading/read-way';
import type { SpeakerSystem } from './speaker-system';

/**
 * Heat in every resistor, coil and capacitor, and what every driver takes, for the brief's volts of programme from 20
 * Hz to 20 kHz (W), whatever is on show.
 */
export function powerInParts(
  design: Design,
  variant: Variant,
  { built }: SpeakerSystem,
  solver: AcSolver,
): PartPower[] {
  const programme = Programme.of(built, design.brief.signalVolts, solver);
  if (!programme) return [];
  return built.ways.flatMap(({ stages }, w): PartPower[] => {
    const way = variant.ways[w];
    const driver = driverOf(design, way);
    const own = stages
      .filter((s) => !s.stage.bypassed)
      .flatMap((s) =>
        s.parts
          .filter((p) => !p.choice.leftOut)
          .flatMap((part) => powerIn(programme, `${s.stage.id}.${part.spec.name}`, part, s.stage.id, way.id)),
      );
    if (!driver || way.load.kind !== 'driver' || way.load.amplifier) return own;
    const watts = programme.wattsIn((name) => name.startsWith(`load.${way.id}.`));
    const what = { stageId: null, wayId: way.id, part: driver.name };
    return [...own, { ...what, watts, peakVolts: null, core: null, ratingWatts: driver.maxWatts }];
  });
}

function powerIn(
  programme: Programme,
  name: string,
  { spec, chosen, grade }: DesignedPart,
  stageId: string,
  wayId: string,
): PartPower[] {
  const watts = programme.watts.get(spec.kind === 'resistor' ? name : `${name}.loss`);
  if (watts === undefined) return [];
  const full = spec.kind === 'inductor' ? fullAmps(chosen, grade) : null;
  const peakAmps = full === null ? null : programme.most(name, (f) => 1 / (2 * Math.PI * f * chosen));
  return [
    {
      stageId,
      wayId,
      part: spec.name,
      watts,
      peakVolts: programme.most(name, () => 1),
      core: full === null || peakAmps === null ? null : { peakAmps, fullAmps: full },
      ratingWatts: grade?.kind === 'resistor' ? grade.watts : null,
    },
  ];
}

/** What programme of so many volts does in a circuit. */
class Programme {
  /** Of every resistance, W. */
  readonly watts: ReadonlyMap<string, number>;
  private readonly placed: ReadonlyMap<string, readonly string[]>;

  private constructor(
    { netlist }: Compilation,
    private readonly signalVolts: number,
    private readonly freqHz: Float64Array,
    private readonly at: ReadonlyMap<string, Float64Array>,
  ) {
    this.placed = new Map(netlist.elements.map((e) => [e.name, e.nodes]));
    const shares = programmeShares(freqHz, 'programme');
    this.watts = new Map(
      netlist.elements
        .filter((e) => e.definition.kind === 'resistor' && e.name !== 'Rs')
        .flatMap(({ name, values: [ohm] }) => {
          const across = this.across(name);
          if (!across) return [];
          const mean = across.reduce((sum, volts, i) => sum + shares[i] * volts ** 2, 0);
          return [[name, (signalVolts ** 2 * mean) / ohm] as const];
        }),
    );
  }

  static of(built: Compilation, signalVolts: number, solver: AcSolver): Programme | null {
    const freqHz = samplingGrid(naturalOf(built), AUDIO_BAND);
    const nodes = [...new Set(built.netlist.elements.filter((e) => e.nodes.length === 2).flatMap((e) => e.nodes))];
    const solved = solver.sweep(built.circuit, freqHz, nodes);
    if (!solved.ok) return null;
    return new Programme(built, signalVolts, freqHz, new Map(nodes.map((node, k) => [node, solved.value[k]])));
  }

  wattsIn(counted: (name: string) => boolean): number {
    return [...this.watts].reduce((sum, [name, heat]) => sum + (counted(name) ? heat : 0), 0);
  }

  /** The most of an element's volts, each counted by so much. */
  most(name: string, counts: (freqHz: number) => number): number | null {
    const across = this.across(name);
    if (!across) return null;
    return Math.SQRT2 * this.signalVolts * Math.max(...across.map((volts, i) => counts(this.freqHz[i]) * volts));
  }

  /** Volts across an element for one from the source, at each frequency. */
  private across(name: string): Float64Array | null {
    const [a, b] = this.placed.get(name) ?? [];
    const [va, vb] = [this.at.get(a ?? ''), this.at.get(b ?? '')];
    if (!va || !vb) return null;
    return this.freqHz.map((_, i) => Math.hypot(va[2 * i] - vb[2 * i], va[2 * i + 1] - vb[2 * i + 1]));
  }
}
