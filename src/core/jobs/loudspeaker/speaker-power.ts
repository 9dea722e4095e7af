import { samplingGrid } from '../../analysis/curves/curve-sampling';
import type { AcSolver } from '../../analysis/ac/solver';
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
  const freqHz = samplingGrid(naturalOf(built), AUDIO_BAND);
  const shares = programmeShares(freqHz, 'programme');
  const square = design.brief.signalVolts ** 2;
  const elements = built.netlist.elements.filter((e) => e.definition.kind === 'resistor' && e.name !== 'Rs');
  const placed = new Map(built.netlist.elements.map((e) => [e.name, e.nodes]));
  const nodes = [...new Set(built.netlist.elements.filter((e) => e.nodes.length === 2).flatMap((e) => e.nodes))];
  const solved = solver.sweep(built.circuit, freqHz, nodes);
  if (!solved.ok) return [];
  const at = new Map(nodes.map((node, k) => [node, solved.value[k]]));
  const watts = new Map<string, number>();
  for (const {
    name,
    nodes: [a, b],
    values: [ohm],
  } of elements) {
    const [va, vb] = [at.get(a), at.get(b)];
    if (!va || !vb) continue;
    let mean = 0;
    for (let i = 0; i < freqHz.length; i++)
      mean += shares[i] * ((va[2 * i] - vb[2 * i]) ** 2 + (va[2 * i + 1] - vb[2 * i + 1]) ** 2);
    watts.set(name, (square * mean) / ohm);
  }
  /** The most of its volts, each counted by so much. */
  const most = (name: string, counts: (freqHz: number) => number): number | null => {
    const ends = placed.get(name);
    const [va, vb] = [at.get(ends?.[0] ?? ''), at.get(ends?.[1] ?? '')];
    if (!va || !vb) return null;
    const sizes = freqHz.map((f, i) => counts(f) * Math.hypot(va[2 * i] - vb[2 * i], va[2 * i + 1] - vb[2 * i + 1]));
    return Math.SQRT2 * design.brief.signalVolts * Math.max(...sizes);
  };
  const peakAcross = (name: string) => most(name, () => 1);
  const coreOf = (name: string, { spec, chosen, grade }: DesignedPart): PartPower['core'] => {
    const full = spec.kind === 'inductor' ? fullAmps(chosen, grade) : null;
    const peakAmps = full === null ? null : most(name, (f) => 1 / (2 * Math.PI * f * chosen));
    return full === null || peakAmps === null ? null : { peakAmps, fullAmps: full };
  };
  return built.ways.flatMap((compiled, w): PartPower[] => {
    const way = variant.ways[w];
    const driver = driverOf(design, way);
    const own = compiled.stages
      .filter((s) => !s.stage.bypassed)
      .flatMap((s) =>
        s.parts
          .filter((p) => !p.choice.leftOut)
          .flatMap((part): PartPower[] => {
            const name = `${s.stage.id}.${part.spec.name}`;
            const heat = watts.get(part.spec.kind === 'resistor' ? name : `${name}.loss`);
            return heat === undefined
              ? []
              : [
                  {
                    stageId: s.stage.id,
                    wayId: way.id,
                    part: part.spec.name,
                    watts: heat,
                    peakVolts: peakAcross(name),
                    core: coreOf(name, part),
                    ratingWatts: part.grade?.kind === 'resistor' ? part.grade.watts : null,
                  },
                ];
          }),
      );
    const taken = [...watts]
      .filter(([name]) => name.startsWith(`load.${way.id}.`))
      .reduce((sum, [, heat]) => sum + heat, 0);
    return driver && way.load.kind === 'driver' && !way.load.amplifier
      ? [
          ...own,
          {
            stageId: null,
            wayId: way.id,
            part: driver.name,
            watts: taken,
            peakVolts: null,
            core: null,
            ratingWatts: driver.maxWatts,
          },
        ]
      : own;
  });
}
