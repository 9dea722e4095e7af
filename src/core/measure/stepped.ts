import { failure, success, type Result } from '../result';
import { levelsDb, phasesDeg } from '../analysis/curves/response';
import { quotient, type Analysed } from './analyse';
import { faultOf, type AnalyseFailure } from './recording-fault';
import { impulseOf, type Recording } from './impulse';
import { lawOf, risen, silenceOf, sweepSamples, type Sweep } from './sweep';

/** Tones one after the other, evenly spread over the octaves of a range. */
export interface Tones extends Omit<Sweep, 'seconds'> {
  readonly count: number;
  /** How long each is listened to, s; a few turns at the least. */
  readonly secondsEach: number;
}

/** Before a tone is listened to it stands for so long, s, or so many turns: what was before has died away. */
const SETTLE_S = 0.08;
const SETTLE_TURNS = 5;
const FEWEST_TURNS = 2;
const FADE_S = 0.005;
const MOST_SECONDS = 180;
/** A short sweep before them tells how late the recording is. */
const LEADER = { fromHz: 100, seconds: 0.2 } as const;
const HIGHEST_SHARE = 0.45;

const leaderOf = ({ rateHz, levelDbfs }: Tones): Sweep => ({
  ...LEADER,
  toHz: Math.min(10e3, HIGHEST_SHARE * rateHz),
  rateHz,
  levelDbfs,
});

interface Step {
  readonly freqHz: number;
  readonly cycles: number;
  /** Samples from the start of all: where it begins, is listened to, no longer is, ends. */
  readonly from: number;
  readonly heard: number;
  readonly until: number;
  readonly to: number;
}

const LEAST_SECONDS = 0.04;

/** So many tones in place of a sweep, over its range and in about its time. */
export const tonesOf = ({ seconds, ...sweep }: Sweep, count: number): Tones => ({
  ...sweep,
  toHz: Math.min(sweep.toHz, HIGHEST_SHARE * sweep.rateHz),
  count,
  secondsEach: Math.max(LEAST_SECONDS, seconds / count),
});

/** What is played for a sweep, or for so many tones in its place. Fails with `bad-sweep` (`what`). */
export const playedSamples = (sweep: Sweep, tones: number | null): Result<Float64Array, 'bad-sweep'> =>
  tones === null ? sweepSamples(sweep) : toneSamples(tonesOf(sweep, tones));

/** When every tone is played, after the leader and its silence: as many samples as its whole turns take. */
function stepsOf(tones: Tones): Step[] {
  const { fromHz, toHz, count, secondsEach, rateHz } = tones;
  const leader = leaderOf(tones);
  let at = Math.round(leader.seconds * rateHz) + Math.round(silenceOf(leader) * rateHz);
  return Array.from({ length: count }, (_, i) => {
    const wanted = fromHz * (toHz / fromHz) ** (i / (count - 1));
    const turns = Math.max(FEWEST_TURNS, Math.round(wanted * secondsEach));
    const listened = Math.round((turns * rateHz) / wanted);
    const from = at;
    const heard = from + Math.round(Math.max(SETTLE_S, SETTLE_TURNS / wanted) * rateHz);
    const until = heard + listened;
    at = until + Math.round(FADE_S * rateHz);
    return { freqHz: (turns * rateHz) / listened, cycles: turns / listened, from, heard, until, to: at };
  });
}

/** Samples of the tones, a leader before them and silence after. Fails with `bad-sweep` (`what`). */
export function toneSamples(tones: Tones): Result<Float64Array, 'bad-sweep'> {
  const { rateHz, levelDbfs } = tones;
  const fault = badOf(tones);
  if (fault) return failure('bad-sweep', { what: fault });
  const leader = sweepSamples(leaderOf(tones));
  if (!leader.ok) return leader;
  const steps = stepsOf(tones);
  const end = steps[steps.length - 1].to;
  const samples = new Float64Array(end + Math.round(rateHz / 2));
  samples.set(leader.value);
  const peak = 10 ** (levelDbfs / 20);
  const fade = FADE_S * rateHz;
  for (const { cycles, from, to } of steps)
    for (let i = from; i < to; i++)
      samples[i] =
        peak * risen((i - from) / fade) * risen((to - i) / fade) * Math.sin(2 * Math.PI * cycles * (i - from));
  return success(samples);
}

function badOf(tones: Tones): string | null {
  const { fromHz, toHz, count, rateHz } = tones;
  if (!(rateHz >= 8000 && rateHz <= 768_000)) return 'rate';
  if (!(fromHz > 0 && toHz > fromHz)) return 'range';
  if (toHz > HIGHEST_SHARE * rateHz) return 'top';
  if (!(count >= 2 && count <= 400)) return 'count';
  const steps = stepsOf(tones);
  return steps[steps.length - 1].to > MOST_SECONDS * rateHz ? 'seconds' : null;
}

/** What one tone came to: its complex size at its first sample, and what else there was, root mean square. */
interface Heard {
  readonly re: number;
  readonly im: number;
  readonly rest: number;
  readonly harmonics: readonly number[];
}

const HARMONICS = [2, 3, 4, 5];

