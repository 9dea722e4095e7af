import { levelsDb } from '../../analysis/curves/response';
import { logGrid } from '../../math/grid';
import type { BoardModel, Seen } from './board-model';
import type { Hypothesis } from './hypotheses';
import type { Probe } from './probes';

/** Where to measure next, and what the two likeliest explanations would show there. */
export interface NextMeasurement {
  readonly probe: string;
  readonly name: string;
  readonly fromHz: number;
  readonly toHz: number;
  /** How far apart the two lie there at the most, dB. */
  readonly apartDb: number;
  readonly expected: readonly {
    readonly what: string;
    readonly freqHz: Float64Array;
    readonly levelDb: Float64Array;
  }[];
}

interface Fit {
  readonly hypothesis?: Hypothesis;
  readonly model: BoardModel;
  readonly found: { readonly state: Float64Array };
  readonly score: number;
}

const POINTS = 97;
/** Where nothing was swept yet. */
const AUDIO = [20, 20e3] as const;
/** Less than this apart, dB, no measurement tells the two. */
const LEAST_DB = 0.1;
/** Levels are told apart down to so far under the highest, dB. */
const WITHIN_DB = 60;
const SILENT_DB = -240;

/**
 * The place and the range that set the two likeliest explanations furthest apart: over it they differ by half of their
 * most or more. Null where no place does.
 */
export function nextMeasurement(
  healthy: Fit,
  fitted: readonly Fit[],
  probes: readonly Probe[],
  seen: readonly Seen[],
): NextMeasurement | null {
  const [first, second] = [healthy, ...fitted].sort((a, b) => b.score - a.score);
  if (!second) return null;
  const span = seen.flatMap((s) => [s.curve.freqHz[0], s.curve.freqHz[s.curve.freqHz.length - 1]]);
  if (span.length === 0) span.push(...AUDIO);
  const freqHz = logGrid(Math.min(...span), Math.max(...span), POINTS);
  const levelsOf = ({ model, found }: Fit, probe: Probe): Float64Array | null => {
    const response = model.response(found.state, { probe }, freqHz);
    return response && levelsDb(response).map((db) => Math.max(SILENT_DB, db));
  };
  const found = probes
    .flatMap((probe) => {
      const [a, b] = [levelsOf(first, probe), levelsOf(second, probe)];
      if (!a || !b) return [];
      const top = Math.max(...a, ...b);
      const apart = a.map((v, i) =>
        Math.max(v, b[i]) > top - WITHIN_DB ? Math.min(WITHIN_DB, Math.abs(v - b[i])) : 0,
      );
      return [{ probe, a, b, apart, most: Math.max(...apart) }];
    })
    .sort((x, y) => y.most - x.most)[0];
  if (!found || found.most < LEAST_DB) return null;
  const { probe, a, b, apart, most } = found;
  const peak = apart.indexOf(most);
  let [low, high] = [peak, peak];
  while (low > 0 && apart[low - 1] >= most / 2) low--;
  while (high < POINTS - 1 && apart[high + 1] >= most / 2) high++;
  const nameOf = ({ hypothesis }: Fit) =>
    hypothesis ? `${hypothesis.parts.join(' and ')} ${hypothesis.kind}` : 'sound';
  return {
    probe: probe.id,
    name: probe.name,
    fromHz: freqHz[low],
    toHz: freqHz[high],
    apartDb: most,
    expected: [
      { what: nameOf(first), freqHz, levelDb: a },
      { what: nameOf(second), freqHz, levelDb: b },
    ],
  };
}
