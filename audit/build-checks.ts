import type { Design } from '../src/core/design/document/schema';
import type { JobAnswers, JobRequest, JobRunner } from '../src/core/jobs/run-job';
import { highest, type Finding } from './checks';
import { DenseNetlist } from './dense-netlist';
import { drawFrom, type Drawn } from './draw-designs';

/** What the figures about choosing, spread, limits, strain and faults are held with. */
export interface Bench {
  readonly drawn: Drawn;
  readonly seed: number;
  readonly design: Design;
  /** As built: chosen values, real devices. */
  readonly netlist: DenseNetlist;
  readonly runner: JobRunner;
  /** A verb of the shell on the design, or on another one. */
  readonly said: (verb: string, words: readonly string[], file?: string) => Promise<string>;
  readonly files: Map<string, string>;
}

const GRID = { fromHz: 20, toHz: 20_000, points: 121 };
const AUDIO = { fromHz: 20, toHz: 20_000 };
const HALF_POWER = Math.SQRT1_2;

async function asked<K extends JobRequest['kind']>(
  { runner }: Bench,
  request: Extract<JobRequest, { kind: K }>,
): Promise<JobAnswers[K] | null> {
  const answer = await runner.run<K>(request);
  return answer.ok ? answer.value : null;
}

const of = ({ design }: Bench) => ({ design, variantId: design.currentVariant });

/** Every figure of parts, spread, strain and faults of one case beside what a second method finds. */
export async function buildFindings(bench: Bench): Promise<Finding[]> {
  if (bench.drawn.ways > 1) return crossoverHeld(bench);
  const desk = await asked<'desk'>(bench, { kind: 'desk', ...of(bench), ghostVariantId: null, grid: GRID });
  if (!desk?.stability.stable) return [];
  const names = new Map(desk.stages.flatMap((s) => Object.entries(s.designators).map(([k, v]) => [`${s.id} ${k}`, v])));
  return [
    ...(await missHeld(bench, desk)),
    ...strainHeld(bench, desk),
    ...(await choiceHeld(bench)),
    ...(await matchHeld(bench)),
    ...(await holdersHeld(bench, names)),
    ...(await spreadHeld(bench, desk, names)),
    ...(await yieldHeld(bench, desk, names)),
    ...(await faultHeld(bench, desk, names)),
  ];
}

type Desk = JobAnswers['desk'];
type Names = ReadonlyMap<string, string>;

/** The parts of a desk's stages: designator, kind, tolerance. */
const partsOf = (desk: Desk, names: Names) =>
  desk.stages.flatMap((s) =>
    s.parts
      .filter((p) => !p.leftOut)
      .map((p) => ({ name: names.get(`${s.id} ${p.name}`) ?? '', kind: p.kind, tolerancePct: p.tolerancePct })),
  );

/** A path with nothing before or behind it has the sections themselves for its ideal: exact values, ideal op-amps. */
const idealOf = async ({ said }: Bench): Promise<DenseNetlist> =>
  new DenseNetlist(await said('netlist', ['--values', 'exact', '--devices', 'ideal']));

const isBare = ({ drawn }: Bench): boolean =>
  drawn.words[0] === '--response' && !['--source', '--load', 'single'].some((word) => drawn.words.includes(word));

/** The frequencies that a drawn path is judged over, and closely about its corner. */
const judgedHz = ({ drawn: { cutoffHz } }: Bench, count = 700): number[] =>
  Array.from({ length: count + 1 }, (_, i) => (cutoffHz / 40) * 1600 ** (i / count));

/** The worst pass-band error, by brute force over the exact netlist's own pass band. */
async function missHeld(bench: Bench, desk: Desk): Promise<Finding[]> {
  if (!isBare(bench) || desk.worstErrorDb === null) return [];
  const ideal = await idealOf(bench);
  const worst = worstMiss(bench, ideal, bench.netlist);
  return [
    {
      figure: 'worst pass-band error, dB',
      said: Math.abs(desk.worstErrorDb),
      found: worst,
      within: 0.03 + 0.03 * worst,
    },
  ];
}

