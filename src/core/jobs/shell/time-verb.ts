import { periodicWave, waveInTime } from '../../analysis/time/periodic-waves';
import { stepFigures, type StepFigures } from '../../analysis/time/step-response';
import { LinearMotion, stretches } from '../../analysis/time/linear-motion';
import { AS_BUILT, compile, type Compilation } from '../../design/compiled/compile';
import { success, type Result } from '../../result';
import { figuresDeclared, highestHz, nodeOver, stepOutcome } from '../desk/time';
import type { Way } from '../../design/document/schema';
import { naturalOf, stabilityOf } from '../reading/read-way';
import { badOption, oneOf, openDesign } from './opened-design';

/** Figures of a step; each null where it does not exist. */
export interface TimeFigures {
  readonly settles: boolean;
  readonly finalLevel: number | null;
  readonly overshootPct: number | null;
  readonly settle2PctS: number | null;
  readonly settle1PctS: number | null;
  readonly riseS: number | null;
  readonly delayS: number | null;
  readonly peak: { readonly level: number; readonly timeS: number } | null;
}

/** Points of half a period of a square wave. */
const HALF_POINTS = 2000;

/**
 * What a design does in time: a step of 1 V at the source, or the rising edge of a square wave of ±1 V once all that
 * fades has faded. Fails as reading and the design do, or with `bad-option`.
 */
export function timeVerb(
  text: string,
  variantName: string | undefined,
  drive: string,
  freqHz: number | undefined,
): Result<TimeFigures> {
  const opened = openDesign(text, variantName);
  if (!opened.ok) return opened;
  const kind = oneOf('--drive', drive, ['step', 'square']);
  if (!kind.ok) return kind;
  const { design, variant } = opened.value;
  const built = compile(design, variant, AS_BUILT);
  if (!built.ok) return built;
  if (kind.value === 'step') {
    const { told } = stepOutcome(built.value, variant.ways[0]);
    return success(told.figures === 'found' ? figuresOf(told) : NOTHING);
  }
  if (freqHz === undefined || !(freqHz > 0 && freqHz < 1e9))
    return badOption('--frequency', freqHz ?? '', 'the square wave’s, Hz, above 0');
  return squareEdge(built.value, variant.ways[0], freqHz);
}

const NOTHING: TimeFigures = {
  settles: false,
  finalLevel: null,
  overshootPct: null,
  settle2PctS: null,
  settle1PctS: null,
  riseS: null,
  delayS: null,
  peak: null,
};

const figuresOf = ({ peak, end }: StepFigures): TimeFigures => ({
  settles: true,
  finalLevel: end?.volts ?? 0,
  overshootPct: end?.overshootPct ?? null,
  settle2PctS: end?.settle2PctS ?? null,
  settle1PctS: end?.settle1PctS ?? null,
  riseS: end?.riseS ?? null,
  delayS: end?.delayS ?? null,
  peak: { level: peak.volts, timeS: peak.timeS },
});

/** The rising edge of a square wave in the steady state; `settles` says whether it does within half a period. */
function squareEdge(built: Compilation, way: Way, freqHz: number): Result<TimeFigures> {
  if (!stabilityOf(naturalOf(built)).stable) return success(NOTHING);
  const square = periodicWave('square');
  const shape = waveInTime(square, freqHz);
  const motion = new LinearMotion(built.circuit);
  const walk = stretches(
    0,
    1 / freqHz,
    2 * HALF_POINTS,
    square.edges.map((phase) => phase / freqHz),
    highestHz(built),
  );
  const start = motion.steadyState(walk, shape);
  if (!start.ok) return start;
  const rows = motion.run(start.value, walk, shape);
  if (!rows.ok) return rows;
  const volts = nodeOver(built, rows.value, built.ways[0].output);
  const before = nodeOver(built, [start.value], built.ways[0].output)[0];
  const half = volts.slice(0, HALF_POINTS);
  const timeS = Float64Array.from(half, (_, i) => i / (2 * HALF_POINTS * freqHz));
  const figures = stepFigures({ timeS, volts: half, finalVolts: half[HALF_POINTS - 1], endState: start.value }, before);
  const settled = figures.end !== null && figures.end.settle2PctS < 0.9 * timeS[HALF_POINTS - 1];
  return success({ ...figuresOf(figuresDeclared(built, way, figures)), settles: settled });
}
