import { HALF_POWER_DB } from '../../analysis/curves/marks';
import { levelsDb } from '../../analysis/curves/response';
import type { AcSolver } from '../../analysis/ac/solver';
import { compileAfter, compileBefore, type Compilation } from '../../design/compiled/compile';
import type { Design, Way } from '../../design/document/schema';
import type { DeskJoint } from './desk-types';
import type { Assembled } from '../../circuit/structure';

const WARN_DB = 0.3;
const BAD_DB = 1;

/**
 * For every joint of a way: how much level it loses by being connected, against the same joint terminated as the stage
 * before it declares, at the frequency of its pass band where that is worst. @param freqHz where the curve was read,
 * and the ideal's level (dB) there.
 */
export function judgeJoints(
  design: Design,
  way: Way,
  built: Compilation,
  solver: AcSolver,
  idealDb: Float64Array,
  freqHz: Float64Array,
): DeskJoint[] {
  const { stages, joints, output } = built.ways[0];
  const band = passBand(freqHz, idealDb);
  const loaded = solver.sweep(built.circuit, band, [...joints.slice(0, -1), output]);
  if (!loaded.ok) return [];
  return joints.flatMap((_, index) => {
    const open = solver.sweep(compileBefore(design, way, stages, index), band, ['cut']);
    if (!open.ok) return [];
    const [with_, without] = [levelsDb(loaded.value[index]), levelsDb(open.value[0])];
    let worst = 0;
    with_.forEach((level, i) => {
      if (Math.abs(level - without[i]) > Math.abs(with_[worst] - without[worst])) worst = i;
    });
    const lossDb = with_[worst] - without[worst];
    const atHz = band[worst];
    const after = compileAfter(design, way, stages, index);
    const sees = after ? impedance(after, atHz, solver) : null;
    const sign = Math.abs(lossDb);
    return [
      {
        index,
        lossDb,
        atHz,
        seesOhm:
          index === joints.length - 1 && way.outputResistor && sees !== null
            ? Math.max(0, sees - way.outputResistor.ohm)
            : sees,
        fromOhm: sourceImpedance(design, way, index, loaded.value[index], open.value[0], worst, sees),
        verdict: sign >= BAD_DB ? 'bad' : sign >= WARN_DB ? 'warn' : 'ok',
      },
    ];
  });
}

/** The frequencies where the ideal is within 3 dB of its best; all of them when they are too few. */
function passBand(freqHz: Float64Array, idealDb: Float64Array): Float64Array {
  const best = idealDb.reduce((m, v) => Math.max(m, v), -Infinity);
  const band = freqHz.filter((_, i) => idealDb[i] >= best + HALF_POWER_DB);
  return band.length >= 3 ? band : freqHz;
}

function impedance(circuit: Assembled, atHz: number, solver: AcSolver): number | null {
  const solved = solver.sweep(circuit, Float64Array.of(atHz), ['cut']);
  return solved.ok ? Math.hypot(solved.value[0][0], solved.value[0][1]) : null;
}

/**
 * Size of the driving impedance from open and loaded voltage and the load: |Zs| = |Zl| |Vopen/Vloaded − 1|; the output
 * resistor when it is one.
 */
function sourceImpedance(
  design: Design,
  way: Way,
  index: number,
  loaded: Float64Array,
  open: Float64Array,
  at: number,
  seesOhm: number | null,
): number {
  if (index === 0) return design.brief.source.ohm;
  if (index === way.stages.length && way.outputResistor) return way.outputResistor.ohm;
  if (seesOhm === null) return 0;
  const [lr, li, or, oi] = [loaded[2 * at], loaded[2 * at + 1], open[2 * at], open[2 * at + 1]];
  const square = lr * lr + li * li;
  const re = (or * lr + oi * li) / square - 1;
  const im = (oi * lr - or * li) / square;
  return seesOhm * Math.hypot(re, im);
}