/** The largest difference where the ideal passes: on a grid, then closer about each of its highest places. */
function worstMiss(bench: Bench, ideal: DenseNetlist, built: DenseNetlist): number {
  const miss = (f: number): number => {
    const level = ideal.levelDb(f);
    return level < 20 * Math.log10(HALF_POWER) ? 0 : Math.abs(built.levelDb(f) - level);
  };
  const freqs = judgedHz(bench);
  const misses = freqs.map(miss);
  return misses.reduce((worst, own, i) => {
    const [before, after] = [misses[i - 1] ?? 0, misses[i + 1] ?? 0];
    if (own < before || own < after || own < worst / 4) return Math.max(worst, own);
    let [low, high] = [freqs[Math.max(0, i - 1)], freqs[Math.min(freqs.length - 1, i + 1)]];
    let most = own;
    for (let k = 0; k < 50; k++) {
      const [one, two] = [low + (high - low) / 3, high - (high - low) / 3];
      const [m, n] = [miss(one), miss(two)];
      most = Math.max(most, m, n);
      if (m < n) low = one;
      else high = two;
    }
    return Math.max(worst, most);
  }, 0);
}

/** What an op-amp at the end of a path swings, for the specification's level: its own output, by brute force. */
function strainHeld({ drawn, netlist, design }: Bench, desk: Desk): Finding[] {
  const last = desk.stages.at(-1);
  const swing = desk.checks.find((c) => c.code === 'swing' && c.stageId === last?.id);
  // Where one op-amp alone stands in the last stage, its output is the path's.
  const alone = ['sallen-key-unity-gain', 'sallen-key-equal-parts', 'multiple-feedback'];
  if (!swing || !last || drawn.idealOpAmp || !alone.includes(last.topology)) return [];
  const slew = desk.checks.find((c) => c.code === 'slew' && c.stageId === last.id);
  const peakVolts = design.brief.signalVolts * Math.SQRT2;
  const voltsAt = (f: number) => peakVolts * 10 ** (netlist.levelDb(f) / 20);
  // Over what is heard, and at the very place that is said: a peak of a Q in the thousands is seen on no grid.
  const grid = Array.from({ length: 901 }, (_, i) => AUDIO.fromHz * (AUDIO.toHz / AUDIO.fromHz) ** (i / 900));
  const volts = Math.max(...grid.map(voltsAt), voltsAt(Number(swing.data.atHz)));
  const steepest = [...grid, ...(slew ? [Number(slew.data.atHz)] : [])].reduce(
    (most, f) => Math.max(most, 2 * Math.PI * f * voltsAt(f)),
    0,
  );
  return [
    { figure: 'swing of the last op-amp, V', said: Number(swing.data.volts), found: volts, within: 0.01 * volts },
    ...(slew
      ? [
          {
            figure: 'slew of the last op-amp, V/s',
            said: Number(slew.data.needs),
            found: steepest,
            within: 0.01 * steepest,
          },
        ]
      : []),
  ];
}

const MANTISSAS: Readonly<Record<string, readonly number[]>> = {
  E6: [10, 15, 22, 33, 47, 68],
  E24: [10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91],
};
const isOf = (series: string, value: number): boolean => {
  const mantissa = 10 * value * 10 ** -Math.floor(Math.log10(value) + 1e-9);
  return MANTISSAS[series].some((m) => Math.abs(m - mantissa) < 1e-6 * m);
};

/** What choosing claims, on the netlist of what it chose; and that all of it can be bought. */
async function choiceHeld(bench: Bench): Promise<Finding[]> {
  if (bench.drawn.words.includes('--supply')) return [];
  const { claimedErrorDb, design } = JSON.parse(await bench.said('choose', ['--how', 'together'])) as {
    claimedErrorDb: number;
    design: object;
  };
  const file = JSON.stringify(design);
  const parts = JSON.parse(await bench.said('desk', [], file)) as {
    parts: { kind: string; ohm?: number; farad?: number; chosen: number }[];
  };
  const foreign = parts.parts.filter((p) => !isOf(p.kind === 'resistor' ? 'E24' : 'E6', p.chosen)).length;
  const found: Finding[] = [{ figure: 'chosen values of no series', said: 0, found: foreign, within: 0 }];
  if (!isBare(bench)) return found;
  const chosen = new DenseNetlist(await bench.said('netlist', ['--devices', 'ideal'], file));
  const worst = worstMiss(bench, await idealOf(bench), chosen);
  // The claim takes in what comes through beside the pass band: it may be more than the pass band's own error.
  return [
    ...found,
    {
      figure: 'claim of a choice, dB',
      said: Math.max(0, worst - claimedErrorDb),
      found: 0,
      within: 0.02 + 0.02 * worst,
    },
  ];
}

