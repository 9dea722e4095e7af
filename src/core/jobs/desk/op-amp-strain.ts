import { samplingGrid } from '../../analysis/curves/curve-sampling';
import { highestPoint } from '../../analysis/curves/marks';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import type { Compilation } from '../../design/compiled/compile';
import type { Brief } from '../../design/document/schema';
import type { Complex } from '../../math/complex';
import { fromDecibels } from '../../units/quantity';
import { spanOf } from '../reading/read-way';

/**
 * What a signal asks of the hardest-worked op-amp of a stage: largest swing (V peak) and steepest edge (V/s), and
 * where.
 */
export interface Strain {
  readonly volts: number;
  readonly voltsHz: number;
  readonly slewVoltsPerSec: number;
  readonly slewHz: number;
}

/** Steeper edges than a full sine at the end of hearing are nobody's signal, Hz. */
const SLEW_TO_HZ = 20e3;

/** Nodes that op-amps drive, inside a stage as well as at its end, and whose they are. */
export const opAmpOutputs = ({
  netlist,
}: Pick<Compilation, 'netlist'>): { readonly element: string; readonly node: string }[] =>
  netlist.elements.flatMap((e) =>
    e.definition.kind === 'ideal-op-amp'
      ? [{ element: e.name, node: e.nodes[2] }]
      : e.name.endsWith('.output')
        ? [{ element: e.name, node: e.nodes[1] }]
        : [],
  );

/**
 * The strain of every stage that has op-amps, by stage id, for a sine of the brief's level at whatever frequency is
 * worst over the audio band and all the circuit is about. Empty where the circuit has no answer.
 */
export function strains(
  built: Compilation,
  brief: Brief,
  natural: readonly Complex[],
  solver: AcSolver,
): Map<string, Strain> {
  const outputs = opAmpOutputs(built);
  const span = spanOf(
    built.ways.flatMap((w) => w.stages),
    natural,
  );
  // The end of hearing is where edges are steepest of what does not fall before: it is looked at itself.
  const freqHz = Float64Array.from([...samplingGrid(natural, span), SLEW_TO_HZ]).sort();
  const solved = solver.sweep(
    built.circuit,
    freqHz,
    outputs.map((o) => o.node),
  );
  const found = new Map<string, Strain>();
  if (!solved.ok) return found;
  const peakIn = brief.signalVolts * Math.SQRT2;
  for (const { stage } of built.ways.flatMap((w) => w.stages)) {
    const own = outputs.flatMap(({ element }, i) =>
      element.startsWith(`${stage.id}.`) ? [levelsDb(solved.value[i])] : [],
    );
    if (own.length === 0) continue;
    let strain: Strain = { volts: 0, voltsHz: freqHz[0], slewVoltsPerSec: 0, slewHz: freqHz[0] };
    for (const levels of own) {
      const peak = highestPoint(freqHz, levels);
      const volts = peakIn * fromDecibels(peak.levelDb);
      if (volts > strain.volts) strain = { ...strain, volts, voltsHz: peak.freqHz };
      freqHz.forEach((f, i) => {
        const slew = 2 * Math.PI * f * peakIn * fromDecibels(levels[i]);
        if (f <= SLEW_TO_HZ && slew > strain.slewVoltsPerSec) strain = { ...strain, slewVoltsPerSec: slew, slewHz: f };
      });
    }
    found.set(stage.id, strain);
  }
  return found;
}