/**
 * Level, phase, noise and harmonics tone by tone: each listened to over whole turns after it has settled, so that
 * neither other tones nor what is left of them is in it (a lock-in; M. L. Meade, Lock-in Amplifiers, 1983, 2). Slower
 * than a sweep, and as many times less noisy as it is longer at every tone. Fails as `analyse` does.
 */
export function analyseTones(
  recording: Recording,
  tones: Tones,
  reference?: Recording,
): Result<Analysed, AnalyseFailure | 'bad-sweep'> {
  const played = toneSamples(tones);
  if (!played.ok) return played;
  const beside = reference ? latenessOf(reference, tones, 'reference') : null;
  if (beside && !beside.ok) return beside;
  const found = latenessOf(recording, tones, 'recording');
  // What a circuit leaves of the leader may be too little: then the card's own lateness has to do.
  const late = !found.ok && found.code === 'sweep-not-found' && beside ? beside : found;
  if (!late.ok) return late;
  const steps = stepsOf(tones);
  const own = steps.map((step) => heardAt(recording.samples, step, late.value));
  const plain = steps.map((step) =>
    reference && beside?.ok ? heardAt(reference.samples, step, beside.value) : heardAt(played.value, step, 0),
  );
  const ratio = quotient(responseOf(own), responseOf(plain));
  const sizes = plain.map(({ re, im }) => Math.hypot(re, im));
  const db = (share: number) => 20 * Math.log10(Math.max(share, 1e-15));
  // What the two differ by in lateness is the circuit's own, where there is a reference; else it is the card's.
  const apartS = (late.value - (beside?.ok ? beside.value : late.value)) / tones.rateHz;
  return success({
    freqHz: Float64Array.from(steps, (s) => s.freqHz),
    levelDb: levelsDb(ratio),
    phaseDeg: phasesDeg(ratio).map((deg, i) => deg - 360 * steps[i].freqHz * apartS),
    // Of a sum over so many samples: the root of two over the root of their number, for either part of it.
    noiseDb: Float64Array.from(own, ({ rest }, i) =>
      db((2 * rest) / Math.sqrt(steps[i].until - steps[i].heard) / sizes[i]),
    ),
    harmonicsDb: HARMONICS.map((order, h) =>
      Float64Array.from(own, (of, i) =>
        order * steps[i].freqHz < HIGHEST_SHARE * tones.rateHz ? db(of.harmonics[h] / sizes[i]) : NaN,
      ),
    ),
    delayS: late.value / tones.rateHz,
    delayRemoved: beside === null,
    gateS: (steps[0].until - steps[0].heard) / tones.rateHz,
    sweeps: 1,
    clock: 0,
    notes: [],
  });
}

/** Re and im by turns. */
const responseOf = (heard: readonly Heard[]): Float64Array =>
  Float64Array.from(heard.flatMap(({ re, im }) => [re, im]));

/** Samples that a recording is late, by its leader. */
function latenessOf(
  recording: Recording,
  tones: Tones,
  what: 'recording' | 'reference',
): Result<number, AnalyseFailure | 'bad-sweep'> {
  const { samples, rateHz } = recording;
  const steps = stepsOf(tones);
  const fault = faultOf(recording, { rateHz: tones.rateHz, played: steps[steps.length - 1].to }, what);
  if (fault) return fault;
  const leader = sweepSamples(leaderOf(tones));
  if (!leader.ok) return leader;
  const law = lawOf(leader.value, rateHz);
  if (!law.ok) return law;
  const beginning = samples.subarray(0, leader.value.length + rateHz);
  const found = impulseOf({ samples: beginning, rateHz }, { samples: leader.value, rateHz }, law.value);
  return found ? success(found.after) : failure('sweep-not-found', { what });
}

/**
 * Sums over whole turns, of which tone and harmonics are at right angles to one another: what is left of the power is
 * neither.
 */
function heardAt(samples: Float64Array, { cycles, from, heard, until }: Step, late: number): Heard {
  const orders = 1 + HARMONICS.length;
  const [re, im] = [new Float64Array(orders), new Float64Array(orders)];
  const omega = 2 * Math.PI * cycles;
  const [stepCos, stepSin] = [Math.cos(omega), Math.sin(omega)];
  let [cos, sin] = [Math.cos(omega * (heard - from)), Math.sin(omega * (heard - from))];
  let [sum, square] = [0, 0];
  for (let i = heard; i < until; i++) {
    const v = samples[i + late] ?? 0;
    sum += v;
    square += v * v;
    let [c, s] = [cos, sin];
    for (let k = 0; k < orders; k++) {
      re[k] += v * s;
      im[k] += v * c;
      [c, s] = [c * cos - s * sin, s * cos + c * sin];
    }
    [cos, sin] = [cos * stepCos - sin * stepSin, sin * stepCos + cos * stepSin];
  }
  const count = until - heard;
  const sizes = Array.from(re, (r, k) => (2 * Math.hypot(r, im[k])) / count);
  const told = sizes.reduce((all, size) => all + (size * size) / 2, (sum / count) ** 2);
  return {
    re: (2 * re[0]) / count,
    im: (2 * im[0]) / count,
    rest: Math.sqrt(Math.max(0, square / count - told)),
    harmonics: sizes.slice(1),
  };
}