const need = (db: number): number => 10 ** (db / 10) - 1;
/** Least order by the textbook (L. D. Paarmann, Design and Analysis of Analog Filters, 2001, ch. 3 and 4). */
const LEAST_ORDER: Readonly<Record<string, (passDb: number, stopDb: number, ratio: number) => number>> = {
  butterworth: (p, s, r) => Math.ceil(Math.log(need(s) / need(p)) / (2 * Math.log(r)) - 1e-9),
  chebyshev: (p, s, r) => Math.ceil(Math.acosh(Math.sqrt(need(s) / need(p))) / Math.acosh(r) - 1e-9),
};
const HIGHEST_ORDER = 12;
/** More ripple than this is not looked for. */
const MOST_RIPPLE_DB = 3;

/** What a search for plans offers: every limit on the plan's exact circuit, and no lower order left out. */
async function matchHeld(bench: Bench): Promise<Finding[]> {
  const { limits } = bench.drawn;
  const [pass, stop] = limits;
  if (!pass || !stop) return [];
  const spanOf = ({ fromHz, toHz }: typeof pass) => `${fromHz > 0 ? fromHz : ''}..${toHz < Infinity ? toHz : ''}`;
  const words = ['--keep', `${pass.downDb}@${spanOf(pass)}`, '--lose', `${stop.downDb}@${spanOf(stop)}`];
  const plans = JSON.parse(await bench.said('match', words)) as {
    alignment: string;
    response: string;
    order: number;
    cutoffHz: number;
    rippleDb: number;
    attenuationDb: number;
    marginDb: number;
  }[];
  const ratio = pass.fromHz > 0 ? pass.fromHz / stop.toHz : stop.fromHz / pass.toHz;
  const found: Finding[] = Object.entries(LEAST_ORDER).map(([alignment, leastOf]) => {
    const least = leastOf(
      Math.min(pass.downDb, alignment === 'chebyshev' ? MOST_RIPPLE_DB : Infinity),
      stop.downDb,
      ratio,
    );
    const offered = plans.find((p) => p.alignment === alignment)?.order ?? HIGHEST_ORDER + 1;
    return {
      figure: `least order, ${alignment}`,
      said: offered,
      found: Math.min(HIGHEST_ORDER + 1, Math.max(1, least)),
      within: 0,
    };
  });
  const plan = plans[bench.seed % Math.max(1, plans.length)];
  if (!plan) return found;
  const text = await bench.said('design', [
    ...['--response', plan.response, '--alignment', plan.alignment, '--order', String(plan.order)],
    ...[
      '--cutoff',
      String(plan.cutoffHz),
      '--ripple',
      String(plan.rippleDb),
      '--attenuation',
      String(plan.attenuationDb),
    ],
    ...['--op-amp', 'ideal'],
  ]);
  const exact = new DenseNetlist(await bench.said('netlist', ['--values', 'exact', '--devices', 'ideal'], text));
  const end = ({ fromHz, toHz, kind }: typeof pass): [number, number] =>
    kind === 'pass'
      ? [fromHz > 0 ? fromHz : toHz / 10, toHz < Infinity ? toHz : fromHz * 10]
      : [fromHz > 0 ? fromHz : toHz / 3000, toHz < Infinity ? toHz : fromHz * 3000];
  const [top, low, through] = [
    highest(exact, ...end(pass), 400).levelDb,
    -highest(exact, ...end(pass), 400, -1).levelDb,
    highest(exact, ...end(stop), 400).levelDb,
  ];
  const room = Math.min(pass.downDb + low, pass.downDb - top, -through - stop.downDb);
  return [...found, { figure: 'margin of a plan, dB', said: plan.marginDb, found: room, within: 0.03 }];
}

/** A share so small that even beside a Q in the thousands the curve does not bend within it. */
const SMALL = 1e-6;

/** What one per cent of a part moves, by moving its card. */
async function holdersHeld(bench: Bench, names: Names): Promise<Finding[]> {
  const freqHz = bench.drawn.cutoffHz * 1.1;
  const holders = await asked<'held-by'>(bench, { kind: 'held-by', ...of(bench), freqHz });
  return (holders ?? []).slice(0, 4).flatMap((holder): Finding[] => {
    const name = names.get(`${holder.stageId} ${holder.part}`);
    if (!name || !bench.netlist.has(name)) return [];
    const at = (factor: number) => bench.netlist.scaled({ [name]: factor }).levelDb(freqHz);
    const found = (at(1 + SMALL) - at(1 - SMALL)) / (200 * SMALL);
    return [
      { figure: 'what 1 % of a part moves, dB', said: holder.dbPerPct, found, within: 0.002 + 0.02 * Math.abs(found) },
    ];
  });
}

