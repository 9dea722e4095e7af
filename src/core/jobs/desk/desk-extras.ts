import { samplingGrid } from '../../analysis/curves/curve-sampling';
import { integrals } from '../../analysis/time/integrals';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import type { Design, Nuisance, Variant } from '../../design/document/schema';
import { withParts } from '../../design/document/with-parts';
import { valuesOf, type DesignedSection, type DesignedStage } from '../../design/stages/stage-design';
import { straightLineDb } from '../../filter/rational';
import { rationalOfSection, type SectionTarget } from '../../filter/section';
import type { DeskExtras, DeskResult } from './desk-types';
import { naturalOf } from '../reading/read-way';
import { sweptTrace, traceOf } from '../reading/trace';

/** Curves that are only worked out when they are looked at. */
export function extraTraces(
  design: Design,
  variant: Variant,
  built: Compilation,
  extras: DeskExtras,
  freqHz: Float64Array,
  solver: AcSolver,
): Pick<DeskResult, 'bare' | 'isolated' | 'straightDb' | 'taps'> {
  const { bareStage: stageId = null } = extras;
  const without = stageId === null ? null : withoutCapacitors(variant, built.ways[0].stages, stageId);
  const bare = without && sweptTrace(design, without, AS_BUILT, freqHz, solver);
  return {
    bare: bare && stageId !== null ? { ...bare, stageId } : null,
    isolated: extras.isolated ? sweptTrace(design, variant, { ...AS_BUILT, joints: 'isolated' }, freqHz, solver) : null,
    straightDb: extras.straight ? straightOf(built.ways[0].stages, freqHz) : null,
    taps: extras.tapStage ? tapsOf(built, extras.tapStage, freqHz, solver) : [],
  };
}

/** A stage's other outputs, in the path as it stands. */
function tapsOf(built: Compilation, stageId: string, freqHz: Float64Array, solver: AcSolver): DeskResult['taps'] {
  const designed = built.ways[0].stages.find((s) => s.stage.id === stageId);
  if (designed?.role !== 'section' || designed.stage.bypassed) return [];
  const taps = (designed.topology.taps?.(designed.form) ?? []).flatMap(({ name, node }) =>
    node === null ? [] : [{ name, node: `${stageId}.${node}` }],
  );
  if (taps.length === 0) return [];
  const solved = solver.sweep(
    built.circuit,
    freqHz,
    taps.map((t) => t.node),
  );
  return solved.ok ? taps.map(({ name }, i) => ({ name, ...traceOf(freqHz, solved.value[i]) })) : [];
}

/** The variant with a stage's capacitors left out, each as it is left out at the bench; null when it has none. */
export function withoutCapacitors(variant: Variant, stages: readonly DesignedStage[], stageId: string): Variant | null {
  const capacitors = stages.find((s) => s.stage.id === stageId)?.parts.filter((p) => p.spec.kind === 'capacitor') ?? [];
  if (capacitors.length === 0) return null;
  const out = Object.fromEntries(capacitors.map(({ spec, choice }) => [spec.name, { ...choice, leftOut: true }]));
  return withParts(variant, stageId, (parts) => ({ ...parts, ...out }));
}

/** The asymptotes of all stages together, as built; a circuit with no textbook formula has none. */
function straightOf(stages: readonly DesignedStage[], freqHz: Float64Array): Float64Array | null {
  const sum = new Float64Array(freqHz.length);
  for (const designed of stages) {
    if (designed.stage.bypassed) continue;
    const rational =
      designed.role === 'section'
        ? rationalOfSection(builtSection(designed))
        : designed.topology.transfer?.(designed.form, valuesOf(designed, 'chosen'), designed.parameters);
    if (!rational) return null;
    straightLineDb(rational, freqHz).forEach((level, i) => (sum[i] += level));
  }
  return sum;
}

/** A section with the frequency, Q, gain and null that its chosen parts give by the textbook. */
function builtSection(designed: DesignedSection): SectionTarget {
  const { target, topology, form } = designed;
  const { gain, ...found } = topology.closedForm(form, valuesOf(designed, 'chosen'));
  return { ...target, ...found, gain: Math.abs(gain) };
}

/** Level of every nuisance at the output, with and without the capacitors of a stage. */
export function nuisanceLevels(
  design: Design,
  variant: Variant,
  built: Compilation,
  bareStage: string | null,
  solver: AcSolver,
): DeskResult['nuisances'] {
  const { nuisances } = design.brief;
  if (nuisances.length === 0) return [];
  const without = bareStage ? withoutCapacitors(variant, built.ways[0].stages, bareStage) : null;
  const bare = without ? compile(design, without, AS_BUILT) : null;
  return nuisances.map((nuisance) => ({
    id: nuisance.id,
    levelDb: nuisance.levelDb + passesDb(nuisance, built, solver),
    bareDb: bare?.ok ? nuisance.levelDb + passesDb(nuisance, bare.value, solver) : null,
  }));
}

/** What of a tone, or of a band with the same power in every hertz, gets through (dB). */
function passesDb({ kind, fromHz, toHz }: Nuisance, built: Compilation, solver: AcSolver): number {
  const {
    circuit,
    ways: [{ output }],
  } = built;
  const [low, high] = [Math.min(fromHz, toHz), Math.max(fromHz, toHz)];
  const powerAt = (freqHz: Float64Array): Float64Array => {
    const solved = solver.sweep(circuit, freqHz, [output]);
    return solved.ok
      ? levelsDb(solved.value[0]).map((db) => 10 ** (db / 10))
      : new Float64Array(freqHz.length).fill(NaN);
  };
  if (kind === 'tone' || low === high) return 10 * Math.log10(powerAt(Float64Array.of(fromHz))[0]);
  const [sum] = integrals((freqHz) => [powerAt(freqHz)], samplingGrid(naturalOf(built), { fromHz: low, toHz: high }));
  return 10 * Math.log10(sum / (high - low));
}