const DRAWS = 150;
/** Four standard errors of a share that is estimated from draws on both sides. */
const shareWithin = (p: number, n: number, m: number): number => 4 * Math.sqrt(p * (1 - p) * (1 / n + 1 / m)) + 1 / m;

/** Cards of a circuit drawn within tolerances by the audit's own numbers. */
function* draws(
  bench: Bench,
  parts: readonly { name: string; tolerancePct: number }[],
  count: number,
): Generator<DenseNetlist> {
  const next = drawFrom(bench.seed + 77_777);
  const own = parts.filter(({ name }) => bench.netlist.has(name));
  for (let k = 0; k < count; k++)
    yield bench.netlist.scaled(
      Object.fromEntries(own.map(({ name, tolerancePct }) => [name, 1 + (tolerancePct / 100) * (2 * next() - 1)])),
    );
}

/** The share of draws below the fifth and above the ninety-fifth percentile that are said, at the corner. */
async function spreadHeld(bench: Bench, desk: Desk, names: Names): Promise<Finding[]> {
  const parts = partsOf(desk, names);
  if (parts.length > 20 || parts.some((p) => p.name === '')) return [];
  const runs = 400;
  const { cutoffHz } = bench.drawn;
  const grid = { fromHz: cutoffHz, toHz: cutoffHz * 1.5, points: 2 };
  const band = await asked<'band'>(bench, { kind: 'band', ...of(bench), seed: 11, runs, grid });
  if (!band) return [];
  let [under, over] = [0, 0];
  for (const netlist of draws(bench, parts, DRAWS)) {
    const level = netlist.levelDb(cutoffHz);
    if (level < band.p05Db[0]) under++;
    if (level > band.p95Db[0]) over++;
  }
  return [under, over].map((count) => ({
    figure: 'share of draws beyond a percentile',
    said: 0.05,
    found: count / DRAWS,
    within: shareWithin(0.05, runs, DRAWS),
  }));
}

const YIELD_DRAWS = 60;
const YIELD_RUNS = 200;

/** The share of builds that meet the limits, by the audit's own draws, grade by grade. */
async function yieldHeld(bench: Bench, desk: Desk, names: Names): Promise<Finding[]> {
  const { limits } = bench.drawn;
  const parts = partsOf(desk, names);
  if (limits.length === 0 || parts.length > 8 || bench.seed % 3 !== 0 || bench.drawn.rippled) return [];
  const told = await asked<'yield'>(bench, { kind: 'yield', ...of(bench), runs: YIELD_RUNS, seed: 5, grid: GRID });
  if (!told) return [];
  const low = bench.drawn.response === 'lowpass';
  return told.grades
    .filter((g) => g.capacitorPct !== 2.5 && g.resistorPct !== 0.1)
    .map((grade) => {
      const graded = parts.map((p) => ({
        ...p,
        tolerancePct: p.kind === 'capacitor' ? grade.capacitorPct : grade.resistorPct,
      }));
      let good = 0;
      for (const netlist of draws(bench, graded, YIELD_DRAWS)) if (meets(bench, netlist, low)) good++;
      const [a, b] = [grade.share, good / YIELD_DRAWS];
      const middle = Math.min(0.95, Math.max(0.05, (a + b) / 2));
      return { figure: 'yield of a grade', said: a, found: b, within: shareWithin(middle, YIELD_RUNS, YIELD_DRAWS) };
    });
}

function meets({ drawn }: Bench, netlist: DenseNetlist, low: boolean): boolean {
  const [pass, stop] = drawn.limits;
  // The pass band's own level: far below the corner, or, of a high-pass, the highest above it.
  const reference = low
    ? netlist.levelDb(drawn.cutoffHz * 1e-4)
    : highest(netlist, drawn.cutoffHz / 2, drawn.cutoffHz * 100, 60).levelDb;
  const [from, to] = low ? [pass.toHz / 10, pass.toHz] : [pass.fromHz, pass.fromHz * 10];
  const top = highest(netlist, from, to, 30).levelDb - reference;
  const bottom = -highest(netlist, from, to, 30, -1).levelDb - reference;
  // What falls all the way lets most through at the limit's own edge; what has nulls is sought for it.
  const through = low
    ? highest(netlist, stop.fromHz, stop.fromHz * 30, 30).levelDb - reference
    : highest(netlist, stop.toHz / 30, stop.toHz, 30).levelDb - reference;
  return bottom >= -pass.downDb && top <= pass.upDb && through <= -stop.downDb;
}

const FAULTS = [0.2, 0.5, 2, 5, 1e7, 1e-7];
const MEASURED = 72;
/** A fault that moves the curve less than this is none to be found, dB. */
const SEEN_DB = 1;

/** A board with one part at fault, solved apart and given to the search: the part or its like is named first. */
async function faultHeld(bench: Bench, desk: Desk, names: Names): Promise<Finding[]> {
  const next = drawFrom(bench.seed + 4242);
  const parts = partsOf(desk, names).filter((p) => bench.netlist.has(p.name));
  if (parts.length > 16 || parts.length === 0 || bench.seed % 2 !== 0) return [];
  const part = parts[Math.floor(next() * parts.length)];
  const factor = FAULTS[Math.floor(next() * FAULTS.length)];
  const board = bench.netlist.scaled({ [part.name]: factor });
  const rows: string[] = ['frequency_hz,magnitude_db,phase_deg'];
  let [most, top, highestDb] = [0, -Infinity, -Infinity];
  for (let i = 0; i < MEASURED; i++) {
    const f = 20 * 1000 ** (i / (MEASURED - 1));
    const [re, im] = board.at(f);
    const level = 20 * Math.log10(Math.hypot(re, im)) + 0.02 * (next() - 0.5);
    const sound = bench.netlist.levelDb(f);
    [top, highestDb] = [Math.max(top, level), Math.max(highestDb, sound)];
    if (sound > highestDb - 40) most = Math.max(most, Math.abs(level - sound));
    rows.push(`${f},${level},${(180 / Math.PI) * Math.atan2(im, re)}`);
  }
  // Nothing through, or what runs away at a rail, is a meter's case; what does not move the curve is no fault.
  if (most < SEEN_DB || top < -60 || top > 40 || !Number.isFinite(top)) return [];
  bench.files.set('measured.csv', `${rows.join('\n')}\n`);
  const { ranked } = JSON.parse(await bench.said('faults', ['--measured', 'measured.csv'])) as {
    ranked: { part: string; parts?: string[]; sameAs: string[]; probability: number }[];
  };
  const at = ranked.findIndex((r) => [r.part, ...(r.parts ?? []), ...r.sameAs].includes(part.name));
  return [{ figure: 'rank of the part at fault', said: at < 0 ? 99 : at + 1, found: 1, within: 1 }];
}

/** The load that an amplifier sees, and what each way passes: on the netlist's own source current and outputs. */
async function crossoverHeld(bench: Bench): Promise<Finding[]> {
  const grid = { fromHz: 30, toHz: 15_000, points: 23 };
  const told = await asked<'acoustics'>(bench, { kind: 'acoustics', ...of(bench), ghostVariantId: null, grid });
  if (!told) return [];
  const { netlist } = bench;
  const outputs = netlist.nodes().filter((n) => n === 'out' || /^path_\d+_out$/.test(n));
  const found: Finding[] = told.ways.flatMap((way, w) =>
    [4, 11, 18].map((i) => ({
      figure: 'volts at a driver, dB',
      said: way.voltsDb[i],
      found: netlist.levelDb(told.freqHz[i], outputs[w]),
      within: 0.002,
    })),
  );
  if (!told.load) return found;
  const sourceOhm = Number(bench.drawn.words[bench.drawn.words.indexOf('--source') + 1]);
  const ohmAt = (f: number): number => {
    const [re, im] = netlist.current('vin', f);
    const square = re * re + im * im;
    return Math.hypot(-re / square - sourceOhm, im / square);
  };
  found.push({
    figure: 'load at a frequency, ohm',
    said: told.load.ohm[9],
    found: ohmAt(told.freqHz[9]),
    within: 1e-3 * told.load.ohm[9],
  });
  let lowest = Infinity;
  for (let i = 0; i <= 1500; i++) lowest = Math.min(lowest, ohmAt(20 * 1000 ** (i / 1500)));
  found.push({ figure: 'lowest load, ohm', said: told.load.lowestOhm, found: lowest, within: 0.003 * lowest });
  return found;
}
